"""The whole application: processes from start to end, and the window from edit to answer."""

from __future__ import annotations

import math
import resource
import subprocess
import sys
import time

import pytest

from benchmarks.building import building
from fexro.core.members import check
from fexro.core.members.answers import Answers
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.shell.stages import Place
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from tests.desktop.pages import bench_of

# Prints the seconds from the start of the process to the painted window, then the peak memory with
# the demo checked and a bench open.
WINDOW = """
import time; start = time.perf_counter()
import resource
from PyQt6.QtCore import QSettings
from PyQt6.QtTest import QTest
from benchmarks.building import building
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.application import make_application, make_window
from fexro.desktop.document import Document
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
application = make_application()
window = make_window(Document(), QSettings("/dev/null", QSettings.Format.IniFormat))
window.open_project(tarnholm_columns(), None)
window.show()
QTest.qWaitForWindowExposed(window)
shown = time.perf_counter() - start
while not window.document.complete:
    QTest.qWait(10)
window.go(Place(lift=LiftKey("C4", "L1")))
window.stage("bench").page.checks.toggle("Axial + biaxial bending")
QTest.qWait(300)
print(shown, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


@pytest.mark.benchmark(group="whole process")
def test_python_alone(benchmark):
    benchmark.pedantic(lambda: subprocess.run([sys.executable, "-c", ""], check=True), rounds=5)


@pytest.mark.benchmark(group="whole process")
def test_check_demo(benchmark):
    run = [sys.executable, "-m", "fexro.cli", "check", "demo"]
    result = benchmark.pedantic(lambda: subprocess.run(run, capture_output=True), rounds=5)
    assert result.returncode == 1


@pytest.mark.benchmark(group="in process")
def test_check_demo_in_process(benchmark, monkeypatch):
    project = tarnholm_columns()

    def afresh():
        monkeypatch.setattr(check, "ANSWERS", Answers(4096))
        return (project,), {}

    results = benchmark.pedantic(check_project, setup=afresh, rounds=5)
    assert len(results) == 36


@pytest.mark.benchmark(group="window")
def test_window_on_screen(benchmark, qapp):
    run = [sys.executable, "-c", WINDOW]
    rounds = []

    def start():
        out = subprocess.run(run, capture_output=True, text=True, check=True).stdout.split()
        rounds.append([float(value) for value in out])

    benchmark.pedantic(start, rounds=3)
    shown, memory = (sorted(values)[len(values) // 2] for values in zip(*rounds, strict=True))
    benchmark.extra_info["shown after, s"] = round(shown, 3)
    benchmark.extra_info["peak memory, MB"] = round(memory)
    print(f"\nwindow shown after {shown:.2f} s, peak memory {memory:.0f} MB")


@pytest.mark.benchmark(group="window")
def test_edit_to_updated_bench(benchmark, qtbot, tmp_path):
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QApplication

    from fexro.desktop.application import make_application, make_window
    from fexro.desktop.document import Document

    make_application()
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    window = make_window(Document(), settings)
    qtbot.addWidget(window, before_close_func=lambda w: w.document._history.mark_saved())
    window.open_project(tarnholm_columns(), None)
    window.show()
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    key = LiftKey("C2", "L1")
    window.go(Place(lift=key))
    widths = iter(range(501, 10_000))

    def edit():
        lift = window.document.project.by_key[key]
        shape = lift.section.shape.model_copy(update={"width": float(next(widths))})
        section = lift.section.model_copy(update={"shape": shape})
        window.document.replace_lift(key, lift.model_copy(update={"section": section}), "Width")
        QApplication.processEvents()

    benchmark.pedantic(edit, rounds=15, warmup_rounds=2)


@pytest.mark.benchmark(group="building of 1 002 lifts × 100 combinations")
@pytest.mark.parametrize("workers", [1, 2])
def test_building(benchmark, workers):
    project = building(167, 100)
    results = benchmark.pedantic(check_project, (project, workers), rounds=1)
    assert len(results) == 1002
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    benchmark.extra_info["peak memory, MB"] = round(memory)
    print(f"\n{workers} workers: peak memory of this process {memory:.0f} MB")


@pytest.mark.benchmark(group="frame of a drag, 300 combinations")
@pytest.mark.parametrize("drag", ["angle", "angle in the surface", "axial force", "bar size"])
def test_drag(benchmark, qtbot, tmp_path, drag):
    """Move the mouse step by step over the dial, the slider or the strip; paint after each."""
    from PyQt6.QtCore import QPoint, QSettings, Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QStyle, QStyleOptionSlider

    from fexro.desktop.application import make_application, make_window
    from fexro.desktop.document import Document

    make_application()
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    window = make_window(Document(), settings)
    qtbot.addWidget(window)
    window.open_project(building(2 if benchmark.disabled else 6, 300), None)
    window.show()
    qtbot.waitUntil(lambda: window.document.complete, timeout=60_000)
    frames = []
    for mark in ("K2",) if benchmark.disabled else ("K2", "K3", "K4"):
        window.go(Place(lift=LiftKey(mark, "L1")))
        pictures = bench_of(window).pictures
        view = {"angle in the surface": 2, "axial force": 1}.get(drag, 0)
        pictures.show_view(view)
        pictures.controls.other_bars.setChecked(drag == "bar size")
        qtbot.wait(1500)
        if drag == "bar size":
            widget = pictures.comparison.strip
            wide = widget.width() // len(widget.choices)
            places = [QPoint(wide * (i % len(widget.choices)) + 9, 15) for i in range(60)]
        elif drag == "axial force":
            widget = pictures.controls.slider
            option = QStyleOptionSlider()
            widget.initStyleOption(option)
            part = QStyle.SubControl.SC_SliderHandle
            handle = widget.style().subControlRect(
                QStyle.ComplexControl.CC_Slider, option, part, widget
            )
            QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=handle.center())
            places = [QPoint(x, 8) for x in range(10, widget.width() - 10, 2)]
        else:
            widget = pictures.controls.dial
            centre = widget.rect().center()
            turn = [math.radians(4 * i) for i in range(90)]
            places = [
                centre + QPoint(round(40 * math.cos(a)), round(40 * math.sin(a))) for a in turn
            ]
        for place in places:
            start = time.perf_counter()
            _move(widget, place)
            QApplication.processEvents()
            frames.append(time.perf_counter() - start)
    benchmark.pedantic(lambda: None)
    frames.sort()
    median, late = frames[len(frames) // 2], frames[int(0.95 * len(frames))]
    benchmark.extra_info["frames"] = len(frames)
    print(f"\n{drag}: median {1000 * median:.1f} ms, 95 % within {1000 * late:.1f} ms")


def _move(widget, place):
    """Send a move of the mouse with its left button down."""
    from PyQt6.QtCore import QEvent, QPointF, Qt
    from PyQt6.QtGui import QMouseEvent
    from PyQt6.QtWidgets import QApplication

    at = QPointF(place)
    event = QMouseEvent(
        QEvent.Type.MouseMove,
        at,
        QPointF(widget.mapToGlobal(place)),
        Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    QApplication.sendEvent(widget, event)


@pytest.mark.benchmark(group="window")
def test_opening_a_bench(benchmark, qtbot, tmp_path):
    """From the click to the painted bench of another lift, its results known."""
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QApplication

    from fexro.desktop.application import make_application, make_window
    from fexro.desktop.document import Document

    make_application()
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    window = make_window(Document(), settings)
    qtbot.addWidget(window)
    window.open_project(tarnholm_columns(), None)
    window.show()
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    window.go(Place(lift=LiftKey("C1", "L1")))
    keys = iter(list(window.document.project.by_key)[1:])

    def leave():
        window.go(Place("schedule"))
        QApplication.processEvents()

    def open_bench():
        window.go(Place(lift=next(keys)))
        QApplication.processEvents()

    benchmark.pedantic(open_bench, setup=leave, rounds=25)
