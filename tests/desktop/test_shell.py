"""The shell: stages, commands and places, whatever the stages are."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtWidgets import QLabel

from fexro.core.quantities import UnitSystem
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop import shell
from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.palette import Entry
from fexro.desktop.shell.stages import Place, Stage
from fexro.desktop.shell.window import Window
from fexro.project.column import LiftKey
from tests.desktop.pages import bench_of


class Notes(Stage):
    """A stage that exists in this test alone."""

    key, title, keys = "notes", "Notes", "Ctrl+7"

    def __init__(self, document, around):
        self.document, self.shell, self.done = document, around, []
        self.label = QLabel("notes")
        self.able = True

    @property
    def page(self):
        return self.label

    def go_to(self, place):
        self.place = place
        return place.lift is not None or place.stage == self.key or place == Place()

    def shown(self):
        self.done.append("shown")

    def commands(self):
        def strike():
            self.done.append("struck")

        return [
            Command("strike", lambda: f"Strike {len(self.done)}", strike, "Ctrl+J"),
            Command("never", "Never", strike, enabled=lambda: self.able, group="pictures"),
        ]

    def entries(self):
        return [Entry("A note of ours", "", lambda: self.done.append("went"))]

    def state(self):
        return [str(len(self.done))]


@pytest.fixture
def notes(qtbot, tmp_path):
    settings = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    made = []

    def stages(document, around):
        made.append(Notes(document, around))
        return made

    window = Window(Document(tmp_path / "journals"), settings, stages)
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    window.open_project(tarnholm_columns(), None)
    return window, made[0], settings


def test_a_window_shows_the_stages_it_is_given(qtbot, notes):
    window, stage, settings = notes
    assert window.pages.currentWidget() is stage.label
    assert window.shows(stage)
    window.go(Place(lift=LiftKey("C1", "L1")))
    assert stage.place.lift == LiftKey("C1", "L1")
    assert stage.done == ["shown", "shown"]
    window.close()
    assert settings.value("notes") == ["2"] or settings.value("notes") == "2"


def test_commands_of_a_stage_are_in_menu_palette_and_keys(qtbot, notes):
    window, stage, _ = notes
    qtbot.keyClick(window, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert stage.done[-1] == "struck"
    window.commands.refresh()
    assert window.commands.actions["strike"].text() == f"Strike {len(stage.done)}"
    menu = window.menu_button.menu()
    assert window.commands.actions["never"] in menu.actions()
    assert window.commands.actions["strike"] not in menu.actions()
    stage.able = False
    window.commands.refresh()
    assert not window.commands.actions["never"].isEnabled()
    qtbot.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(window.palette_.field, "note of ours")
    qtbot.keyClick(window.palette_.field, Qt.Key.Key_Return)
    assert stage.done[-1] == "went"
    offered = [title for title, _, _ in window.commands.offered()]
    assert "Never" not in offered
    assert "Notes" in offered


def test_the_schedule_counts_what_is_unsettled(qtbot, window):
    stage = window.stage("schedule")
    # C4 · L2 and C4 · L1 exceed a limit.
    assert stage.unsettled() == 2
    key = LiftKey("C1", "L1")
    window.document.edit(
        "Forces",
        lambda project: project.changed(case_forces=project.case_forces.without({key})),
    )
    qtbot.waitUntil(lambda: window.document.complete)
    assert stage.unsettled() == 3


def test_a_result_of_a_former_revision_is_not_taken(qtbot, window):
    document, key = window.document, LiftKey("C4", "L1")
    former = document._revisions[key], document.results[key]
    lift = document.project.by_key[key]
    document.replace_lift(key, lift.with_values(concrete="C45"), "Concrete")
    qtbot.waitUntil(lambda: document.complete)
    present = document.results[key]
    document._pending.add(key)
    document._take_results({key: former})
    assert document.results[key] is present
    assert key in document._pending
    document._take_results({key: (document._revisions[key], present)})
    assert document.complete


def test_every_picture_has_one_interface(qtbot, window):
    window.go(Place(lift=LiftKey("C4", "L1")))
    panel = bench_of(window).pictures
    shown = panel._shown
    for number, picture in enumerate(panel.pictures):
        panel.show_view(number)
        assert panel.picture is picture
        assert picture.caption(shown) == panel.caption.text()
        # The joint of an ordinary frame has nothing to show.
        table = picture.table(shown)
        assert (table is None) == bool(picture.missing())
        assert table is None or len(table.rows) > 20
        assert shown.system is UnitSystem.SI


def test_the_shell_names_no_stage():
    for path in Path(shell.__file__).parent.glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom | ast.Import):
                named = ast.unparse(node)
                assert "desktop.bench" not in named, path.name
                assert "desktop.schedule" not in named, path.name
