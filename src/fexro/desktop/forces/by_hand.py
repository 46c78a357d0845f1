"""Qt view for the forces of one lift, typed by hand: at both ends, and what acts between."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.provisions import Derivation
from fexro.desktop.cells import EditingView
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.document import Document
from fexro.desktop.forces.end_forces import EndForcesModel
from fexro.desktop.forces.on_lift import LoadsOnLiftModel, SpansModel
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label, menu_text
from fexro.project.column import LiftKey
from fexro.project.floors import explain_share
from fexro.project.project import Project

__all__ = ["ByHandPage"]


class ByHandPage(QWidget):
    """A lift, its forces at both ends, and loads between them."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.lift = QComboBox()
        self.lift.setAccessibleName("Lift")
        self.lift.activated.connect(lambda i: document.selection.select_lift(self.lift.itemData(i)))
        self.forces, self.loads = EndForcesModel(document), LoadsOnLiftModel(document)
        self.spans = SpansModel(document)
        self.view = EditingView(self.forces, "Forces at both ends")
        self.loads_view = EditingView(self.loads, "Loads on the lift")
        self.loads_view.removed.connect(self.loads.remove)
        self.spans_view = EditingView(self.spans, "Moments between the ends")
        self.spans_view.removed.connect(self.spans.remove)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        for model in (self.forces, self.loads, self.spans):
            model.refused.connect(self._refuse)
        told = Label()
        told.setProperty("role", "quiet")
        told.setText(
            "N is positive in compression; Mx compresses the +y face, My the +x face; moments of"
            " one sign at both ends bend the lift in single curvature."
        )
        above, below = QHBoxLayout(), QHBoxLayout()
        above.addWidget(self.lift)
        above.addWidget(told, 1)
        below.setSpacing(16)
        for title, model, view, share in (
            ("Loads on the lift, beside its end forces", self.loads, self.loads_view, 3),
            ("Forces at stations between, as analysed", self.spans, self.spans_view, 3),
        ):
            below.addLayout(_headed(title, model, view), share)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 0, 16, 10)
        layout.addLayout(above)
        layout.addWidget(self.error)
        layout.addWidget(self.view, 3)
        layout.addLayout(below, 1)
        self.shares: dict[str, QPushButton] = {}
        self.derivation: QWidget | None = None
        self._opened: str | None = None
        self._below = QVBoxLayout()
        layout.addLayout(self._below)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self._edited())
        document.selection.lift_changed.connect(self.refresh)
        self._shown: object = None

    def refresh(self) -> None:
        """Show the forces of the selected lift, or of the first."""
        project = self._document.project
        if project is None or not self.isVisible():
            return
        keys = list(project.by_key)
        if [self.lift.itemData(i) for i in range(self.lift.count())] != keys:
            self.lift.clear()
            for key in keys:
                self.lift.addItem(str(key), key)
        selected = self._document.selection.lift
        chosen = selected if selected in project.by_key else (keys[0] if keys else None)
        self.lift.setCurrentIndex(keys.index(chosen) if chosen is not None else -1)
        self.forces.key = self.loads.key = self.spans.key = chosen
        models = (self.forces, self.loads, self.spans)
        for model in models:
            model.refresh()
        shown = [len(keys), *(model.rowCount() for model in models)]
        if self._shown != shown:
            self._shown = shown
            for view in (self.view, self.loads_view, self.spans_view):
                view.fit()

        self._show_shares(project, chosen)

    def _show_shares(self, project: Project, key: LiftKey | None) -> None:
        """Show how much of each case stays on the lift, and how that follows where it is opened."""
        clear_layout(self._below)
        self.shares, self.derivation = {}, None
        if key is None:
            return
        for case in project.cases:
            if case.reduction is None:
                continue
            record = Derivation()
            share = explain_share(record, project, key, case)
            arrow = "▾" if self._opened == case.name else "▸"
            text = f"{case.name}: {share:.3g} of it stays, {case.reduction.rule} {arrow}"
            button = QPushButton(menu_text(text))
            button.setProperty("role", "link")
            button.clicked.connect(partial(self._open_share, case.name))
            self._below.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
            self.shares[case.name] = button
            if self._opened == case.name and record.lines:
                self.derivation = DerivationView(record, project.basis.system, 460)
                self._below.addWidget(self.derivation)

    def _open_share(self, name: str, _: bool = False) -> None:
        self._opened = None if self._opened == name else name
        self.refresh()

    def _edited(self) -> None:
        self.error.hide()
        self.refresh()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()


def _headed(title: str, model: LoadsOnLiftModel | SpansModel, view: EditingView) -> QVBoxLayout:
    """Return a table below its heading, with what adds and removes rows."""
    heading = Label(title)
    heading.setProperty("role", "heading")
    add, remove = QPushButton("Add"), QPushButton("Remove")
    add.clicked.connect(lambda _: model.add())
    remove.clicked.connect(lambda _: model.remove(view.chosen_rows()))
    row = QHBoxLayout()
    row.addWidget(heading)
    row.addStretch(1)
    for button in (add, remove):
        button.setProperty("role", "link")
        row.addWidget(button)
    column = QVBoxLayout()
    column.addLayout(row)
    column.addWidget(view)
    return column
