"""Qt view for the pictures of a bench, one at a time, with what governs them and what is read."""

from __future__ import annotations

import math
from functools import partial
from pathlib import Path
from typing import get_args

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError, InputError
from fexro.desktop.bench.menus import act
from fexro.desktop.bench.pictures.along import AlongView
from fexro.desktop.bench.pictures.axial_bending import AxialBendingView
from fexro.desktop.bench.pictures.biaxial_bending import BiaxialBendingView
from fexro.desktop.bench.pictures.carrying import picture_of, save_picture
from fexro.desktop.bench.pictures.comparison import Comparison
from fexro.desktop.bench.pictures.controls import PictureControls
from fexro.desktop.bench.pictures.elevation import ElevationView
from fexro.desktop.bench.pictures.joint import JointView
from fexro.desktop.bench.pictures.picture import Control, Picture
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.bench.pictures.stresses import StressView
from fexro.desktop.bench.pictures.surface import SurfaceView
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.project.edits.papers import put_picture
from fexro.project.papers import PicturePart, PutPicture

__all__ = ["PicturesPanel"]

# What can be put into the calculation, in the order of the pictures.
PUT: tuple[PicturePart, ...] = get_args(PicturePart)
FORMATS = "PNG picture (*.png);;SVG drawing (*.svg);;PDF document (*.pdf)"


class PicturesPanel(QFrame):
    """The pictures with their controls above and what is read off below.

    Signals:
        failed: a sentence about something that could not be done.
    """

    failed = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("pictures")
        self._document, self._selection = document, document.selection
        self._shown: Shown | None = None
        self.axial_bending, self.biaxial = AxialBendingView(), BiaxialBendingView()
        self.surface, self.stresses = SurfaceView(), StressView()
        self.along, self.elevation, self.joint = AlongView(), ElevationView(), JointView()
        self.pictures: tuple[Picture, ...] = (
            self.axial_bending,
            self.biaxial,
            self.surface,
            self.stresses,
            self.along,
            self.elevation,
            self.joint,
        )
        self.controls = PictureControls(document)
        self.comparison = Comparison(document, self.axial_bending, self.controls)
        self.caption, self.reading = Label(), Label()
        self._lay_out()
        for picture in self.pictures:
            picture.picked.connect(self._pick)
            picture.chosen.connect(self.adopt)
            picture.read.connect(self.reading.setText)
            picture.turned.connect(self._selection.turn)
        self.controls.refused.connect(self.caption.setText)
        self.controls.told.connect(self.reading.setText)
        self.controls.settled.connect(lambda: self._draw(refit=False))
        self.controls.stated.connect(self._change_state)
        self.controls.barred.connect(self._show_strip)
        self.controls.fitted.connect(lambda near: self.fit_demands() if near else self.fit())
        self.comparison.added.connect(lambda: self.show_view(0))
        self.comparison.strip.chosen.connect(self.adopt)
        self.show_view(0)

    def _lay_out(self) -> None:
        self.views = QStackedWidget()
        policy = self.views.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.views.setSizePolicy(policy)
        for picture in self.pictures:
            self.views.addWidget(picture.widget)
        for label in (self.caption, self.reading):
            label.setProperty("role", "quiet")
        self.caption.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 6)
        layout.setSpacing(4)
        layout.addWidget(self._make_tabs())
        layout.addWidget(self.controls)
        layout.addWidget(self.caption)
        layout.addWidget(self.views, 1)
        layout.addWidget(self.reading)
        layout.addWidget(self.comparison.strip)

    def _make_tabs(self) -> QWidget:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        self.tabs = QButtonGroup(self)
        for number, picture in enumerate(self.pictures):
            tab = QPushButton(picture.name)
            tab.setCheckable(True)
            tab.setProperty("role", "tab")
            tab.setToolTip(f"{picture.name} (Alt+{number + 1})")
            self.tabs.addButton(tab, number)
            row.addWidget(tab)
        self.tabs.idClicked.connect(self.show_view)
        row.addStretch(1)
        self.carry = QPushButton("Copy, save")
        self.carry.setMenu(self._make_carry_menu())
        for button in (self.comparison.button, self.carry):
            button.setProperty("role", "tab")
            row.addWidget(button)
        return holder

    def _make_carry_menu(self) -> QMenu:
        menu = QMenu(self)
        act(menu, "Copy the picture", self.copy_picture)
        act(menu, "Copy the numbers as a table", self.copy_numbers)
        act(menu, "Save the picture…", self.ask_save_picture)
        act(menu, "Put it into the calculation", self.put_into_calculation)
        return menu

    # What is shown

    @property
    def current(self) -> int:
        """The number of the picture in view."""
        return self.views.currentIndex()

    @property
    def picture(self) -> Picture:
        """The picture in view."""
        return self.pictures[self.current]

    def show_view(self, number: int) -> None:
        """Bring up one of the pictures."""
        self.views.setCurrentIndex(number)
        button = self.tabs.button(number)
        assert button is not None
        button.setChecked(True)
        controls = self.picture.controls
        self.controls.show_for(controls)
        self._show_strip()
        drawn = self.picture in (self.along, self.elevation)
        self.reading.setVisible(drawn or Control.FIT_DEMANDS in controls)
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
        for picture in self.pictures:
            picture.restyle()

    def _draw(self, *, refit: bool) -> None:
        shown, picture = self._shown, self.picture
        if shown is None:
            return
        self.controls.show_shown(shown)
        picture.show_shown(shown, refit=refit)
        if Control.BARS in picture.controls:
            self.comparison.show_shown(shown)
        self.caption.setText(picture.caption(shown))

    def _show_strip(self) -> None:
        shown = self._shown is not None and Control.BARS in self.picture.controls
        self.comparison.strip.setVisible(shown and self.comparison.bars_wanted)

    def _change_state(self) -> None:
        self.stresses.at_demand = self.controls.demand.isChecked()
        self._draw(refit=False)

    # What is done with them

    def fit(self) -> None:
        """Show all of the picture."""
        self.picture.fit()
        self._draw(refit=False)

    def fit_demands(self) -> None:
        """Bring up the corner in which the demands lie."""
        self.picture.fit_demands()

    def _pick(self, demand: int) -> None:
        if self._shown is not None:
            result = self._shown.result
            place = result.place_of(demand)
            self._selection.select_combination(result.combination_of(demand), place)

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

    # Carrying away

    def copy_picture(self) -> None:
        """Put the picture in view on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        try:
            clipboard.setImage(picture_of(self.picture))
        except FexroError as error:
            self.failed.emit(str(error))

    def copy_numbers(self) -> None:
        """Put the numbers behind the picture in view on the clipboard, for a spreadsheet."""
        clipboard = QGuiApplication.clipboard()
        table = None if self._shown is None else self.picture.table(self._shown)
        if table is not None:
            assert clipboard is not None
            clipboard.setText(table.text("\t"))

    def put_into_calculation(self) -> None:
        """Put the picture in view into the calculation of the lift, where it stays live."""
        shown, key = self._shown, self._selection.lift
        if shown is None or key is None:
            return
        if self.current >= len(PUT):
            self.failed.emit(f"{self.picture.name} cannot be put into the calculation.")
            return
        picture = PutPicture(
            mark=key.mark,
            storey=key.storey,
            part=PUT[self.current],
            combination=shown.combination,
            angle=math.degrees(shown.angle) if self.current == 0 else None,
            axial=shown.axial / 1e3 if self.current == 1 else None,
        )
        try:
            label = f"{picture.part} of {key} in the calculation"
            self._document.edit(label, partial(put_picture, picture=picture))
        except InputError as error:
            self.failed.emit(str(error))

    def ask_save_picture(self) -> None:
        """Ask where to save the picture in view, and save it."""
        key = self._selection.lift
        name = "" if key is None else f"{key.mark} {key.storey} {self.picture.name}.png"
        chosen, kind = QFileDialog.getSaveFileName(self, "Save the picture", name, FORMATS)
        if chosen:
            path = Path(chosen)
            if not path.suffix:
                path = path.with_suffix(f".{kind.split(' ')[0].lower()}")
            self.save_picture(path)

    def save_picture(self, path: Path) -> None:
        """Save the picture in view as PNG, SVG or PDF; a refusal is told."""
        try:
            save_picture(self.picture, path)
        except FexroError as error:
            self.failed.emit(str(error))
