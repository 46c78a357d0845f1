"""`python -m fexro` is the same as `fexro`."""

from fexro.cli import main

main()
