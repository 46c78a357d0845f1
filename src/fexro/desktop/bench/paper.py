"""Pictures of lifts for documents: those of the bench, painted in lines on white."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from PyQt6.QtCore import QBuffer, QIODevice, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtSvg import QSvgGenerator

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import UnitSystem
from fexro.desktop.bench.pictures.along import AlongView
from fexro.desktop.bench.pictures.elevation import ElevationView
from fexro.desktop.bench.pictures.picture import Picture
from fexro.desktop.bench.pictures.shown import Shown, plane_angle
from fexro.desktop.bench.pictures.stresses import StressView
from fexro.desktop.bench.pictures.surface import SurfaceView
from fexro.desktop.theme import on_paper
from fexro.documents.calculation import Part
from fexro.documents.content import Figure
from fexro.project.column import LiftKey

__all__ = ["PaperPictures"]

SIZE = QSize(720, 460)
WIDTHS: dict[Part, float] = {"surface": 0.7}


class PaperPictures:
    """Makes the pictures of lifts for a document.

    Args:
        results: the lifts.
        system: the units people see.
    """

    def __init__(self, results: Mapping[LiftKey, LiftResult], system: UnitSystem) -> None:
        self._results, self._system = results, system

    @cached_property
    def _views(self) -> dict[Part, Picture]:
        """The pictures, made when the first is asked for."""
        views: dict[Part, Picture] = {}
        with on_paper():
            views["surface"], views["stresses"] = SurfaceView(), StressView()
            views["moments"], views["elevation"] = AlongView(), ElevationView()
            for view in views.values():
                # What is laid out as it is shown has to be shown, though nobody sees it.
                view.widget.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
                view.widget.setAttribute(Qt.WidgetAttribute.WA_QuitOnClose, on=False)
                view.widget.resize(SIZE)
                view.restyle()
                view.widget.show()
        return views

    def __call__(self, key: LiftKey, part: Part, combination: str | None = None) -> Figure | None:
        """Return a picture of a lift, with its caption; nothing where there is none.

        Args:
            key: of the lift.
            part: which picture.
            combination: that it is of; that which governs where there is none.
        """
        view = self._views.get(part)
        result = self._results[key]
        if view is None or result.solved is None:
            return None
        demand = result.worst_demand
        if combination in result.combinations:
            demand = result.demand_index(result.combination_index(combination))
        axial, moment_x, moment_y = (float(value) for value in result.demands[demand])
        shown = Shown(result, demand, plane_angle(moment_x, moment_y), axial, self._system)
        with on_paper():
            view.show_shown(shown, refit=True)
            if view.missing():
                return None
            # Axes are as wide as their numbers once they have been painted.
            view.widget.grab()
            return Figure(_svg(view), view.caption(shown), WIDTHS.get(part, 0.8))


def _svg(view: Picture) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    generator.setSize(SIZE)
    generator.setViewBox(QRectF(0, 0, SIZE.width(), SIZE.height()))
    painter = QPainter()
    painter.begin(generator)
    view.paint(painter, QRectF(0, 0, SIZE.width(), SIZE.height()))
    painter.end()
    return bytes(buffer.data().data())
