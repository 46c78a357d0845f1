"""Pictures of the bench for documents that are written in the background."""

from __future__ import annotations

from PyQt6.QtCore import QObject, Qt, QThread, pyqtSignal

from fexro.documents.calculation import Part, PictureMaker
from fexro.documents.content import Figure
from fexro.project.column import LiftKey

__all__ = ["PicturesBeside"]


class PicturesBeside(QObject):
    """Lets the interface thread paint what another thread asks for, which waits meanwhile.

    Args:
        pictures: makes them; used in the thread of the interface alone.
    """

    _asked = pyqtSignal(object, object, object, object)

    def __init__(self, pictures: PictureMaker) -> None:
        super().__init__()
        self._pictures = pictures
        way = Qt.ConnectionType.BlockingQueuedConnection
        self._asked.connect(self._paint, way)  # type: ignore[call-arg]

    def __call__(self, key: LiftKey, part: Part, combination: str | None = None) -> Figure | None:
        """Return a picture of a lift; nothing where there is none."""
        if QThread.currentThread() is self.thread():
            return self._pictures(key, part, combination)
        found: list[Figure | None] = []
        self._asked.emit(key, part, combination, found)
        return found[0] if found else None

    def _paint(
        self, key: LiftKey, part: Part, combination: str | None, found: list[Figure | None]
    ) -> None:
        found.append(self._pictures(key, part, combination))
