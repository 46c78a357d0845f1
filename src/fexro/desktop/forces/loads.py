"""Qt view for load cases, the rules that combine them, and the combinations."""

from __future__ import annotations

from collections import Counter
from dataclasses import fields
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from fexro.core.codes.loading import load_standard, load_standards
from fexro.core.errors import InputError
from fexro.desktop.background import Background
from fexro.desktop.cells import EditingModel, EditingView
from fexro.desktop.document import Document
from fexro.desktop.forces.cases import CasesModel
from fexro.desktop.forces.combinations import CombinationsModel, Governing, outside_of
from fexro.desktop.form import Form
from fexro.desktop.text import Label
from fexro.project.cases import CombinationRules
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.combinations import make_combinations
from fexro.project.project import Project

__all__ = ["LoadsPage", "RulesForm"]

SIDE = 286  # px, of the rules
CASES, ROW, MOST_CASES = 76, 25, 8  # px, of the table of cases without rows, of a row; rows


class RulesForm(QWidget):
    """The load standard and its options, and what they would make."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._standard: str | None = None
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._form: Form | None = None
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.told.setWordWrap(True)
        self.make = QPushButton("Make combinations")
        self.make.clicked.connect(self._make)
        self._column.addStretch(1)
        self.setObjectName("content")

    @property
    def form(self) -> Form:
        """The fields of the present standard."""
        assert self._form is not None
        return self._form

    def show_project(self, project: Project) -> None:
        """Show the rules of a project."""
        rules = project.basis.rules
        if self._standard != rules.standard:
            self._rebuild(rules.standard)
        values = rules.values()
        self.form.show_choice(
            "standard", [(s.key, s.key) for s in load_standards()], rules.standard
        )
        for option in fields(values):
            value = getattr(values, option.name)
            if "choices" in option.metadata:
                offered = [(c, _words(c)) for c in option.metadata["choices"]]
                self.form.show_choice(option.name, offered, value)
            elif "low" in option.metadata:
                self.form.show_text(option.name, f"{value:g}")
            else:
                self.form.show_choice(option.name, [("no", "no"), ("yes", "yes")], _yes(value))
        self._tell(project, rules)

    def _rebuild(self, standard: str) -> None:
        if self._form is not None:
            self._form.hide()
            self._form.deleteLater()
        self._standard = standard
        self._form = form = Form(self._document.typing, 100, 128)
        form.choice("standard", "Rules of", self._choose)
        for option in fields(load_standard(standard).options):
            label = option.metadata["label"]
            if "choices" in option.metadata:
                form.choice(option.name, label, partial(self._set, option.name, label))
            elif "low" in option.metadata:
                form.line(option.name, label, partial(self._measure, option.name, label))
            else:
                form.choice(option.name, label, partial(self._flag, option.name, label))
        self._column.insertWidget(0, form)

    def _tell(self, project: Project, rules: CombinationRules) -> None:
        try:
            made = rules.combine(project.case_by_name)
        except InputError as error:
            self.told.setText(str(error))
            self.make.setEnabled(False)
            return
        known = {frozenset(c.factors.items()) for c in project.combinations}
        new = sum(frozenset(one.factors.items()) not in known for one in made)
        word = "combination" if len(made) == 1 else "combinations"
        self.told.setText(f"These rules make {len(made)} {word} of the cases; {new} are new.")
        self.make.setEnabled(True)

    def _choose(self, standard: str) -> None:
        self._take(CombinationRules(standard=standard), f"Rules of {standard}")

    def _flag(self, name: str, label: str, text: str) -> None:
        self._set(name, label, text == "yes")

    def _measure(self, name: str, label: str, text: str) -> None:
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            raise InputError(label, f"“{text}”", "a number") from None
        self._set(name, label, value)

    def _set(self, name: str, label: str, value: Any) -> None:
        project = self._document.project
        assert project is not None
        rules = project.basis.rules
        self._take(rules.model_copy(update={"options": {**rules.options, name: value}}), label)

    def _take(self, rules: CombinationRules, label: str) -> None:
        rules.values()
        project = self._document.project
        assert project is not None
        basis = project.basis.model_copy(update={"combining": rules})
        if basis != project.basis:
            self._document.edit(label, partial(replace_basis, basis=basis))

    def _make(self) -> None:
        project = self._document.project
        if project is None or not self._document.typing.settle():
            return
        try:
            edit = partial(make_combinations, rules=project.basis.rules)
            self._document.edit("Make combinations", edit)
        except InputError as error:
            self.told.setText(str(error))


class LoadsPage(QWidget):
    """Load cases above, rules and combinations below."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.cases, self.combinations = CasesModel(document), CombinationsModel(document)
        self.rules = RulesForm(document)
        self.cases_view = EditingView(self.cases, "Load cases")
        self.shown = Governing(self.combinations)
        self.view = EditingView(self.combinations, "Combinations")
        self.view.setModel(self.shown)
        self.error, self.inside = Label(), Label()
        self.inside.setProperty("role", "quiet")
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.typed = QLineEdit()
        self.typed.setPlaceholderText("1.2 D + 1.6 L + 0.5 S")
        self.typed.setAccessibleName("Another combination, as it is written")
        self.typed.returnPressed.connect(self._type)
        self.fold = QCheckBox("Fold those that govern nothing")
        self.fold.toggled.connect(self.shown.fold)
        add, remove = _link("Add a case"), _link("Remove")
        add.clicked.connect(lambda _: self.cases.add())
        remove.clicked.connect(lambda _: self.cases.remove(self.cases_view.chosen_rows()))
        drop = _link("Remove")
        drop.clicked.connect(lambda _: self._remove(self.view.chosen_rows()))
        self.cases_view.removed.connect(self.cases.remove)
        self.view.removed.connect(self._remove)
        for model in (self.cases, self.combinations):
            model.refused.connect(self._refuse)
        cases = QVBoxLayout()
        cases.addLayout(_row(_heading("Load cases"), None, add, remove))
        cases.addWidget(self.cases_view)
        above = QWidget()
        above.setLayout(cases)
        self._above = above
        cases.setContentsMargins(0, 0, 0, 0)
        below = QVBoxLayout()
        below.addLayout(_row(_heading("Combinations"), self.typed, self.fold, drop))
        below.addWidget(self.view, 1)
        below.addWidget(self.inside)
        side = QFrame()
        side.setObjectName("side")
        side.setFixedWidth(SIDE)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 4, 16, 10)
        column.addWidget(_heading("How combinations are made"))
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.rules)
        column.addWidget(area, 1)
        column.addWidget(self.rules.told)
        column.addWidget(self.rules.make)
        left = QVBoxLayout()
        left.setContentsMargins(16, 0, 12, 10)
        left.addWidget(self.error)
        left.addWidget(above)
        left.addLayout(below, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(left, 1)
        layout.addWidget(side)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self._edited())
        document.checked.connect(lambda _: self._checked())
        self._work: Background[Counter[str]] = Background(self._take_outside, self)
        self._outside_of: object = None
        self._shown_cases: object = None
        self._shown_combinations: object = None

    def refresh(self) -> None:
        """Show the loads as they are; nothing is done while the page is hidden."""
        project = self._document.project
        if project is None or not self.isVisible():
            return
        if self._shown_cases is not project.cases or self._shown_combinations is not (
            project.combinations
        ):
            widths = self._shown_combinations is None or len(project.cases) != self.cases.rowCount()
            self._shown_cases, self._shown_combinations = project.cases, project.combinations
            rows = min(max(len(project.cases), 3), MOST_CASES)
            self._above.setFixedHeight(CASES + ROW * rows)
            for model, view in _pairs(self):
                model.refresh()
                if widths:
                    view.fit()
        self.rules.show_project(project)
        if not self._document.busy:
            self._find_outside()

    def _edited(self) -> None:
        self.error.hide()
        self.refresh()

    def _checked(self) -> None:
        if self.isVisible() and not self._document.busy:
            self.combinations.recount()
            self._find_outside()

    def _find_outside(self) -> None:
        """Find the combinations on the convex outside, off the interface thread."""
        results = self._document.results
        lifts = [result.lift.actions for result in results.values()]
        if not lifts or self._outside_of == (key := tuple(map(id, lifts))):
            return
        self._outside_of = key
        self._work.start(lambda _: iter([outside_of(lifts)]))

    def _take_outside(self, found: Counter[str]) -> None:
        self.combinations.show_outside(found)
        project = self._document.project
        names = [] if project is None else [c.name for c in project.combinations if c.for_strength]
        inside = sum(not found[name] for name in names)
        self.inside.setText(
            f"{inside} of {len(names)} lie inside the others in every lift and cannot govern where"
            " strength is convex; all are checked."
            if inside
            else ""
        )

    def _type(self) -> None:
        if self.combinations.add(self.typed.text()):
            self.typed.clear()

    def _remove(self, rows: list[int]) -> None:
        source = [self.shown.mapToSource(self.shown.index(row, 0)).row() for row in rows]
        if source:
            self.combinations.remove(source)

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()


def _pairs(page: LoadsPage) -> list[tuple[EditingModel, EditingView]]:
    return [(page.cases, page.cases_view), (page.combinations, page.view)]


def _heading(text: str) -> Label:
    label = Label(text)
    label.setProperty("role", "heading")
    return label


def _link(text: str) -> QPushButton:
    button = QPushButton(text)
    button.setProperty("role", "link")
    return button


def _row(*widgets: QWidget | None) -> QHBoxLayout:
    """Return widgets beside one another; nothing is a gap."""
    row = QHBoxLayout()
    for widget in widgets:
        if widget is None:
            row.addStretch(1)
        else:
            row.addWidget(widget)
    return row


def _yes(value: bool) -> str:
    return "yes" if value else "no"


def _words(choice: str) -> str:
    return choice.replace("psi", "ψ")
