"""Pictures of the bench to carry away: PNG, SVG and PDF."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPaintDevice, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator
from PyQt6.QtWidgets import QGraphicsItem, QWidget

from fexro.core.errors import FexroError
from fexro.desktop.bench.plot import Plot
from fexro.desktop.bench.stresses import StressView
from fexro.desktop.bench.surface_view import SurfaceView

__all__ = ["FORMATS", "picture_of", "save_picture"]

FORMATS = (".png", ".svg", ".pdf")
SHARPNESS = 2.0  # px of a PNG for each px of the screen
DOTS = 96.0  # an inch, as the screen counts


def picture_of(view: QWidget) -> QImage:
    """Return a view as an image, sharper than the screen where it is drawn in lines."""
    if isinstance(view, SurfaceView):
        seen = view.picture()
        if seen is None:
            raise FexroError(view.message)
        return seen
    size = view.size() * SHARPNESS
    image = QImage(size, QImage.Format.Format_ARGB32)
    image.setDevicePixelRatio(SHARPNESS)
    image.fill(Qt.GlobalColor.transparent)
    _paint(view, image)
    return image


def save_picture(view: QWidget, path: Path) -> None:
    """Write a view as PNG, SVG or PDF, by the ending of the name.

    Raises:
        FexroError: if the ending is another, or the file cannot be written.
    """
    width, height = view.width(), view.height()
    match path.suffix.lower():
        case ".png":
            done = picture_of(view).save(str(path))
        case ".svg":
            generator = QSvgGenerator()
            generator.setFileName(str(path))
            generator.setSize(view.size())
            generator.setViewBox(QRectF(0, 0, width, height))
            generator.setTitle(view.accessibleName())
            done = _paint(view, generator)
        case ".pdf":
            writer = QPdfWriter(str(path))
            writer.setTitle(view.accessibleName())
            writer.setResolution(round(DOTS))
            size = QPageSize(QSizeF(width / DOTS, height / DOTS), QPageSize.Unit.Inch)
            writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF()))
            done = _paint(view, writer)
        case other:
            raise FexroError(f"a picture is saved as {', '.join(FORMATS)}; found “{other}”.")
    if not done:
        raise FexroError(f"{path} could not be written.")


def _paint(view: QWidget, device: QPaintDevice) -> bool:
    """Paint a view; tell whether the device could be opened."""
    seen = picture_of(view) if isinstance(view, SurfaceView) else None
    painter = QPainter()
    if not painter.begin(device):
        return False
    area = QRectF(0, 0, view.width(), view.height())
    if isinstance(view, Plot):
        _paint_plot(view, painter, area)
    elif isinstance(view, StressView):
        view.paint(painter, area)
    elif seen is not None:
        painter.drawImage(area, seen)
    painter.end()
    return True


def _paint_plot(plot: Plot, painter: QPainter, area: QRectF) -> None:
    # What is cached as pixels for the screen is painted in lines here.
    cached = [
        item for item in plot.scene().items() if item.cacheMode() != QGraphicsItem.CacheMode.NoCache
    ]
    modes = [item.cacheMode() for item in cached]
    for item in cached:
        item.setCacheMode(QGraphicsItem.CacheMode.NoCache)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(area, plot.backgroundBrush())
    plot.render(painter, area, plot.viewport().rect())
    for item, mode in zip(cached, modes, strict=True):
        item.setCacheMode(mode)
