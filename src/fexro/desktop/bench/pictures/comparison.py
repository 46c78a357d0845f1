"""What is drawn beside a lift's own curve: other bars, versions held, other codes and lifts."""

from __future__ import annotations

import math

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from fexro.desktop.bench.pictures.axial_bending import AxialBendingView, BesideCurve
from fexro.desktop.bench.pictures.bar_strip import BarChoice, BarStrip
from fexro.desktop.bench.pictures.beside import BesideCurves, Candidate
from fexro.desktop.bench.pictures.compare_button import CompareButton
from fexro.desktop.bench.pictures.controls import PictureControls
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.document import Document
from fexro.project.alternatives import bar_alternatives

__all__ = ["Comparison"]

SETTLE = 90  # ms without a change after which curves beside are computed


class Comparison(QObject):
    """Asks for the curves beside once a plane rests, and shows them in picture and strip.

    Signals:
        added: something was added to be compared with.
    """

    added = pyqtSignal()

    def __init__(
        self, document: Document, picture: AxialBendingView, controls: PictureControls
    ) -> None:
        super().__init__(controls)
        self._document, self._picture, self._controls = document, picture, controls
        self._shown: Shown | None = None
        self._choices: tuple[BarChoice, ...] = ()
        self._curves: list[BesideCurve] = []
        self.button, self.strip = CompareButton(document), BarStrip()
        self.button.changed.connect(self._changed)
        self.strip.previewed.connect(picture.bring_out)
        controls.barred.connect(self.request)
        self._beside = BesideCurves()
        self._beside.arrived.connect(self._take)
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self.request)

    @property
    def bars_wanted(self) -> bool:
        """Whether other bars are drawn."""
        return self._controls.other_bars.isChecked()

    def show_shown(self, shown: Shown | None) -> None:
        """Hide curves of another plane and ask for those of this one once it rests."""
        self._shown = shown
        if self._curves:
            self._curves = []
            self._picture.show_beside([])
        if shown is not None and (self.bars_wanted or self.button.held):
            self._settle.start()

    def request(self) -> None:
        """Ask for the curves."""
        key, shown, project = self._document.selection.lift, self._shown, self._document.project
        if key is None or shown is None or project is None:
            return
        candidates = list(self.button.held)
        present = project.by_key[key].section.bars
        self._choices = ()
        if self.bars_wanted:
            choices = [BarChoice(present, shown.result.utilisation, True)]
            before: list[BarChoice] = []
            counts = self._controls.counts.isChecked()
            for other in bar_alternatives(project, key, counts=counts):
                if other.lift is None:
                    choice = BarChoice(other.call_out, None)
                else:
                    candidates.append(Candidate(other.call_out, other.lift, other.call_out))
                    choice = BarChoice(other.call_out, math.nan)
                (before if other.fewer else choices).append(choice)
            self._choices = (*before, *choices)
        self._beside.request(candidates, shown.angle)

    def _changed(self, added: bool) -> None:
        if added:
            self.added.emit()
        self.request()

    def _take(self, curves: list[BesideCurve]) -> None:
        self._curves = [
            BesideCurve(f"{c.label}  {c.utilisation:.2f}", c.path, c.utilisation, c.choice)
            for c in curves
        ]
        found = {curve.choice: curve.utilisation for curve in curves}
        self._choices = tuple(
            BarChoice(c.call_out, found.get(c.call_out, c.utilisation), c.present)
            for c in self._choices
        )
        self.strip.show_choices(self._choices)
        self._picture.show_beside(self._curves)
