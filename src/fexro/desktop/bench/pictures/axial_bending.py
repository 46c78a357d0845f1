"""Qt view for the N–M diagram: curves in one plane of bending, demands, ray, key points."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QFontMetricsF

from fexro.core.arrays import FloatArray
from fexro.core.findings import state_of_ratio
from fexro.core.quantities import Dimension, format_quantity, unit_of
from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.bench.pictures.plot import DemandSpots, Plot, pen
from fexro.desktop.bench.pictures.shown import Shown, length_text, per_mille
from fexro.desktop.theme import current_theme, font
from fexro.exchange.curves import Table, meridian_table

__all__ = ["AxialBendingView", "BesideCurve"]

GAP = 8.0  # px between a point and its label
HIGHEST = 1e12  # of the axial force, up to which a band is drawn
BESIDE = [(1, 1), (1, 1)]  # the name of a band ends at the right, above its edge
ALONG = 60  # places along a curve where its name may stand


@dataclass(frozen=True, eq=False)
class BesideCurve:
    """A design curve drawn beside the lift's own.

    Attributes:
        label: what it is.
        path: N and M, (P, 2), N and N·mm.
        utilisation: the worst of all combinations.
        choice: what a click on it chooses, if anything.
    """

    label: str
    path: FloatArray
    utilisation: float
    choice: str | None = None


class AxialBendingView(Plot):
    """The N–M diagram of a plane; click a demand to select it, a curve beside to choose it."""

    name = "N–M"
    controls = frozenset(
        {Control.PLANE, Control.PIN, Control.BARS, Control.FIT, Control.FIT_DEMANDS}
    )

    def __init__(self) -> None:
        super().__init__("Interaction diagram of axial force and moment")
        self._nominal = pg.PlotCurveItem()
        self._design = pg.PlotCurveItem(fillLevel="enclosed")
        self._names = pg.TextItem(anchor=(-0.15, 0.9)), pg.TextItem(anchor=(1.25, 0.7))
        self._keys = pg.ScatterPlotItem(size=6, hoverable=True, tip=lambda x, y, data: data)
        self._first = pg.PlotCurveItem(connect="pairs")
        self._ray, self._level = pg.PlotCurveItem(), pg.PlotCurveItem()
        self._met = pg.ScatterPlotItem(size=9)
        self._band = pg.LinearRegionItem(orientation="horizontal", movable=False)
        self._band_name = pg.InfLineLabel(self._band.lines[0], "", position=0.98, anchors=BESIDE)
        self._band.setZValue(-20)
        self.addItem(self._band, ignoreBounds=True)
        self._beside: list[tuple[pg.PlotCurveItem, pg.TextItem]] = []
        for item in (self._nominal, self._design, *self._names, self._first, self._level):
            self.addItem(item, ignoreBounds=True)
        for item in (self._ray, self._keys, self._met):
            self.addItem(item, ignoreBounds=True)
        self._spots = DemandSpots(self, self.picked.emit)
        self._labels = [pg.TextItem() for _ in range(3)]
        for label in self._labels:
            label.setFont(font(11, 600))
            self.addItem(label, ignoreBounds=True)
        self._shown: Shown | None = None
        self._curves: Sequence[BesideCurve] = ()
        self.hovered.connect(self._read_off)

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show a plane; `refit` shows all of it, unless the scale was set by hand."""
        before, self._shown = self._shown, shown
        another = before is None or before.result.lift.name != shown.result.lift.name
        if another or before is None or before.system is not shown.system:
            self.restyle()
        self._show_curve(shown)
        self._show_band(shown)
        self._show_keys(shown)
        self._show_beside()
        if another or (refit and not self._zoomed):
            self._fit(steady=not another)
        self._show_demands(shown)

    def caption(self, shown: Shown) -> str:
        """Return which plane it is, and the utilisations of the demand."""
        words = shown.result.lift.code.vocabulary
        text = f"From {words.moment_x} towards {words.moment_y}"
        if shown.demand is None:
            return text + "."
        name = shown.combination
        if shown.projected[shown.demand]:
            return f"{text}; {name} points out of this plane and is projected, as all faint ones."
        assert shown.along is not None
        ratio = shown.along.ratio[0]
        if shown.passing:
            return f"{text}, as in {name}. Along the ray {ratio:.3f}."
        held = shown.result.constant_axial.ratio[shown.demand]
        text += f", as in {name}. Along the ray {ratio:.3f}"
        text += f", at constant N {held:.3f}." if math.isfinite(held) else "."
        return text + (" Faint: projected." if shown.projected.any() else "")

    def table(self, shown: Shown) -> Table:
        """Return the numbers of the curve."""
        return meridian_table(shown.result.lift, shown.angle, shown.system)

    def _read_off(self, moment: float, axial: float) -> None:
        """Tell what is under the pointer."""
        shown = self._shown
        if shown is None:
            return
        n, m = axial * shown.force, moment * shown.moment
        text = [
            f"N {format_quantity(n, Dimension.FORCE, shown.system)}",
            f"M {format_quantity(m, Dimension.MOMENT, shown.system)}",
        ]
        reading = shown.reading(n, m)
        if reading is not None:
            text.append(f"utilisation {reading.utilisation:.3f}")
            if reading.depth is not None:
                text.append(f"c {length_text(reading.depth, shown.system)}")
            low, high = reading.strains
            text.append(f"ε {per_mille(low)} to {per_mille(high)} at capacity")
        self.read.emit("    ".join(text))

    def show_beside(self, curves: Sequence[BesideCurve]) -> None:
        """Show other curves beside the lift's own."""
        self._curves = curves
        if self._shown is not None:
            self._show_beside()
            if not self._zoomed:
                self.fit()
            self._show_demands(self._shown)

    def bring_out(self, choice: str) -> None:
        """Bring out the curve of a choice among those beside, or none."""
        theme = current_theme()
        for (line, text), curve in zip(self._beside, self._curves, strict=False):
            strong = bool(choice) and curve.choice == choice
            colour = theme.capacity if strong else theme.secondary
            line.setPen(pen(colour, 1.8 if strong else 1.0, dashed=not strong))
            text.setColor(QColor(colour))

    def restyle(self) -> None:
        """Take the colours of the theme and the units of the lift."""
        if self._shown is None:
            return
        theme, system = current_theme(), self._shown.system
        self.style(
            {
                "left": f"N, {unit_of(Dimension.FORCE, system).symbol}",
                "bottom": f"M, {unit_of(Dimension.MOMENT, system).symbol}",
            }
        )
        self._nominal.setPen(pen(theme.secondary))
        self._design.setPen(pen(theme.capacity, 2))
        self._design.setBrush(QColor(theme.capacity_fill))
        self._keys.setPen(pen(theme.capacity, 1.2))
        self._keys.setBrush(QColor(theme.panel))
        self._met.setBrush(QColor(theme.paper))
        band = QColor(theme.attention)
        self._band_name.setColor(band)
        self._band_name.setFont(font(10))
        for line in self._band.lines:
            line.setPen(pen(theme.attention, 1, dashed=True))
        band.setAlphaF(0.10)
        self._band.setBrush(band)
        self._first.setPen(pen(theme.secondary, dashed=True))
        for item, name, colour in zip(
            self._names, ("nominal", "design"), (theme.secondary, theme.capacity), strict=True
        ):
            item.setText(name, QColor(colour))
            item.setFont(font(10))
        for label in self._labels:
            label.fill = pg.mkBrush(_veil(theme.paper))
        self._spots.style()

    def fit(self) -> None:
        """Show all of the curves and demands."""
        self._fit()

    def _fit(self, *, steady: bool = False) -> None:
        if self._shown is not None:
            self._zoomed = False
            own = [self._path(self._shown.meridian.nominal_right)]
            if not self._shown.strength.body.symmetry.point:
                own.append(self._path(self._shown.meridian.nominal_left))
            demands = self._places(self._shown, self._shown.demands)
            beside = [self._path(curve.path) for curve in self._curves]
            self.fit_to([*own, *beside, demands, np.zeros((1, 2))], steady=steady)

    def fit_demands(self) -> None:
        """Bring up the corner in which the demands lie."""
        if self._shown is not None and len(self._shown.demands):
            self._zoomed = True
            capacity = self._shown.result.proportional.capacity
            chosen = [] if self._shown.demand is None else [capacity[[self._shown.demand]]]
            forces = np.concatenate([self._shown.demands, *chosen])
            self.fit_to([self._places(self._shown, forces), np.zeros((1, 2))])
            self._show_demands(self._shown)

    def _path(self, path: FloatArray) -> FloatArray:
        """Return N and M as x and y of the diagram."""
        assert self._shown is not None
        return path[:, ::-1] / [self._shown.moment, self._shown.force]

    def _places(self, shown: Shown, forces: FloatArray) -> FloatArray:
        return np.column_stack(
            [shown.moments_along(forces) / shown.moment, forces[:, 0] / shown.force]
        )

    def _whole(self, right: FloatArray, left: FloatArray) -> FloatArray:
        """Return a closed curve: both halves, or the right one where they are alike."""
        assert self._shown is not None
        if self._shown.strength.body.symmetry.point:
            foot = np.array([[right[-1, 0], 0.0], [right[0, 0], 0.0]])
            return self._path(np.concatenate([right, foot, right[:1]]))
        return self._path(np.concatenate([right, left[::-1], right[:1]]))

    def _show_curve(self, shown: Shown) -> None:
        curve = shown.meridian
        nominal = self._whole(curve.nominal_right, curve.nominal_left)
        design = self._whole(curve.design_right, curve.design_left)
        for path, item, name, share in (
            (nominal, self._nominal, self._names[0], 0.8),
            (design, self._design, self._names[1], -0.4),
        ):
            m, n = path.T
            item.setData(m, n)
            # Names stand beside the right half where demands are rare: high up, or in tension.
            level = share * (n.max() if share > 0 else -n.min())
            near = np.where(m > 0.1 * m.max(), np.abs(n - level), np.inf)
            name.setPos(*path[int(near.argmin())])
        # Where no factor sets them apart, one curve is both.
        apart = not np.array_equal(curve.nominal_right, curve.design_right)
        for item in (self._nominal, self._names[0]):
            item.setVisible(apart)

    def _show_band(self, shown: Shown) -> None:
        """Show the axial forces that ask for more confinement, where demands lie among them."""
        lift = shown.result.lift
        band = lift.code.band(lift.facts)
        reached = band is not None and bool((shown.demands[:, 0] > band.start).any())
        self._band.setVisible(reached)
        if band is not None and reached:
            start = max(band.start / shown.force, -HIGHEST)
            self._band.setRegion((start, HIGHEST))
            self._band_name.setFormat(band.told)

    def _show_keys(self, shown: Shown) -> None:
        self._keys.setVisible(not shown.passing)
        if shown.passing:
            return
        curve, top = shown.meridian, shown.strength.max_axial
        named = [
            (n * factor, m * factor, name)
            for name, (n, m, factor) in zip(shown.key_names, curve.marks, strict=True)
            if n * factor <= top
        ]
        tension = shown.strength.mesh.points.design[0, 0]
        named += [
            (*curve.design_right[-1], "the cap: largest axial force"),
            (0.0, curve.bending, "pure bending"),
            (float(tension[0]), float(tension[1:] @ shown.unit), "pure tension"),
        ]
        system = shown.system
        self._keys.setData(
            [m / shown.moment for _, m, _ in named],
            [n / shown.force for n, _, _ in named],
            data=[
                f"{name}\nN {format_quantity(n, Dimension.FORCE, system)}"
                f", M {format_quantity(m, Dimension.MOMENT, system)}"
                for n, m, name in named
            ],
        )

    def _show_beside(self) -> None:
        assert self._shown is not None
        theme = current_theme()
        while len(self._beside) < len(self._curves):
            line, text = pg.PlotCurveItem(clickable=True), pg.TextItem(anchor=(0.5, 0.5))
            line.setZValue(-1)
            text.setFont(font(10))
            line.sigClicked.connect(self._click_beside)
            for item in (line, text):
                self.addItem(item, ignoreBounds=True)
            self._beside.append((line, text))
        for number, (line, text) in enumerate(self._beside):
            used = number < len(self._curves)
            line.setVisible(used)
            text.setVisible(used)
            if not used:
                continue
            curve = self._curves[number]
            path = self._path(curve.path)
            line.setData(*path.T)
            line.setPen(pen(theme.secondary, dashed=True))
            line.setClickable(curve.choice is not None, 8)
            text.setText(curve.label, QColor(theme.secondary))
            text.fill = pg.mkBrush(_veil(theme.paper))

    def _name_box(self, name: pg.TextItem) -> QRectF:
        """Return where the name of a curve stands, px of the view."""
        size = QFontMetricsF(font(10)).size(0, name.toPlainText()) + QSizeF(6, 4)
        at = self.pixels(np.array([[name.pos().x(), name.pos().y()]]))[0]
        corner = at - np.array([name.anchor.x() * size.width(), name.anchor.y() * size.height()])
        return QRectF(QPointF(*corner), size)

    def _name_beside(self, taken: list[QRectF], points: FloatArray) -> None:
        """Put the names of the curves beside on them, where they cover nothing else."""
        metrics, room = QFontMetricsF(font(10)), self.inside()
        for (line, text), curve in zip(self._beside, self._curves, strict=False):
            size = metrics.size(0, curve.label) + QSizeF(6, 4)
            path = np.column_stack(line.getData())
            places = path[np.linspace(0, len(path) - 1, ALONG).astype(int)]
            corners = self.pixels(places) - [size.width() / 2, size.height() / 2]
            best = _least_hiding(corners, size, points, taken, room)
            taken.append(QRectF(QPointF(*corners[best]), size))
            text.setPos(*places[best])

    def _click_beside(self, line: object, _: object) -> None:
        for (item, _text), curve in zip(self._beside, self._curves, strict=False):
            if item is line and curve.choice is not None:
                self.chosen.emit(curve.choice)

    def _show_demands(self, shown: Shown) -> None:
        places = self._places(shown, shown.demands)
        self._spots.show(shown, places, shown.projected)
        first = self._places(shown, shown.first_order)
        moved = np.abs(first - places).max(axis=1, initial=0.0) > 1e-9
        self._first.setData(*np.stack([first[moved], places[moved]], axis=1).reshape(-1, 2).T)
        chosen = shown.demand
        in_plane = chosen is not None and not shown.projected[chosen]
        loaded = in_plane and shown.along is not None and bool(shown.along.ratio[0] > 0)
        for item in (self._ray, self._level, self._met, *self._labels[1:]):
            item.setVisible(loaded)
        self._labels[0].setVisible(chosen is not None)
        if chosen is None:
            return
        labels = [self._demand_label(shown, chosen, places[chosen])]
        if loaded:
            labels += self._show_ray(shown, chosen, places[chosen])
        self._place_labels(labels, places)

    def _show_ray(
        self, shown: Shown, chosen: int, place: FloatArray
    ) -> list[tuple[FloatArray, str]]:
        """Show the ray and the line at constant N with where they meet the curve."""
        assert shown.along is not None
        ratio = float(shown.along.ratio[0])
        colour = current_theme().state(state_of_ratio(ratio))
        # At constant N all demands are solved at once: too much for a moment.
        held = math.nan if shown.passing else float(shown.result.constant_axial.ratio[chosen])
        met = [place / ratio]
        if shown.along.capped[0]:
            met = [place * min(1.0, 1 / ratio)] if ratio > 1 else met
        ray = place * max(1.0, 1.0 / ratio)
        self._ray.setData([0.0, ray[0]], [0.0, ray[1]], pen=pen(colour, dashed=True))
        labels = [(met[0], f"ray {ratio:.2f}")]
        level = math.isfinite(held) and held > 0
        self._level.setVisible(level)
        if level:
            end = np.array([place[0] / held, place[1]])
            self._level.setData([0.0, max(place[0], end[0], key=abs)], [place[1], place[1]])
            self._level.setPen(pen(colour, dashed=True))
            met.append(end)
            labels.append((end, f"at N {held:.2f}"))
        self._met.setData(*np.array(met).T, pen=pen(colour, 1.4))
        return labels

    def _demand_label(self, shown: Shown, chosen: int, place: FloatArray) -> tuple[FloatArray, str]:
        assert shown.along is not None
        return place, f"{shown.name_of(chosen)} {shown.along.ratio[0]:.2f}"

    def _place_labels(self, labels: list[tuple[FloatArray, str]], places: FloatArray) -> None:
        """Put each label on the side of its point where it hides the fewest points."""
        theme, metrics, room = current_theme(), QFontMetricsF(font(11, 600)), self.inside()
        marked = np.array([at for at, _ in labels])
        centres = self.pixels(marked)
        points = np.concatenate([self.pixels(places), centres])
        if self._keys.isVisible():
            keys = np.column_stack(self._keys.getData())
            points = np.concatenate([points, self.pixels(keys)])
        taken = [self._name_box(name) for name in self._names if name.isVisible()]
        for item, centre, (_, text) in zip(self._labels, centres, labels, strict=False):
            size = metrics.size(0, text) + QSizeF(6, 4)
            corners = centre + _offsets(size.width(), size.height())
            best = corners[_least_hiding(corners, size, points, taken, room)]
            taken.append(QRectF(QPointF(*best), size))
            item.setText(text, QColor(theme.ink))
            item.setAnchor((0.5, 0.5))
            item.setPos(self.place(best[0] + size.width() / 2, best[1] + size.height() / 2))
        self._name_beside(taken, points)


def _veil(colour: str) -> QColor:
    """Return a ground for text through which lines can still be seen."""
    veil = QColor(colour)
    veil.setAlphaF(0.8)
    return veil


def _least_hiding(
    corners: FloatArray, size: QSizeF, points: FloatArray, taken: list[QRectF], room: QRectF
) -> int:
    """Return which box covers the fewest points and labels and stays in the room.

    Args:
        corners: upper left corners of the boxes (B, 2); points: (P, 2), all px.
    """
    extent = np.array([size.width(), size.height()])
    offset = points - corners[:, None]
    cost = ((offset >= 0) & (offset <= extent)).all(axis=-1).sum(axis=1)
    for other in taken:
        low = np.array([other.left(), other.top()]) - extent
        high = np.array([other.right(), other.bottom()])
        cost += 3 * ((corners > low) & (corners < high)).all(axis=1)
    inside = (corners >= [room.left(), room.top()]) & (
        corners + extent <= [room.right(), room.bottom()]
    )
    cost += 5 * ~inside.all(axis=1)
    return int(cost.argmin())


def _offsets(width: float, height: float) -> FloatArray:
    """Return where the corner of a label may lie from its point: beside, above, below, aslant."""
    sides = [
        (GAP, -height / 2),
        (GAP, -height - GAP / 2),
        (GAP, GAP / 2),
        (-width / 2, -height - GAP),
        (-width / 2, GAP),
        (-width - GAP, -height / 2),
        (-width - GAP, -height - GAP / 2),
        (-width - GAP, GAP / 2),
    ]
    return np.array(sides)
