"""Composite columns: EN 1994-1-1, 6.7."""
