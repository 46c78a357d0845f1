"""After a crash the next start offers what was open, with every edit."""

from __future__ import annotations

import shutil
import subprocess
import sys

import pytest
from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QMessageBox, QPushButton

from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.application import make_window
from fexro.desktop.document import Document
from fexro.project.column import LiftKey
from fexro.project.file import read_project, write_project
from fexro.project.journal import lost_projects

KEY = LiftKey("C4", "L1")
CRASH = """
import os, sys
from pathlib import Path
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PyQt6.QtTest import QTest
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.application import make_application
from fexro.desktop.document import Document
from fexro.project.column import LiftKey
application = make_application()
document = Document(Path(sys.argv[1]))
document.open_file(Path(sys.argv[2]))
key = LiftKey("C4", "L1")
for bars in ("12 D25", "12 D28"):
    lift = document.project.by_key[key]
    section = lift.section.model_copy(update={"bars": bars})
    document.replace_lift(key, lift.model_copy(update={"section": section}), "Main bars")
document.undo()
QTest.qWait(1000)
os._exit(9)
"""


@pytest.fixture(scope="module")
def crash(tmp_path_factory):
    """What a crash leaves: a folder of journals, and the file that was open."""
    folder = tmp_path_factory.mktemp("crash")
    journals, path = folder / "journals", folder / "archive.fexro.json"
    write_project(tarnholm_columns(), path)
    done = subprocess.run([sys.executable, "-c", CRASH, str(journals), str(path)], check=False)
    assert done.returncode == 9
    return journals, path


@pytest.fixture
def crashed(crash, tmp_path):
    """The same for one test, which may change it."""
    journals, path = tmp_path / "journals", tmp_path / "archive.fexro.json"
    shutil.copytree(crash[0], journals)
    shutil.copy2(crash[1], path)
    for journal in journals.glob("*.journal"):
        journal.write_text(journal.read_text().replace(str(crash[1]), str(path)))
    return journals, path


@pytest.fixture
def after(qtbot, crashed, settings_file):
    """The next start."""
    settings = QSettings(str(settings_file), QSettings.Format.IniFormat)
    window = make_window(Document(crashed[0]), settings)
    qtbot.addWidget(window, before_close_func=lambda w: w.document._history.mark_saved())
    window.show()
    window.offer_lost_projects()
    return window


def button(window, text):
    return next(b for b in window.recovery.findChildren(QPushButton) if b.text() == text)


def test_what_was_open_is_recovered_unsaved(qtbot, after, crashed):
    journals, path = crashed
    assert after.recovery.isVisible()
    label = after.recovery.findChildren(type(after.title))[0].text()
    assert "Tarnholm Archive, 3 edits" in label
    assert path.name in label
    button(after, "Recover").click()
    document = after.document
    # Two edits, of which the second was undone.
    assert document.project.by_key[KEY].section.bars == "12 D25"
    assert document.modified
    assert document.path == path
    assert not after.recovery.isVisible()
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    # Saved, nothing is left of the journal.
    assert after.files.save()
    assert read_project(path).by_key[KEY].section.bars == "12 D25"
    document.close()
    assert list(journals.iterdir()) == []


def test_what_is_recovered_and_lost_again_is_offered_again(after, crashed):
    button(after, "Recover").click()
    after.document._journal.close()
    after.document._journal._journal._file.close()
    (lost,) = lost_projects(crashed[0])
    assert lost.recover().by_key[KEY].section.bars == "12 D25"


def test_what_is_declined_is_forgotten(after, crashed):
    button(after, "Discard").click()
    assert not after.recovery.isVisible()
    assert list(crashed[0].iterdir()) == []
    assert after.document.project is None
    after.files.open_demo()


def test_a_file_that_changed_since_is_not_overwritten_unasked(qtbot, after, crashed, monkeypatch):
    _, path = crashed
    button(after, "Recover").click()
    theirs = path.read_text().replace('"revision": "B"', '"revision": "C"')
    path.write_text(theirs)
    asked = []
    monkeypatch.setattr("fexro.desktop.shell.files.ask", lambda *a: asked.append(a[2]))
    assert not after.files.save()
    assert "changed by another program" in asked[0]
    assert path.read_text() == theirs
    monkeypatch.setattr("fexro.desktop.shell.files.ask", lambda *_: 0)
    assert after.files.save()
    assert read_project(path).by_key[KEY].section.bars == "12 D25"
    assert path.with_name(f"{path.name}~").read_text() == theirs


def test_the_file_can_be_taken_instead(qtbot, after, crashed, monkeypatch):
    _, path = crashed
    button(after, "Recover").click()
    path.write_text(path.read_text().replace('"revision": "B"', '"revision": "C"'))
    monkeypatch.setattr("fexro.desktop.shell.files.ask", lambda *_: 2)
    assert not after.files.save()
    assert after.document.project.revision == "C"
    assert not after.document.modified


def test_closing_removes_the_journal(qtbot, window, tmp_path, monkeypatch):
    document = window.document
    lift = document.project.by_key[KEY]
    section = lift.section.model_copy(update={"bars": "12 D28"})
    document.replace_lift(KEY, lift.model_copy(update={"section": section}), "Main bars")
    journals = tmp_path / "journals"
    qtbot.waitUntil(lambda: journals.exists() and any(journals.iterdir()), timeout=1000)
    discard = QMessageBox.StandardButton.Discard
    monkeypatch.setattr(QMessageBox, "question", lambda *_: discard)
    assert window.close()
    assert list(journals.iterdir()) == []


def test_a_journal_that_cannot_be_written_is_told_once(qtbot, window, tmp_path):
    (tmp_path / "journals").write_text("not a folder")
    document = window.document
    lift = document.project.by_key[KEY]
    told = []
    document.told.connect(told.append)
    for bars in ("12 D28", "12 D25"):
        section = lift.section.model_copy(update={"bars": bars})
        document.replace_lift(KEY, lift.model_copy(update={"section": section}), "Main bars")
    qtbot.waitUntil(lambda: bool(told), timeout=3000)
    qtbot.wait(700)
    assert len(told) == 1
    assert "cannot be kept for recovery" in window.notice.text()
