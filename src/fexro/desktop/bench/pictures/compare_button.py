"""Qt view for what a lift is compared with: versions held, other lifts, other design codes."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QMenu, QPushButton

from fexro.desktop.bench.menus import act
from fexro.desktop.bench.pictures.beside import Candidate
from fexro.desktop.document import Document
from fexro.desktop.text import menu_text
from fexro.project.column import LiftKey

__all__ = ["CompareButton"]


class CompareButton(QPushButton):
    """Opens the menu of what there is to compare with, and keeps what was chosen.

    Signals:
        changed: something was added or removed; carries whether it was added.

    Attributes:
        held: what the lift is compared with.
    """

    changed = pyqtSignal(bool)

    def __init__(self, document: Document) -> None:
        super().__init__("Compare")
        self._document = document
        self.held: list[Candidate] = []
        # Lifts of another project have nothing to do with this one.
        document.opened.connect(self.release)
        menu = QMenu(self)
        self._others = QMenu("Another lift", menu)
        menu.aboutToShow.connect(partial(self._fill, menu))
        self.setMenu(menu)

    def hold(self) -> None:
        """Keep this version of the lift."""
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None:
            return
        bars = project.by_key[key].section.bars
        self._add(Candidate(f"{key} held, {bars}", self._document.lift_of(key)))

    def compare_code(self, code: str, annex: str) -> None:
        """Compare with the lift under another design code."""
        key = self._document.selection.lift
        if key is not None:
            lift = self._document.lift_under(key, code, annex)
            self._add(Candidate(f"{key} to {lift.code.name}", lift))

    def compare_lift(self, mark: str, storey: str) -> None:
        """Compare with another lift."""
        key = LiftKey(mark, storey)
        self._add(Candidate(str(key), self._document.lift_of(key)))

    def release(self, candidate: Candidate | None = None) -> None:
        """Remove one that is compared with, or all."""
        self.held = [c for c in self.held if candidate is not None and c is not candidate]
        self.changed.emit(False)

    def _add(self, candidate: Candidate) -> None:
        self.held = [c for c in self.held if c.label != candidate.label] + [candidate]
        self.changed.emit(True)

    def _fill(self, menu: QMenu) -> None:
        menu.clear()
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None:
            return
        act(menu, "Hold this version of the lift", self.hold)
        for offer, annex in self._document.other_codes():
            text = f"This lift to {offer.title(annex)}"
            act(menu, text, partial(self.compare_code, offer.key, annex))
        for other in (*self._others.findChildren(QMenu), *self._others.actions()):
            other.deleteLater()
        self._others.clear()
        menu.addMenu(self._others)
        for mark in project.marks:
            stack = self._others.addMenu(menu_text(mark.name))
            assert stack is not None
            for lift in mark.lifts:
                if (mark.name, lift.storey) != key:
                    act(stack, lift.storey, partial(self.compare_lift, mark.name, lift.storey))
        menu.addSeparator()
        for candidate in self.held:
            act(menu, f"Remove {candidate.label}", partial(self.release, candidate))
        clear = act(menu, "Remove all", self.release)
        clear.setEnabled(bool(self.held))
