"""Qt view for the bars that are proposed for a lift: found in the background, taken by a click."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from threading import Event

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, format_number, format_quantity
from fexro.core.sizing.amounts import Amounts, amounts_of
from fexro.core.sizing.objective import Costs
from fexro.core.sizing.required import RequiredSteel, required_steel
from fexro.core.sizing.search import Point, Proposal, Sizing
from fexro.desktop.background import Background
from fexro.desktop.bench.candidates_scatter import CandidatesScatter, Dot
from fexro.desktop.bench.proposal_strip import Card, ProposalStrip
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import keep_lifts
from fexro.project.edits.sizing import set_sizing
from fexro.project.project import Project
from fexro.project.section import section_of
from fexro.project.sizing import Chosen, lap_of, objective_of, rules_of, sizing_of, take

__all__ = ["AIMS", "ProposalsPage"]

EVERY = 0.12  # s between two looks at what was found
AIMS = {
    "mass": "least steel",
    "cost": "least cost",
    "carbon": "least carbon",
    "fewest bars": "fewest bars",
    "fewest call-outs": "fewest call-outs",
    "mix": "a mix",
}


@dataclass(frozen=True, eq=False)
class _Seen:
    """What was found up to a moment, beside what the lift takes as it is."""

    present: Amounts
    proposals: tuple[Proposal, ...]
    points: tuple[Point, ...]
    told: str
    done: bool
    required: RequiredSteel | None = None


class ProposalsPage(QWidget):
    """Proposals for the lift, searched when the page is in front."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._result: LiftResult | None = None
        self._searched: object = None
        self._work: Background[_Seen] = Background(self._take_seen, self, self._failed)
        self._proposals: tuple[Proposal, ...] = ()
        self._points: tuple[Point, ...] = ()
        self._cards: tuple[Card, ...] = ()
        self.aim = QComboBox()
        self.aim.setAccessibleName("What is to be small")
        for key, text in AIMS.items():
            self.aim.addItem(text, key)
        self.aim.activated.connect(self._choose_aim)
        self.keep = QPushButton("Keep by hand")
        self.keep.setToolTip("No run changes the bars and ties of a lift that is kept by hand")
        self.keep.clicked.connect(self._toggle_keep)
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self._stop)
        self.told, self.needed = Label(), Label()
        for label in (self.told, self.needed):
            label.setProperty("role", "quiet")
        self.strip, self.scatter = ProposalStrip(), CandidatesScatter()
        self.strip.chosen.connect(self._take_card)
        self.scatter.chosen.connect(self._take_card)
        self.strip.pointed.connect(self._point)
        self.scatter.pointed.connect(self.strip.point_at)
        self.scatter.hovered.connect(self._draw_candidate)
        self.scatter.told.connect(lambda text: self.told.setText(text or self._status))
        self._status = ""
        top, below = QHBoxLayout(), QHBoxLayout()
        for widget in (self.aim, self.keep, self.stop):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        top.addWidget(self.needed)
        below.addWidget(self.strip, 3)
        below.addWidget(self.scatter, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 2, 16, 4)
        layout.setSpacing(2)
        layout.addLayout(top)
        layout.addLayout(below, 1)

    def show_result(self, result: LiftResult | None) -> None:
        """Take a lift; what was found of another, or of other facts, is dropped."""
        if result is self._result:
            return
        self._work.cancel()
        self._result, self._searched = result, None
        self._proposals = ()
        self.strip.show_cards(())
        self.scatter.show_dots((), 1.0)
        self.needed.setText("")
        if self.isVisible():
            self._search()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Search for the lift that is shown."""
        super().showEvent(event)
        self._search()

    def _key(self) -> LiftKey | None:
        return self._document.selection.lift

    def _search(self) -> None:
        project, key, result = self._document.project, self._key(), self._result
        if project is None or key is None or result is None:
            return
        rules = rules_of(project, key)
        self.aim.setCurrentIndex(self.aim.findData(rules.objective))
        kept = project.record_by_key[key].kept
        self.keep.setText("Release" if kept else "Keep by hand")
        if self._searched == (id(result), rules):
            return
        self._searched = id(result), rules
        self._tell("Searching …")
        self.stop.setVisible(True)
        self._work.start(partial(_searching, project, key, result))

    def _tell(self, text: str) -> None:
        self._status = text
        self.told.setText(text)

    def _take_seen(self, seen: _Seen) -> None:
        project, key, result = self._document.project, self._key(), self._result
        if project is None or key is None or result is None:
            return
        rules, lift = rules_of(project, key), result.lift
        objective = objective_of(rules)
        record = project.record_by_key[key]
        present = seen.present
        cards = [
            Card(
                *(record.bars, record.ties, lift.facts.section, lift.code.held),
                *(result.utilisation, result.state, objective.costs(present), True),
                aim=rules.objective,
            )
        ]
        for one in seen.proposals:
            section = one.section
            cards.append(
                Card(
                    *(one.bars, one.ties, section, lift.code.held),
                    *(one.result.utilisation, one.result.state, one.costs),
                    present=(one.bars, one.ties) == (record.bars, record.ties),
                    aim=rules.objective,
                )
            )
        self._proposals, self._points, self._cards = seen.proposals, seen.points, tuple(cards)
        self.strip.show_cards(cards)
        numbers = {
            (one.bars, one.section.ties.size.name): i + 1 for i, one in enumerate(seen.proposals)
        }
        dots = [
            Dot(
                point.mass,
                point.ratio,
                f"{point.bars}, ties {point.tie}: {format_number(point.mass, 0)} kg,"
                f" {point.ratio:.2f}",
                numbers.get((point.bars, point.tie)),
                number=number,
            )
            for number, point in enumerate(seen.points)
        ]
        told = f"now: {record.bars}, {format_number(present.bars, 0)} kg, {result.utilisation:.2f}"
        dots.append(Dot(present.bars, result.utilisation, told, None, present=True))
        self.scatter.show_dots(dots, rules.aim)
        self._tell(seen.told)
        self.stop.setVisible(not seen.done)
        if seen.required is not None:
            self.needed.setText(_needed(seen.required, project))
            self.needed.setToolTip("Area of bars, where they are and alike in proportion")

    def _draw_candidate(self, number: int) -> None:
        """Draw the candidate under the pointer behind the proposals; it cannot be taken."""
        project, key = self._document.project, self._key()
        point = self._points[number] if 0 <= number < len(self._points) else None
        known = {(one.bars, one.section.ties.size.name) for one in self._proposals}
        if project is None or key is None or self._result is None:
            return
        if point is None or (point.bars, point.tie) in known:
            if self.strip.cards != self._cards:
                self.strip.show_cards(self._cards)
            return
        rules, rule = rules_of(project, key), self._result.lift.code.held
        ties = f"{point.tie}@{max(rules.spacings):g}"
        model = project.by_key[key].section.with_bars(point.bars, ties)
        section = section_of(model, project.basis.bars.own)
        costs = Costs(point.mass, math.nan, math.nan, len(section.bars))
        state = State.EXCEEDED if point.ratio > rules.aim else State.NOT_CHECKED
        card = Card(point.bars, f"ties {point.tie}", section, rule, point.ratio, state, costs)
        self.strip.show_cards((*self._cards, card))

    def _point(self, number: int) -> None:
        """Tell of the card under the pointer, and mark its dot."""
        self.scatter.point_at(number)
        known = 0 <= number < len(self.strip.cards)
        self.told.setText(self.strip.cards[number].told if known else self._status)

    def _stop(self) -> None:
        self._work.cancel()
        self.stop.setVisible(False)
        self._tell(f"Stopped. {self._status}")

    def _failed(self, error: Exception) -> None:
        self.stop.setVisible(False)
        if not isinstance(error, InputError):
            raise error
        self._tell(str(error))

    def _take_card(self, number: int) -> None:
        key = self._key()
        if key is None or not 1 <= number <= len(self._proposals):
            return
        one = self._proposals[number - 1]
        chosen = {key: Chosen(one.bars, one.ties)}
        self._document.edit(f"Bars {one.bars} of {key}", partial(take, chosen=chosen))

    def _choose_aim(self, index: int) -> None:
        self._document.edit(
            "What is to be small", partial(set_sizing, objective=self.aim.itemData(index))
        )
        self._search()

    def _toggle_keep(self) -> None:
        project, key = self._document.project, self._key()
        if project is None or key is None:
            return
        kept = not project.record_by_key[key].kept
        label = f"{'Keep' if kept else 'Release'} {key}"
        self._document.edit(label, partial(keep_lifts, keys=[key], kept=kept))
        self.keep.setText("Release" if kept else "Keep by hand")


def _needed(found: RequiredSteel, project: Project) -> str:
    system = project.basis.system
    provided = format_quantity(found.provided, Dimension.AREA, system)
    if found.area is None:
        return f"No area up to 8 % does · {provided} provided"
    text = (
        f"{format_quantity(found.area, Dimension.AREA, system)} would just do · {provided} provided"
    )
    if found.gaps:
        low, high = (format_quantity(a, Dimension.AREA, system) for a in found.gaps[0])
        text += f" · more does not, from {low} to {high}"
    return text


def _searching(
    project: Project, key: LiftKey, result: LiftResult, stopped: Event
) -> Iterator[_Seen]:
    """Search, and yield now and then what was found."""
    last = 0.0
    present = amounts_of(result.lift, lap_of(result.lift))
    found = Sizing()
    for found in sizing_of(project, [key]):
        if stopped.is_set():
            return
        now = time.monotonic()
        if now - last > EVERY and found.points:
            last = now
            yield _seen(project, present, found)
    required = required_steel(result.lift, rules_of(project, key).aim)
    yield _seen(project, present, found, required)


def _seen(
    project: Project, present: Amounts, found: Sizing, required: RequiredSteel | None = None
) -> _Seen:
    told = f"{len(found.points)} of {found.considered} looked at, {found.full_checks} in full"
    if found.done and found.best is not None:
        told = f"Best of {found.considered}, {found.full_checks} checked in full."
    elif found.done:
        nearest = found.nearest
        told = f"None of {found.considered} does."
        if nearest is not None:
            told += f" Nearest {nearest.told(project.basis.system)}"
    return _Seen(present, tuple(found.proposals), tuple(found.points), told, found.done, required)
