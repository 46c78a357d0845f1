"""Qt view for the ties of a section: their legs, and those inside the outer one."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QListWidget, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.section.ties import Arrangement, HeldRule, InnerTie, arrange
from fexro.desktop.form import command_row
from fexro.desktop.text import Label
from fexro.project.bars import OwnBar
from fexro.project.edits.ties import remove_tie, ties_by_rule
from fexro.project.section import SectionModel, section_of

__all__ = ["TiesPanel"]

COMMANDS = (("remove", "Remove"), ("rule", "By the code's rule"))
HOW = "To tie bars, choose them in the drawing and press T; Shift+T takes their ties out."


class TiesPanel(QWidget):
    """The ties inside the outer one, legs in both directions, and the bars that are not held.

    Args:
        take: takes a section, with what was done, or refuses it.

    Signals:
        pointed: the bars that the chosen tie goes round.
    """

    refused = pyqtSignal(str)
    pointed = pyqtSignal(object)

    def __init__(self, take: Callable[[SectionModel, str], None]) -> None:
        super().__init__()
        self._take = take
        self._section: SectionModel | None = None
        self._rule: HeldRule | None = None
        self._own: tuple[OwnBar, ...] = ()
        self._ties: tuple[InnerTie, ...] = ()
        self.legs, self.told, how = Label(), Label(), Label(HOW)
        for label in (self.told, how):
            label.setProperty("role", "quiet")
            label.setWordWrap(True)
        self.ties = QListWidget()
        self.ties.setAccessibleName("Ties inside the outer tie")
        self.ties.currentRowChanged.connect(self._point)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.addWidget(self.legs)
        layout.addWidget(self.told)
        layout.addWidget(self.ties, 1)
        layout.addLayout(command_row(COMMANDS, self.run))
        layout.addWidget(how)
        layout.addStretch(0)

    def show_section(
        self, section: SectionModel, rule: HeldRule, own: tuple[OwnBar, ...], system: UnitSystem
    ) -> None:
        """Show the ties of a section."""
        self._section, self._rule, self._own = section, rule, own
        found = arrange(section_of(section, own), rule)
        self._ties = found.inner
        along_x, along_y = found.legs
        self.legs.setText(
            f"{format_number(along_x, 1).removesuffix('.0')} legs along x,"
            f" {format_number(along_y, 1).removesuffix('.0')} along y"
        )
        self.told.setText(_told(found, system))
        texts = [_called(tie) for tie in found.inner]
        self.ties.blockSignals(True)
        self.ties.clear()
        self.ties.addItems(texts)
        self.ties.blockSignals(False)
        self.ties.setVisible(bool(texts))

    def run(self, command: str) -> None:
        """Take the chosen tie out, or let the rule of the code place them."""
        section, rule, row = self._section, self._rule, self.ties.currentRow()
        if section is None or rule is None:
            return
        try:
            if command == "rule":
                self._take(ties_by_rule(section), "Ties by rule")
            elif row >= 0:
                self._take(remove_tie(section, row, rule, self._own), "Tie removed")
        except InputError as error:
            self.refused.emit(str(error))

    def _point(self, row: int) -> None:
        if 0 <= row < len(self._ties):
            self.pointed.emit(frozenset(self._ties[row]))


def _rounded(value: float, system: UnitSystem) -> str:
    if not math.isfinite(value):
        return "far"
    unit = unit_of(Dimension.LENGTH, system)
    decimals = 0 if system is UnitSystem.SI else 1
    return f"{format_number(value / unit.size, decimals)} {unit.symbol}"


def _called(tie: InnerTie) -> str:
    numbers = "–".join(str(bar + 1) for bar in tie)
    return f"cross tie {numbers}" if len(tie) == 2 else f"tie about {numbers}"


def _told(found: Arrangement, system: UnitSystem) -> str:
    """Return how the ties came to be, and which bars they should hold but do not."""
    if found.section.ties.spiral or not found.section.corner_count:
        return "Round ties hold the bars of the outer layer."
    if found.stale:
        return "Placed by hand for other bars; lay them out anew."
    how = "Placed by hand." if found.by_hand else f"By the rule of {found.rule.clause}."
    wrong = [one for one in found.unheld if one.reasons]
    if not wrong:
        return f"{how} Every bar is held that has to be."
    listed = ", ".join(f"bar {one.bar + 1}, {_rounded(one.nearer, system)}" for one in wrong[:4])
    more = f" and {len(wrong) - 4} more" if len(wrong) > 4 else ""
    return f"{how} Not held, with the distance to a held bar: {listed}{more}."
