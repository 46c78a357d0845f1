"""Qt view for a lift under other readings of its code, side by side."""

from __future__ import annotations

import math

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QHeaderView, QVBoxLayout, QWidget

from fexro.core.codes.options import word_of
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.project.project import Project
from fexro.project.readings import SWAY, Reading, chosen_of, readings_of, subjects_of

__all__ = ["ReadingsPage"]

AXES = ("x", "y")
GOVERNS = 2  # a column


class ReadingsPage(QWidget):
    """What would be otherwise if the lift were braced, its ends ideal, an option another."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.subject = QComboBox()
        self.subject.setAccessibleName("What is read otherwise")
        self.subject.activated.connect(lambda _: self.refresh())
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.table = FiguresTable(_heads("", "", ""), "The lift under other readings", (0, GOVERNS))
        top, layout = QHBoxLayout(), QVBoxLayout(self)
        top.addWidget(self.subject)
        top.addSpacing(16)
        top.addWidget(self.told, 1)
        layout.setContentsMargins(16, 2, 16, 4)
        layout.setSpacing(2)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        document.selection.lift_changed.connect(self.refresh)
        document.selection.combination_changed.connect(self.refresh)
        document.checked.connect(lambda _: self.refresh())

    def showEvent(self, event: QShowEvent | None) -> None:
        """Work it out when it is looked at."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Show the selected lift; nothing is done while it is hidden."""
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None or key not in project.by_key or not self.isVisible():
            return
        self._offer(project)
        system, chosen = project.basis.system, self._document.selection.combination
        subject = self.subject.currentData()
        current = chosen_of(project, key, subject)
        readings = readings_of(project, key, subject)
        first = next((r.result for r in readings if r.result and r.result.combinations), None)
        self.told.setText("Checked anew with each; nothing is changed.")
        if first is not None:
            shown = first.combinations[first.combination_index(chosen)]
            self.told.setText(f"Checked anew with each; nothing is changed. Moments of {shown}.")
            chosen = shown
        units = (unit_of(d, system).symbol for d in (Dimension.LENGTH, Dimension.MOMENT))
        symbols = "k", *units
        self.table.show_heads(_heads(*symbols))
        self.table.setRowCount(0)
        for reading in readings:
            name = self._name(project, subject, reading)
            mark = " (chosen)" if reading.name == current else ""
            self.table.add_row([name + mark, *_texts(reading, chosen, system)])
        assert self.table.header is not None
        self.table.header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.table.header.setSectionResizeMode(GOVERNS, QHeaderView.ResizeMode.Stretch)

    def _offer(self, project: Project) -> None:
        subjects = subjects_of(project.basis.design_code.stability)
        if [self.subject.itemData(i) for i in range(self.subject.count())] == list(subjects):
            return
        before = self.subject.currentData()
        self.subject.clear()
        for subject, caption in subjects.items():
            self.subject.addItem(caption, subject)
        self.subject.setCurrentIndex(max(self.subject.findData(before), 0))

    def _name(self, project: Project, subject: str, reading: Reading) -> str:
        words = project.basis.design_code.vocabulary
        if subject == SWAY:
            return {"braced": words.braced, "sway": words.sway}[reading.name]
        return word_of(reading.name)


def _heads(factor: str, length: str, moment: str) -> list[str]:
    """Return the headings, by the factor's symbol and the units of length and moment."""
    about = [
        (f"{factor} {a}", f"Length {a}\n{length}", f"λ {a}\nof limit", f"M{a}\n{moment}")
        for a in AXES
    ]
    return ["Reading", "With\nratio", "Governs", *about[0], *about[1]]


def _texts(reading: Reading, chosen: str | None, system: UnitSystem) -> list[str]:
    """Return what a row shows of a reading, in a combination."""
    result = reading.result
    if result is None or not result.combinations:
        return ["–", reading.refusal or "no forces are known"]
    at, governs = result.combination_index(chosen), result.governing
    where = f" in {governs.combination}" if governs.combination else ""
    ratio = result.utilisation
    texts = [_number(ratio, 3) if math.isfinite(ratio) else "unstable", f"{governs.name}{where}"]
    length, moment = (unit_of(d, system) for d in (Dimension.LENGTH, Dimension.MOMENT))
    for factor, resisted, axis in zip(
        reading.factors(), reading.moments(at), result.second_order.axes, strict=True
    ):
        if axis.missing:
            texts += ["–"] * 4
            continue
        slenderness, limit = (_number(float(v[at]), 1) for v in (axis.slenderness, axis.limit))
        texts += [
            _number(factor, 2),
            _number(factor * axis.length / length.size, length.decimals),
            f"{slenderness} of {limit}",
            _number(resisted / moment.size, moment.decimals),
        ]
    return texts


def _number(value: float, decimals: int) -> str:
    if math.isnan(value):
        return "–"
    return format_number(value, decimals) if math.isfinite(value) else "∞"
