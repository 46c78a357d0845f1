"""Qt view for a section to scale, of which faces, corners, parts and bars are dragged."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PyQt6.QtWidgets import QLineEdit, QMenu, QSizePolicy, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.core.section.faces import Face
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule, arrange
from fexro.desktop.bench.section_gestures import (
    DragBars,
    DragCorner,
    DragFace,
    DragPart,
    DragProfile,
    Gesture,
    bars_within,
    faces_in,
    held_of,
    part_at,
    profile_at,
    side_at,
    step_of,
)
from fexro.desktop.bench.section_painting import (
    DIMENSION,
    paint_chosen,
    paint_dimensions,
    paint_guides,
    paint_parts,
    paint_plane,
    paint_told,
    paint_unheld,
)
from fexro.desktop.drawing import Fit, paint_section
from fexro.desktop.theme import current_theme
from fexro.project.bars import OwnBar
from fexro.project.edits.bars import (
    add_bar,
    laid_out,
    move_bars,
    placed_bars,
    remove_bars,
    resize_bars,
)
from fexro.project.edits.outlines import add_corner, remove_corner
from fexro.project.edits.ties import tie_bars, ties_by_rule, untie_bars
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import SIZES, LegsShape, PolygonShape, StripShape

__all__ = ["SectionCanvas"]

NEAR, BAR_NEAR, FAR = 5.0, 4.0, 4.0  # px: of a face or corner, beside a bar, before a drag begins
ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}
LEFT, MIDDLE = Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
ALT = Qt.KeyboardModifier.AltModifier
REACH = 12.0  # px beside a dimension within which it is taken hold of
LARGE = 400.0  # px
FINE = 1.0  # mm, by which Shift and an arrow move


@dataclass
class _Held:
    """What the mouse has taken hold of, and where; mm."""

    gesture: Gesture | None
    start: tuple[float, float]
    pixel: QPointF
    begun: bool = False
    band: bool = False
    pan: bool = False


class _Typed(QLineEdit):
    """A value typed in place: Return takes it, Escape or leaving it lets it be."""

    taken, left = pyqtSignal(), pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit()
        elif event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class SectionCanvas(QWidget):
    """The section with its dimensions and the compressed side at capacity; it can be edited.

    What a gesture would make of it is told while it is dragged, and taken when it is let go.
    """

    previewed = pyqtSignal(object)  # a section that would be; nothing when it is given up
    changed = pyqtSignal(object, str)  # a section, and what was done
    refused = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Section drawing")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(150)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.chosen: frozenset[int] = frozenset()
        self.told = ""
        self._model: SectionModel | None = None
        self._shown: SectionModel | None = None
        self._section: Section | None = None
        self._own: tuple[OwnBar, ...] = ()
        self._offered: tuple[str, ...] = ()
        self._system = UnitSystem.SI
        self._plane: tuple[float, float, float] | None = None
        self._faces: list[tuple[Face, int | None]] = []
        self._hovered: tuple[Face, int | None] | None = None
        self._held: _Held | None = None
        self._last: SectionModel | None = None
        self._rule: HeldRule | None = None
        self._guides: tuple[tuple[str, float], ...] = ()
        self._band: tuple[tuple[float, float], tuple[float, float]] | None = None
        self._zoom, self._shift = 1.0, QPointF(0, 0)
        self._frozen: Fit | None = None
        self._field: _Typed | None = None
        self.interactive = True

    def sizeHint(self) -> QSize:
        """Room for a section with its dimensions."""
        return QSize(280, 220)

    def show_section(
        self,
        model: SectionModel,
        system: UnitSystem,
        own: tuple[OwnBar, ...],
        offered: Sequence[str],
        plane: tuple[float, float, float] | None,
        rule: HeldRule,
    ) -> None:
        """Show a section.

        Args:
            model: the section.
            system: units in which sizes are told.
            own: bar sizes of the project that no standard has.
            offered: bar sizes on offer.
            plane: direction of the compressed side (cosine, sine), and the place of the neutral
                axis along it, mm from the centroid.
            rule: by which ties hold bars.
        """
        self._rule = rule
        if self._held is not None and self._held.begun:
            # While something is dragged, only the neutral axis follows.
            self._plane = plane
            self.update()
            return
        if model != self._model:
            count = len(section_of(model, own).bars)
            self.chosen = frozenset(i for i in self.chosen if i < count)
            self._faces = faces_in(model)
            self._hovered = None
        self._model = self._shown = model
        self._section = section_of(model, own)
        self._own, self._offered, self._system = own, tuple(offered), system
        self._plane = plane
        self.update()

    # Places

    def _fit(self) -> Fit:
        if self._frozen is not None:
            return self._frozen
        assert self._section is not None
        fit = Fit(self._section.outline.bounds, self._room())
        fit.zoom(self._zoom, self._shift.x(), self._shift.y())
        return fit

    def _room(self) -> QRectF:
        """Return where the section is fitted in, with room to drag it larger if there is much."""
        area = QRectF(self.rect()).adjusted(52, 18, -28, -40)
        if area.width() < LARGE:
            return area
        return area.adjusted(*(share * area.width() for share in (0.1, 0.1, -0.1, -0.1)))

    def _mm(self, at: QPointF) -> tuple[float, float]:
        return self._fit().place(at)

    def point_of(self, x: float, y: float) -> QPointF:
        """Return where a point of the section, mm, is on the canvas."""
        return self._fit().point(x, y)

    def fit(self) -> None:
        """Show the whole section."""
        self._zoom, self._shift = 1.0, QPointF(0, 0)
        self.update()

    # What is there

    def _bar_at(self, at: QPointF) -> int | None:
        """Return the bar at a place, or beside it where no face is nearer."""
        assert self._section is not None
        bars, scale = self._section.bars, self._fit().scale
        x, y = self._mm(at)
        beside = (np.hypot(bars.x - x, bars.y - y) - bars.diameter / 2) * scale
        nearest = int(beside.argmin())
        if beside[nearest] > BAR_NEAR:
            return None
        faces = [face.distance(x, y) * scale for face, _ in self._faces]
        return nearest if beside[nearest] <= max(min(faces, default=np.inf), 0.0) else None

    def _corner_at(self, at: QPointF) -> int | None:
        assert self._model is not None
        shape = self._model.shape
        if not isinstance(shape, PolygonShape):
            return None
        for i, (x, y) in enumerate(shape.outer):
            point = self._fit().point(x, y)
            if math.hypot(at.x() - point.x(), at.y() - point.y()) <= NEAR + 1:
                return i
        return None

    def _face_at(self, at: QPointF) -> tuple[Face, int | None] | None:
        if not self._faces:
            return None
        x, y = self._mm(at)
        found = min(self._faces, key=lambda one: one[0].distance(x, y))
        return found if found[0].distance(x, y) * self._fit().scale <= NEAR else None

    def _dimension_at(self, at: QPointF) -> tuple[Face, int | None] | None:
        """Return the face that moves with the dimension over all at a place, if one does."""
        assert self._section is not None
        x0, y0, x1, y1 = self._section.outline.bounds
        low, high = self._fit().point(x0, y0), self._fit().point(x1, y1)
        below, aside = at.y() - low.y() - DIMENSION, low.x() - DIMENSION - at.x()
        if abs(below - 6) <= REACH and low.x() <= at.x() <= high.x():
            wanted = (1.0, 0.0)
        elif abs(aside - 6) <= REACH and high.y() <= at.y() <= low.y():
            wanted = (0.0, 1.0)
        else:
            return None
        edge = x1 if wanted[0] else y1
        for face, part in self._faces:
            along = face.normal[0] * wanted[0] + face.normal[1] * wanted[1]
            place = face.start[0] if wanted[0] else face.start[1]
            if part is None and along > 0.99 and abs(place - edge) < 1.0:
                return face, part
        return None

    def _gesture_at(self, at: QPointF) -> Gesture | None:
        """Return what begins where the mouse is pressed, beside bars."""
        assert self._model is not None
        corner = self._corner_at(at)
        if corner is not None:
            reach = NEAR / self._fit().scale
            return DragCorner(self._model, self._system, corner, self._own, reach)
        face = self._face_at(at) or self._dimension_at(at)
        if face is not None:
            return DragFace(self._model, self._system, face[0], face[1], self._own)
        profile = profile_at(self._model, *self._mm(at))
        if profile is not None:
            return DragProfile(self._model, self._system, profile, self._own)
        part = part_at(self._model, *self._mm(at))
        # The first part is the section itself: it stays where it is.
        if part:
            return DragPart(self._model, self._system, part, self._own)
        return None

    # The mouse

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of what is there."""
        if event is None or self._model is None or not self.interactive:
            return
        self._close_field()
        at = event.position()
        if event.button() == MIDDLE:
            self._held = _Held(None, self._mm(at), at, pan=True)
            return
        if event.button() != LEFT:
            return
        bar = self._bar_at(at)
        add = bool(event.modifiers() & (CTRL | SHIFT))
        gesture: Gesture | None
        if bar is not None:
            if add:
                self.chosen ^= {bar}
            elif bar not in self.chosen:
                self.chosen = frozenset({bar})
            reach = NEAR / self._fit().scale
            gesture = DragBars(self._model, self._system, self.chosen, reach, self._own)
            self._held = _Held(gesture if self.chosen else None, self._mm(at), at)
        else:
            gesture = self._gesture_at(at)
            if gesture is None and not add:
                self.chosen = frozenset()
            self._held = _Held(gesture, self._mm(at), at, band=gesture is None)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Show what the gesture comes to, or what could be taken hold of."""
        if event is None or self._section is None:
            return
        at, held = event.position(), self._held
        if held is None:
            self._hover(at)
            return
        away = at - held.pixel
        if held.pan:
            self._shift += away
            held.pixel = at
            self.update()
            return
        if not held.begun and math.hypot(away.x(), away.y()) < FAR:
            return
        if not held.begun:
            held.begun = True
            # What is dragged must not make the rest jump.
            self._frozen = self._fit()
        x, y = self._mm(at)
        if held.band:
            self._band = (held.start, (x, y))
            places = self._places()
            self.chosen = bars_within(places, held.start, (x, y))
        elif held.gesture is not None:
            fine = bool(event.modifiers() & ALT)
            self._try(held.gesture, x - held.start[0], y - held.start[1], fine=fine)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Take what the gesture has come to."""
        held, self._held = self._held, None
        if held is None:
            return
        self._frozen, self._band, self._guides = None, None, ()
        last, self._last = self._last, None
        self.told = ""
        if held.begun and held.gesture is not None:
            if last is None or last == self._model:
                self.take_back()
            else:
                self.changed.emit(last, held.gesture.label)
        self.update()

    def _try(self, gesture: Gesture, dx: float, dy: float, *, fine: bool = False) -> None:
        result = gesture.at(dx, dy, fine=fine)
        self.told, self._guides = result.told, result.guides
        if result.section is not None and result.section != self._last:
            self._last = self._shown = result.section
            self._section = section_of(result.section, self._own)
            self._faces = faces_in(result.section)
            self.previewed.emit(result.section)

    def take_back(self) -> None:
        """Go back to the section as it is."""
        self._held, self._frozen, self._last, self._guides = None, None, None, ()
        self.told = ""
        if self._model is not None:
            self._shown, self._section = self._model, section_of(self._model, self._own)
            self._faces = faces_in(self._model)
        self.previewed.emit(None)
        self.update()

    def _hover(self, at: QPointF) -> None:
        if not self.interactive:
            return
        over = None
        if self._bar_at(at) is None and self._corner_at(at) is None:
            over = self._face_at(at) or self._dimension_at(at)
        if over != self._hovered:
            self._hovered = over
            self.update()
        shape = Qt.CursorShape.ArrowCursor
        if over is not None:
            level = abs(over[0].normal[0]) > abs(over[0].normal[1])
            shape = Qt.CursorShape.SizeHorCursor if level else Qt.CursorShape.SizeVerCursor
        elif self._bar_at(at) is not None or self._corner_at(at) is not None:
            shape = Qt.CursorShape.PointingHandCursor
        self.setCursor(shape)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Come nearer at the pointer, or go away from it."""
        if event is None or self._section is None or not self.interactive:
            return
        by = 1.2 if event.angleDelta().y() > 0 else 1 / 1.2
        wanted = min(max(self._zoom * by, 1.0), 30.0)
        by = wanted / self._zoom
        away = event.position() - self._room().center() - self._shift
        self._shift += away * (1 - by)
        self._zoom = wanted
        if wanted == 1.0:
            self._shift = QPointF(0, 0)
        event.accept()
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Type what is there: the size of a face or of bars; beside all, fit the section."""
        if event is None or self._model is None or not self.interactive:
            return
        at, self._held = event.position(), None
        bar, face = self._bar_at(at), self._face_at(at) or self._dimension_at(at)
        if bar is not None:
            self.chosen |= {bar}
            self.ask_size(at)
        elif face is not None:
            self._ask_face(at, *face)
        else:
            self.fit()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Offer what can be done where it is."""
        if event is None or self._model is None or not self.interactive:
            return
        at = QPointF(event.pos())
        bar = self._bar_at(at)
        if bar is not None and bar not in self.chosen:
            self.chosen = frozenset({bar})
            self.update()
        menu = self.make_menu(at)
        menu.exec(event.globalPos())

    def make_menu(self, at: QPointF) -> QMenu:
        """Return the menu of a place."""
        assert self._model is not None
        menu = QMenu(self)
        if self.chosen:
            many = len(self.chosen)
            sizes = menu.addMenu("Size of the bar" if many == 1 else f"Size of {many} bars")
            assert sizes is not None
            for name in self._offered:
                sizes.addAction(name, partial(self.resize_chosen, name))
            menu.addAction("Remove" if many == 1 else f"Remove {many} bars", self.remove_chosen)
        x, y = self._mm(at)
        adding = menu.addMenu("Add a bar here")
        assert adding is not None
        for name in self._offered:
            adding.addAction(name, partial(self.add_at, x, y, name))
        self._offer_corners(menu, at)
        menu.addAction("Choose all bars", self.choose_all)
        if len(self.chosen) > 1:
            menu.addAction("Tie the chosen bars", self.tie_chosen)
        if self.chosen:
            menu.addAction("Take their ties out", self.untie_chosen)
        if self._model.inner_ties is not None:
            menu.addAction("Ties by the code's rule", self.tie_by_rule)
        if self._model.placed:
            menu.addAction("Lay the bars out anew", self.lay_out)
        return menu

    def _size_of(self, face: Face, part: int | None) -> str:
        """Return the size that moves with a face, and what it is now."""
        assert self._shown is not None
        value = getattr(held_of(self._shown.shape, part), face.size)
        return f"{SIZES[face.size]} {format_quantity(value, Dimension.LENGTH, self._system)}"

    def _offer_corners(self, menu: QMenu, at: QPointF) -> None:
        """Offer what can be done with the corners of a free outline where it is."""
        model = self._model
        assert model is not None
        if not isinstance(model.shape, PolygonShape):
            return
        corner, side = self._corner_at(at), side_at(model.shape, *self._mm(at))
        step = step_of(self._system)
        x, y = (round(value / step) * step for value in self._mm(at))
        if corner is not None:
            remove = partial(remove_corner, model, corner)
            menu.addAction("Take the corner out", partial(self._do, remove, "Corner taken out"))
        elif side[1] * self._fit().scale <= NEAR:
            add = partial(add_corner, model, side[0], x, y)
            menu.addAction("Add a corner here", partial(self._do, add, "Corner"))

    # The keyboard

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Nudge, remove and choose bars; give a gesture up."""
        if event is None or self._model is None or not self.interactive:
            return
        key, shift = Qt.Key(event.key()), bool(event.modifiers() & SHIFT)
        plain = not event.modifiers() & (CTRL | ALT)
        if key == Qt.Key.Key_Escape and (self._held is not None or self.chosen):
            if self._held is not None and self._held.begun:
                self.take_back()
            else:
                self._held, self.chosen = None, frozenset()
                self.update()
        elif key in ARROWS and self.chosen and plain:
            step = FINE if shift else step_of(self._system)
            across, up = ARROWS[key]
            moved = partial(move_bars, self._model, self.chosen, across * step, up * step)
            self._do(lambda: moved(own=self._own), "Bars")
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen:
            self.remove_chosen()
        elif key == Qt.Key.Key_A and event.modifiers() & CTRL:
            self.choose_all()
        elif key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BracketLeft):
            self._choose_next(1 if key == Qt.Key.Key_BracketRight else -1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen:
            self.ask_size(self._point_of_chosen())
        elif key == Qt.Key.Key_T and self.chosen and plain:
            (self.untie_chosen if shift else self.tie_chosen)()
        elif key == Qt.Key.Key_Insert:
            x0, y0, x1, y1 = section_of(self._model, self._own).outline.bounds
            self.add_at((x0 + x1) / 2, (y0 + y1) / 2, self._first_size())
        elif key == Qt.Key.Key_0 and plain:
            self.fit()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Give up what is dragged."""
        if self._held is not None and self._held.begun:
            self.take_back()
        super().focusOutEvent(event)

    # What is done

    def choose_all(self) -> None:
        """Choose every bar."""
        assert self._section is not None
        self.chosen = frozenset(range(len(self._section.bars)))
        self.update()

    def choose(self, bars: frozenset[int]) -> None:
        """Choose some bars."""
        self.chosen = bars
        self.update()

    def _choose_next(self, by: int) -> None:
        assert self._section is not None
        count = len(self._section.bars)
        first = min(self.chosen, default=-by if by < 0 else -1)
        self.chosen = frozenset({(first + by) % count})
        self.update()

    def remove_chosen(self) -> None:
        """Take the chosen bars out."""
        assert self._model is not None
        model, chosen = self._model, self.chosen
        if self._do(lambda: remove_bars(model, chosen, self._own), "Bars removed"):
            self.chosen = frozenset()

    def resize_chosen(self, size: str) -> None:
        """Give the chosen bars another size."""
        assert self._model is not None
        model = self._model
        self._do(lambda: resize_bars(model, self.chosen, size, self._own), f"Bars {size}")

    def add_at(self, x: float, y: float, size: str) -> None:
        """Add a bar at a point, mm."""
        assert self._model is not None
        model, step = self._model, step_of(self._system)
        x, y = round(x / step) * step, round(y / step) * step
        self._do(lambda: add_bar(model, x, y, size, self._own), f"Bar {size}")

    def lay_out(self) -> None:
        """Lay the bars out by their call-out again."""
        assert self._model is not None
        model = self._model
        self._do(lambda: laid_out(model), "Bars laid out")

    def tie_chosen(self) -> None:
        """Tie the chosen bars: two by a cross tie, more by one that goes round them."""
        model, rule = self._model, self._rule
        assert model is not None
        assert rule is not None
        self._do(lambda: tie_bars(model, self.chosen, rule, self._own), "Tie")

    def untie_chosen(self) -> None:
        """Take the ties about the chosen bars out."""
        model, rule = self._model, self._rule
        assert model is not None
        assert rule is not None
        self._do(lambda: untie_bars(model, self.chosen, rule, self._own), "Tie removed")

    def tie_by_rule(self) -> None:
        """Let the rule of the code place the ties inside."""
        model = self._model
        assert model is not None
        self._do(lambda: ties_by_rule(model), "Ties by rule")

    def _do(self, edit: Callable[[], SectionModel], label: str) -> bool:
        try:
            self.changed.emit(edit(), label)
        except InputError as error:
            self.refused.emit(str(error))
            return False
        return True

    def _first_size(self) -> str:
        assert self._model is not None
        bars = placed_bars(self._model, self._own)
        return bars[0].size or self._offered[0]

    # Typing in place

    def ask_size(self, at: QPointF) -> None:
        """Let the size of the chosen bars be typed."""
        assert self._model is not None
        bars = placed_bars(self._model, self._own)
        sizes = {bars[i].called for i in self.chosen}
        text = sizes.pop() if len(sizes) == 1 else ""
        model, chosen = self._model, self.chosen

        def take(size: str) -> None:
            self.changed.emit(resize_bars(model, chosen, size, self._own), f"Bars {size}")

        self._ask(at, text, "Size of the chosen bars", take)

    def _ask_face(self, at: QPointF, face: Face, part: int | None) -> None:
        assert self._model is not None
        held = held_of(self._model.shape, part)
        value, name = getattr(held, face.size), SIZES[face.size]
        gesture = DragFace(self._model, self._system, face, part, self._own)

        def take(text: str) -> None:
            wanted = parse_quantity(text, Dimension.LENGTH, self._system, name)
            away = (wanted - value) / face.gain
            result = gesture.at(away * face.normal[0], away * face.normal[1], fine=True)
            if result.section is None:
                raise InputError(name, f"“{text}”", result.told)
            self.changed.emit(result.section, name)

        self._ask(at, format_quantity(value, Dimension.LENGTH, self._system), name, take)

    def _ask(self, at: QPointF, text: str, name: str, take: Callable[[str], None]) -> None:
        self._close_field()
        field = _Typed(text, self)
        field.setAccessibleName(name)
        field.setToolTip(name)
        field.resize(96, field.sizeHint().height())
        x = min(max(at.x() - 48, 0), max(self.width() - 96, 0))
        field.move(int(x), int(min(max(at.y() - 12, 0), self.height() - field.height())))
        field.taken.connect(partial(self._take_typed, take))
        field.left.connect(self._close_field)
        field.show()
        field.selectAll()
        field.setFocus()
        self._field = field

    def _take_typed(self, take: Callable[[str], None]) -> None:
        field = self._field
        if field is None:
            return
        try:
            take(field.text())
        except InputError as error:
            self.refused.emit(str(error))
            return
        self._close_field()

    def _close_field(self) -> None:
        field, self._field = self._field, None
        if field is not None:
            field.hide()
            field.deleteLater()
            self.setFocus()

    # Painting

    def _places(self) -> list[tuple[float, float]]:
        assert self._section is not None
        bars = self._section.bars
        return list(zip(bars.x.tolist(), bars.y.tolist(), strict=True))

    def _point_of_chosen(self) -> QPointF:
        return self._fit().point(*self._places()[min(self.chosen)])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the section, what is chosen and held, and its dimensions."""
        if self._section is None or self._rule is None:
            return
        assert self._shown is not None
        theme, section, fit = current_theme(), self._section, self._fit()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_section(painter, section, fit, theme, self._rule)
        paint_parts(painter, self._shown.shape, fit, theme)
        if self._plane is not None:
            paint_plane(painter, section, fit, theme, self._plane)
        paint_chosen(painter, section, self.chosen, fit, theme)
        # That bars be held is a rule of columns and beams.
        if not isinstance(self._shown.shape, LegsShape | StripShape):
            paint_unheld(painter, arrange(section, self._rule), fit, theme, self._system)
        if self._hovered is not None:
            painter.setPen(QPen(QColor(theme.capacity), 3))
            face = self._hovered[0]
            painter.drawLine(fit.point(*face.start), fit.point(*face.end))
            if not self.told:
                paint_told(painter, self._size_of(*self._hovered), theme, self.width())
        paint_guides(painter, self._guides, fit, theme, QRectF(self.rect()))
        if self._band is not None:
            a, b = (fit.point(*corner) for corner in self._band)
            painter.drawRect(QRectF(a, b).normalized())
        paint_dimensions(painter, section, self._shown.shape, fit, theme, self._system)
        if self.told:
            paint_told(painter, self.told, theme, self.width())
        painter.end()
