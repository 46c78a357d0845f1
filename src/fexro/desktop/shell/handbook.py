"""Qt view for the handbook: pages of Markdown in a window of their own."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QImage, QTextDocument
from PyQt6.QtWidgets import QTextBrowser, QWidget

import fexro

__all__ = ["Handbook"]

PAGES = Path(fexro.__file__).parents[2] / "docs" / "handbook"
MARGIN = 32  # px beside a picture, of both sides


class Handbook(QTextBrowser):
    """Shows a page; its links lead to others."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowFlag(Qt.WindowType.Window)
        self.setWindowTitle("Fexro handbook")
        self.setAccessibleName("Handbook")
        self.setSearchPaths([str(PAGES)])
        self.setOpenLinks(False)
        self.anchorClicked.connect(self._follow)
        self.resize(760, 720)
        self.page = ""

    def show_page(self, page: str) -> bool:
        """Bring up a page by its name; tell whether there is one."""
        path = PAGES / f"{page}.md"
        try:
            text = path.read_text(encoding="utf-8")
        except OSError:
            return False
        self.page = page
        self.setMarkdown(text)
        document = self.document()
        if document is not None:
            document.setDocumentMargin(MARGIN / 2)
        self.show()
        self.raise_()
        return True

    def loadResource(self, kind: int, name: QUrl) -> object:
        """Return a picture no wider than the page."""
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return super().loadResource(kind, name)
        image = QImage(str(PAGES / name.path()))
        room = max((self.viewport() or self).width() - MARGIN, MARGIN)
        if image.width() <= room:
            return image
        return image.scaledToWidth(room, Qt.TransformationMode.SmoothTransformation)

    def _follow(self, link: QUrl) -> None:
        self.show_page(Path(link.path()).stem)
