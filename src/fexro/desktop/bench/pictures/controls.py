"""Qt view for what governs the pictures: plane, axial force, state, other bars, fit."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QHBoxLayout,
    QPushButton,
    QSlider,
    QWidget,
)

from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, quantity_reading
from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.bench.pictures.plane_dial import PlaneDial
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.text import Label

__all__ = ["PictureControls"]

SLIDER = 1000


class PictureControls(QWidget):
    """The controls of all pictures; those that a picture names are shown.

    Signals:
        refused: why what was typed is not taken.
        settled: what was refused is over.
        told: how what is typed is read.
        stated: whether stresses are at the demand was changed.
        barred: whether other bars are drawn was changed.
        fitted: all of the picture is wanted, or (true) the demands.
    """

    refused = pyqtSignal(str)
    settled = pyqtSignal()
    told = pyqtSignal(str)
    stated = pyqtSignal()
    barred = pyqtSignal()
    fitted = pyqtSignal(bool)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document, self._selection = document, document.selection
        self._shown: Shown | None = None
        groups = {
            Control.PLANE: self._make_plane(),
            Control.LEVEL: self._make_level(),
            Control.STATE: self._make_state(),
            Control.PIN: self._make_pin(),
            Control.BARS: self._make_bars(),
        }
        self.whole, self.near = QPushButton("Fit"), QPushButton("Fit demands")
        self.whole.setToolTip("Show all of it (Ctrl+0)")
        self.near.setToolTip("Bring up the corner in which the demands lie (Ctrl+9)")
        self.whole.clicked.connect(lambda: self.fitted.emit(False))
        self.near.clicked.connect(lambda: self.fitted.emit(True))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        for control, widget in groups.items():
            row.addWidget(widget, int(control is Control.LEVEL))
        row.addStretch(1)
        for button in (self.whole, self.near):
            button.setProperty("role", "link")
            row.addWidget(button)
        self._groups: dict[Control, QWidget] = {
            **groups,
            Control.FIT: self.whole,
            Control.FIT_DEMANDS: self.near,
        }

    def _make_plane(self) -> QWidget:
        self.dial = PlaneDial()
        self.dial.turned.connect(self._selection.turn)
        self.angle = self._field(Field(self._document.typing, self._type_angle))
        self.angle.setFixedWidth(58)
        self.angle.setAccessibleName("Direction of the moment, degrees from Mx towards My")
        return _row(Label("Moment at"), self.dial, self.angle)

    def _make_level(self) -> QWidget:
        self.axial = self._field(Field(self._document.typing, self._type_axial, self._read_axial))
        self.axial.setFixedWidth(92)
        self.axial.setAccessibleName("Axial force of the Mx–My diagram")
        self.axial.told.connect(self._tell_reading)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, SLIDER)
        self.slider.setAccessibleName("Axial force of the Mx–My diagram")
        self.slider.valueChanged.connect(self._slide)
        return _row(Label("N"), self.axial, self.slider)

    def _field(self, field: Field) -> Field:
        field.refused.connect(lambda error: self.refused.emit(str(error)))
        field.settled.connect(self.settled)
        return field

    def _make_state(self) -> QWidget:
        self.capacity, self.demand = QPushButton("At capacity"), QPushButton("At the demand")
        self._moments = QButtonGroup(self)
        for button in (self.capacity, self.demand):
            button.setCheckable(True)
            button.setProperty("role", "tab")
            self._moments.addButton(button)
        self.capacity.setChecked(True)
        self._moments.buttonClicked.connect(lambda _: self.stated.emit())
        return _row(self.capacity, self.demand)

    def _make_pin(self) -> QWidget:
        self.pinned = QCheckBox("Pin")
        self.pinned.setToolTip("Keep the plane and the axial force whatever is selected (Alt+P)")
        self.pinned.toggled.connect(self._pin)
        return self.pinned

    def _make_bars(self) -> QWidget:
        self.other_bars = QCheckBox("Other bars")
        self.other_bars.setToolTip("Curves of the neighbouring bar sizes (Alt+B)")
        self.counts = QCheckBox("Number")
        self.counts.setToolTip("Curves with fewer and more bars instead of other sizes")
        for box in (self.other_bars, self.counts):
            box.toggled.connect(self._toggle_bars)
        return _row(self.other_bars, self.counts)

    def show_for(self, controls: frozenset[Control]) -> None:
        """Show the controls that a picture names."""
        for control, widget in self._groups.items():
            widget.setVisible(control in controls)

    def show_shown(self, shown: Shown) -> None:
        """Show what is set."""
        self._shown = shown
        self.dial.show_angle(shown.angle)
        self.angle.show_text(f"{shown.angle_text()}°")
        self.axial.show_text(shown.axial_text())
        _quietly(self.pinned, self._selection.pinned)
        low, high = shown.strength.max_tension, shown.strength.max_axial
        self.slider.blockSignals(True)
        if not self.slider.isSliderDown():
            self.slider.setValue(round(SLIDER * (shown.axial - low) / (high - low)))
        self.slider.blockSignals(False)

    @property
    def _system(self) -> UnitSystem:
        assert self._shown is not None
        return self._shown.system

    def _pin(self, on: bool) -> None:
        """Keep plane and axial force, or let them follow the demand."""
        if on and self._shown is not None:
            self._selection.pin(self._shown.angle, self._shown.axial)
        elif not on:
            self._selection.follow()

    def _type_angle(self, text: str) -> None:
        if self._shown is not None:
            angle = parse_quantity(text, Dimension.ANGLE, self._system, "Moment at")
            self._selection.turn(math.remainder(angle, 2 * math.pi))

    def _type_axial(self, text: str) -> None:
        if self._shown is not None:
            self._selection.set_axial(parse_quantity(text, Dimension.FORCE, self._system, "N"))

    def _read_axial(self, text: str) -> str:
        return quantity_reading(text, Dimension.FORCE, self._system) if self._shown else ""

    def _tell_reading(self, reading: str) -> None:
        self.told.emit(f"N is read as {reading}." if reading else "")

    def _slide(self, value: int) -> None:
        if self._shown is not None:
            low, high = self._shown.strength.max_tension, self._shown.strength.max_axial
            self._selection.set_axial(low + (high - low) * value / SLIDER)

    def _toggle_bars(self) -> None:
        if self.sender() is self.counts and self.counts.isChecked():
            _quietly(self.other_bars, True)
        self.barred.emit()


def _row(*widgets: QWidget) -> QWidget:
    holder = QWidget()
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(6)
    for widget in widgets:
        row.addWidget(widget)
    return holder


def _quietly(box: QCheckBox, on: bool) -> None:
    box.blockSignals(True)
    box.setChecked(on)
    box.blockSignals(False)
