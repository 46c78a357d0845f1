"""Qt view for the schedule stage: the table and the panel beside it."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from fexro.desktop.document import Document
from fexro.desktop.schedule.view import ScheduleView
from fexro.desktop.schedule.worst_first import WorstFirst
from fexro.project.column import LiftKey

__all__ = ["SchedulePage"]

SIDE_WIDTH = 310


class SchedulePage(QWidget):
    """The whole building at a glance."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("page")
        self.view = ScheduleView(document)
        self.side = WorstFirst(document)
        self.side.setFixedWidth(SIDE_WIDTH)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.view, 1)
        layout.addWidget(self.side)
        self.view.opened.connect(self.opened)
        self.side.opened.connect(self.opened)
