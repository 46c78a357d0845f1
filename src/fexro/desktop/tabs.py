"""Qt view for pages behind one another, each reached by its tab."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

__all__ = ["TabbedPages"]


class TabbedPages(QWidget):
    """Pages of which one is in front.

    Args:
        pages: titles and pages.
        dense: whether the tabs take little room.

    Attributes:
        tabs: a button for each page.
    """

    def __init__(self, pages: Sequence[tuple[str, QWidget]], *, dense: bool = False) -> None:
        super().__init__()
        self.setObjectName("page")
        self.tabs: list[QPushButton] = []
        self._views = QStackedWidget()
        row = QHBoxLayout()
        row.setContentsMargins(16, 2 if dense else 8, 16, 0)
        for number, (title, view) in enumerate(pages):
            tab = QPushButton(title)
            tab.setProperty("role", "tab")
            tab.setCheckable(True)
            tab.clicked.connect(lambda _=False, number=number: self.show_view(number))
            row.addWidget(tab)
            self.tabs.append(tab)
            self._views.addWidget(view)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2 if dense else 6)
        layout.addLayout(row)
        layout.addWidget(self._views, 1)
        self.show_view(0)

    @property
    def view(self) -> int:
        """Which page is in front."""
        return self._views.currentIndex()

    def front(self) -> QWidget:
        """Return what takes the keys: the page in front, if it is nothing in it."""
        page = self._views.currentWidget()
        assert page is not None
        return page

    def show_view(self, number: int) -> None:
        """Bring a page to the front."""
        self._views.setCurrentIndex(number)
        for i, tab in enumerate(self.tabs):
            tab.setChecked(i == number)
        self.refresh()

    def refresh(self) -> None:
        """Show what there is."""
