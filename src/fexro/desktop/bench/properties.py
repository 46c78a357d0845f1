"""Qt view for the properties of a section, with the calculation they come from."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from fexro.core.members.section_properties import explain_properties, properties_of
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, UnitSystem, format_quantity
from fexro.core.section.outline import Outline
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.text import Label

__all__ = ["PropertiesPanel"]

ROWS = (
    ("area", "Area", "A", Dimension.AREA),
    ("perimeter", "Perimeter", "u", Dimension.LENGTH),
    ("x", "Centroid", "x", Dimension.LENGTH),
    ("y", "", "y", Dimension.LENGTH),
    ("about_x", "Second moments", "Ix", Dimension.SECOND_MOMENT),
    ("about_y", "", "Iy", Dimension.SECOND_MOMENT),
    ("product", "", "Ixy", Dimension.SECOND_MOMENT),
    ("larger", "Principal", "I1", Dimension.SECOND_MOMENT),
    ("smaller", "", "I2", Dimension.SECOND_MOMENT),
    ("angle", "Axis of I1 from x", "θ1", Dimension.ANGLE),
    ("radius_x", "Radii of gyration", "rx", Dimension.LENGTH),
    ("radius_y", "", "ry", Dimension.LENGTH),
    ("radius_smaller", "", "r2", Dimension.LENGTH),
)
LEAST_ROOM = 240  # px in which a calculation is typeset


class PropertiesPanel(QWidget):
    """Area, centroid, second moments, principal axes and radii of the gross concrete."""

    def __init__(self) -> None:
        super().__init__()
        self._outline: Outline | None = None
        self._system = UnitSystem.SI
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        grid.setHorizontalSpacing(10)
        grid.setColumnStretch(2, 1)
        self.values: dict[str, Label] = {}
        for row, (name, caption, symbol, _) in enumerate(ROWS):
            for column, text in enumerate((caption, symbol)):
                label = Label(text)
                label.setProperty("role", "quiet")
                grid.addWidget(label, row, column)
            value = Label()
            value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            value.setAccessibleName(f"{caption or ROWS[row - 1][1]} {symbol}".strip())
            grid.addWidget(value, row, 2)
            self.values[name] = value
        self.open = QPushButton("Calculation ▸")
        self.open.setProperty("role", "link")
        self.open.clicked.connect(self._toggle)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.hide()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.addLayout(grid)
        layout.addWidget(self.open, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addWidget(self._scroll, 1)
        layout.addStretch(0)
        self.derivation: DerivationView | None = None

    def show_outline(self, outline: Outline, system: UnitSystem) -> None:
        """Show the properties of an outline."""
        if outline is self._outline and system is self._system:
            return
        self._outline, self._system = outline, system
        found = properties_of(outline)
        for name, _, _, dimension in ROWS:
            value = float(getattr(found, name))
            if dimension is Dimension.ANGLE:
                text = f"{math.degrees(value):.1f}°".replace("-", "−")
            else:
                text = format_quantity(value, dimension, system)
            self.values[name].setText(text)
        if self.derivation is not None:
            self.derivation.show_record(self._record(), system)

    def _record(self) -> Derivation:
        record = Derivation()
        if self._outline is not None:
            explain_properties(record, self._outline)
        return record

    def _toggle(self) -> None:
        shown = self._scroll.isVisibleTo(self)
        if self.derivation is None:
            room = max(self.width() - 24, LEAST_ROOM)
            self.derivation = DerivationView(self._record(), self._system, room)
            content = QWidget()
            content.setObjectName("content")
            column = QVBoxLayout(content)
            column.setContentsMargins(0, 0, 0, 0)
            column.addWidget(self.derivation)
            column.addStretch(1)
            self._scroll.setWidget(content)
        self._scroll.setVisible(not shown)
        self.open.setText("Calculation ▸" if shown else "Calculation ▾")
