"""Fexro as a citizen of the desktop of one user: entry, icons, kinds of files."""
