"""Qt view for the pictures of a bench: N–M, Mx–My, the surface, stresses; and what turns them."""

from __future__ import annotations

import math
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError, InputError
from fexro.core.quantities import (
    Dimension,
    format_quantity,
    parse_quantity,
    quantity_reading,
)
from fexro.desktop.bench.axial_bending import AxialBendingView, BesideCurve
from fexro.desktop.bench.bar_strip import BarChoice, BarStrip
from fexro.desktop.bench.beside import BesideCurves, Candidate
from fexro.desktop.bench.biaxial_bending import BiaxialBendingView
from fexro.desktop.bench.compare_button import CompareButton
from fexro.desktop.bench.menus import act
from fexro.desktop.bench.picture import picture_of, save_picture
from fexro.desktop.bench.plane_dial import PlaneDial
from fexro.desktop.bench.shown import Shown, length_text
from fexro.desktop.bench.stresses import StressView, per_mille
from fexro.desktop.bench.surface_view import SurfaceView
from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.text import Label
from fexro.exchange.curves import contour_table, meridian_table
from fexro.project.alternatives import bar_alternatives

__all__ = ["VIEWS", "InteractionPanel"]

VIEWS = ("N–M", "Mx–My", "Surface", "Stresses")
SETTLE = 90  # ms without a change after which curves beside are computed
SLIDER = 1000
PICTURES = "PNG picture (*.png);;SVG drawing (*.svg);;PDF document (*.pdf)"


class InteractionPanel(QFrame):
    """The pictures, one at a time, with their controls above and what is read off below.

    Signals:
        failed: a sentence about something that could not be done.
    """

    failed = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("pictures")
        self._document, self._selection = document, document.selection
        self._shown: Shown | None = None
        self._choices: tuple[BarChoice, ...] = ()
        self.axial_bending = AxialBendingView()
        self.biaxial = BiaxialBendingView()
        self.surface = SurfaceView()
        self.stresses = StressView()
        self.views = QStackedWidget()
        policy = self.views.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.views.setSizePolicy(policy)
        for view in (self.axial_bending, self.biaxial, self.surface, self.stresses):
            self.views.addWidget(view)
        self.caption, self.reading = Label(), Label()
        for label in (self.caption, self.reading):
            label.setProperty("role", "quiet")
        self.caption.setWordWrap(True)
        self.bars = BarStrip()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 6)
        layout.setSpacing(4)
        layout.addWidget(self._make_tabs())
        layout.addWidget(self._make_controls())
        layout.addWidget(self.caption)
        layout.addWidget(self.views, 1)
        layout.addWidget(self.reading)
        layout.addWidget(self.bars)
        self._beside = BesideCurves()
        self._beside.arrived.connect(self._take_beside)
        self._curves: list[BesideCurve] = []
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self._request_beside)
        for view in (self.axial_bending, self.biaxial, self.surface):
            view.picked.connect(self._pick)
        self.axial_bending.chosen.connect(self.adopt)
        self.axial_bending.hovered.connect(self._read)
        self.axial_bending.left.connect(lambda: self.reading.setText(""))
        self.biaxial.hovered.connect(self._read_moments)
        self.biaxial.left.connect(lambda: self.reading.setText(""))
        self.biaxial.turned.connect(self._selection.turn)
        self.bars.previewed.connect(self.axial_bending.bring_out)
        self.bars.chosen.connect(self.adopt)
        self.show_view(0)

    # Controls

    def _make_tabs(self) -> QWidget:
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        self.tabs = QButtonGroup(self)
        for number, name in enumerate(VIEWS):
            tab = QPushButton(name)
            tab.setCheckable(True)
            tab.setProperty("role", "tab")
            tab.setToolTip(f"{name} (Alt+{number + 1})")
            self.tabs.addButton(tab, number)
            row.addWidget(tab)
        self.tabs.idClicked.connect(self.show_view)
        row.addStretch(1)
        self.compare, self.carry = CompareButton(self._document), QPushButton("Copy, save")
        self.compare.changed.connect(self._compared)
        self.carry.setMenu(self._make_carry_menu())
        for button in (self.compare, self.carry):
            button.setProperty("role", "tab")
            row.addWidget(button)
        return _holder(row)

    def _make_controls(self) -> QWidget:
        self.dial = PlaneDial()
        self.dial.turned.connect(self._selection.turn)
        self.angle = Field(self._document.typing, self._type_angle)
        self.angle.setFixedWidth(58)
        self.angle.setAccessibleName("Direction of the moment, degrees from Mx towards My")
        self.pinned = QCheckBox("Pin")
        self.pinned.setToolTip("Keep the plane and the axial force whatever is selected (Alt+P)")
        self.pinned.toggled.connect(self.pin)
        self.other_bars = QCheckBox("Other bars")
        self.other_bars.setToolTip("Curves of the neighbouring bar sizes (Alt+B)")
        self.counts = QCheckBox("Number")
        self.counts.setToolTip("Curves with fewer and more bars instead of other sizes")
        for box in (self.other_bars, self.counts):
            box.toggled.connect(self._toggle_bars)
        self.whole, self.near = QPushButton("Fit"), QPushButton("Fit demands")
        self.whole.setToolTip("Show all of it (Ctrl+0)")
        self.near.setToolTip("Bring up the corner in which the demands lie (Ctrl+9)")
        self.whole.clicked.connect(lambda: self.fit())
        self.near.clicked.connect(lambda: self.fit_demands())
        for button in (self.whole, self.near):
            button.setProperty("role", "link")
        plane = _row(Label("Moment at"), self.dial, self.angle)
        self.axial = Field(self._document.typing, self._type_axial, self._read_axial)
        self.axial.setFixedWidth(92)
        self.axial.setAccessibleName("Axial force of the Mx–My diagram")
        self.axial.told.connect(self._tell_reading)
        for field in (self.angle, self.axial):
            field.refused.connect(lambda error: self.caption.setText(str(error)))
            field.settled.connect(lambda: self._draw(refit=False))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, SLIDER)
        self.slider.setAccessibleName("Axial force of the Mx–My diagram")
        self.slider.valueChanged.connect(self._slide)
        level = _row(Label("N"), self.axial, self.slider)
        self.capacity, self.demand = QPushButton("At capacity"), QPushButton("At the demand")
        self._moments = QButtonGroup(self)
        for button in (self.capacity, self.demand):
            button.setCheckable(True)
            button.setProperty("role", "tab")
            self._moments.addButton(button)
        self.capacity.setChecked(True)
        self._moments.buttonClicked.connect(lambda _: self._draw(refit=False))
        moment = _row(self.capacity, self.demand)
        bars = _row(self.other_bars, self.counts)
        fits = _row(self.whole, self.near)
        self._controls = {
            plane: (0,),
            level: (1,),
            moment: (3,),
            self.pinned: (0, 1),
            bars: (0,),
            fits: (0, 1, 2),
        }
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        for widget in (plane, level, moment, self.pinned, bars):
            row.addWidget(widget, int(widget is level))
        row.addStretch(1)
        row.addWidget(fits)
        return _holder(row)

    def _make_carry_menu(self) -> QMenu:
        menu = QMenu(self)
        act(menu, "Copy the picture", self.copy_picture)
        act(menu, "Copy the numbers as a table", self.copy_numbers)
        act(menu, "Save the picture…", self.ask_save_picture)
        return menu

    # What is shown

    @property
    def current(self) -> int:
        """The number of the picture in view."""
        return self.views.currentIndex()

    def show_view(self, number: int) -> None:
        """Bring up one of the pictures."""
        self.views.setCurrentIndex(number)
        button = self.tabs.button(number)
        assert button is not None
        button.setChecked(True)
        for widget, views in self._controls.items():
            widget.setVisible(number in views)
        self.near.setVisible(number < 2)
        self._show_strip()
        self.reading.setVisible(number < 2)
        self._draw(refit=True)

    def show_shown(self, shown: Shown | None, *, refit: bool) -> None:
        """Show a lift, a demand and a plane; `refit` where another demand or lift is shown."""
        self._shown = shown
        self.setEnabled(shown is not None)
        # What was drawn belongs to other facts.
        self.views.setVisible(shown is not None)
        if shown is not None:
            self._draw(refit=refit)
        else:
            self.caption.setText("There is nothing to draw until the lift is checked.")
            self.reading.setText("")
        self._show_strip()

    def restyle(self) -> None:
        """Take the colours of the theme."""
        for view in (self.axial_bending, self.biaxial, self.surface):
            view.restyle()
        self.views.update()

    def _draw(self, *, refit: bool) -> None:
        shown = self._shown
        if shown is None:
            return
        self.dial.show_angle(shown.angle)
        self.angle.show_text(f"{shown.angle_text()}°")
        self.axial.show_text(shown.axial_text())
        _quietly(self.pinned, self._selection.pinned)
        match self.current:
            case 0:
                self.axial_bending.show_plane(shown, refit=refit)
                self._ask_beside()
                self.caption.setText(self._plane_caption(shown))
            case 1:
                self._show_slider(shown)
                self.biaxial.show_level(shown, refit=refit)
                self.caption.setText(self._level_caption(shown))
            case 2:
                self.surface.show_surface(shown)
                self.caption.setText(
                    f"Design surface, N–M at {shown.angle_text()}° and"
                    f" Mx–My at {shown.axial_text()} drawn on it. Drag turns it."
                )
            case _:
                self._draw_stresses(shown)

    def _draw_stresses(self, shown: Shown) -> None:
        at_demand = self.demand.isChecked()
        state = shown.at_demand if at_demand else shown.at_capacity
        name = "" if shown.demand is None else shown.name_of(shown.demand)
        if shown.demand is None:
            message = "No forces are known for this lift."
        elif not shown.demands[shown.demand].any():
            message = f"No force acts in {name}."
        elif at_demand:
            message = f"No equilibrium: {name} is beyond what the section can carry."
        else:
            message = (
                f"{name} is held by the cap of the axial force: no strain plane belongs to it."
            )
        where = "under the demand itself" if at_demand else "where the ray meets the surface"
        self.caption.setText(f"{name}: {where}." if name else "")
        section = shown.result.lift.facts.section
        self.stresses.show_state(section, state, message, shown.system)

    def _plane_caption(self, shown: Shown) -> str:
        words = shown.result.lift.code.vocabulary
        text = f"From {words.moment_x} towards {words.moment_y}"
        if shown.demand is None:
            return text + "."
        name = shown.combination
        if shown.projected[shown.demand]:
            return f"{text}; {name} points out of this plane and is projected, as all faint ones."
        ratio = shown.result.proportional.ratio[shown.demand]
        held = shown.result.constant_axial.ratio[shown.demand]
        text += f", as in {name}. Along the ray {ratio:.3f}"
        text += f", at constant N {held:.3f}." if math.isfinite(held) else "."
        return text + (" Faint: projected." if shown.projected.any() else "")

    def _level_caption(self, shown: Shown) -> str:
        count = int(shown.at_level.sum())
        demands = "1 demand" if count == 1 else f"{count} demands"
        return (
            f"Moments carried at N = {shown.axial_text()}. {demands} of {len(shown.demands)}"
            " near it; others faint. Drag the circle to turn the plane."
        )

    def _show_slider(self, shown: Shown) -> None:
        low, high = shown.strength.max_tension, shown.strength.max_axial
        self.slider.blockSignals(True)
        if not self.slider.isSliderDown():
            self.slider.setValue(round(SLIDER * (shown.axial - low) / (high - low)))
        self.slider.blockSignals(False)

    # Reading off

    def _read(self, moment: float, axial: float) -> None:
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
                depth = length_text(reading.depth, shown.system)
                text.append(f"c {depth}")
            low, high = reading.strains
            text.append(f"ε {per_mille(low)} to {per_mille(high)} at capacity")
        self.reading.setText("    ".join(text))

    def _read_moments(self, moment_x: float, moment_y: float) -> None:
        shown = self._shown
        if shown is None:
            return
        mx, my = moment_x * shown.moment, moment_y * shown.moment
        self.reading.setText(
            f"Mx {format_quantity(mx, Dimension.MOMENT, shown.system)}"
            f"    My {format_quantity(my, Dimension.MOMENT, shown.system)}"
            f"    at {math.degrees(math.atan2(my, mx)):.1f}°"
        )

    # Turning

    def fit(self) -> None:
        """Show all of the picture."""
        view = self.views.currentWidget()
        if isinstance(view, AxialBendingView | BiaxialBendingView | SurfaceView):
            view.fit()
            self._draw(refit=False)

    def fit_demands(self) -> None:
        """Bring up the corner in which the demands lie."""
        view = self.views.currentWidget()
        if isinstance(view, AxialBendingView | BiaxialBendingView):
            view.fit_demands()

    def pin(self, on: bool) -> None:
        """Keep plane and axial force, or let them follow the demand."""
        if on and self._shown is not None:
            self._selection.pin(self._shown.angle, self._shown.axial)
        elif not on:
            self._selection.follow()

    def _pick(self, demand: int) -> None:
        if self._shown is not None:
            result = self._shown.result
            place = result.place_of(demand)
            self._selection.select_combination(result.combination_of(demand), place)

    def _type_angle(self, text: str) -> None:
        if self._shown is not None:
            angle = parse_quantity(text, Dimension.ANGLE, self._shown.system, "Moment at")
            self._selection.turn(math.remainder(angle, 2 * math.pi))

    def _type_axial(self, text: str) -> None:
        if self._shown is not None:
            self._selection.set_axial(
                parse_quantity(text, Dimension.FORCE, self._shown.system, "N")
            )

    def _read_axial(self, text: str) -> str:
        return quantity_reading(text, Dimension.FORCE, self._shown.system) if self._shown else ""

    def _tell_reading(self, reading: str) -> None:
        self.reading.setText(f"N is read as {reading}." if reading else "")

    def _slide(self, value: int) -> None:
        if self._shown is not None:
            low, high = self._shown.strength.max_tension, self._shown.strength.max_axial
            self._selection.set_axial(low + (high - low) * value / SLIDER)

    # Other bars and comparisons

    def adopt(self, call_out: str) -> None:
        """Put other bars into the lift, as an edit that can be undone."""
        project, key = self._document.project, self._selection.lift
        if project is None or key is None:
            return
        lift = project.by_key[key]
        section = lift.section.model_copy(update={"bars": call_out})
        try:
            self._document.replace_lift(
                key, lift.model_copy(update={"section": section}), "Main bars"
            )
        except InputError as error:
            self.failed.emit(str(error))

    def _compared(self, added: bool) -> None:
        if added and self.current != 0:
            self.show_view(0)
        self._request_beside()

    def _toggle_bars(self) -> None:
        if self.sender() is self.counts and self.counts.isChecked():
            _quietly(self.other_bars, True)
        self._request_beside()

    def _show_strip(self) -> None:
        shown = self._shown is not None and self.current == 0
        self.bars.setVisible(shown and self.other_bars.isChecked())

    def _ask_beside(self) -> None:
        """Hide curves of another plane and ask for those of this one once it rests."""
        if self._curves:
            self._curves = []
            self.axial_bending.show_beside([])
        if self.other_bars.isChecked() or self.compare.held:
            self._settle.start()

    def _request_beside(self) -> None:
        self._show_strip()
        key, shown, project = self._selection.lift, self._shown, self._document.project
        if key is None or shown is None or project is None:
            return
        candidates = list(self.compare.held)
        present = project.by_key[key].section.bars
        self._choices = ()
        if self.other_bars.isChecked():
            choices = [BarChoice(present, shown.result.utilisation, True)]
            before: list[BarChoice] = []
            for other in bar_alternatives(project, key, counts=self.counts.isChecked()):
                if other.lift is None:
                    choice = BarChoice(other.call_out, None)
                else:
                    candidates.append(Candidate(other.call_out, other.lift, other.call_out))
                    choice = BarChoice(other.call_out, math.nan)
                (before if other.fewer else choices).append(choice)
            self._choices = (*before, *choices)
        self._beside.request(candidates, shown.angle)

    def _take_beside(self, curves: list[BesideCurve]) -> None:
        self._curves = [
            BesideCurve(f"{c.label}  {c.utilisation:.2f}", c.path, c.utilisation, c.choice)
            for c in curves
        ]
        found = {curve.choice: curve.utilisation for curve in curves}
        self._choices = tuple(
            BarChoice(c.call_out, found.get(c.call_out, c.utilisation), c.present)
            for c in self._choices
        )
        self.bars.show_choices(self._choices)
        self.axial_bending.show_beside(self._curves)

    # Carrying away

    def copy_picture(self) -> None:
        """Put the picture in view on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        view = self.views.currentWidget()
        assert view is not None
        try:
            clipboard.setImage(picture_of(view))
        except FexroError as error:
            self.failed.emit(str(error))

    def copy_numbers(self) -> None:
        """Put the numbers behind the curve in view on the clipboard, for a spreadsheet."""
        clipboard = QGuiApplication.clipboard()
        if self._shown is None:
            return
        assert clipboard is not None
        lift = self._shown.result.lift
        if self.current == 1:
            table = contour_table(lift, self._shown.axial, self._shown.system)
        else:
            table = meridian_table(lift, self._shown.angle, self._shown.system)
        clipboard.setText(table.text("\t"))

    def ask_save_picture(self) -> None:
        """Ask where to save the picture in view, and save it."""
        key = self._selection.lift
        name = "" if key is None else f"{key.mark} {key.storey} {VIEWS[self.current]}.png"
        chosen, kind = QFileDialog.getSaveFileName(self, "Save the picture", name, PICTURES)
        if chosen:
            path = Path(chosen)
            if not path.suffix:
                path = path.with_suffix(f".{kind.split(' ')[0].lower()}")
            self.save_picture(path)

    def save_picture(self, path: Path) -> None:
        """Save the picture in view as PNG, SVG or PDF; a refusal is told."""
        view = self.views.currentWidget()
        assert view is not None
        try:
            save_picture(view, path)
        except FexroError as error:
            self.failed.emit(str(error))


def _row(*widgets: QWidget) -> QWidget:
    row = QHBoxLayout()
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(6)
    for widget in widgets:
        row.addWidget(widget)
    return _holder(row)


def _holder(layout: QHBoxLayout) -> QWidget:
    holder = QWidget()
    holder.setLayout(layout)
    return holder


def _quietly(box: QCheckBox, on: bool) -> None:
    box.blockSignals(True)
    box.setChecked(on)
    box.blockSignals(False)
