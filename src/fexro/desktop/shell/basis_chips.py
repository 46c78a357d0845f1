"""The design code and the units of the project, in the bar; the code is changed here."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from fexro.core.codes.registry import codes_on_offer
from fexro.core.quantities import Dimension, unit_of
from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.text import Label

__all__ = ["BasisChips"]

CODES = "codes"


class BasisChips(QWidget):
    """Code and units; nothing while no project is open."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.code, self.units = QPushButton(), Label()
        self.code.setToolTip("Change the design code")
        self.units.setProperty("role", "chip")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        row.addWidget(self.code)
        row.addWidget(self.units)

    def commands(self) -> list[Command]:
        """Return a command for each design code on offer."""
        return [
            Command(
                f"code {offer.title(annex)}",
                f"Check to {offer.title(annex)}",
                partial(self._change_code, offer.key, annex),
                enabled=lambda: self._document.project is not None,
                group=CODES,
                settles=False,
            )
            for offer in codes_on_offer()
            for annex in offer.annexes
        ]

    def offer(self, menu: QMenu) -> None:
        """Take the menu of the design codes."""
        self.code.setMenu(menu)

    def show_basis(self) -> None:
        """Show the basis of the project."""
        project = self._document.project
        self.setVisible(project is not None)
        if project is not None:
            self.code.setText(project.basis.design_code.name)
            system = project.basis.system
            shown = (Dimension.FORCE, Dimension.LENGTH)
            force, length = (unit_of(dimension, system).symbol for dimension in shown)
            moment = unit_of(Dimension.MOMENT, system).symbol.removeprefix(f"{force}·")
            self.units.setText(f"{force} · {moment} · {length}")

    def _change_code(self, code: str, annex: str) -> None:
        """Put the project on another design code."""
        project = self._document.project
        if project is not None:
            basis = project.basis.model_copy(update={"code": code, "annex": annex})
            if basis != project.basis:
                self._document.change_basis(basis, f"Design code {code}")
