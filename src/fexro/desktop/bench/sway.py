"""Qt view for a lift as braced and as taking part in sway, side by side."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QGridLayout, QScrollArea, QWidget

from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.document import Document
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label
from fexro.project.sway_comparison import Assumption, as_braced_and_swaying

__all__ = ["SwayComparison"]

AXES = ("x", "y")


class SwayComparison(QScrollArea):
    """What would be otherwise if the lift were braced, or took part in sway."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.cells: dict[tuple[str, str], str] = {}
        content = QWidget()
        content.setObjectName("content")
        self._grid = QGridLayout(content)
        self._grid.setContentsMargins(16, 6, 16, 8)
        self._grid.setHorizontalSpacing(28)
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(3, 1)
        self.setWidgetResizable(True)
        self.setWidget(content)
        document.selection.lift_changed.connect(self.refresh)
        document.selection.combination_changed.connect(self.refresh)
        document.checked.connect(lambda _: self.refresh())

    def showEvent(self, event: QShowEvent | None) -> None:
        """Work it out when it is looked at."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Show the selected lift; nothing is done while it is hidden."""
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None or key not in project.by_key or not self.isVisible():
            return
        clear_layout(self._grid)
        system = project.basis.system
        words = project.basis.design_code.vocabulary
        heads = {"braced": words.braced, "sway": words.sway}
        sides = as_braced_and_swaying(project, key)
        combination = self._document.selection.combination
        rows = {side.sway: self._rows(side, combination, system) for side in sides}
        self.cells = {
            (sway, caption): text for sway, lines in rows.items() for caption, text in lines
        }
        for column, sway in enumerate(rows, 1):
            head = Label(heads[sway].capitalize())
            head.setProperty("role", "heading")
            self._grid.addWidget(head, 0, column)
        for line, (caption, _) in enumerate(rows["braced"], 1):
            label = Label(caption)
            label.setProperty("role", "quiet")
            self._grid.addWidget(label, line, 0)
            for column, sway in enumerate(rows, 1):
                text = Label(rows[sway][line - 1][1])
                text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
                self._grid.addWidget(text, line, column)

    def _rows(
        self, side: Assumption, chosen: str | None, system: UnitSystem
    ) -> list[tuple[str, str]]:
        result = side.result
        if result is None or not result.combinations:
            return [("Governs", side.refusal or "no forces are known")]
        at = result.combinations.index(chosen) if chosen in result.combinations else 0
        governs = result.governing
        where = f" in {governs.combination}" if governs.combination else ""
        rows = [("Governs", f"{governs.name}{where}")]
        for name, factor, moment, axis in zip(
            AXES, side.factors(), side.moments(at), result.second_order.axes, strict=True
        ):
            length = factor * axis.length
            shown = format_number(factor, 2) if math.isfinite(factor) else "∞"
            rows.append(
                (
                    f"About {name}: factor, effective length",
                    axis.missing or f"{shown}, {_written(length, Dimension.LENGTH, system)}",
                )
            )
            rows.append(
                (
                    f"About {name}: slenderness and its limit",
                    f"{format_number(float(axis.slenderness[at]), 1)}"
                    f" of {format_number(float(axis.limit[at]), 1)}",
                )
            )
            rows.append(
                (
                    f"About {name}: moment in {result.combinations[at]}",
                    _written(moment, Dimension.MOMENT, system),
                )
            )
        rows.append(("Utilisation", format_number(result.utilisation, 3)))
        return rows


def _written(value: float, dimension: Dimension, system: UnitSystem) -> str:
    unit = unit_of(dimension, system)
    return f"{format_number(value / unit.size, unit.decimals)} {unit.symbol}"
