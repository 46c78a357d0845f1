"""Whether there is a screen to open a window on; Qt itself ends the process where there is none."""

from __future__ import annotations

import ctypes
import os
import socket
from pathlib import Path

from PyQt6.QtCore import QLibraryInfo

from fexro.core.errors import FexroError

__all__ = ["require_screen"]

ELSEWHERE = "fexro check FILE needs no screen"


def require_screen() -> None:
    """Refuse to start a window where there is no screen.

    Raises:
        FexroError: if no display is named, none that is named answers, or the platform of Qt that
            is named does not exist.
    """
    named = os.environ.get("QT_QPA_PLATFORM", "").split(";")[0].split(":")[0]
    if named:
        _require_platform(named)
        if named not in ("xcb", "wayland"):
            return
    display = os.environ.get("DISPLAY", "") if named != "wayland" else ""
    wayland = os.environ.get("WAYLAND_DISPLAY", "") if named != "xcb" else ""
    if (display and _x_answers()) or (wayland and _wayland_answers(wayland)):
        return
    if display or wayland:
        raise FexroError(f"the display “{display or wayland}” does not answer; {ELSEWHERE}.")
    raise FexroError(f"no screen was found for the window; {ELSEWHERE}.")


def _require_platform(name: str) -> None:
    folder = Path(QLibraryInfo.path(QLibraryInfo.LibraryPath.PluginsPath)) / "platforms"
    offered = sorted(file.stem.removeprefix("libq") for file in folder.glob("libq*.so"))
    if offered and not any(name == known or known.startswith(f"{name}-") for known in offered):
        raise FexroError(
            f"QT_QPA_PLATFORM names the platform “{name}”; there are {', '.join(offered)}."
        )


def _x_answers() -> bool:
    """Tell whether the X server of DISPLAY takes connections, by the library that Qt uses too."""
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return True  # Qt will say what is missing
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connect.argtypes = [ctypes.c_char_p, ctypes.c_void_p]
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    failed = bool(xcb.xcb_connection_has_error(connection))
    xcb.xcb_disconnect(connection)
    return not failed


def _wayland_answers(name: str) -> bool:
    place = Path(os.environ.get("XDG_RUNTIME_DIR", "/run")) / name
    with socket.socket(socket.AF_UNIX) as probe:
        try:
            probe.connect(str(place))
        except OSError:
            return False
    return True
