"""How far checking is, in the status bar, and what the glyphs mean."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QProgressBar, QPushButton, QStatusBar

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme

__all__ = ["CheckingBar"]


class CheckingBar(QStatusBar):
    """Progress and what it took; checking is stopped and taken up again here."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.setSizeGripEnabled(False)
        self.check_time = Label()
        self.check_time.setContentsMargins(10, 0, 0, 0)
        self.addWidget(self.check_time)
        self.progress, self.stop_checking = QProgressBar(), QPushButton("Cancel")
        self.progress.setFixedWidth(180)
        self.progress.setTextVisible(False)
        self.check_rest = QPushButton("Check the rest")
        self.stop_checking.clicked.connect(document.cancel)
        self.check_rest.clicked.connect(document.check_rest)
        for button in (self.stop_checking, self.check_rest):
            button.setProperty("role", "link")
        for widget in (self.progress, self.stop_checking, self.check_rest):
            widget.hide()
            self.addWidget(widget)
        for state in (State.SATISFIED, State.ATTENTION, State.NOT_CHECKED, State.EXCEEDED):
            self.addPermanentWidget(_Legend(state))
        document.edited.connect(lambda _: self.show_checking())
        document.checked.connect(lambda _: self.show_checking())

    def say(self, sentence: str) -> None:
        """Say what is being done."""
        self.check_time.setText(sentence)

    def show_checking(self) -> None:
        """Show how far checking is."""
        project, document = self._document.project, self._document
        if project is None:
            return
        total, busy = len(project.by_key), document.busy
        for widget, shown in (
            (self.progress, busy),
            (self.stop_checking, busy),
            (self.check_rest, not busy and not document.complete),
        ):
            widget.setVisible(shown)
        if not document.complete:
            self.progress.setRange(0, total)
            self.progress.setValue(document.done)
            word = "Checking" if busy else "Stopped"
            self.check_time.setText(f"{word}: {document.done} of {total} checked")
            return
        seconds, together = document.check_time, document.checked_together
        if together > 1:
            noun = "members" if project.walls or project.bearing_walls else "lifts"
            count = f"{together} {noun} × {len(project.combinations)} combinations"
            self.check_time.setText(f"Checked {count} in {seconds:.2f} s")
        else:
            self.check_time.setText(f"Rechecked in {1000 * seconds:.0f} ms")


class _Legend(Label):
    """A glyph and its word."""

    def __init__(self, state: State) -> None:
        super().__init__(f"     {state.word}  ")
        self._state = state

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        paint_glyph(painter, self._state, QPointF(8, self.height() / 2), 10, current_theme())
        painter.end()
