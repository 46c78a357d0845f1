"""Pictures to carry away: to the clipboard, and as PNG, SVG and PDF."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPaintDevice, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator

from fexro.core.errors import FexroError
from fexro.desktop.bench.pictures.picture import Picture

__all__ = ["FORMATS", "picture_of", "save_picture"]

FORMATS = (".png", ".svg", ".pdf")
DOTS = 96.0  # an inch, as the screen counts


def picture_of(picture: Picture) -> QImage:
    """Return a picture as an image, sharper than the screen where it is drawn in lines.

    Raises:
        FexroError: if there is nothing to paint.
    """
    size = picture.widget.size() * picture.sharpness
    image = QImage(size, QImage.Format.Format_ARGB32)
    image.setDevicePixelRatio(picture.sharpness)
    image.fill(Qt.GlobalColor.transparent)
    _paint(picture, image)
    return image


def save_picture(picture: Picture, path: Path) -> None:
    """Write a picture as PNG, SVG or PDF, by the ending of the name.

    Raises:
        FexroError: if the ending is another, the file cannot be written, or nothing is painted.
    """
    view = picture.widget
    width, height = view.width(), view.height()
    match path.suffix.lower():
        case ".png":
            done = picture_of(picture).save(str(path))
        case ".svg":
            generator = QSvgGenerator()
            generator.setFileName(str(path))
            generator.setSize(view.size())
            generator.setViewBox(QRectF(0, 0, width, height))
            generator.setTitle(view.accessibleName())
            done = _paint(picture, generator)
        case ".pdf":
            writer = QPdfWriter(str(path))
            writer.setTitle(view.accessibleName())
            writer.setResolution(round(DOTS))
            size = QPageSize(QSizeF(width / DOTS, height / DOTS), QPageSize.Unit.Inch)
            writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF()))
            done = _paint(picture, writer)
        case other:
            raise FexroError(f"a picture is saved as {', '.join(FORMATS)}; found “{other}”.")
    if not done:
        raise FexroError(f"{path} could not be written.")


def _paint(picture: Picture, device: QPaintDevice) -> bool:
    """Paint a picture; tell whether the device could be opened."""
    if picture.missing():
        raise FexroError(picture.missing())
    painter = QPainter()
    if not painter.begin(device):
        return False
    view = picture.widget
    picture.paint(painter, QRectF(0, 0, view.width(), view.height()))
    painter.end()
    return True
