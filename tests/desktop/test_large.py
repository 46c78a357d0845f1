"""A tower of 4 800 lifts in the schedule: seen as a whole, sought in, and gone to."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent

from fexro.core.findings import State
from fexro.desktop.theme import LIGHT
from fexro.project.column import LiftKey
from tests.desktop.pages import schedule_of
from tests.desktop.test_basis import chosen
from tests.projects import tower


def wheel(view, at, notches, modifier=Qt.KeyboardModifier.ControlModifier):
    view.wheelEvent(
        QWheelEvent(
            QPointF(at),
            QPointF(view.viewport().mapToGlobal(at)),
            QPoint(),
            QPoint(0, 120 * notches),
            Qt.MouseButton.NoButton,
            modifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
    )


@pytest.fixture
def built(qtbot, empty_window):
    empty_window.open_project(tower(12, 10), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=60_000)
    return empty_window


def test_the_schedule_zooms_to_a_heat_map_and_back_at_the_pointer(qtbot, built):
    view = schedule_of(built).view
    key = LiftKey("K5", "L6")
    index = view.model().index_of(key)
    view.scrollTo(index)
    at = view.visualRect(index).center()
    for _ in range(4):
        wheel(view, at, 1)
    assert abs(view.visualRect(index).center().x() - at.x()) < view.visualRect(index).width()
    for _ in range(60):
        wheel(view, at, -1)
    across, down = view.horizontalHeader(), view.verticalHeader()
    assert (across.defaultSectionSize(), down.defaultSectionSize()) == (8, 6)
    # Each lift has a colour; those that exceed are slashed as well.
    image, exceeded = view.model().heat(LIGHT)
    assert (image.width(), image.height()) == (10, 12)
    worse = [k for k, r in built.document.results.items() if r.state is State.EXCEEDED]
    assert len(exceeded) == len(worse)
    picture = view.grab().toImage()
    assert len({picture.pixel(x, y) for x in range(80, 150, 4) for y in range(40, 110, 4)}) > 4
    built.commands.actions["fit_cells"].trigger()
    assert across.defaultSectionSize() > 100


def test_what_is_sought_is_told_from_the_rest(qtbot, built):
    page, document = schedule_of(built), built.document
    built.commands.actions["seek"].trigger()
    assert page.filters.isVisible()
    bar = page.filters
    bar.marks.setText("k1")
    # K1 and K10.
    assert bar.count.text() == "24 of 120"
    bar.worse.setText("0.5")
    expected = sum(
        r.utilisation >= 0.5 for k, r in document.results.items() if k.mark in ("K1", "K10")
    )
    assert bar.count.text() == f"{expected} of 120"
    bar.clear()
    bar.top.setCurrentText("L6")
    bar.bottom.setCurrentText("L4")
    bar.bottom.activated.emit(bar.bottom.currentIndex())
    assert bar.count.text() == "30 of 120"
    bar.clear()
    bar.state.setCurrentIndex(1)
    bar.state.activated.emit(1)
    exceeded = sum(r.state is State.EXCEEDED for r in document.results.values())
    assert bar.count.text() == f"{exceeded} of 120"
    built.commands.actions["seek"].trigger()
    assert not bar.isVisible()
    assert bar.count.text() == ""


def test_a_change_of_many_lifts_is_one_edit_and_comes_back_whole(qtbot, built):
    page, document = schedule_of(built), built.document
    keys = [key for key in document.project.by_key if key.mark in ("K1", "K7")]
    page.view.select_lifts(keys)
    chosen(page.lifts.form.fields["concrete"], "C45")
    page.lifts.take()
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    assert {document.project.by_key[key].concrete for key in keys} == {"C45"}
    document.undo()
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    assert {document.project.by_key[key].concrete for key in keys} == {"C35", "C45"}
