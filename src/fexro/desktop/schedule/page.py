"""Qt view for the schedule stage: the table, and beside it what is selected, or the worst lifts."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from fexro.desktop.document import Document
from fexro.desktop.schedule.filters import FilterBar
from fexro.desktop.schedule.lifts_panel import LiftsPanel
from fexro.desktop.schedule.mark_panel import MarkPanel
from fexro.desktop.schedule.model import ScheduleModel
from fexro.desktop.schedule.storey_panel import StoreyPanel
from fexro.desktop.schedule.view import ScheduleView
from fexro.desktop.schedule.worst_first import WorstFirst
from fexro.desktop.text import Label
from fexro.project.column import LiftKey

__all__ = ["SchedulePage"]

SIDE_WIDTH = 310


class _Empty(QWidget):
    """What to do next where nothing stands yet."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        title, self.hint = Label("Nothing stands here yet."), Label()
        title.setProperty("role", "headline")
        self.hint.setProperty("role", "quiet")
        self.storey, self.mark = QPushButton("Add a storey"), QPushButton("Add a mark")
        layout = QVBoxLayout(self)
        layout.setSpacing(10)
        layout.addStretch(1)
        for widget in (title, self.hint, self.storey, self.mark):
            row = QHBoxLayout()
            row.addStretch(1)
            row.addWidget(widget)
            row.addStretch(1)
            layout.addLayout(row)
        layout.addStretch(2)


class SchedulePage(QWidget):
    """The whole building at a glance."""

    opened = pyqtSignal(LiftKey)
    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("page")
        self._document, self._seeking = document, False
        self.view, self.empty = ScheduleView(document), _Empty()
        self.side, self.lifts = WorstFirst(document), LiftsPanel(document)
        self.storey, self.mark = StoreyPanel(document), MarkPanel(document)
        self.table, self.beside = QStackedWidget(), QStackedWidget()
        self.table.addWidget(self.view)
        self.table.addWidget(self.empty)
        for panel in (self.side, self.lifts, self.storey, self.mark):
            self.beside.addWidget(panel)
        self.beside.setFixedWidth(SIDE_WIDTH)
        self.filters = FilterBar()
        self.filters.changed.connect(self._seek)
        layout, left = QHBoxLayout(self), QVBoxLayout()
        for box in (layout, left):
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
        left.addWidget(self.filters)
        left.addWidget(self.table, 1)
        layout.addLayout(left, 1)
        layout.addWidget(self.beside)
        self.view.opened.connect(self.opened)
        self.side.opened.connect(self.opened)
        self.empty.storey.clicked.connect(lambda: self.wanted.emit("storey_above"))
        self.empty.mark.clicked.connect(lambda: self.wanted.emit("add_mark"))
        self.storey.wanted.connect(self.wanted)
        self.mark.wanted.connect(self.wanted)
        self.view.picked.connect(self.show_selected)
        document.opened.connect(self.show_selected)
        document.edited.connect(lambda _: self.show_selected())
        document.checked.connect(lambda _: self.lifts.tell_governing())

    def seek(self) -> None:
        """Open the row of what is sought, or close it and show all."""
        self._seeking = not self._seeking
        self.filters.setVisible(self._seeking)
        if self._seeking:
            self.filters.marks.setFocus()
        else:
            self.filters.clear()

    def _seek(self) -> None:
        project = self._document.project
        if project is not None:
            model = self.view.model()
            assert isinstance(model, ScheduleModel)
            self.filters.show_count(model.seek(self.filters.sought()), len(project.by_key))

    def show_selected(self) -> None:
        """Show what is selected: a storey, a mark, several lifts; else the worst lifts."""
        project = self._document.project
        if project is None:
            return
        stands = bool(project.storeys and project.marks)
        self.table.setCurrentWidget(self.view if stands else self.empty)
        self.beside.setVisible(stands)
        self.filters.setVisible(stands and self._seeking)
        self.filters.show_project(project)
        if not stands:
            first = not project.storeys
            self.empty.hint.setText(
                "Add a storey first; marks stand in storeys."
                if first
                else "Add a mark: a column stack through all storeys."
            )
            self.empty.mark.setEnabled(not first)
        storey, mark = self.view.whole()
        keys = self.view.lifts()
        if storey is not None:
            self.storey.show_storey(project, storey)
            self.beside.setCurrentWidget(self.storey)
        elif mark is not None:
            self.mark.show_mark(project, mark)
            self.beside.setCurrentWidget(self.mark)
        elif len(keys) > 1:
            self.lifts.show_lifts(project, keys)
            self.beside.setCurrentWidget(self.lifts)
        else:
            self.beside.setCurrentWidget(self.side)
