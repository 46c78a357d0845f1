"""What every picture of a bench can do: show, name its controls, caption, table, paint."""

from __future__ import annotations

from enum import StrEnum
from typing import Protocol

from PyQt6.QtCore import QRectF, pyqtBoundSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from fexro.desktop.bench.pictures.shown import Shown
from fexro.exchange.curves import Table

__all__ = ["Control", "Picture"]


class Control(StrEnum):
    """What a picture is governed by; the panel shows those that it names."""

    PLANE = "plane of bending"
    LEVEL = "axial force"
    STATE = "at capacity or at the demand"
    PIN = "keep plane and force"
    BARS = "other bars"
    FIT = "show all"
    FIT_DEMANDS = "show the demands"


class Picture(Protocol):
    """A picture: a widget that shows a lift and paints itself on any device.

    Attributes:
        name: as on its tab.
        controls: what it is governed by.
        sharpness: px of an image for each px of the screen.
        picked: signal with the index of a demand that was clicked.
        read: signal with what is under the pointer, empty when it leaves.
        turned: signal with a plane of bending that was drawn, radians.
        chosen: signal with bars that were clicked.
    """

    name: str
    controls: frozenset[Control]
    sharpness: float

    @property
    def picked(self) -> pyqtBoundSignal:
        """A demand was clicked."""
        ...

    @property
    def read(self) -> pyqtBoundSignal:
        """The pointer is over something, or has left."""
        ...

    @property
    def turned(self) -> pyqtBoundSignal:
        """The plane was turned."""
        ...

    @property
    def chosen(self) -> pyqtBoundSignal:
        """Other bars were clicked."""
        ...

    @property
    def widget(self) -> QWidget:
        """The widget that it is."""
        ...

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show a lift; `refit` shows all of it, unless the scale was set by hand."""
        ...

    def caption(self, shown: Shown) -> str:
        """Return the sentence above it."""
        ...

    def table(self, shown: Shown) -> Table | None:
        """Return the numbers behind it, if there are."""
        ...

    def paint(self, painter: QPainter, area: QRectF) -> bool:
        """Paint it into an area of any device; tell whether there was something to paint."""
        ...

    def missing(self) -> str:
        """Return why nothing can be painted; empty where it can."""
        ...

    def fit(self) -> None:
        """Show all of it."""
        ...

    def fit_demands(self) -> None:
        """Bring up the corner in which the demands lie."""
        ...

    def restyle(self) -> None:
        """Take the colours of the theme."""
        ...
