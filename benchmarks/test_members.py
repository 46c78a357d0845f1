"""Making and looking through a large building: many changed, a table taken, the tower painted."""

from __future__ import annotations

from functools import partial

import pytest
from PyQt6.QtCore import QSettings

from benchmarks.building import building
from fexro.desktop.application import make_application, make_window
from fexro.desktop.document import Document
from fexro.exchange.members import take_members
from fexro.project.dependencies import affected
from fexro.project.edits.lifts import change_lifts
from tests.projects import tower


@pytest.fixture(scope="module")
def large():
    project = building(167, 20)
    assert len(project.by_key) == 1002
    return project


@pytest.mark.benchmark(group="many members")
def test_two_hundred_lifts_changed(benchmark, large):
    keys = list(large.by_key)[:200]
    grades = iter(["C45", "C35"] * 1000)

    def change():
        edit = partial(change_lifts, keys=keys, values={"concrete": next(grades)})
        return affected(large, edit(large))

    # Another stiffness counts for the lifts above and below too.
    assert {key.mark for key in benchmark.pedantic(change, rounds=5)} == {k.mark for k in keys}


@pytest.mark.benchmark(group="many members")
def test_the_first_result_of_two_hundred_lifts_changed(benchmark, large, tmp_path):
    document = Document(tmp_path)
    document.show_project(large, None)
    document.cancel()
    keys = list(large.by_key)[:200]
    ties = iter(["D10@150", "D12@150"] * 1000)

    def change():
        edit = partial(change_lifts, keys=keys, section={"ties": next(ties)})
        document.edit("Ties", edit)
        document.cancel()
        return document.results.keys() & set(keys)

    assert benchmark.pedantic(change, rounds=5)
    document.close()


@pytest.mark.benchmark(group="many members")
def test_a_table_of_a_thousand_rows_taken(benchmark, large):
    rows = [["Mark", "Storey", "Ties"], *([*key, "D12@125"] for key in large.by_key)]
    taken = benchmark.pedantic(take_members, (large, rows), rounds=3)
    assert (taken.lifts, taken.problems) == (1002, ())


@pytest.fixture(scope="module")
def view(tmp_path_factory):
    application = make_application()
    folder = tmp_path_factory.mktemp("tower")
    settings = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
    window = make_window(Document(folder / "journals"), settings)
    window.resize(1280, 800)
    window.open_project(tower(), None)
    window.document.cancel()
    window.show()
    yield window.stage("schedule").page.view
    window.close()
    application.processEvents()


@pytest.mark.benchmark(group="frames of a tower of 4 800 lifts")
@pytest.mark.parametrize("width", [132, 50, 26, 8])
def test_the_schedule_is_scrolled(benchmark, view, width):
    view.fit_cells()
    view.zoom(width / view.horizontalHeader().defaultSectionSize())
    bar, place = view.verticalScrollBar(), iter(range(0, 100_000, 7))

    def frame():
        bar.setValue(next(place) % max(bar.maximum(), 1))
        view.viewport().repaint()

    benchmark.pedantic(frame, rounds=30)
