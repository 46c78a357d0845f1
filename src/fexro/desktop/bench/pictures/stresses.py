"""Qt view for a section under strain: stresses of concrete and bars, and the strain profile."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_quantity,
    format_significant,
    unit_of,
)
from fexro.core.section.section import Section
from fexro.core.strength.laws import PiecewiseLaw
from fexro.core.strength.state import SectionState
from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.bench.pictures.shown import Shown, length_text, per_mille
from fexro.desktop.drawing import Fit, ring_path
from fexro.desktop.theme import Theme, current_theme, font, mixed
from fexro.exchange.curves import Table, meridian_table

__all__ = ["StressView", "stress_stops"]

LARGEST_STRAIN = 0.0035  # at which concrete has reached its strength
JUMP = 1e-4  # share of the depth on either side of a jump
STOPS = 48  # of the gradient that shows the concrete's stress
GAUGE = 22.0  # px of a bar's stress gauge at the largest stress
MARGIN, SCALE_HEIGHT = 26.0, 46.0
PROFILE = 0.36  # share of the width that the strain profile has
ROW = 13.0  # px between two values


def stress_stops(law: PiecewiseLaw, state: SectionState) -> list[tuple[float, float]]:
    """Return stresses of a law, MPa, by their places from the far to the compressed side, 0 … 1.

    Every jump of the law has a place on either side of it, where it is.
    """
    low, high = state.extent
    bottom, top = (state.plane.centre + state.plane.curvature * t for t in (low, high))
    share = np.linspace(0.0, 1.0, STOPS)
    stops = list(zip(share, law.stress(bottom + share * (top - bottom)), strict=True))
    for step in law.steps:
        if bottom < step < top:
            at = (step - bottom) / (top - bottom)
            sides = law.stress(np.array([np.nextafter(step, -np.inf), step]))
            stops += zip((at - JUMP, at + JUMP), sides, strict=True)
    return sorted((min(max(float(at), 0.0), 1.0), float(value)) for at, value in stops)


def _peak(law: PiecewiseLaw) -> float:
    return float(law.stress(np.linspace(0.0, LARGEST_STRAIN, 36)).max())


class StressView(QWidget):
    """A section to scale with its stresses; point at a bar for all that is known of it.

    Attributes:
        at_demand: whether the section is shown under the demand itself.
    """

    name = "Stresses"
    controls = frozenset({Control.STATE})
    sharpness = 2.0
    picked = pyqtSignal(int)
    read = pyqtSignal(str)
    turned = pyqtSignal(float)
    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Stresses and strains of the section")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(240, 180)
        self.setMouseTracking(True)
        self._section: Section | None = None
        self._state: SectionState | None = None
        self._message, self._system = "", UnitSystem.SI
        self.at_demand = False

    @property
    def widget(self) -> QWidget:
        """The widget that it is."""
        return self

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show the section at capacity, or under the demand itself."""
        state = shown.at_demand if self.at_demand else shown.at_capacity
        name = "" if shown.demand is None else shown.name_of(shown.demand)
        if shown.demand is None:
            message = "No forces are known for this lift."
        elif not shown.demands[shown.demand].any():
            message = f"No force acts in {name}."
        elif self.at_demand:
            message = f"No equilibrium: {name} is beyond what the section can carry."
        else:
            message = (
                f"{name} is held by the cap of the axial force: no strain plane belongs to it."
            )
        self.show_state(shown.result.lift.facts.section, state, message, shown.system)

    def caption(self, shown: Shown) -> str:
        """Return which demand it is, and where."""
        if shown.demand is None:
            return ""
        where = "under the demand itself" if self.at_demand else "where the ray meets the surface"
        return f"{shown.name_of(shown.demand)}: {where}."

    def table(self, shown: Shown) -> Table:
        """Return the numbers of the N–M curve on which the demand is met."""
        return meridian_table(shown.result.lift, shown.angle, shown.system)

    def missing(self) -> str:
        """Return nothing: a section can always be painted."""
        return ""

    def fit(self) -> None:
        """Leave it: all of it is always shown."""
        return

    def fit_demands(self) -> None:
        """Leave it: all of it is always shown."""
        return

    def restyle(self) -> None:
        """Take the colours of the theme."""
        self.update()

    def show_state(
        self, section: Section, state: SectionState | None, message: str, system: UnitSystem
    ) -> None:
        """Show a section and its state, or a message why it has none."""
        self._section, self._state = section, state
        self._message, self._system = message, system
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self.paint(painter, QRectF(self.rect()))
        painter.end()

    def paint(self, painter: QPainter, area: QRectF) -> bool:
        """Paint into an area of any device."""
        theme = current_theme()
        painter.fillRect(area, QColor(theme.paper))
        if self._section is None:
            return False
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        fit = self._fit(area)
        if self._state is None:
            self._paint_message(painter, area, fit, theme)
            return True
        self._paint_concrete(painter, self._section, self._state, fit, theme)
        self._paint_axis(painter, self._section, self._state, fit, theme)
        self._paint_bars(painter, self._section, self._state, fit, theme)
        profile = QRectF(
            area.left() + area.width() * (1 - PROFILE), area.top() + MARGIN + 10,
            area.width() * PROFILE - MARGIN, area.height() - 2 * MARGIN - SCALE_HEIGHT - 20,
        )  # fmt: skip
        self._paint_profile(painter, self._state, profile, theme)
        self._paint_scale(painter, self._state, area, theme)
        return True

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Tell of the bar under the pointer."""
        if event is None or self._section is None or self._state is None:
            return
        fit, bars = self._fit(QRectF(self.rect())), self._section.bars
        at = np.array([event.position().x(), event.position().y()])
        places = np.array([[p.x(), p.y()] for p in map(fit.point, bars.x, bars.y)])
        distance = np.hypot(*(places - at).T) - bars.diameter * fit.scale / 2
        nearest = int(distance.argmin())
        text = self._bar_text(nearest) if distance[nearest] < 6 else ""
        if not text:
            text = self._region_text(*fit.place(event.position()))
        QToolTip.showText(event.globalPosition().toPoint(), text, self)

    def leaveEvent(self, event: QEvent | None) -> None:
        QToolTip.hideText()

    def _bar_text(self, bar: int) -> str:
        assert self._state is not None
        stress = format_quantity(float(self._state.stress[bar]), Dimension.STRESS, self._system)
        force = format_quantity(float(self._state.force[bar]), Dimension.FORCE, self._system)
        strain = per_mille(float(self._state.strain[bar]))
        return f"Bar {bar + 1}: σ {stress}, ε {strain}, force {force}"

    def _region_text(self, x: float, y: float) -> str:
        """Return the stress at a point of the section, mm, where it is not all of one concrete."""
        import shapely

        section, state = self._section, self._state
        assert section is not None
        assert state is not None
        if section.uniform:
            return ""
        for region in state.body.regions:
            if region.outline.polygon.covers(shapely.Point(x, y)):
                cx, cy = section.outline.centroid
                strain = state.plane.strain(np.array([x - cx]), np.array([y - cy]))
                stress = float(region.law.stress(strain)[0])
                named = "Steel" if region.steel else "Concrete"
                shown = format_quantity(stress, Dimension.STRESS, self._system)
                return f"{named}: σ {shown}, ε {per_mille(float(strain[0]))}"
        return ""

    def _fit(self, area: QRectF) -> Fit:
        assert self._section is not None
        share = 1 - PROFILE if self._state is not None else 1.0
        target = QRectF(area.left(), area.top(), area.width() * share, area.height())
        target.adjust(MARGIN + 34, MARGIN, -MARGIN - 34, -MARGIN - SCALE_HEIGHT)
        return Fit(self._section.outline.bounds, target)

    def _paint_message(self, painter: QPainter, area: QRectF, fit: Fit, theme: Theme) -> None:
        assert self._section is not None
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.setBrush(QColor(theme.concrete))
        painter.drawPath(ring_path(self._section.outline.rings, fit))
        painter.setFont(font(12))
        painter.setPen(QColor(theme.ink))
        below = area.adjusted(20, area.height() - SCALE_HEIGHT - 12, -20, -4)
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(below, flags, self._message)

    def _paint_concrete(
        self, painter: QPainter, section: Section, state: SectionState, fit: Fit, theme: Theme
    ) -> None:
        """Paint every region by its own law; what only takes material away is left out."""
        cx, cy = section.outline.centroid
        cos, sin = math.cos(state.plane.angle), math.sin(state.plane.angle)
        low, high = state.extent
        largest = max(self._strongest(state), 1e-9)
        painter.setPen(QPen(QColor(theme.secondary), 1))
        steel = max(self._largest_steel(state), 1e-9)
        for region in state.body.regions:
            if _peak(region.law) <= 0:
                continue
            gradient = QLinearGradient(
                fit.point(cx + low * cos, cy + low * sin),
                fit.point(cx + high * cos, cy + high * sin),
            )
            for at, value in stress_stops(region.law, state):
                if region.steel:
                    colour = theme.capacity if value > 0 else theme.tension
                    shade = mixed(theme.panel, colour, 0.25 + 0.75 * abs(value) / steel)
                else:
                    share = min(max(value, 0.0) / largest, 1.0)
                    shade = mixed(theme.concrete, theme.capacity, 0.62 * share)
                gradient.setColorAt(at, shade)
            painter.setBrush(gradient)
            painter.drawPath(ring_path(region.outline.rings, fit))

    def _strongest(self, state: SectionState) -> float:
        """The largest stress that the law of any region can give, MPa."""
        return max(_peak(region.law) for region in state.body.regions if not region.steel)

    def _largest_steel(self, state: SectionState) -> float:
        """The largest stress in the bars and in structural steel, MPa."""
        found = [float(np.abs(state.stress).max())]
        for region in state.body.regions:
            if region.steel:
                found.append(max(abs(value) for _, value in stress_stops(region.law, state)))
        return max(found)

    def _paint_axis(
        self, painter: QPainter, section: Section, state: SectionState, fit: Fit, theme: Theme
    ) -> None:
        place = state.plane.neutral_axis
        if place is None:
            return
        (cx, cy), (x0, y0, x1, y1) = section.outline.centroid, section.outline.bounds
        cos, sin = math.cos(state.plane.angle), math.sin(state.plane.angle)
        reach = 2 * max(x1 - x0, y1 - y0)
        x, y = cx + place * cos, cy + place * sin
        ends = [fit.point(x - s * sin, y + s * cos) for s in (-reach, reach)]
        painter.save()
        painter.setClipRect(QRectF(fit.point(x0, y1), fit.point(x1, y0)).adjusted(-16, -16, 16, 16))
        painter.setPen(QPen(QColor(theme.capacity), 1.4, Qt.PenStyle.DashLine))
        painter.drawLine(*ends)
        painter.restore()
        force, ex, ey = state.concrete
        if force > 0:
            # Where the concrete's force acts.
            at = fit.point(cx + ex, cy + ey)
            painter.setPen(QPen(QColor(theme.ink), 1.4))
            for dx, dy in ((5, 0), (0, 5)):
                painter.drawLine(at - QPointF(dx, dy), at + QPointF(dx, dy))

    def _paint_bars(
        self, painter: QPainter, section: Section, state: SectionState, fit: Fit, theme: Theme
    ) -> None:
        bars, largest = section.bars, max(self._largest_steel(state), 1e-9)
        painter.setFont(font(10))
        metrics = QFontMetricsF(font(10))
        cx = section.outline.centroid[0]
        taken: list[QRectF] = []
        # From the outside in, so that the bars that matter most keep their values.
        order = np.argsort(-np.abs(state.strain), kind="stable")
        for bar in order:
            stress = float(state.stress[bar])
            at = fit.point(bars.x[bar], bars.y[bar])
            radius = max(bars.diameter[bar] * fit.scale / 2, 2.5)
            colour = theme.capacity if stress > 0 else theme.tension
            fill = mixed(theme.panel, colour, 0.25 + 0.75 * abs(stress) / largest)
            painter.setPen(QPen(QColor(theme.ink), 0.8))
            painter.setBrush(fill)
            painter.drawEllipse(at, radius, radius)
            text = format_significant(stress / unit_of(Dimension.STRESS, self._system).size)
            width = max(metrics.horizontalAdvance(text), GAUGE) + 4
            outwards = -1 if bars.x[bar] < cx - 1 else 1
            left = at.x() + radius + 3 if outwards > 0 else at.x() - radius - 3 - width
            box = QRectF(left, at.y() - ROW / 2 - 2, width, ROW + 3)
            if any(box.intersects(other) for other in taken):
                continue
            taken.append(box)
            veil = QColor(theme.paper)
            veil.setAlphaF(0.72)
            painter.fillRect(box, veil)
            painter.setPen(QColor(theme.ink))
            painter.drawText(box.adjusted(0, -2, 0, -3), Qt.AlignmentFlag.AlignCenter, text)
            gauge = GAUGE * abs(stress) / largest
            start = box.left() + (0 if outwards > 0 else width - gauge)
            painter.fillRect(QRectF(start, box.bottom() - 3, gauge, 2.5), QColor(colour))

    def _paint_profile(
        self, painter: QPainter, state: SectionState, area: QRectF, theme: Theme
    ) -> None:
        """Paint strains over the depth: the compressed side above, compression to the right."""
        low, high = state.extent
        bottom, top = (state.plane.centre + state.plane.curvature * end for end in (low, high))
        widest = max(abs(bottom), abs(top), 1e-9)
        half = area.width() / 2 - 4
        middle = area.center().x()

        def place(t: float, strain: float) -> QPointF:
            return QPointF(
                middle + half * strain / widest,
                area.bottom() - (t - low) / (high - low) * area.height(),
            )

        wash = QColor(theme.capacity)
        wash.setAlphaF(0.16)
        painter.setPen(Qt.PenStyle.NoPen)
        axis = state.plane.neutral_axis
        inside = axis is not None and low < axis < high
        for part, colour in (((axis, high), theme.capacity), ((low, axis), theme.tension)):
            a, b = part if inside else (low, high)
            assert a is not None
            assert b is not None
            strains = [state.plane.centre + state.plane.curvature * t for t in (a, b)]
            if not inside and (sum(strains) > 0) != (colour == theme.capacity):
                continue
            wash = QColor(colour)
            wash.setAlphaF(0.18)
            painter.setBrush(wash)
            corners = [place(a, 0), place(a, strains[0]), place(b, strains[1]), place(b, 0)]
            painter.drawPolygon(QPolygonF(corners))
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.drawLine(place(low, 0), place(high, 0))
        painter.setPen(QPen(QColor(theme.ink), 1.4))
        painter.drawLine(place(low, bottom), place(high, top))
        painter.setBrush(QColor(theme.panel))
        painter.setPen(QPen(QColor(theme.ink), 1))
        for depth, strain in zip(state.bar_depth, state.strain, strict=True):
            painter.drawEllipse(place(high - float(depth), float(strain)), 2, 2)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.ink))
        flags = Qt.AlignmentFlag.AlignCenter
        for level, text in (
            (area.top() - 20, f"ε {per_mille(top)}"),
            (area.bottom() + 4, f"ε {per_mille(bottom)}"),
        ):
            painter.drawText(QRectF(area.left(), level, area.width(), 16), flags, text)
        if inside and axis is not None:
            depth_text = length_text(high - axis, self._system)
            at = place(axis, 0)
            painter.setPen(QPen(QColor(theme.capacity), 1.2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(area.left(), at.y()), QPointF(area.right(), at.y()))
            painter.setPen(QColor(theme.capacity))
            # Beside the axis where the profile is not: tension lies to the left of it, below.
            painter.drawText(
                QRectF(area.left(), at.y() - 17, half, 16),
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                f"c {depth_text}",
            )

    def _paint_scale(
        self, painter: QPainter, state: SectionState, area: QRectF, theme: Theme
    ) -> None:
        """Paint what the colours mean: steel from tension to compression, concrete from zero."""
        steel, concrete = max(self._largest_steel(state), 1e-9), self._strongest(state)
        named = "steel" if any(region.steel for region in state.body.regions) else "bars"
        painter.setFont(font(10))
        width = min((area.width() - 3 * MARGIN) / 2, 240.0)
        level = area.bottom() - SCALE_HEIGHT + 10
        for start, name, low, high, colours in (
            (
                *(area.left() + MARGIN, named, -steel, steel),
                (theme.tension, theme.panel, theme.capacity),
            ),
            (
                *(area.left() + 2 * MARGIN + width, "concrete", 0.0, concrete),
                (theme.concrete, mixed(theme.concrete, theme.capacity, 0.62).name()),
            ),
        ):
            strip = QRectF(start, level, width, 7)
            gradient = QLinearGradient(strip.topLeft(), strip.topRight())
            for i, colour in enumerate(colours):
                gradient.setColorAt(i / (len(colours) - 1), QColor(colour))
            painter.setPen(QPen(QColor(theme.hairline), 1))
            painter.setBrush(gradient)
            painter.drawRect(strip)
            painter.setPen(QColor(theme.secondary))
            below = QRectF(start, strip.bottom() + 2, width, 15)
            ends = [format_quantity(value, Dimension.STRESS, self._system) for value in (low, high)]
            painter.drawText(below, Qt.AlignmentFlag.AlignLeft, ends[0])
            painter.drawText(below, Qt.AlignmentFlag.AlignRight, ends[1])
            painter.drawText(below, Qt.AlignmentFlag.AlignHCenter, name)
