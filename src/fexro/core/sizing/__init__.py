"""Choosing bars: what a layout would be with other sizes or numbers."""
