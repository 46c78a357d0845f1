"""Qt view for bearing walls bent out of plane: diagrams along the height, and what acts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_quantity,
    parse_quantity,
    unit_of,
)
from fexro.desktop.document import UNCHECKED, Document
from fexro.desktop.form import Form
from fexro.desktop.lengths import read_metres, write_metres
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.desktop.walls.loads_table import LoadsTable
from fexro.project.bearing_walls import BearingWall, WallWind
from fexro.project.column import LiftKey
from fexro.project.edits.bearing import with_bearing_wall
from fexro.project.edits.walls import rename_wall

__all__ = ["BearingView", "StripDiagrams"]

PANES = (("Axial force", Dimension.FORCE, 0), ("Shear", Dimension.FORCE, 2))
STATIONS = 101


class StripDiagrams(QWidget):
    """Axial force, shear, moment and deflection of a strip along its height in a combination."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.key: LiftKey | None = None
        self.combination = 0
        self.per_bar = False
        self.setMinimumSize(320, 240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Diagrams along the height of the strip")

    def show_strip(self, key: LiftKey | None, combination: int) -> None:
        """Show another strip or combination."""
        self.key, self.combination = key, combination
        self.update()

    def curves(
        self, result: LiftResult
    ) -> list[tuple[str, Dimension, FloatArray, FloatArray | None]]:
        """Return name, dimension, values along the height, and second-order values if there are.

        Places run from the foot, (STATIONS,); N, N·mm, mm; of the strip, or of a bar spacing of it.
        """
        share = self.share(result)
        profile = result.lift.actions.profile
        places = np.linspace(0.0, 1.0, STATIONS)
        forces = profile.forces[self.combination]

        def along(component: int) -> FloatArray:
            values: FloatArray = np.interp(places, profile.places, forces[:, component])
            return share * values

        found: list[tuple[str, Dimension, FloatArray, FloatArray | None]] = [
            (name, dimension, along(component), None) for name, dimension, component in PANES
        ]
        moment = along(4)
        second = result.second_order.axes[0]
        growth = np.asarray(second.values.get("delta", 1.0), dtype=float)
        at = float(np.broadcast_to(growth, (len(profile.forces),))[self.combination])
        found.append(("Moment", Dimension.MOMENT, moment, at * moment if np.isfinite(at) else None))
        bent = self._deflection(result, moment / share)
        found.append(("Deflection", Dimension.LENGTH, bent, None))
        return found

    def share(self, result: LiftResult) -> float:
        """Return the share of the strip that the numbers are of: all of it, or a bar spacing."""
        facts = result.lift.facts
        if not self.per_bar or facts.strip is None or facts.strip.spacing is None:
            return 1.0
        return facts.strip.spacing / _width(result)

    def _told(self, result: LiftResult) -> str:
        """Return what the numbers are of."""
        project, share = self._document.project, self.share(result)
        assert project is not None
        wide = format_quantity(share * _width(result), Dimension.LENGTH, project.basis.system)
        of = f"Of a strip {wide} wide." if share == 1.0 else f"Of a bar spacing, {wide}."
        return f"{of} Dashed: with second-order effects. Deflection: first order, 0.35 Ec Ig."

    @staticmethod
    def _deflection(result: LiftResult, moment: FloatArray) -> FloatArray:
        """Return the first-order deflection, mm, with 0.35 of the gross stiffness."""
        facts = result.lift.facts
        i_x = facts.section.outline.inertia[0]
        facts_of = {
            one.symbol: one.value for one in result.lift.code.materials.concrete(facts.concrete)
        }
        modulus = facts_of.get("Ec", facts_of.get("Ecm", 30_000.0))
        curvature = moment / (0.35 * modulus * i_x)
        step = facts.height / (STATIONS - 1)
        slope = np.concatenate([[0.0], np.cumsum((curvature[1:] + curvature[:-1]) / 2 * step)])
        bent = np.concatenate([[0.0], np.cumsum((slope[1:] + slope[:-1]) / 2 * step)])
        # Held at both ends.
        found: FloatArray = np.linspace(0.0, bent[-1], STATIONS) - bent
        return found

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the diagrams beside one another."""
        painter, theme = QPainter(self), current_theme()
        painter.fillRect(self.rect(), QColor(theme.panel))
        project, key = self._document.project, self.key
        result = None if key is None else self._document.results.get(key)
        if project is None or result is None or not result.combinations:
            painter.setPen(QColor(theme.secondary))
            told = "" if key is None else f"{key} {UNCHECKED[self._document.busy]}."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, told)
            painter.end()
            return
        self.combination = min(self.combination, len(result.combinations) - 1)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        curves = self.curves(result)
        wide = (self.width() - 30) / len(curves)
        for number, curve in enumerate(curves):
            area = QRectF(15 + number * wide, 40, wide - 14, self.height() - 62)
            self._curve(painter, area, curve)
        painter.setPen(QColor(theme.secondary))
        painter.setFont(font(10))
        told = self._told(result)
        painter.drawText(QRectF(15, self.height() - 18, self.width() - 30, 16), 0x81, told)
        painter.end()

    def _curve(
        self,
        painter: QPainter,
        area: QRectF,
        curve: tuple[str, Dimension, FloatArray, FloatArray | None],
    ) -> None:
        theme, (name, dimension, values, second) = current_theme(), curve
        project = self._document.project
        assert project is not None
        system = project.basis.system
        painter.setFont(font(11, 600))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(area.left(), 6, area.width(), 15), 0x84, name)
        every = values if second is None else np.concatenate([values, second])
        low, high = min(float(every.min()), 0.0), max(float(every.max()), 0.0)
        span = max(high - low, 1e-9)
        room = area.width() - 12

        def x(value: float) -> float:
            return area.left() + 6 + (value - low) / span * room

        heights = area.bottom() - np.linspace(0, 1, len(values)) * area.height()
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(QPointF(x(0), area.top()), QPointF(x(0), area.bottom()))
        for y in (area.top(), area.bottom()):
            painter.setPen(QPen(QColor(theme.secondary), 1.4))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        points = [QPointF(x(float(v)), float(y)) for v, y in zip(values, heights, strict=True)]
        fill = QColor(theme.capacity)
        fill.setAlpha(36)
        painter.setBrush(fill)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(
            QPolygonF([QPointF(x(0), area.bottom()), *points, QPointF(x(0), area.top())])
        )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme.capacity), 1.6))
        painter.drawPolyline(QPolygonF(points))
        if second is not None:
            dashed = QPen(QColor(theme.attention), 1.4, Qt.PenStyle.DashLine)
            painter.setPen(dashed)
            painter.drawPolyline(
                QPolygonF(
                    [QPointF(x(float(v)), float(y)) for v, y in zip(second, heights, strict=True)]
                )
            )
        at = int(np.abs(values).argmax())
        painter.setPen(QColor(theme.secondary))
        painter.setFont(font(10))
        told = format_quantity(float(f"{float(values[at]):.3g}"), dimension, system)
        painter.drawText(QRectF(area.left(), 21, area.width(), 14), 0x84, told)


class BearingView(QWidget):
    """A bearing wall: its strip's diagrams, its sizes and what acts on it."""

    opened = pyqtSignal(LiftKey)
    renamed = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.name = ""
        self.diagrams = StripDiagrams(document)
        self.storey, self.combination, self.per = QComboBox(), QComboBox(), QComboBox()
        self.per.setAccessibleName("What the numbers are of")
        self.per.activated.connect(lambda _: self._show())
        self.storey.setAccessibleName("Storey of the strip")
        self.combination.setAccessibleName("Combination of the diagrams")
        self.storey.activated.connect(lambda _: self._show())
        self.combination.activated.connect(lambda _: self._show())
        self.verdict = Label()
        self.verdict.setWordWrap(True)
        self.form = Form(document.typing, 150, 110)
        self.form.line("name", "Name", self._rename)
        self.form.line("length", "Length", partial(self._metres, "length"))
        self.form.line("thickness", "Thickness", self._thickness)
        self.form.line("parapet", "Parapet above", partial(self._metres, "parapet"))
        self.form.line("beside", "Opening beside", partial(self._metres, "beside"))
        self.form.choice("self_weight", "Own weight in", self._weight)
        self.form.line("wind", "Wind on wall", self._wind)
        self.loads = LoadsTable(document)
        self.open = QPushButton("Open its bench")
        self.open.clicked.connect(self._open)
        top = QHBoxLayout()
        top.addWidget(self.storey)
        top.addWidget(self.combination, 1)
        top.addWidget(self.per)
        top.addWidget(self.open)
        side = QVBoxLayout()
        side.setSpacing(6)
        for widget in (self.verdict, self.form):
            side.addWidget(widget)
        side.addWidget(self.loads, 1)
        left = QVBoxLayout()
        left.addLayout(top)
        left.addWidget(self.diagrams, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(16)
        layout.addLayout(left, 3)
        layout.addLayout(side, 2)

    def wall(self) -> BearingWall | None:
        """Return the wall that is shown."""
        project = self._document.project
        walls = () if project is None else project.bearing_walls
        return next((wall for wall in walls if wall.name == self.name), None)

    @property
    def key(self) -> LiftKey | None:
        """The strip that is shown."""
        wall = self.wall()
        if wall is None:
            return None
        storey = self.storey.currentText()
        return LiftKey(wall.name, storey if storey in wall.storeys else wall.storeys[-1])

    def show_wall(self, name: str) -> None:
        """Show another bearing wall."""
        self.name = name
        project, wall = self._document.project, self.wall()
        if project is None or wall is None:
            return
        _fill(self.storey, list(wall.storeys))
        result = self._document.results.get(self.key) if self.key is not None else None
        names = [] if result is None else list(result.combinations)
        told = {c.name: f"{c.name}: {c.expression}" for c in project.combinations if c.expression}
        shown = [told.get(one, one) for one in names]
        before = self.combination.count()
        _fill(self.combination, shown)
        if result is not None and names and before != len(names):
            place = result.worst_demand // max(len(result.places), 1)
            self.combination.setCurrentIndex(place)
        system = project.basis.system
        self.form.show_text("name", wall.name)
        self.form.show_text("length", write_metres(wall.length, system))
        self.form.show_text("parapet", write_metres(wall.parapet, system))
        self.form.show_text("beside", write_metres(wall.beside, system))
        unit = unit_of(Dimension.LENGTH, system)
        self.form.show_text("thickness", f"{wall.thickness / unit.size:g} {unit.symbol}")
        cases = [("", "not counted"), *((case.name, case.name) for case in project.cases)]
        self.form.show_choice("self_weight", cases, wall.self_weight or "")
        winds = "; ".join(f"{one.case} {one.wall:g} / {one.parapet:g}" for one in wall.winds)
        self.form.show_text("wind", winds)
        self.form.fields["wind"].setToolTip(
            "Load case, pressure on the wall and on the parapet in kN/m²: Wy 0.9 / 1.4"
        )
        self.loads.show_wall(wall)
        self._show()

    def _show(self) -> None:
        project, key = self._document.project, self.key
        _fill(self.per, self._widths())
        self.diagrams.per_bar = self.per.currentIndex() == 1
        self.diagrams.show_strip(key, max(self.combination.currentIndex(), 0))
        result = None if key is None else self._document.results.get(key)
        told = UNCHECKED[self._document.busy]
        if project is not None and result is not None:
            told = verdict_of(result, project.basis.system)
        self.verdict.setText(told)

    def _widths(self) -> list[str]:
        """Return what numbers can be of: a metre or a foot of the wall, and a bar spacing."""
        project = self._document.project
        unit = "metre" if project is None or project.basis.system is UnitSystem.SI else "foot"
        return [f"per {unit}", "per bar spacing"]

    def _change(self, what: str, update: dict[str, object]) -> None:
        wall = self.wall()
        if wall is None:
            return
        try:
            changed = BearingWall.model_validate({**dict(wall), **update})
        except ValueError:
            allowed = "a size that a wall can have"
            raise InputError(what, ", ".join(map(str, update.values())), allowed) from None
        edit: Callable[..., object] = partial(with_bearing_wall, wall=changed)
        self._document.edit(f"{what} of {wall.name}", edit)  # type: ignore[arg-type]

    def _rename(self, text: str) -> None:
        name, before = text.strip(), self.name
        edit = partial(rename_wall, name=before, new_name=name)
        self.renamed.emit(name)
        try:
            self._document.edit(f"{before} called {name}", edit)
        except InputError:
            self.renamed.emit(before)
            raise

    def _metres(self, field: str, text: str) -> None:
        project = self._document.project
        assert project is not None
        self._change(field.capitalize(), {field: read_metres(text, project.basis.system, field)})

    def _thickness(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        value = parse_quantity(text, Dimension.LENGTH, project.basis.system, "thickness")
        self._change("Thickness", {"thickness": value})

    def _weight(self, case: str) -> None:
        self._change("Own weight", {"self_weight": case or None})

    def _wind(self, text: str) -> None:
        winds = []
        for part in (one for one in text.split(";") if one.strip()):
            words = part.replace("/", " ").split()
            try:
                pressures = [float(word.replace(",", ".").replace("−", "-")) for word in words[1:]]
                case, wall, parapet = words[0], pressures[0], (pressures[1:] or [0.0])[0]
            except (ValueError, IndexError):
                allowed = "a load case and pressures in kN/m², such as Wy 0.9 / 1.4"
                raise InputError("wind", f"“{part.strip()}”", allowed) from None
            winds.append(WallWind(case=case, wall=wall, parapet=parapet))
        self._change("Wind", {"winds": tuple(winds)})

    def _open(self) -> None:
        if self.key is not None:
            self.opened.emit(self.key)


def _width(result: LiftResult) -> float:
    """Return the width of a strip, mm."""
    x0, _, x1, _ = result.lift.facts.section.outline.bounds
    return x1 - x0


def _fill(box: QComboBox, texts: list[str]) -> None:
    """Offer other texts, what is chosen staying where it can."""
    if [box.itemText(i) for i in range(box.count())] == texts:
        return
    chosen = box.currentText()
    box.clear()
    box.addItems(texts)
    if chosen in texts:
        box.setCurrentText(chosen)
