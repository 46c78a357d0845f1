"""Qt view for a derivation: the calculation typeset at the width there is."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.rendering.typst import typst_source
from fexro.desktop.theme import Theme, current_theme
from fexro.fonts import FONTS

if TYPE_CHECKING:
    import typst

__all__ = ["DerivationView", "typeset"]

POINT = 0.75  # of a px
LEAST_WIDTH = 200  # px
SLACK = 16  # px by which it may be narrower than there is room
_HEAD = """
#set page(width: {width}pt, height: auto, margin: (x: 1pt, y: 3pt), fill: none)
#set text(font: "Inter", size: 8pt, fill: rgb("{ink}"), number-width: "tabular")
#set par(leading: 0.5em, spacing: 0.75em)
#show math.equation: set text(size: 9pt, fill: rgb("{ink}"))
#show math.equation.where(block: true): set align(left)
#show math.equation.where(block: true): set block(spacing: 0.6em)
#let source(body) = text(size: 7pt, fill: rgb("{quiet}"), body)
#let fitted(body) = layout(room => {{
  let wide = measure(body).width
  if wide > room.width {{ scale(100% * (room.width / wide), reflow: true, body) }} else {{ body }}
}})
#let line-of(clause, symbols, numbers, result) = block(width: 100%, breakable: false)[
  #fitted(symbols) #fitted(numbers)
  #layout(room => {{
    let told = source(clause)
    let wide = measure(result).width + measure(told).width + 4pt
    if wide <= room.width {{
      block(width: 100%)[#result #place(bottom + right, told)]
    }} else {{
      fitted(result)
      align(right, told)
    }}
  }})
]
#let values(columns, ..cells) = block(width: 100%, text(size: 6pt, table(
  columns: (auto,) * columns, align: right, inset: (x: 2.4pt, y: 1.8pt),
  stroke: (_, y) => if y == 0 {{ (bottom: 0.4pt + rgb("{quiet}")) }}, ..cells)))
"""


@lru_cache(maxsize=1)
def _compiler() -> typst.Compiler:
    import typst  # only needed once a calculation is opened

    return typst.Compiler(font_paths=[str(FONTS)], ignore_system_fonts=True)


def typeset(
    record: Derivation, system: UnitSystem, width: int, ratio: float, theme: Theme
) -> QImage:
    """Return a derivation as a picture.

    Args:
        record: the calculation.
        system: the units people see.
        width: width in px of the interface.
        ratio: device pixels in a px.
        theme: colours of the text.
    """
    head = _HEAD.format(width=width * POINT, ink=theme.ink, quiet=theme.secondary)
    source = head + typst_source(record, system)
    png = _compiler().compile(source.encode(), format="png", ppi=96.0 * ratio)
    assert isinstance(png, bytes)
    image = QImage.fromData(png)
    image.setDevicePixelRatio(ratio)
    return image


class DerivationView(QWidget):
    """Shows the calculation of one check; its plain text serves screen readers and copying.

    Args:
        record: the calculation.
        system: the units people see.
        room: the width that it will have, px, where that is known.
    """

    def __init__(self, record: Derivation, system: UnitSystem, room: int = 0) -> None:
        super().__init__()
        self.resize(max(room, LEAST_WIDTH), 1)
        self._typeset = 0
        self._theme: Theme | None = None
        self.setAccessibleName("Derivation")
        self.show_record(record, system)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setSizePolicy(policy)

    def show_record(self, record: Derivation, system: UnitSystem) -> None:
        """Show another calculation in the same place."""
        self._record, self._system = record, system
        self._image: QImage | None = None
        self.text = plain_text(record, system)
        self.setAccessibleDescription(self.text)
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """Height of the typeset text at the width there is."""
        image = self._picture()
        return image.deviceIndependentSize().toSize()

    def minimumSizeHint(self) -> QSize:
        return QSize(120, self.sizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if event is not None and event.size().width() != event.oldSize().width():
            self.updateGeometry()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.drawImage(0, 0, self._picture())
        painter.end()

    def _picture(self) -> QImage:
        theme = current_theme()
        width = max(self.width(), LEAST_WIDTH)
        # A scroll bar that comes or goes beside it is no reason to typeset it again.
        fits = width - SLACK <= self._typeset <= width
        if self._image is None or self._theme is not theme or not fits:
            self._typeset = width
            ratio = self.devicePixelRatioF()
            self._image = typeset(self._record, self._system, width, ratio, theme)
            self._theme = theme
        return self._image
