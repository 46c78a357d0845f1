"""Installing Fexro for one user's desktop, and taking it away again; nothing as root."""

from __future__ import annotations

import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

from platformdirs import user_data_path

from fexro import __version__
from fexro.core.errors import FexroError

__all__ = ["install", "remove"]

ID = "org.fexro.Fexro"
KINDS = ("application-vnd.fexro.project", "application-vnd.fexro.project+json")
# What brings the caches of the desktop up to date, and the folder each looks into.
CACHES = (
    ("update-mime-database", "mime"),
    ("update-desktop-database", "applications"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)


def install(program: Path | None = None) -> list[Path]:
    """Put entry, icons and kinds of files into the user's folders; return what was written.

    Args:
        program: what the entry starts; without one the `fexro` that runs.

    Raises:
        FexroError: if a file cannot be written.
    """
    started = _quoted(program or _running())
    contents = {
        f"applications/{ID}.desktop": _text(f"{ID}.desktop").replace("{exec}", started),
        f"mime/packages/{ID}.xml": _text(f"{ID}.xml"),
        f"metainfo/{ID}.metainfo.xml": _text(f"{ID}.metainfo.xml").replace(
            "{version}", __version__
        ),
        f"icons/hicolor/scalable/apps/{ID}.svg": _text("fexro.svg"),
        **{f"icons/hicolor/scalable/mimetypes/{kind}.svg": _text("project.svg") for kind in KINDS},
    }
    written = []
    for name, content in contents.items():
        path = user_data_path() / name
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(content, encoding="utf-8")
        except OSError as error:
            raise FexroError(f"{path}: {error.strerror or error}.") from error
        written.append(path)
    _refresh()
    return written


def remove() -> list[Path]:
    """Take away what was installed; return what was removed."""
    names = [
        f"applications/{ID}.desktop",
        f"mime/packages/{ID}.xml",
        f"metainfo/{ID}.metainfo.xml",
        f"icons/hicolor/scalable/apps/{ID}.svg",
        *(f"icons/hicolor/scalable/mimetypes/{kind}.svg" for kind in KINDS),
    ]
    gone = []
    for path in (user_data_path() / name for name in names):
        if path.exists():
            path.unlink()
            gone.append(path)
    _refresh()
    return gone


def _running() -> Path:
    """Return the program that runs: the command beside this Python, or as it was called."""
    beside = Path(sys.executable).with_name("fexro")
    if beside.exists():
        return beside
    found = shutil.which("fexro")
    return Path(found or sys.argv[0]).resolve()


def _quoted(program: Path) -> str:
    """Return a program as an entry has it: quoted where a character of it means something."""
    text = str(program)
    if all(c.isalnum() or c in "/._-+" for c in text):
        return text
    for special in '\\"`$':
        text = text.replace(special, f"\\{special}")
    return '"' + text.replace("%", "%%").replace("\\", "\\\\") + '"'


def _text(name: str) -> str:
    return (files("fexro.installation") / name).read_text(encoding="utf-8")


def _refresh() -> None:
    """Bring the desktop's caches up to date, where it has them."""
    for program, folder in CACHES:
        path = user_data_path() / folder
        if shutil.which(program) and path.is_dir():
            arguments = [program, str(path)]
            if program == "gtk-update-icon-cache":
                arguments.insert(1, "-tq")
            subprocess.run(arguments, check=False, capture_output=True)
