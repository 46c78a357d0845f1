"""`python -m fexro` is the same as `fexro`."""

import sys

__all__ = ["main"]


def main() -> None:
    """Run the command; one that is interrupted before it has begun says so as well."""
    try:
        from fexro.cli import main as run
    except KeyboardInterrupt:
        sys.stderr.write("fexro: cancelled; nothing was written.\n")
        sys.exit(130)
    run()


if __name__ == "__main__":
    main()
