"""Qt view for the bench: verdict, section, diagram, checks and combinations of one lift."""

from __future__ import annotations

import re
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import glance
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import remarks_of, verdict_of
from fexro.desktop.bench.checks_panel import ChecksPanel
from fexro.desktop.bench.combinations import CombinationsTable
from fexro.desktop.bench.general import GeneralPage
from fexro.desktop.bench.pictures.panel import PicturesPanel
from fexro.desktop.bench.pictures.shown import Shown, plane_angle
from fexro.desktop.bench.proposals import ProposalsPage
from fexro.desktop.bench.readings import ReadingsPage
from fexro.desktop.bench.remedies import RemediesPage
from fexro.desktop.bench.second_order import SecondOrderTable
from fexro.desktop.bench.section_panel import SectionPanel
from fexro.desktop.bench.stack_page import StackPage
from fexro.desktop.document import UNCHECKED, Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.plan import KeyPlan
from fexro.desktop.tabs import TabbedPages
from fexro.desktop.text import ElidedLabel, Label, tip_text
from fexro.desktop.theme import current_theme
from fexro.project.column import LiftKey
from fexro.project.edits.papers import put_check
from fexro.project.papers import PutCheck
from fexro.project.resolve import resolve_lift
from fexro.project.section import SectionModel

__all__ = ["BenchPage"]


class _Glyph(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(QSize(20, 20))
        self.state = State.NOT_CHECKED

    def show_state(self, state: State) -> None:
        self.state = state
        self.setAccessibleName(state.word)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        paint_glyph(painter, self.state, QPointF(10, 10), 14, current_theme())
        painter.end()


class BenchPage(QWidget):
    """Everything about one lift; all panels follow the selection."""

    left = pyqtSignal()
    failed = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("page")
        self._document = document
        self._demand: int | None = None
        self.section = SectionPanel(document)
        self.pictures = PicturesPanel(document)
        self.pictures.failed.connect(self.failed)
        self.checks = ChecksPanel()
        self.key_plan = KeyPlan(document)
        self.combinations = CombinationsTable()
        self.second_order, self.readings = SecondOrderTable(), ReadingsPage(document)
        self.general, self.proposals = GeneralPage(document), ProposalsPage(document)
        self.remedies, self.stack = RemediesPage(document), StackPage(document)
        self.tables = TabbedPages(
            [
                ("Combinations", self.combinations),
                ("Slenderness", self.second_order),
                ("What if", self.readings),
                ("General method", self.general),
                ("Proposals", self.proposals),
                ("Remedies", self.remedies),
                ("Stack", self.stack),
            ],
            dense=True,
        )
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._make_verdict())
        self.splitter = self._make_body()
        layout.addWidget(self.splitter, 1)
        self.combinations.picked.connect(document.selection.select_combination)
        self.second_order.picked.connect(document.selection.select_combination)
        for tab in self.tables.tabs:
            tab.clicked.connect(self.refresh)
        self.combinations.exempted.connect(
            lambda name, member, exempt: document.exempt(name, member, exempt=exempt)
        )
        self.checks.picked.connect(document.selection.select_combination)
        self.checks.put.connect(self._put_check)
        self.section.drawing.previewed.connect(self._preview)
        self.section.enlarged.connect(self.toggle_section)
        document.selection.lift_changed.connect(self.refresh)
        document.selection.combination_changed.connect(self.refresh)
        document.selection.plane_changed.connect(self._turn)
        document.edited.connect(self._edited)
        document.checked.connect(self._checked)

    def _make_verdict(self) -> QFrame:
        bar = QFrame()
        bar.setObjectName("verdict")
        self.back = QPushButton("‹ Back")
        self.back.setProperty("role", "link")
        self.back.setToolTip("Back to where you came from (Esc)")
        self.back.clicked.connect(self.left)
        self.place = Label()
        self.place.setProperty("role", "title")
        self.up, self.down = QPushButton("▲"), QPushButton("▼")
        for button, step in ((self.up, -1), (self.down, 1)):
            button.setProperty("role", "link")
            button.clicked.connect(lambda _=False, step=step: self.step(step))
        self.glyph = _Glyph()
        self.verdict, self.remarks = ElidedLabel(), ElidedLabel()
        self.verdict.setProperty("role", "title")
        self.remarks.setProperty("role", "quiet")
        # What else is to be said takes the room that the verdict leaves.
        self.remarks.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row = QHBoxLayout(bar)
        row.setContentsMargins(12, 8, 16, 8)
        row.setSpacing(8)
        for widget in (self.back, self.place, self.up, self.down):
            row.addWidget(widget)
        row.addSpacing(16)
        row.addWidget(self.glyph)
        row.addWidget(self.verdict)
        row.addWidget(self.remarks, 1)
        return bar

    def _make_body(self) -> QSplitter:
        across = QSplitter(Qt.Orientation.Horizontal)
        middle = QSplitter(Qt.Orientation.Vertical)
        top = QSplitter(Qt.Orientation.Horizontal)
        self._splitters = across, middle, top
        for splitter in self._splitters:
            splitter.setHandleWidth(1)
            splitter.setChildrenCollapsible(False)
        top.addWidget(self.section)
        top.addWidget(self.pictures)
        top.setStretchFactor(0, 0)
        top.setStretchFactor(1, 1)
        top.setSizes([300, 620])
        middle.addWidget(top)
        middle.addWidget(self.tables)
        middle.setStretchFactor(0, 1)
        middle.setStretchFactor(1, 0)
        middle.setSizes([470, 200])
        side = QFrame()
        side.setObjectName("side")
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(0)
        column.addWidget(self.checks, 1)
        plan = QHBoxLayout()
        plan.setContentsMargins(16, 6, 16, 0)
        plan.addWidget(self.key_plan)
        column.addLayout(plan)
        across.addWidget(middle)
        across.addWidget(side)
        across.setStretchFactor(0, 1)
        across.setStretchFactor(1, 0)
        across.setSizes([950, 330])
        return across

    def toggle_section(self) -> None:
        """Let the section take the bench, or give it back."""
        large = self.pictures.isVisibleTo(self)
        self.pictures.setVisible(not large)
        self.tables.setVisible(not large)
        self.section.enlarge(large)

    def layout_state(self) -> list[str]:
        """Return how the page is divided and which picture is shown, to be remembered."""
        sizes = [",".join(map(str, splitter.sizes())) for splitter in self._splitters]
        return [*sizes, str(self.pictures.current)]

    def restore_layout(self, state: object) -> None:
        """Divide the page as it was; what is not understood is left as it is."""
        if not isinstance(state, list) or len(state) != len(self._splitters) + 1:
            return
        if not all(re.fullmatch(r"\d+(,\d+)*", str(part)) for part in state):
            return
        for splitter, part in zip(self._splitters, state, strict=False):
            splitter.setSizes([int(size) for size in part.split(",")])
        self.pictures.show_view(min(int(state[-1]), len(self.pictures.pictures) - 1))

    def step(self, by: int) -> None:
        """Go to the lift above (-1) or below (1) in the stack."""
        target = self._neighbour(by)
        if target is not None:
            self._document.selection.select_lift(target)

    def _neighbour(self, by: int) -> LiftKey | None:
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None:
            return None
        present = [s.name for s in project.storeys if LiftKey(key.mark, s.name) in project.by_key]
        place = present.index(key.storey) + by
        return LiftKey(key.mark, present[place]) if 0 <= place < len(present) else None

    def refresh(self) -> None:
        """Show the selected lift and combination; nothing is done while the page is hidden."""
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None or not self.isVisible():
            return
        result = self._document.results.get(key)
        lift = project.by_key[key]
        demand, selected = self._selected(result)
        self._demand = demand
        self.place.setText(str(key))
        for button, by, word in ((self.up, -1, "above"), (self.down, 1, "below")):
            target = self._neighbour(by)
            button.setEnabled(target is not None)
            shown = target.storey if target is not None else "none"
            tip = f"The lift {word}: {shown} (Ctrl+{'Up' if by < 0 else 'Down'})"
            button.setToolTip(tip_text(tip))
        pictured = None if result is None else self._shown(result, demand)
        state = None if pictured is None else pictured.at_capacity
        self.section.show_lift(key, lift, None if state is None else state.plane)
        self.combinations.show_result(project, key, result, selected)
        self.general.show_result(result)
        self.proposals.show_result(result)
        self.remedies.show_result(result)
        self.stack.show_result(result)
        if self.second_order.isVisible():
            self.second_order.show_result(result, project.basis.system, selected)
        if result is None:
            self.glyph.show_state(State.NOT_CHECKED)
            word = UNCHECKED[self._document.busy]
            self.verdict.setText(f"{word[0].upper()}{word[1:]}.")
            self.remarks.setText("")
            self.checks.show_result(None, None, project.basis.system)
            self.pictures.show_shown(None, refit=False)
            return
        self.glyph.show_state(result.state)
        self.verdict.setText(verdict_of(result, project.basis.system))
        remarks = remarks_of(result, project.basis.system)
        self.remarks.setText("  ".join(f"◇ {text}" for text in remarks))
        self.remarks.setToolTip(tip_text("\n".join(remarks)))
        self.checks.show_result(result, demand, project.basis.system)
        self.pictures.show_shown(pictured, refit=True)

    def _put_check(self, name: str) -> None:
        """Put a check of the lift into the calculation with its numbers, where they stay live."""
        key = self._document.selection.lift
        assert key is not None
        check = PutCheck(mark=key.mark, storey=key.storey, check=name)
        try:
            self._document.edit(
                f"{name} of {key} in the calculation", partial(put_check, check=check)
            )
        except InputError as error:
            self.failed.emit(str(error))

    def _turn(self) -> None:
        """Show another plane or axial force; nothing else has changed."""
        key = self._document.selection.lift
        result = None if key is None else self._document.results.get(key)
        if result is not None and self.isVisible():
            self.pictures.show_shown(self._shown(result, self._selected(result)[0]), refit=False)

    def _shown(self, result: LiftResult, demand: int | None) -> Shown:
        selection = self._document.selection
        force = (0.0, 0.0, 0.0) if demand is None else result.demands[demand]
        angle = plane_angle(*force[1:]) if selection.angle is None else selection.angle
        axial = float(force[0]) if selection.axial is None else selection.axial
        assert self._document.project is not None
        return Shown(result, demand, angle, axial, self._document.project.basis.system)

    def _selected(self, result: LiftResult | None) -> tuple[int | None, str | None]:
        """Return the index and combination of the demand that is shown."""
        if result is None or not result.combinations:
            return None, None
        names, chosen = result.combinations, self._document.selection.combination
        if chosen in names:
            combination, place = names.index(chosen), self._document.selection.place
            if place in result.places:
                return result.demand_at(combination, place), chosen
            return result.demand_index(combination), chosen
        worst = result.worst_demand
        return worst, result.combination_of(worst)

    def _preview(self, section: SectionModel | None) -> None:
        """Show what the lift would be with another section; as it is, without one."""
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None:
            return
        if section is None:
            self.refresh()
            return
        lift = project.by_key[key].model_copy(update={"section": section})
        result = glance(resolve_lift(project, key, lift))
        self.glyph.show_state(result.state)
        self.verdict.setText(verdict_of(result, project.basis.system))
        # The demand that was shown stays; where the worst is shown, it may be another now.
        demand = self._demand
        if self._document.selection.combination not in result.combinations:
            demand = result.worst_demand if result.combinations else None
        elif demand is not None and demand >= len(result.demands):
            demand = self._selected(result)[0]
        self.checks.show_result(result, demand, project.basis.system)
        if self.pictures.isVisible():
            passing = replace(self._shown(result, demand), passing=True)
            self.pictures.show_shown(passing, refit=False)

    def _edited(self, keys: frozenset[LiftKey]) -> None:
        key = self._document.selection.lift
        if key in keys and key not in self._document.results:
            self.refresh()

    def _checked(self, keys: frozenset[LiftKey]) -> None:
        if not keys or self._document.selection.lift in keys:
            self.refresh()
