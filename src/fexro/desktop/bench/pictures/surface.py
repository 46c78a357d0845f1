"""Qt view for the strength surface in space, where OpenGL is to be had."""

from __future__ import annotations

import math
from functools import cache
from typing import TYPE_CHECKING, Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QMouseEvent,
    QOffscreenSurface,
    QOpenGLContext,
    QPainter,
    QPaintEvent,
    QSurfaceFormat,
    QVector3D,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.findings import State, state_of_ratio
from fexro.core.quantities import Dimension, format_number, unit_of
from fexro.core.strength.slices import contour
from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.theme import Theme, current_theme, font
from fexro.exchange.curves import Table, meridian_table

if TYPE_CHECKING:
    from pyqtgraph.opengl import GLViewWidget

__all__ = ["SurfaceView", "opengl_available"]

ANGLES, DEPTHS, RING = 72, 48, 48
TURN = 0.5  # degrees for each px of a drag
DISTANCE = 3.7  # of the eye
SIDE = 1000  # px of the picture that is taken
SHEER = 0.4  # how much of what lies behind the surface hides
PALE, SOLID = 0.55, 0.3  # how much light takes of the colour of the surface, of demands
SPOT = 0.026  # of the picture's half width
NEAR = 12.0  # px from a demand at which a click means it
MISSING = (
    "The surface cannot be drawn in space: this display offers no OpenGL.\n"
    "N–M, Mx–My and everything else work as usual."
)


@cache
def opengl_available() -> bool:
    """Tell whether a context of OpenGL can be made on this display."""
    context, surface = QOpenGLContext(), QOffscreenSurface()
    surface.create()
    if not (context.create() and surface.isValid() and context.makeCurrent(surface)):
        return False
    context.doneCurrent()
    try:
        import pyqtgraph.opengl  # noqa: F401
    except ImportError:
        return False
    return True


class SurfaceView(QWidget):
    """The closed design surface with demands and the slices of the other views.

    Drag to turn it, wheel to come nearer, click a demand to select it. My goes to the right, Mx to
    the back, N up. The picture is drawn apart and painted like any other: a widget of OpenGL would
    have the whole window composed anew for every change in it.
    """

    name = "Surface"
    controls = frozenset({Control.FIT})
    sharpness = 1.0  # as it is seen
    picked = pyqtSignal(int)
    read = pyqtSignal(str)
    turned = pyqtSignal(float)
    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Strength surface")
        self.setMinimumSize(200, 150)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self._scene: _Scene | None = None
        self._pressed = self._at = QPointF()

    @property
    def widget(self) -> QWidget:
        """The widget that it is."""
        return self

    def missing(self) -> str:
        """Return what is said in the picture's place, if anything."""
        return "" if opengl_available() else MISSING

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show the surface of a lift with its demands and slices."""
        if opengl_available():
            self._scene = _scene()
            self._scene.show(shown)
        self.update()

    def caption(self, shown: Shown) -> str:
        """Return which slices are drawn on it."""
        return (
            f"Design surface, N–M at {shown.angle_text()}° and"
            f" Mx–My at {shown.axial_text()} drawn on it. Drag turns it."
        )

    def table(self, shown: Shown) -> Table:
        """Return the numbers of the N–M slice."""
        return meridian_table(shown.result.lift, shown.angle, shown.system)

    def restyle(self) -> None:
        """Take the colours of the theme."""
        if self._scene is not None:
            self._scene.restyle()
        self.update()

    def fit(self) -> None:
        """Look at all of the surface from the usual side."""
        if self._scene is not None:
            self._scene.look()
            self.update()

    def fit_demands(self) -> None:
        """Look at all of it: demands are everywhere in it."""
        self.fit()

    def paint(self, painter: QPainter, area: QRectF) -> bool:
        """Paint what is seen; nothing without OpenGL."""
        image = self.picture()
        if image is not None:
            painter.drawImage(area, image)
        return image is not None

    def picture(self) -> QImage | None:
        """Return what is seen, with a ground of its own; nothing without OpenGL."""
        if self._scene is None or self.size().isEmpty():
            return None
        return self._scene.picture(self.size(), self.devicePixelRatioF())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        image = self.picture()
        if image is not None:
            painter.drawImage(0, 0, image)
        else:
            painter.setPen(QColor(current_theme().ink))
            painter.setFont(font(12))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect(), flags, self.missing())
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._pressed = self._at = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._scene is None or not event.buttons():
            return
        moved, self._at = event.position() - self._at, event.position()
        self._scene.turn(moved.x(), moved.y())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._scene is None or event.position() != self._pressed:
            return
        demand = self._scene.demand_at(event.position())
        if demand is not None:
            self.picked.emit(demand)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and self._scene is not None:
            self._scene.come(0.999 ** event.angleDelta().y())
            self.update()


@cache
def _scene() -> _Scene:
    """The one scene of the application: contexts of OpenGL are not made and lost lightly."""
    return _Scene()


class _Scene:
    """The items in space; N, Mx, My are scaled to a box of two units."""

    def __init__(self) -> None:
        import pyqtgraph.opengl as gl

        self._gl = gl
        # Never shown: pictures are grabbed from it.
        self._camera: GLViewWidget = gl.GLViewWidget()
        # Without a display a context does not tell its version, and has that which is asked for.
        asked = QSurfaceFormat.defaultFormat()
        asked.setVersion(2, 1)
        self._camera.setFormat(asked)
        self._camera.resize(SIDE, SIDE)
        # The far side of the surface first, then the near one, so that both shine through.
        self._sides = [
            gl.GLMeshItem(shader=None, glOptions=_options(hidden))
            for hidden in ("GL_FRONT", "GL_BACK")
        ]
        self._spots = gl.GLMeshItem(smooth=False, shader=None, glOptions=_options())
        # The last to be drawn leaves the depth open to be cleared for the next picture.
        line = {"antialias": True, "glOptions": _options()}
        self._slices = [gl.GLLinePlotItem(width=5, **line) for _ in range(2)]
        self._ray = gl.GLLinePlotItem(width=3.5, **line)
        self._frame = gl.GLLinePlotItem(mode="lines", **line)
        self._rings = gl.GLLinePlotItem(mode="lines", **line)
        self._texts: list[tuple[FloatArray, str]] = []
        solid = (self._frame, self._spots, *self._slices, self._ray)
        for item in (*solid, *self._sides, self._rings):
            self._camera.addItem(item)
        self._shown: Shown | None = None
        self._surface_of: object = None
        self._nearness, self._place = 1.0, QRectF(0, 0, SIDE, SIDE)
        self._camera.opts["center"] = QVector3D(0, 0, 0)
        self._camera.opts["fov"] = 40
        self.look()

    def look(self) -> None:
        """Look from the usual side and distance."""
        self._nearness = 1.0
        self._camera.setCameraPosition(elevation=18, azimuth=-58)

    def turn(self, across: float, down: float) -> None:
        """Turn with a drag over some px."""
        self._camera.orbit(-across * TURN, down * TURN)

    def come(self, factor: float) -> None:
        """Come nearer or go back."""
        self._nearness = min(max(self._nearness * factor, 0.15), 4.0)

    def picture(self, size: QSize, ratio: float) -> QImage:
        """Return the picture at a size and a number of px for each of the screen's.

        It is taken at one size whatever is asked for, which a widget never shown keeps best, and
        fills the middle.
        """
        # Its projection divides by its size, which must stay as it is whatever Qt makes of it.
        if self._camera.size() != QSize(SIDE, SIDE):
            self._camera.resize(SIDE, SIDE)
        self._camera.opts["distance"] = DISTANCE * self._nearness
        seen: QImage = self._camera.grabFramebuffer()
        side = min(size.width(), size.height())
        self._place = QRectF(0, 0, side, side)
        self._place.moveCenter(QRectF(0, 0, size.width(), size.height()).center())
        image = QImage(size * ratio, QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(ratio)
        image.fill(QColor(current_theme().paper))
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self._place, seen)
        painter.setPen(QColor(current_theme().ink))
        painter.setFont(font(11))
        places = self._seen(np.array([at for at, _ in self._texts]).reshape(-1, 3))
        for (x, y), (_, text) in zip(places, self._texts, strict=True):
            # The name of an axis that runs out of the picture stays in it.
            painter.drawText(QPointF(x + 4, max(y - 3, 12.0)), text)
        painter.end()
        return image

    def restyle(self) -> None:
        self._surface_of = None
        if self._shown is not None:
            self.show(self._shown)

    def show(self, shown: Shown) -> None:
        theme, before = current_theme(), self._shown
        self._shown = shown
        if self._surface_of != (shown.strength, theme):
            self._surface_of, before = (shown.strength, theme), None
            self._camera.setBackgroundColor(QColor(theme.paper))
            self._show_surface(shown)
            self._show_axes(shown)
        if before is None or (before.result, before.demand) != (shown.result, shown.demand):
            self._show_demands(shown)
        for item, path, colour in (
            (self._slices[0], self._meridian(shown), theme.capacity),
            (self._slices[1], self._contour(shown), theme.attention),
        ):
            item.setVisible(bool(len(path)))
            if len(path):
                item.setData(pos=self._scaled(path), color=_rgba(colour))
        self._ray.setVisible(shown.demand is not None)
        if shown.demand is not None:
            ends = np.array([np.zeros(3), shown.result.proportional.capacity[shown.demand]])
            demand = shown.demands[shown.demand]
            if shown.result.proportional.ratio[shown.demand] > 1:
                ends[1] = demand
            self._ray.setData(pos=self._scaled(ends), color=_rgba(theme.ink))

    def _show_surface(self, shown: Shown) -> None:
        theme = current_theme()
        points, triangles = shown.strength.closed(ANGLES, DEPTHS)
        low, high = shown.strength.max_tension, shown.strength.max_axial
        moment = max(float(np.abs(points[:, 1:]).max()), 1e-9)
        self._centre = np.array([(low + high) / 2, 0.0, 0.0])
        self._half = np.array([(high - low) / 2, moment, moment])
        vertexes = self._scaled(points)
        light = _light(vertexes[triangles])
        # A corner has the mean light of the triangles that meet in it.
        total, count = np.zeros(len(points)), np.full(len(points), 1e-9)
        for corner in triangles.T:
            np.add.at(total, corner, light)
            np.add.at(count, corner, 1.0)
        colours = _shaded(theme, theme.capacity, total / count, SHEER, PALE)
        faces = self._gl.MeshData(vertexes=vertexes, faces=triangles, vertexColors=colours)
        for side in self._sides:
            side.setMeshData(meshdata=faces)
        # Rings at the round axial forces of the axis.
        rings = []
        for level in _round_ticks(low / shown.force, high / shown.force) * shown.force:
            around = contour(shown.strength, float(level), RING)[:-1]
            path = np.column_stack([np.full(len(around), level), around])
            rings.append(np.stack([path, np.roll(path, -1, axis=0)], axis=1).reshape(-1, 3))
        lines = self._scaled(np.concatenate(rings))
        self._rings.setData(pos=lines, color=_rgba(theme.capacity, 0.35), width=2)

    def _show_axes(self, shown: Shown) -> None:
        theme = current_theme()
        lines: list[FloatArray] = []
        texts: list[tuple[FloatArray, str]] = []
        force = unit_of(Dimension.FORCE, shown.system)
        moment = unit_of(Dimension.MOMENT, shown.system)
        low, high = shown.strength.max_tension, shown.strength.max_axial
        reach = float(self._half[1])
        for axis, name, start, end, unit in (
            (0, "N", low, high, force),
            (1, "Mx", -reach, reach, moment),
            (2, "My", -reach, reach, moment),
        ):
            arrow = 0.12 * (end - start)
            ends = np.zeros((2, 3))
            ends[:, axis] = start - arrow / 2, end + arrow
            lines.append(ends)
            texts.append((ends[1] * 1.0, f"{name}, {unit.symbol}"))
            for tick in _round_ticks(start / unit.size, end / unit.size):
                at = np.zeros(3)
                at[axis] = tick * unit.size
                mark = np.stack([at, at])
                mark[1, 1 if axis == 0 else 0] += 0.025 * 2 * self._half[1 if axis == 0 else 0]
                lines.append(mark)
                if tick:
                    texts.append((mark[1], format_number(tick, 0)))
        self._frame.setData(
            pos=self._scaled(np.concatenate(lines)), color=_rgba(theme.secondary), width=2.8
        )
        self._texts = [(self._scaled(at[None])[0], text) for at, text in texts]

    def _seen(self, points: FloatArray) -> FloatArray:
        """Return where places (P, 3) are seen in the last picture, px of the screen, (P, 2)."""
        area = (0, 0, SIDE, SIDE)
        matrix = self._camera.projectionMatrix(area, area) * self._camera.viewMatrix()
        seen = [matrix.map(QVector3D(*(float(v) for v in point))) for point in points]
        share = np.array([[(p.x() + 1) / 2, (1 - p.y()) / 2] for p in seen]).reshape(-1, 2)
        corner = [self._place.left(), self._place.top()]
        places: FloatArray = share * self._place.width() + corner
        return places

    def _show_demands(self, shown: Shown) -> None:
        theme = current_theme()
        points = self._scaled(shown.demands)
        shapes, colours = [], []
        for i, (point, ratio) in enumerate(
            zip(points, shown.result.proportional.ratio, strict=True)
        ):
            state = state_of_ratio(float(ratio))
            size = SPOT * (1.7 if i == shown.demand else 1.0)
            shape = _shape(state) * size + point
            shapes.append(shape)
            colours.append(_shaded(theme, theme.state(state), _light(shape), 1.0, SOLID))
        self._spots.setVisible(bool(shapes))
        if shapes:
            vertexes = np.concatenate(shapes)
            faces = np.arange(3 * len(vertexes)).reshape(-1, 3)
            self._spots.setMeshData(
                vertexes=vertexes.reshape(-1, 3), faces=faces, faceColors=np.concatenate(colours)
            )

    def _scaled(self, forces: FloatArray) -> FloatArray:
        """Return N, Mx, My (…, 3) as x, y, z of the picture: My, Mx, N."""
        scaled: FloatArray = (forces - self._centre) / self._half
        return scaled[..., ::-1].copy()

    def _meridian(self, shown: Shown) -> FloatArray:
        path = shown.meridian.design
        return np.column_stack([path[:, 0], path[:, 1:] * shown.unit])

    def _contour(self, shown: Shown) -> FloatArray:
        path = shown.contour
        return np.column_stack([np.full(len(path), shown.axial), path])

    def demand_at(self, at: QPointF) -> int | None:
        """Return the demand near a place of the last picture, px of the screen."""
        shown = self._shown
        if shown is None or not len(shown.demands):
            return None
        seen = self._seen(self._scaled(shown.demands))
        distances = np.hypot(*(seen - [at.x(), at.y()]).T)
        nearest = int(np.argmin(distances))
        return nearest if distances[nearest] < NEAR else None


def _options(hidden: str | None = None) -> dict[Any, Any]:
    """Return options of OpenGL: solid, or one side of a surface that hides nothing behind it."""
    from OpenGL import GL

    return {
        GL.GL_DEPTH_TEST: True,
        GL.GL_BLEND: True,
        GL.GL_CULL_FACE: hidden is not None,
        "glCullFace": (getattr(GL, hidden or "GL_BACK"),),
        # The picture itself stays opaque.
        "glBlendFuncSeparate": (
            *(GL.GL_SRC_ALPHA, GL.GL_ONE_MINUS_SRC_ALPHA),
            *(GL.GL_ONE, GL.GL_ONE_MINUS_SRC_ALPHA),
        ),
        "glDepthMask": (GL.GL_TRUE if hidden is None else GL.GL_FALSE,),
    }


def _rgba(colour: str | QColor, alpha: float = 1.0) -> tuple[float, float, float, float]:
    shade = QColor(colour)
    return (shade.redF(), shade.greenF(), shade.blueF(), alpha)


def _round_ticks(start: float, end: float) -> FloatArray:
    """Return some round numbers between two."""
    raw = (end - start) / 5
    power = 10.0 ** math.floor(math.log10(raw))
    step = next(s * power for s in (1, 2, 5, 10) if s * power >= raw)
    ticks: FloatArray = np.arange(math.ceil(start / step), math.floor(end / step) + 1.0) * step
    return ticks


@cache
def _shape(state: State) -> FloatArray:
    """Return triangles (T, 3, 3) of a state's glyph in space: ball, octahedron or cube."""
    corner = np.array([[1, 0, 0], [0, 1, 0], [-1, 0, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1.0]])
    faces: IntArray = np.array(
        [[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4], [1, 0, 5], [2, 1, 5], [3, 2, 5], [0, 3, 5]]
    )
    triangles = _outwards(corner[faces])
    if state is State.ATTENTION:
        return triangles * 1.25
    if state is State.SATISFIED:
        # Each face divided in four and pushed out to a ball.
        a, b, c = triangles[:, 0], triangles[:, 1], triangles[:, 2]
        ab, bc, ca = (a + b) / 2, (b + c) / 2, (c + a) / 2
        parts = [(a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca)]
        ball: FloatArray = np.concatenate([np.stack(part, axis=1) for part in parts])
        ball *= 0.8 / np.linalg.norm(ball, axis=-1, keepdims=True)
        return _outwards(ball)
    sides = []
    for axis in range(3):
        for sign in (-1.0, 1.0):
            u, v = np.eye(3)[(axis + 1) % 3], np.eye(3)[(axis + 2) % 3]
            middle = np.eye(3)[axis] * sign
            p = [middle - u - v, middle + u - v, middle + u + v, middle - u + v]
            sides += [[p[0], p[1], p[2]], [p[0], p[2], p[3]]]
    return _outwards(np.array(sides) * 0.8)


def _outwards(triangles: FloatArray) -> FloatArray:
    """Return triangles (T, 3, 3) about the origin, each seen anticlockwise from outside."""
    inwards = (_normals(triangles) * triangles.mean(axis=1)).sum(axis=1) < 0
    triangles[inwards] = triangles[inwards, ::-1]
    return triangles


def _normals(triangles: FloatArray) -> FloatArray:
    """Return unit vectors square to triangles (T, 3, 3); none for those without an area."""
    normal = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    unit: FloatArray = normal / np.where(length > 1e-9, length, np.inf)
    return unit


def _light(triangles: FloatArray) -> FloatArray:
    """Return how much light falls on triangles (T, 3, 3) from the upper left, 0 … 1."""
    light: FloatArray = 0.5 + 0.5 * _normals(triangles) @ (np.array([-1.0, -1.5, 2.0]) / 7.25**0.5)
    return light


def _shaded(
    theme: Theme, colour: str | QColor, light: FloatArray, alpha: float, paleness: float
) -> FloatArray:
    """Return colours (P, 4) that the light (P,) brings up to a share of the paper's own."""
    shade = np.array(_rgba(colour, alpha))
    ground = np.array(_rgba(theme.paper, alpha))
    mixed: FloatArray = shade + (ground - shade) * (paleness * light[:, None] - 0.05)
    return np.clip(mixed, 0.0, 1.0)
