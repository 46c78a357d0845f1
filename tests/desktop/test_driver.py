"""The window driven at random, as somebody in a hurry would: nothing fails, nothing is stale."""

from __future__ import annotations

import random
from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QMessageBox

from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.fields import Field
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey, Member
from fexro.project.file import read_project
from fexro.project.resolve import resolve_lift
from tests.desktop.pages import bench_of, schedule_of

STEPS, LONG_STEPS, SOAK_STEPS = 60, 500, 10_000
CODES = [("ACI 318-19", "recommended"), ("EN 1992-1-1", "recommended"), ("EN 1992-1-1", "UK")]
TITLES = ("ACI 318-19", "EN 1992-1-1, recommended annex", "EN 1992-1-1, UK annex")
TYPED = [
    *("500", "650 mm", "24in", "1,2 m", "1 500 mm", "0", "-5", "wide", "", "nan", "9**9", "3 4 m"),
    *("12 D25", "8 D28", "14 D25 + 2 D20", "60 D40", "7 D25", "8 X", "D10@200", "D12@15in", "D10@"),
    *("40", "45 mm", "300", "2 in", "1e3", "30", "-45°", "2,4 MN", "3200 kN", "0 kN", "x" * 400),
]
KEYS = [
    *(Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Up, Qt.Key.Key_Down),
    *(Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageDown, Qt.Key.Key_Home, Qt.Key.Key_F10),
]
CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Driver:
    """Does things to a window by chance, each a thing a person can do."""

    def __init__(self, window, seed, path):
        self.window, self.chance, self.path = window, random.Random(seed), path
        self.done: list[str] = []
        self.deeds: list[Callable[[], object]] = [
            *[self.type_something] * 8,
            *[self.press_a_key] * 5,
            *[self.undo, self.redo] * 3,
            *[self.open_a_bench] * 3,
            *[self.go_up_or_down] * 3,
            *[self.show_a_picture] * 3,
            *[self.choose_a_combination] * 2,
            *[self.point_somewhere] * 3,
            *[self.use_the_palette] * 2,
            *[self.run_a_command] * 4,
            *(self.change_the_code, self.cancel, self.check_the_rest, self.choose_a_grade),
            *(self.exempt, self.compare, self.save, self.open_the_file, self.open_another),
            *(self.resize, self.open_a_check, self.toggle_bars, self.wait),
        ]

    def step(self):
        deed = self.chance.choice(self.deeds)
        self.done.append(deed.__name__)
        deed()
        if QApplication.activePopupWidget() is not None:
            QTest.keyClick(QApplication.activePopupWidget(), Qt.Key.Key_Escape)

    # What is there

    @property
    def project(self):
        return self.window.document.project

    @property
    def keys(self):
        return list(self.project.by_key)

    def pictures(self):
        return bench_of(self.window).pictures

    # What can be done

    def type_something(self):
        fields = [f for f in self.window.findChildren(Field) if f.isVisible() and f.isEnabled()]
        if fields:
            field = self.chance.choice(fields)
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, self.chance.choice(TYPED))
            if self.chance.random() < 0.5:
                QTest.keyClick(field, self.chance.choice(KEYS[:3]))

    def press_a_key(self):
        target = QApplication.focusWidget() or self.window
        QTest.keyClick(target, self.chance.choice(KEYS))

    def undo(self):
        QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_Z, CONTROL)

    def redo(self):
        QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_Z, CONTROL | SHIFT)

    def open_a_bench(self):
        self.window.go(Place(lift=self.chance.choice(self.keys)))

    def go_up_or_down(self):
        key = self.chance.choice([Qt.Key.Key_Up, Qt.Key.Key_Down])
        QTest.keyClick(self.window, key, CONTROL)

    def show_a_picture(self):
        self.window.commands.actions[
            self.chance.choice(["nm", "mm", "surface", "stresses"])
        ].trigger()

    def choose_a_combination(self):
        table = bench_of(self.window).combinations
        if table.model().rowCount():
            table.selectRow(self.chance.randrange(table.model().rowCount()))

    def point_somewhere(self):
        widgets = [schedule_of(self.window).view.viewport(), self.pictures().views.currentWidget()]
        widget = self.chance.choice(widgets)
        if widget.isVisible():
            at = QPoint(
                self.chance.randrange(max(widget.width(), 1)),
                self.chance.randrange(max(widget.height(), 1)),
            )
            QTest.mouseMove(widget, at)
            if self.chance.random() < 0.3:
                QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at)

    def use_the_palette(self):
        QTest.keyClick(self.window, Qt.Key.Key_K, CONTROL)
        field = self.window.palette_.field
        QTest.keyClicks(field, self.chance.choice(["c4 l1", "u8", "c2", "fit", "zzz"]))
        QTest.keyClick(field, self.chance.choice([Qt.Key.Key_Return, Qt.Key.Key_Escape]))

    def run_a_command(self):
        names = ["schedule", "bench", "fit", "fit_demands", "pin", "other_bars", "hold", "light"]
        names += ["dark", "copy_picture", "copy_numbers", "above", "below", "escape", "basis"]
        names += ["alike", "copy_lift", "paste_lift", "copy_up", "copy_down", "group", "ungroup"]
        self.window.commands.actions[self.chance.choice(names)].trigger()

    def change_the_code(self):
        self.window.commands.actions[f"code {self.chance.choice(TITLES)}"].trigger()

    def cancel(self):
        self.window.document.cancel()

    def check_the_rest(self):
        self.window.document.check_rest()

    def choose_a_grade(self):
        boxes = [
            f for f in bench_of(self.window).section.fields.values() if isinstance(f, QComboBox)
        ]
        if boxes and boxes[0].isVisible() and boxes[0].count():
            box = self.chance.choice(boxes)
            box.setCurrentIndex(self.chance.randrange(box.count()))
            box.activated.emit(box.currentIndex())

    def exempt(self):
        key = self.chance.choice(self.keys)
        storey = self.chance.choice([None, key.storey])
        name = self.chance.choice(self.project.combinations).name
        member = Member(mark=key.mark, storey=storey)
        self.window.document.exempt(name, member, exempt=self.chance.random() < 0.5)

    def compare(self):
        button = self.pictures().comparison.button
        if self.window.document.selection.lift is not None:
            deed = self.chance.choice(["hold", "code", "lift", "release", "menu"])
            if deed == "hold":
                button.hold()
            elif deed == "code":
                button.compare_code(*self.chance.choice(CODES))
            elif deed == "lift":
                button.compare_lift(*self.chance.choice(self.keys))
            elif deed == "release":
                button.release()
            else:
                button.menu().aboutToShow.emit()

    def save(self):
        if self.window.files.save():
            assert not self.window.document.modified
            assert read_project(self.path) == self.project

    def open_the_file(self):
        if self.path.exists() and self.chance.random() < 0.3:
            self.window.files.open_path(self.path)

    def open_another(self):
        if self.chance.random() < 0.3:
            self.window.files.open_demo()

    def resize(self):
        width, height = self.chance.randrange(960, 1400), self.chance.randrange(600, 900)
        self.window.resize(width, height)

    def open_a_check(self):
        heads = bench_of(self.window).checks.heads
        if heads:
            bench_of(self.window).checks.toggle(self.chance.choice(heads).check.name)

    def toggle_bars(self):
        box = self.chance.choice(
            [self.pictures().controls.other_bars, self.pictures().controls.counts]
        )
        if box.isEnabled():
            box.toggle()

    def wait(self):
        QTest.qWait(self.chance.randrange(5, 60))

    # What must hold

    def check(self):
        document = self.window.document
        for key, result in document.results.items():
            present = resolve_lift(self.project, key)
            assert result.lift.facts.cross_section is present.facts.cross_section, key
            assert result.lift.code == present.code, key
            assert result.combinations == present.actions.combinations, key
            assert result.lift.actions.missing == present.actions.missing, key
        if document.complete:
            assert set(document.results) == set(self.project.by_key)
        assert self.window.checking.progress.isVisibleTo(self.window) == document.busy
        key = document.selection.lift
        bench = bench_of(self.window)
        if key is not None and bench.isVisible():
            assert bench.place.text() == str(key)
            for name in ("bars", "ties"):
                field = bench.section.fields[name]
                if not (field._pending or field._refused):
                    assert field.text() == getattr(self.project.by_key[key].section, name)


def drive(window, seed, steps, path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    discard = QMessageBox.StandardButton.Discard
    monkeypatch.setattr(QMessageBox, "question", lambda *_: discard)
    driver = Driver(window, seed, path)
    for _ in range(steps):
        driver.step()
        QApplication.processEvents()
        try:
            driver.check()
        except AssertionError as error:
            raise AssertionError(f"after {driver.done[-12:]}: {error}") from error
    window.document.cancel()
    return driver


def test_the_window_stands_a_random_user(window, tmp_path, monkeypatch):
    drive(window, 9, STEPS, tmp_path / "driven.fexro.json", monkeypatch)
    assert window.notice.text().find("did not foresee") < 0


@pytest.mark.long
def test_the_window_stands_a_random_user_for_longer(window, tmp_path, monkeypatch):
    drive(window, 9, LONG_STEPS, tmp_path / "driven.fexro.json", monkeypatch)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(4))
def test_the_window_stands_a_random_user_for_long(window, tmp_path, monkeypatch, seed):
    drive(window, seed, SOAK_STEPS, tmp_path / "driven.fexro.json", monkeypatch)


def test_a_bench_can_be_opened_before_its_lift_is_checked(qtbot, empty_window):
    empty_window.open_project(tarnholm_columns(), None)
    empty_window.document.cancel()
    for key in (LiftKey("C4", "L1"), LiftKey("C3", "L2")):
        empty_window.go(Place(lift=key))
        assert bench_of(empty_window).verdict.text() == "Not checked; checking was stopped."
    empty_window.document.check_rest()
    assert bench_of(empty_window).verdict.text() == "Being checked."
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    assert "Section strength met" in bench_of(empty_window).verdict.text()
