"""The engineering: no windows, no files, no printing."""
