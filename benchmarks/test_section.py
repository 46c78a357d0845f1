"""Dragging a face of the section on the bench: laid out, checked and painted anew each frame."""

from __future__ import annotations

import time

import pytest

from benchmarks.building import building
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.layout import build_section
from fexro.core.section.shapes import Rectangle as Box
from fexro.core.section.ties import arrange
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.shapes import Rectangle
from tests.desktop.pages import bench_of

FRAMES = 60
CASES = {
    "40 bars": (900.0, "40 D20"),
    "400 bars": (4000.0, "400 D20"),
}


@pytest.mark.benchmark(group="frame of a drag, 100 combinations")
@pytest.mark.parametrize("bars", list(CASES))
def test_face(benchmark, qtbot, tmp_path, bars):
    """Drag the right face step by step; N–M is redrawn beside it."""
    from PyQt6.QtCore import QPoint, QSettings, Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from benchmarks.test_application import _move
    from fexro.desktop.application import make_application, make_window
    from fexro.desktop.document import Document

    make_application()
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    window = make_window(Document(), settings)
    qtbot.addWidget(window, before_close_func=lambda w: w.document._history.mark_saved())
    window.open_project(building(2, 100), None)
    window.show()
    qtbot.waitUntil(lambda: window.document.complete, timeout=60_000)
    key = LiftKey("K2", "L1")
    side, call_out = CASES[bars]
    lift = window.document.project.by_key[key]
    section = lift.section.model_copy(
        update={"shape": Rectangle(width=side, depth=side), "bars": call_out}
    )
    window.document.replace_lift(key, lift.model_copy(update={"section": section}), "Section")
    qtbot.waitUntil(lambda: window.document.complete, timeout=60_000)
    window.go(Place(lift=key))
    qtbot.wait(800)
    canvas = bench_of(window).section.drawing
    start = canvas.point_of(side / 2, side / 10).toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    frames = []
    for k in range(10 if benchmark.disabled else FRAMES):
        place = start + QPoint(1 + k, 0)
        began = time.perf_counter()
        _move(canvas, place)
        QApplication.processEvents()
        frames.append(time.perf_counter() - began)
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    benchmark.pedantic(lambda: None)
    frames.sort()
    median, late = frames[len(frames) // 2], frames[int(0.95 * len(frames))]
    print(f"\n{bars}: median {1000 * median:.1f} ms, 95 % within {1000 * late:.1f} ms")


@pytest.mark.benchmark(group="laying out")
@pytest.mark.parametrize("bars", list(CASES))
def test_layout(benchmark, bars):
    """Place bars and ties in a section that is new each time."""
    side, call_out = CASES[bars]
    groups, ties = parse_call_out(call_out), parse_ties("D10@200")
    from fexro.core.codes.aci318_19.code import ACI_SI

    sizes = iter(range(10_000))

    def lay_out():
        section = build_section(Box(side + next(sizes), side), 40.0, groups, ties)
        return arrange(section, ACI_SI.held).unheld

    benchmark(lay_out)
