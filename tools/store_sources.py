"""Store the sources of the modules that hold provisions, for a package installed without them.

    python tools/store_sources.py [FOLDER]

Writes the module `stored_sources` into the package in FOLDER (that of this project without one);
compiled and shipped with it, derivations are printed where no source is installed.
"""

from __future__ import annotations

import sys
from pathlib import Path

from fexro.core.provisions.syntax import STORE

DECORATORS = "@provision(", "@equation("


def main() -> None:
    """Write the module."""
    root = Path(sys.argv[1] if sys.argv[1:] else Path(__file__).parents[1] / "src")
    sources = {}
    for path in sorted((root / "fexro").rglob("*.py")):
        text = path.read_text(encoding="utf-8")
        if any(f"\n{decorator}" in text for decorator in DECORATORS):
            sources[".".join(path.relative_to(root).with_suffix("").parts)] = text
    target = root.joinpath(*STORE.split(".")).with_suffix(".py")
    target.write_text(
        f'"""Sources of the modules that hold provisions."""\n\nSOURCES = {sources!r}\n',
        encoding="utf-8",
    )


if __name__ == "__main__":
    main()
