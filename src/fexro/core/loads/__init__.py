"""Load cases, combinations of them, and how combinations are written."""
