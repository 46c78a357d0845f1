"""Qt view for a panel or coupling beam of a wall: its verdict, sizes and bars, and proposals."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import partial
from threading import Event

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import Dimension, parse_quantity, unit_of
from fexro.core.section.call_out import canonical
from fexro.desktop.background import Background
from fexro.desktop.document import UNCHECKED, Document
from fexro.desktop.form import Form
from fexro.desktop.text import Label
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey
from fexro.project.edits.groups import join_group, leave_groups
from fexro.project.edits.lifts import change_lifts
from fexro.project.edits.walls import (
    beams_alike,
    set_diagonals,
    set_hoops,
    set_panel_bars,
    set_thickness,
)
from fexro.project.project import Project
from fexro.project.section import DiagonalBars
from fexro.project.shapes import LegsShape
from fexro.project.wall_sizing import WallProposal, propose_web_bars

__all__ = ["MemberPanel"]

FOR = (("this", "this storey"), ("above", "this and above"), ("all", "all storeys"))
DIAGONALS = "such as 4 D25 groups D10@100, or 4 D25 section D12@75"


class MemberPanel(QWidget):
    """What is chosen on the elevation, edited for one storey or several."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.key: LiftKey | None = None
        self._work: Background[WallProposal] = Background(self._take_proposal, self)
        self.headline, self.verdict = Label(), Label()
        self.headline.setProperty("role", "title")
        self.verdict.setWordWrap(True)
        self.form = Form(document.typing, 250, 92)
        self.form.choice("for", "Applies to", lambda _: None)
        self.form.show_choice("for", FOR, "this")
        self.form.line("thickness", "Thickness", self._set_thickness)
        self.form.line("bars", "Vertical bars", self._set_bars)
        self.form.line("ties", "Horizontal", self._set_ties)
        self.form.line("hoops", "Hoops of ends", self._set_hoops)
        self.form.line("diagonals", "Diagonals", self._set_diagonals)
        self.open, self.alike = QPushButton("Open its bench"), QPushButton("As the one below")
        self.propose = QPushButton("Propose bars")
        self.propose.setToolTip("The least bars of the curtains with which every check is met")
        self.open.clicked.connect(self._open)
        self.alike.clicked.connect(self.take_below)
        self.propose.clicked.connect(self.start_proposal)
        self.group = QPushButton("Group")
        self.group.clicked.connect(self.join_or_leave)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.told.setWordWrap(True)
        row = QHBoxLayout()
        row.setSpacing(6)
        for button in (self.open, self.propose, self.alike, self.group):
            row.addWidget(button)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(5)
        for widget in (self.headline, self.verdict, self.form):
            layout.addWidget(widget)
        layout.addLayout(row)
        layout.addWidget(self.told)

    def show_member(self, key: LiftKey | None) -> None:
        """Show another member."""
        if key != self.key:
            self._work.cancel()
            self.told.setText("")
        self.key = key
        project = self._document.project
        self.setEnabled(key is not None)
        if project is None or key is None or key not in project.by_key:
            self.headline.setText("Nothing chosen")
            self.verdict.setText("A click on the elevation chooses a panel or a beam.")
            return
        kind, lift = project.mark_by_name[key.mark].kind, project.by_key[key]
        beam = kind == "coupling beam"
        group = project.group_by_key.get(key)
        grouped = "" if group is None else f", group {group.name} of {len(group.members)}"
        self.headline.setText(f"{key}, {kind}{grouped}")
        self.group.setText("Group" if group is None else "Leave group")
        self.group.setToolTip(
            "Members that it applies to get the bars of this one, and have the same from now on"
            if group is None
            else "Have bars of its own from now on"
        )
        result = self._document.results.get(key)
        told = UNCHECKED[self._document.busy]
        if result is not None:
            told = verdict_of(result, project.basis.system)
        self.verdict.setText(told)
        for name in ("thickness", "hoops"):
            self.form.set_visible(name, not beam)
        self.form.set_caption("bars", "Bars" if beam else "Vertical bars")
        self.form.set_caption("ties", "Hoops" if beam else "Horizontal")
        self.form.set_visible("diagonals", beam)
        self.alike.setVisible(beam)
        self.propose.setVisible(not beam)
        section = lift.section
        shape = section.shape
        if isinstance(shape, LegsShape):
            unit = unit_of(Dimension.LENGTH, project.basis.system)
            sizes = dict.fromkeys(f"{leg.thickness / unit.size:g}" for leg in shape.legs)
            self.form.show_text("thickness", f"{', '.join(sizes)} {unit.symbol}")
        self.form.show_text("bars", section.bars)
        self.form.show_text("ties", section.ties)
        self.form.show_text("hoops", section.hoops or "none")
        crossed = section.diagonals
        shown = "none" if crossed is None else f"{crossed.bars} {crossed.confined} {crossed.hoops}"
        self.form.show_text("diagonals", shown)

    def keys(self) -> list[LiftKey]:
        """Return the members that an edit is for."""
        project, key = self._document.project, self.key
        if project is None or key is None:
            return []
        field = self.form.fields["for"]
        scope = field.currentData() if hasattr(field, "currentData") else "this"
        if scope == "this":
            return [key]
        place = project.storey_place
        kind, wall = project.mark_by_name[key.mark].kind, project.mark_by_name[key.mark].wall
        same = [m for m in project.marks if m.wall == wall and m.kind == kind]
        if kind == "wall panel":
            same = [m for m in same if m.name == key.mark] if "." in key.mark else same
        found = [LiftKey(m.name, lift.storey) for m in same for lift in m.lifts]
        if scope == "above":
            found = [one for one in found if place[one.storey] <= place[key.storey]]
        return found

    def _edit(self, what: str, edit: object) -> None:
        assert callable(edit)
        keys = self.keys()
        named = str(keys[0]) if len(keys) == 1 else f"{len(keys)} members"
        self._document.edit(f"{what} of {named}", partial(edit, keys=keys))

    def _set_thickness(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        value = parse_quantity(text, Dimension.LENGTH, project.basis.system, "thickness")
        self._edit("Thickness", partial(set_thickness, thickness=value))

    def _called(self, text: str, where: str) -> str:
        project = self._document.project
        assert project is not None
        return canonical(text, where, sizes_by_name(project.basis.bars.own))

    def _set_bars(self, text: str) -> None:
        self._edit("Bars", partial(set_panel_bars, bars=self._called(text, "bars")))

    def _set_ties(self, text: str) -> None:
        project = self._document.project
        assert project is not None

        def edit(project: Project, keys: list[LiftKey]) -> Project:
            return change_lifts(project, keys, section={"ties": text.strip()})

        self._edit("Horizontal bars", edit)

    def _set_hoops(self, text: str) -> None:
        plain = text.strip()
        hoops = None if plain.casefold() in ("", "none") else plain
        self._edit("Hoops", partial(set_hoops, hoops=hoops))

    def _set_diagonals(self, text: str) -> None:
        plain = text.strip()
        if plain.casefold() in ("", "none"):
            self._edit("Diagonals", partial(set_diagonals, diagonals=None))
            return
        match = re.fullmatch(r"(.+?)\s+(groups?|section)\s+(\S+)", plain, re.IGNORECASE)
        if match is None:
            raise InputError("diagonals", f"“{plain}”", DIAGONALS)
        confined = "section" if match[2].lower() == "section" else "groups"
        group = DiagonalBars.model_validate(
            {
                "bars": self._called(match[1], "diagonals"),
                "confined": confined,
                "hoops": match[3],
            }
        )
        self._edit("Diagonals", partial(set_diagonals, diagonals=group))

    def _open(self) -> None:
        if self.key is not None:
            self.opened.emit(self.key)

    def take_below(self) -> None:
        """Give the beam the bars of the one below."""
        project, key = self._document.project, self.key
        if project is None or key is None:
            return
        lifts = [lift.storey for lift in project.mark_by_name[key.mark].lifts]
        at = lifts.index(key.storey)
        if at + 1 >= len(lifts):
            self.told.setText("There is no beam below.")
            return
        source = LiftKey(key.mark, lifts[at + 1])
        edit = partial(beams_alike, source=source, keys=[key])
        self._document.edit(f"Bars of {key} as of {source.storey}", edit)
        self.told.setText(f"Bars as in {source.storey}.")

    def join_or_leave(self) -> None:
        """Let the members that are meant carry the same bars, or this one its own again."""
        project, key = self._document.project, self.key
        if project is None or key is None:
            return
        if key in project.group_by_key:
            self._document.edit(f"{key} in no group", partial(leave_groups, keys=[key]))
            return
        keys = self.keys()
        if len(keys) < 2:
            self.told.setText("Choose what it applies to first: a group has two members or more.")
            return
        try:
            edit = partial(join_group, keys=keys, like=key)
            self._document.edit(f"{len(keys)} members in a group", edit)
        except InputError as error:
            self.told.setText(str(error))

    def start_proposal(self) -> None:
        """Look for the least bars of the curtains that do, for the members that are meant."""
        project, keys = self._document.project, self.keys()
        if project is None or not keys:
            return
        self.told.setText("Looking for the least bars …")
        self._work.start(partial(_proposing, project, keys))

    def _take_proposal(self, found: WallProposal) -> None:
        if found.bars is None:
            self.told.setText(f"{found.tried} tried …" if not found.ended else found.told)
            return
        keys = list(found.keys)
        self._document.edit(f"Bars of {len(keys)} panels", partial(_with_bars, found=found))
        self.told.setText(found.told)


def _proposing(project: Project, keys: list[LiftKey], stopped: Event) -> Iterator[WallProposal]:
    for found in propose_web_bars(project, keys):
        if stopped.is_set():
            return
        yield found


def _with_bars(project: Project, found: WallProposal) -> Project:
    assert found.bars is not None
    for key in found.keys:
        project = set_panel_bars(project, [key], bars=found.bars[key])
    return project
