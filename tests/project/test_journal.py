"""The journal: what was edited is there again after the process that edited is gone."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys

import pytest

from fexro.core.errors import FexroError
from fexro.project.column import LiftKey, Member
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.combinations import exempt_member
from fexro.project.edits.lifts import replace_lift
from fexro.project.journal import Journal, lost_projects
from tests.projects import factored_demo, rows_of, with_rows

KEY = LiftKey("C4", "L1")


def edits(project):
    """Projects after four edits of different kinds, each made of the one before."""
    lift = project.by_key[KEY]
    section = lift.section.model_copy(update={"bars": "12 D28"})
    first = replace_lift(project, KEY, lift.model_copy(update={"section": section}))
    yield first
    second = replace_basis(first, first.basis.model_copy(update={"code": "EN 1992-1-1"}))
    yield second
    rows = rows_of(second, KEY)
    rows.pop("U9")
    third = with_rows(second, KEY, rows)
    yield third
    yield exempt_member(third, "U2", Member(mark="C4"), exempt=True)


def journalled(folder, path=None):
    """A journal of edits, and the project they led to."""
    journal, project = Journal(folder), factored_demo()
    for edited in edits(project):
        journal.record(project, edited, "edit", path, None)
        project = edited
    return journal, project


def file_of(folder):
    (file,) = folder.glob("*.journal")
    return file


def abandon(journal):
    """Leave a journal as a process that was killed does."""
    journal._file.close()


def test_a_journal_that_is_held_is_not_lost(tmp_path):
    journal, _ = journalled(tmp_path)
    assert lost_projects(tmp_path) == []
    abandon(journal)
    (lost,) = lost_projects(tmp_path)
    assert (lost.name, lost.edits, lost.path) == ("Tarnholm Archive", 4, None)


def test_the_project_is_recovered_with_every_edit(tmp_path):
    journal, project = journalled(tmp_path, tmp_path / "a.fexro.json")
    abandon(journal)
    (lost,) = lost_projects(tmp_path)
    assert lost.path == tmp_path / "a.fexro.json"
    assert lost.recover() == project
    lost.forget()
    assert lost_projects(tmp_path) == []


def test_a_torn_line_is_left_out(tmp_path):
    journal, _ = journalled(tmp_path)
    abandon(journal)
    file = file_of(tmp_path)
    whole = file.read_bytes()
    file.write_bytes(whole[:-20])
    (lost,) = lost_projects(tmp_path)
    assert lost.edits == 3
    assert lost.recover().basis.code == "EN 1992-1-1"
    assert lost.recover().combinations[1].not_for == ()


def test_a_journal_without_an_edit_is_removed(tmp_path):
    journal, _ = journalled(tmp_path)
    abandon(journal)
    file = file_of(tmp_path)
    for kept in (0, 1):
        file.write_bytes(b"".join(file.read_bytes().splitlines(keepends=True)[:kept]))
        assert lost_projects(tmp_path) == []
        assert not file.exists()
        file.write_bytes(b"")


def test_a_damaged_journal_is_refused_with_a_sentence(tmp_path):
    journal, _ = journalled(tmp_path)
    abandon(journal)
    file = file_of(tmp_path)
    lines = file.read_text().splitlines()
    change = json.loads(lines[1])
    change["change"]["lifts"][0][2]["own"]["cover"] = -1
    file.write_text("\n".join([lines[0], json.dumps(change), *lines[2:]]) + "\n")
    (lost,) = lost_projects(tmp_path)
    with pytest.raises(FexroError, match="journal of Tarnholm Archive: marks"):
        lost.recover()
    file.with_suffix(".snapshot").unlink()
    with pytest.raises(FexroError, match="journal of Tarnholm Archive cannot be read"):
        lost.recover()
    file.write_text(file.read_text().replace('"label"', '"label', 1))
    assert lost_projects(tmp_path) == []
    assert file.exists()


def test_what_is_saved_or_not_wanted_is_removed(tmp_path):
    journal, _ = journalled(tmp_path)
    journal.remove()
    assert list(tmp_path.iterdir()) == []
    journal.remove()


def test_a_process_that_is_killed_loses_no_edit_it_recorded(tmp_path):
    code = (
        "import sys, time; from pathlib import Path;"
        "from tests.project.test_journal import journalled;"
        "journal, _ = journalled(Path(sys.argv[1])); print('recorded', flush=True); time.sleep(60)"
    )
    with subprocess.Popen(
        [sys.executable, "-c", code, str(tmp_path)], stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout.readline() == "recorded\n"
        assert lost_projects(tmp_path) == []
        os.kill(process.pid, signal.SIGKILL)
    (lost,) = lost_projects(tmp_path)
    *_, last = edits(factored_demo())
    assert lost.recover() == last
