"""The window as its users go about it: schedule, bench, edit, undo, save, open."""

from __future__ import annotations

import json
import logging
import re
import sys
from pathlib import Path

import pytest
from platformdirs import user_log_path
from PyQt6.QtCore import QMimeData, QPointF, QSettings, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QComboBox, QFileDialog, QLineEdit, QMessageBox

from benchmarks.building import building
from fexro.core.errors import FexroError
from fexro.core.findings import State
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.application import report_failures
from fexro.desktop.schedule.model import CELL
from fexro.desktop.screen import require_screen
from fexro.desktop.shell.stages import Place
from fexro.desktop.theme import DARK, LIGHT, current_theme
from fexro.project.column import LiftKey, Member
from fexro.project.file import read_project, write_project
from tests.desktop.pages import bench_of, schedule_of
from tests.projects import demo_data, factored_demo, rows_of, with_rows

WORST = LiftKey("C4", "L1")
C2 = LiftKey("C2", "L3")


def cell(window, key):
    view = schedule_of(window).view
    return view.model().index_of(key)


def click_cell(qtbot, window, key):
    view = schedule_of(window).view
    index = cell(window, key)
    view.scrollTo(index)
    qtbot.mouseClick(
        view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(index).center()
    )


def type_into(qtbot, window, name, text):
    field = bench_of(window).section.fields[name]
    assert isinstance(field, QLineEdit)
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def bars(window, key):
    return window.document.project.by_key[key].section.bars


def test_schedule_shows_every_lift_with_its_answer(window):
    model = schedule_of(window).view.model()
    assert (model.rowCount(), model.columnCount()) == (6, 6)
    found = cell(window, WORST).data(CELL)
    assert found.result.state is State.EXCEEDED
    assert found.lift.section.bars == "10 D25"
    assert model.headerData(5, Qt.Orientation.Horizontal) == ("C6", "⌀ 700 / 200 void")
    assert model.headerData(5, Qt.Orientation.Vertical) == ("L1", "+4.20\n↕ 4.2 m")
    assert "Exceeds by 4 %" in cell(window, WORST).data(Qt.ItemDataRole.ToolTipRole)


def test_the_side_panel_puts_the_worst_first(qtbot, window):
    side = schedule_of(window).side
    assert side.headline.text() == "2 of 36 lifts exceed a limit."
    assert side.assumption.text().startswith("◇ All lifts: Torsion not yet checked.")
    first = side.list.model().index(0, 0)
    assert "C4 · L1" in first.data(Qt.ItemDataRole.ToolTipRole)
    qtbot.mouseClick(
        side.list.viewport(), Qt.MouseButton.LeftButton, pos=side.list.visualRect(first).center()
    )
    assert bench_of(window).place.text() == "C4 · L1"


def test_the_worst_lift_is_opened_by_return(qtbot, window):
    side = schedule_of(window).side
    side.list.setCurrentIndex(side.list.model().index(1, 0))
    qtbot.keyClick(side.list, Qt.Key.Key_Return)
    assert bench_of(window).place.text() == "C4 · L2"


def test_from_schedule_to_bench_edit_undo_save_and_reopen(qtbot, window, tmp_path, monkeypatch):
    click_cell(qtbot, window, WORST)
    bench = bench_of(window)
    assert window.pages.currentWidget() is bench
    assert bench.verdict.text() == "Exceeds by 4 %: axial + biaxial bending in U8."
    assert "Torsion not yet checked." in bench.remarks.text()

    type_into(qtbot, window, "bars", "12 D28")
    assert bars(window, WORST) == "12 D28"
    assert bench.glyph.state is State.SATISFIED
    assert bench.verdict.text().startswith("Section strength met, 0.")
    assert window.saved.text() == "Rev B · unsaved changes"
    assert window.isWindowModified()
    assert window.checking.check_time.text().startswith("Rechecked in")

    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert bars(window, WORST) == "10 D25"
    assert bench.verdict.text().startswith("Exceeds by 4 %")
    assert not window.isWindowModified()
    window.commands.actions["redo"].trigger()
    assert bars(window, WORST) == "12 D28"

    path = tmp_path / "archive.fexro.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    window.commands.actions["save"].trigger()
    assert window.saved.text() == "Rev B · saved"
    assert read_project(path).by_key[WORST].section.bars == "12 D28"

    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    window.commands.actions["open"].trigger()
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    assert bars(window, WORST) == "12 D28"
    assert schedule_of(window).side.headline.text() == "1 of 36 lifts exceeds a limit."


EDITS = [
    ("width", "600", lambda lift: lift.section.shape.width, "600 mm"),
    ("depth", "30 in", lambda lift: lift.section.shape.depth, "762 mm"),
    ("cover", "50", lambda lift: lift.section.cover, "50 mm"),
    ("bars", "4 D28 + 6 D20", lambda lift: lift.section.bars, "4 D28 + 6 D20"),
    ("ties", "D12@150", lambda lift: lift.section.ties, "D12@150"),
]


def test_each_field_rechecks_at_once(qtbot, window):
    for name, typed, read, shown in EDITS:
        window.go(Place(lift=C2))
        before = window.document.results[C2]
        type_into(qtbot, window, name, typed)
        lift = window.document.project.by_key[C2]
        assert str(read(lift)) in (
            shown,
            shown.removesuffix(" mm"),
            f"{shown.removesuffix(' mm')}.0",
        )
        assert bench_of(window).section.fields[name].text() == shown
        assert window.document.results[C2] is not before
        assert window.document.undo_label.endswith("of C2 · L3")
        window.document.undo()


def test_grades_are_chosen_from_the_project(qtbot, window):
    window.go(Place(lift=C2))
    before = window.document.results[C2].utilisation
    for name, grade in (("concrete", "C45"), ("steel", "Grade 550")):
        field = bench_of(window).section.fields[name]
        assert isinstance(field, QComboBox)
        field.setCurrentIndex(field.findData(grade))
        field.activated.emit(field.currentIndex())
        assert getattr(window.document.project.by_key[C2], name) == grade
        assert window.document.results[C2].utilisation < before
        before = window.document.results[C2].utilisation


def test_diameter_of_a_circle(qtbot, window):
    key = LiftKey("C3", "L1")
    window.go(Place(lift=key))
    assert "width" not in bench_of(window).section.fields
    type_into(qtbot, window, "diameter", "650")
    assert window.document.project.by_key[key].section.shape.diameter == 650


REFUSED = [
    ("width", "0", "50 mm or more"),
    ("width", "-400", "50 mm or more"),
    ("width", "wide", "a number in mm"),
    ("width", "nan", "a number in mm"),
    ("width", "90", "Bar 1: found"),
    ("cover", "5", "10 mm or more"),
    ("bars", "8 D26", "Main bars: found “D26”; allowed: one of D6"),
    ("bars", "7 D25", "even"),
    ("bars", "60 D40", "overlap"),
    ("ties", "D10", "D10@200"),
]


def test_a_refused_value_says_why_and_changes_nothing(qtbot, window):
    for name, typed, words in REFUSED:
        window.go(Place(lift=C2))
        project = window.document.project
        type_into(qtbot, window, name, typed)
        section = bench_of(window).section
        assert section.error.isVisible()
        assert words in section.error.text()
        assert section.fields[name].property("refused")
        assert section.fields[name].text() == typed
        assert window.document.project is project
        assert not window.document.modified
        type_into(
            qtbot,
            window,
            name,
            {"bars": "10 D28", "ties": "D12@200"}.get(name, "600" if name == "width" else "45"),
        )
        assert not section.error.isVisible()
        assert window.document.modified
        window.document.undo()
        assert not window.document.modified


def test_selecting_a_combination_moves_everything(qtbot, window):
    window.go(Place(lift=C2))
    bench = bench_of(window)
    bench.checks.toggle("Axial + biaxial bending")
    qtbot.waitUntil(lambda: bool(bench.checks.derivations))
    before = bench.checks.derivations["Axial + biaxial bending"].text
    bench.combinations.picked.emit("U10")
    assert window.document.selection.combination == "U10"
    assert "as in U10" in bench.pictures.caption.text()
    after = bench.checks.derivations["Axial + biaxial bending"].text
    assert after != before
    bench.combinations.select("U10")
    result = window.document.results[C2]
    top = result.demand_at(result.combinations.index("U2"), "top")
    bench.pictures.axial_bending.picked.emit(top)
    assert window.document.selection.place == "top"
    index = bench.combinations.currentIndex()
    assert index.siblingAtColumn(0).data() == "U2"
    # The last line of the calculation is the ratio the table shows.
    ratio = float(index.siblingAtColumn(9).data())
    text = bench.checks.derivations["Axial + biaxial bending"].text
    assert float(text.rsplit(" = ", 1)[1].split(" ")[0]) == pytest.approx(ratio, abs=1e-3)


def test_combinations_are_sorted_by_their_column(qtbot, window):
    window.go(Place(lift=C2))
    table = bench_of(window).combinations
    for column in (2, 9):
        table.sortByColumn(column, Qt.SortOrder.DescendingOrder)
        model = table.model()
        values = [
            float(model.index(row, column).data().replace("\u2009", "").replace("−", "-"))
            for row in range(model.rowCount())
        ]
        assert values == sorted(values, reverse=True)


def test_checks_open_their_derivation_in_place(qtbot, window):
    window.go(Place(lift=WORST))
    checks = bench_of(window).checks
    assert checks.heads[0].check.name == "Axial + biaxial bending"
    for title in [group.group.title for group in checks.groups]:
        group = next(group for group in checks.groups if group.group.title == title)
        if group.folded:
            qtbot.keyClick(group, Qt.Key.Key_Return)
    for head in list(checks.heads):
        name = head.check.name
        current = next(h for h in checks.heads if h.check.name == name)
        qtbot.keyClick(current, Qt.Key.Key_Return)
        view = checks.derivations[name]
        assert view.text
        assert view.sizeHint().height() > 10
    assert "β_1" in checks.derivations["Axial + biaxial bending"].text
    assert "10.6.1.1" in checks.derivations["Bar ratio"].text
    head = checks.heads[0]
    qtbot.mouseClick(head, Qt.MouseButton.LeftButton)
    assert "Axial + biaxial bending" not in checks.derivations


def test_keys_reach_everything(qtbot, window):
    view = schedule_of(window).view
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Right)
    qtbot.keyClick(view, Qt.Key.Key_Down)
    assert window.document.selection.lift == LiftKey("C2", "L5")
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert window.pages.currentWidget() is bench_of(window)
    control = Qt.KeyboardModifier.ControlModifier
    qtbot.keyClick(window, Qt.Key.Key_Down, control)
    assert bench_of(window).place.text() == "C2 · L4"
    qtbot.keyClick(window, Qt.Key.Key_Up, control)
    qtbot.keyClick(window, Qt.Key.Key_Up, control)
    assert bench_of(window).place.text() == "C2 · Roof"
    assert not bench_of(window).up.isEnabled()
    qtbot.keyClick(window, Qt.Key.Key_Escape)
    assert window.pages.currentWidget() is schedule_of(window)
    assert view.currentIndex() == cell(window, LiftKey("C2", "Roof"))


JUMPS = [("c4 l1", "C4 · L1"), ("C6·L2", "C6 · L2"), ("exceeds", "C4 · L2")]


def test_the_palette_jumps_to_a_member(qtbot, window):
    for typed, reached in JUMPS:
        qtbot.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        palette = window.palette_
        assert palette.isVisible()
        qtbot.keyClicks(palette.field, typed)
        qtbot.keyClick(palette.field, Qt.Key.Key_Return)
        assert not palette.isVisible()
        assert bench_of(window).place.text() == reached


def test_the_palette_runs_commands_and_shows_combinations(qtbot, window):
    window.go(Place(lift=C2))
    window.commands.actions["go_to"].trigger()
    qtbot.keyClicks(window.palette_.field, "u12")
    qtbot.keyClick(window.palette_.field, Qt.Key.Key_Return)
    assert window.document.selection.combination == "U12"
    window.commands.actions["go_to"].trigger()
    qtbot.keyClicks(window.palette_.field, "dark theme")
    qtbot.keyClick(window.palette_.field, Qt.Key.Key_Return)
    assert current_theme() is DARK
    window.commands.actions["go_to"].trigger()
    qtbot.keyClicks(window.palette_.field, "no such thing")
    qtbot.keyClick(window.palette_.field, Qt.Key.Key_Return)
    assert window.palette_.isVisible()
    qtbot.keyClick(window.palette_.field, Qt.Key.Key_Escape)
    assert not window.palette_.isVisible()


def test_a_refused_file_leaves_the_project_open(qtbot, window, tmp_path):
    project = window.document.project
    noise = tmp_path / "noise.fexro.json"
    noise.write_bytes(b"\x00\x01\xff" * 1000)
    assert not window.files.open_path(noise)
    assert window.notice.isVisible()
    assert "binary data" in window.notice.text()
    wrong = demo_data()
    wrong["marks"][2]["lifts"][1]["own"]["cover"] = -40
    noise.write_text(json.dumps(wrong))
    assert not window.files.open_path(noise)
    assert "marks[2].lifts[1].own.cover: found -40" in window.notice.text()
    assert window.document.project is project
    qtbot.keyClick(window, Qt.Key.Key_Escape)
    assert not window.notice.isVisible()


def test_unsaved_changes_are_asked_about(qtbot, window, tmp_path, monkeypatch):
    path = tmp_path / "archive.fexro.json"
    write_project(tarnholm_columns(), path)
    window.go(Place(lift=C2))
    type_into(qtbot, window, "bars", "10 D28")
    buttons = QMessageBox.StandardButton
    asked = []

    def answer(button):
        monkeypatch.setattr(QMessageBox, "question", lambda *_: asked.append(1) or button)

    answer(buttons.Cancel)
    assert not window.files.open_path(path)
    assert not window.close()
    assert bars(window, C2) == "10 D28"
    answer(buttons.Save)
    saved = tmp_path / "mine.fexro.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(saved), ""))
    assert window.files.open_path(path)
    assert read_project(saved).by_key[C2].section.bars == "10 D28"
    assert len(asked) == 3
    assert bars(window, C2) == "14 D25"


def test_a_file_dropped_on_the_window_is_opened(qtbot, empty_window, tmp_path):
    path = tmp_path / "archive.fexro.json"
    write_project(tarnholm_columns(), path)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(100, 100),
        Qt.DropAction.CopyAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    empty_window.dropEvent(event)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    assert empty_window.windowTitle() == "Tarnholm Archive[*] – Fexro"
    assert empty_window.saved.text() == "Rev B · saved"
    # The file is now among the recent ones, in the menu and on the start page.
    empty_window.recent_menu.aboutToShow.emit()
    assert [action.text() for action in empty_window.recent_menu.actions()] == [str(path)]


def test_without_a_project_the_window_offers_to_open_one(qtbot, empty_window):
    assert empty_window.pages.currentWidget() is empty_window.start
    assert not empty_window.commands.actions["save"].isEnabled()
    empty_window.start.demo.emit()
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    assert empty_window.pages.currentWidget() is schedule_of(empty_window)


def test_window_place_and_theme_are_remembered(qtbot, window, settings_file):
    window.resize(1100, 700)
    window.set_theme("dark")
    assert current_theme() is DARK
    window.close()
    stored = QSettings(str(settings_file), QSettings.Format.IniFormat)
    assert stored.value("theme") == "dark"
    assert stored.value("geometry") is not None
    window.set_theme("light")
    assert current_theme() is LIGHT


def test_results_of_a_project_left_behind_are_dropped(qtbot, empty_window):
    empty_window.open_project(tarnholm_columns(), None)
    other = tarnholm_columns().changed(name="Second", marks=tarnholm_columns().marks[:2])
    empty_window.open_project(other, None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    qtbot.wait(200)
    assert set(empty_window.document.results) == set(other.by_key)


def test_a_large_building_shows_progress_and_can_be_cancelled(qtbot, empty_window):
    project = building(60, 12)
    empty_window.open_project(project, None)
    document = empty_window.document
    qtbot.waitUntil(lambda: 0 < document.done < len(project.by_key), timeout=30_000)
    assert empty_window.checking.progress.isVisible()
    assert empty_window.checking.progress.maximum() == 360
    qtbot.mouseClick(empty_window.checking.stop_checking, Qt.MouseButton.LeftButton)
    assert not document.busy
    assert not empty_window.checking.progress.isVisible()
    done = document.done
    assert empty_window.checking.check_time.text() == f"Stopped: {done} of 360 checked"
    qtbot.wait(400)
    assert document.done == done
    # An edit of a lift that was not reached checks it.
    key = next(key for key in project.by_key if key not in document.results)
    lift = project.by_key[key]
    other = "C35" if lift.concrete == "C45" else "C45"
    document.replace_lift(key, lift.with_values(concrete=other), "Concrete")
    assert key in document.results


def test_the_design_code_is_switched_and_undone(qtbot, window):
    window.go(Place(lift=C2))
    before = window.document.results[C2]
    window.commands.actions["code EN 1992-1-1, UK annex"].trigger()
    assert window.document.undo_label == "Design code EN 1992-1-1"
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    assert window.basis.code.text() == "EN 1992-1-1 (UK)"
    after = window.document.results[C2]
    assert after.lift.code.name == "EN 1992-1-1 (UK)"
    assert {"Bar area", "Simplified biaxial expression"} <= {c.name for c in after.shown_findings}
    assert "From MEdx towards MEdy" in bench_of(window).pictures.caption.text()
    assert bench_of(window).section.fields["ties"].accessibleName() == "Links"
    bench_of(window).checks.toggle("Axial + biaxial bending")
    assert (
        "f_cd = α_cc · f_ck / γ_C"
        in bench_of(window).checks.derivations["Axial + biaxial bending"].text
    )
    window.document.undo()
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    assert window.document.results[C2].utilisation == pytest.approx(before.utilisation)
    assert bench_of(window).section.fields["ties"].accessibleName() == "Ties"


def test_f1_opens_the_page_of_the_view_in_front(qtbot, window):
    qtbot.keyClick(window, Qt.Key.Key_F1)
    handbook = window._handbook
    assert handbook.isVisible()
    assert handbook.page == "schedule"
    assert "Storeys run down" in handbook.toPlainText()
    window.go(Place(lift=C2))
    qtbot.keyClick(window, Qt.Key.Key_F1)
    assert handbook.page == "bench"
    handbook.close()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    field = bench_of(window).section.fields["width"]
    field.setFocus()
    qtbot.waitUntil(field.hasFocus)
    qtbot.keyClick(field, Qt.Key.Key_F1)
    assert handbook.page == "values"
    handbook.anchorClicked.emit(QUrl("files.md"))
    assert "After a crash" in handbook.toPlainText()
    handbook.close()


def test_every_page_of_the_handbook_is_there_with_its_pictures():
    folder = Path(__file__).parents[2] / "docs" / "handbook"
    for page in folder.glob("*.md"):
        for link in re.findall(r"\]\(([^)]+)\)", page.read_text()):
            assert (folder / link).exists(), f"{page.name}: {link}"


def test_a_bench_without_a_result_shows_nothing_of_former_facts(qtbot, window):
    window.go(Place(lift=WORST))
    window.commands.actions["code EN 1992-1-1, recommended annex"].trigger()
    window.document.cancel()
    bench = bench_of(window)
    assert "1.04" not in bench.verdict.text()  # the lift that is looked at is checked at once
    window.go(Place(lift=LiftKey("C1", "L2")))
    assert bench.verdict.text() == "Not checked; checking was stopped."
    assert not bench.pictures.views.isVisible()
    assert "1.04" not in bench.pictures.caption.text()
    assert bench.checks.heads == []
    qtbot.mouseClick(window.checking.check_rest, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    assert bench.pictures.views.isVisible()


def test_a_combination_without_forces_is_shown_and_can_be_exempted(qtbot, empty_window):
    project = factored_demo()
    rows = rows_of(project, WORST)
    del rows["U8"]
    empty_window.open_project(with_rows(project, WORST, rows), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    empty_window.go(Place(lift=WORST))
    bench = bench_of(empty_window)
    assert bench.verdict.text().startswith("Not checked: no forces in 1 of 14 combinations (U8)")
    first = bench.combinations.model().index(0, 0)
    assert first.data() == "U8"
    assert first.siblingAtColumn(7).data() == "no forces"
    bench.combinations.exempted.emit("U8", Member(mark="C4", storey="L1"), True)
    assert bench.verdict.text().startswith("Section strength met")
    rows = [
        bench.combinations.model().index(row, 7).data()
        for row in range(bench.combinations.model().rowCount())
    ]
    assert rows.count("not for it") == 1
    assert empty_window.document.undo_label == "U8 not for C4 · L1"


def test_an_unforeseen_error_is_logged_and_told(window, tmp_path, monkeypatch):
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    # The log of an earlier failure of this process lies elsewhere.
    logger = logging.getLogger("fexro")
    monkeypatch.setattr(logger, "handlers", [])
    report_failures(window)
    try:
        raise ValueError("unexpected")
    except ValueError as error:
        sys.excepthook(type(error), error, error.__traceback__)
    assert "did not foresee" in window.notice.text()
    path = user_log_path("fexro") / "fexro.log"
    assert path.is_relative_to(tmp_path)
    assert f"Details are in {path}." in window.notice.text()
    assert "ValueError: unexpected" in path.read_text()
    for handler in logger.handlers:
        handler.close()
    assert window.document.project is not None


def test_without_a_screen_there_is_a_sentence(monkeypatch):
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    with pytest.raises(FexroError, match="no screen"):
        require_screen()


def test_inch_pound_projects_are_spoken_in_inches(qtbot, empty_window):
    project = tarnholm_columns()
    basis = project.basis.model_copy(update={"units": "in-lb"})
    empty_window.open_project(project.changed(basis=basis), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    empty_window.go(Place(lift=C2))
    type_into(qtbot, empty_window, "width", "20")
    type_into(qtbot, empty_window, "bars", "8 #8")
    lift = empty_window.document.project.by_key[C2]
    assert lift.section.shape.width == pytest.approx(508)
    assert bench_of(empty_window).section.fields["width"].text() == "20 in"
    assert empty_window.basis.code.text() == "ACI 318-19 (in-lb)"
    heads = bench_of(empty_window).combinations.model()
    assert heads.headerData(2, Qt.Orientation.Horizontal) == "N\nkip"
