"""Qt view for the bar sizes on offer: of which standards, and sizes of one's own."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity
from fexro.core.section.bars import STANDARDS
from fexro.desktop.document import Document
from fexro.desktop.form import Form
from fexro.desktop.text import Label
from fexro.project.bars import BarsOnOffer, OwnBar
from fexro.project.edits.basis import replace_basis
from fexro.project.project import Project

__all__ = ["BarsSection"]

STANDARD_NAMES = {"metric": "Metric", "in-lb": "Inch-pound", "soft metric": "Soft metric"}
# Sizes that a standard's main bars and ties begin with.
MAIN = {"metric": (16, 40), "in-lb": (15, 44), "soft metric": (15, 44)}
TIES = {"metric": (10, 16), "in-lb": (9, 16), "soft metric": (9, 16)}  # mm


class BarsSection(QWidget):
    """Which sizes are proposed for main bars and for ties; what is typed may be of any size."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.form = Form(document.typing, 300)
        self.form.line("main", "Main bars", partial(self._offer, "main", "Main bars"))
        self.form.line("ties", "Ties", partial(self._offer, "ties", "Ties"))
        self.form.line("own", "Sizes of one's own", self._own)
        hint = Label("Own sizes as T26 26 mm 531 mm²: name, diameter, area; several after commas.")
        hint.setProperty("role", "quiet")
        hint.setWordWrap(True)
        self.standards: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        label = Label("Take those of")
        label.setProperty("role", "quiet")
        row.addWidget(label)
        for key, name in STANDARD_NAMES.items():
            button = QPushButton(name)
            button.setProperty("role", "link")
            button.clicked.connect(partial(self._take_standard, key))
            row.addWidget(button)
            self.standards[key] = button
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.form)
        column.addLayout(row)
        column.addWidget(hint)

    def show_project(self, project: Project) -> None:
        """Show the sizes of a project."""
        bars = project.basis.bars
        self.form.show_text("main", "  ".join(bars.main))
        self.form.show_text("ties", "  ".join(bars.ties))
        own = ", ".join(f"{b.name} {b.diameter:g} mm {b.area:g} mm²" for b in bars.own)
        self.form.show_text("own", own)

    def _offer(self, field: str, label: str, text: str) -> None:
        names = tuple(part.upper() for part in text.replace(",", " ").split())
        known = {bar.name.upper(): bar.name for bar in self._bars.own}
        named = tuple(known.get(name, name) for name in names)
        self._change({field: named}, f"{label} on offer")

    def _own(self, text: str) -> None:
        own = tuple(_own_bar(part) for part in text.split(",") if part.strip())
        self._change({"own": own}, "Sizes of one's own")

    def _take_standard(self, key: str, _: bool = False) -> None:
        sizes = STANDARDS[key].values()

        def between(least: float, most: float) -> tuple[str, ...]:
            return tuple(size.name for size in sizes if least <= size.diameter <= most)

        update: dict[str, object] = {"main": between(*MAIN[key]), "ties": between(*TIES[key])}
        self._change(update, f"{STANDARD_NAMES[key]} bar sizes")

    @property
    def _bars(self) -> BarsOnOffer:
        project = self._document.project
        assert project is not None
        return project.basis.bars

    def _change(self, update: dict[str, object], label: str) -> None:
        project = self._document.project
        assert project is not None
        bars = project.basis.bars.model_copy(update=update)
        if bars != project.basis.bars:
            basis = project.basis.model_copy(update={"bars": bars})
            self._document.edit(label, partial(replace_basis, basis=basis))


def _own_bar(text: str) -> OwnBar:
    """Read a size such as `T26 26 mm 531 mm²`; the area may be left out."""
    allowed = "a name, a diameter and an area, such as T26 26 mm 531 mm²"
    parts = text.replace(" mm²", "mm²").replace(" mm", "mm").replace(" in", "in").split()
    if not 2 <= len(parts) <= 3:
        raise InputError("bar size", f"“{text.strip()}”", allowed)
    diameter = parse_quantity(parts[1], Dimension.LENGTH, UnitSystem.SI, "diameter")
    area = (
        parse_quantity(parts[2], Dimension.AREA, UnitSystem.SI, "area")
        if len(parts) == 3
        else math.pi * diameter**2 / 4
    )
    try:
        return OwnBar(name=parts[0], diameter=diameter, area=area)
    except ValueError:
        raise InputError("bar size", f"“{text.strip()}”", allowed) from None
