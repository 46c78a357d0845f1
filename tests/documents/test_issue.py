"""Issuing: what has changed since, marks that stay, files that are written whole or not at all."""

from __future__ import annotations

import base64
import errno
import hashlib
import itertools
import json
import os

import pytest

from fexro.core.errors import FexroError, InputError
from fexro.documents.bar_list import bar_list
from fexro.documents.calculation import CalculationOptions
from fexro.documents.issue import issue, papers_of, safe_name, state_of, write
from fexro.project.beginning import new_project
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import change_lifts
from fexro.project.edits.papers import add_revision, set_logo, set_papers
from fexro.project.file import parse_project, project_text
from fexro.project.template import keep_template, with_template

PNG = base64.b64decode(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJg"
    "gg=="
)
QUICK = ("csv", "xlsx")
BRIEF = CalculationOptions("verdicts", parts=())


def bars_of(project, results):
    prepared = {key: result.prepared for key, result in results.items()}
    return bar_list(project, prepared, list(project.by_key))


def issued(project, results, folder, formats=QUICK):
    papers = papers_of(project, results, BRIEF)
    *_, (_, _, after) = issue(project, papers, folder, formats, bars_of(project, results))
    return after


@pytest.fixture(scope="module")
def after(demo, results, tmp_path_factory):
    return issued(demo, results, tmp_path_factory.mktemp("first"))


def states(project, results):
    return {one.name: state_of(project, one) for one in papers_of(project, results, BRIEF)}


def test_nothing_is_issued_at_first_and_all_is_up_to_date_then(demo, results, after):
    assert set(states(demo, results).values()) == {"not issued"}
    assert set(states(after, results).values()) == {"up to date"}
    assert parse_project(project_text(after).encode(), "x") == after


def test_another_revision_or_date_changes_nothing_that_is_said(results, after):
    other = set_papers(after, date="2041-05-05").changed(revision="C")
    assert set(states(other, results).values()) == {"up to date"}


def test_what_an_edit_touches_has_changed_and_nothing_else(after):
    edited = change_lifts(after, [LiftKey("C1", "L5")], section={"bars": "8 D25"})
    found = states(edited, check_project(edited))
    changed = {name for name, state in found.items() if state == "changed"}
    assert changed == {
        *("Calculation", "Column schedule", "Column C1"),
        *("Bar list", "Quantities", "Building model"),
    }


def test_marks_stay_and_new_bars_get_new_ones_with_the_revision(demo, results, after):
    first = bars_of(demo, results)
    edited = change_lifts(after, [LiftKey("C1", "Roof")], section={"bars": "8 D18"})
    edited = edited.changed(revision="C")
    found = check_project(edited)
    second = bars_of(edited, found)
    before = {(row.key, row.laid.kind, row.laid.which): row for row in first.rows}
    news = set()
    for row in second.rows:
        former = before.get((row.key, row.laid.kind, row.laid.which))
        if former is not None and former.marked.bar == row.marked.bar:
            assert row.marked.mark == former.marked.mark
            assert row.revision == ("B" if former.number == row.number else "C")
        else:
            assert row.revision == "C"
            news.add(row.marked.mark)
    # The highest lift has other bars, and the ties that hold them.
    assert news
    known = {row.marked.mark: row.marked for row in first.rows}
    for row in second.rows:
        assert known.get(row.marked.mark, row.marked) == row.marked
    assert news - set(known)


def test_the_manifest_tells_every_file(demo, results, tmp_path):
    issued(demo, results, tmp_path)
    manifest = json.loads((tmp_path / "manifest.json").read_text())
    assert manifest["revision"] == "B"
    names = {one["name"] for one in manifest["files"]}
    assert names == {path.name for path in tmp_path.iterdir()} - {"manifest.json"}
    for one in manifest["files"]:
        content = (tmp_path / one["name"]).read_bytes()
        assert hashlib.sha256(content).hexdigest() == one["sha256"]


def test_files_are_written_all_or_none(tmp_path):
    (tmp_path / "a.txt").write_text("before")
    (tmp_path / "b.txt").mkdir()
    with pytest.raises(FexroError, match="nothing was written"):
        write({"a.txt": b"after", "b.txt": b"x"}, tmp_path)
    assert (tmp_path / "a.txt").read_text() == "before"
    assert {path.name for path in tmp_path.iterdir()} == {"a.txt", "b.txt"}


def test_no_space_left_is_a_sentence_and_leaves_what_was_there(tmp_path, monkeypatch):
    (tmp_path / "a.txt").write_text("before")
    real, count = os.fsync, itertools.count()

    def full(number):
        if next(count):
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        real(number)

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FexroError, match="No space left on device; nothing was written"):
        write({"a.txt": b"after", "b.txt": b"x"}, tmp_path)
    assert {path.name: path.read_text() for path in tmp_path.iterdir()} == {"a.txt": "before"}


def test_names_of_files_are_those_of_any_system():
    assert safe_name('A/B:"C".pdf') == "A_B__C_.pdf"
    assert safe_name("../../x.pdf") == "_.._x.pdf"
    assert safe_name("Ü" * 300 + ".pdf").endswith(".pdf")
    assert len(safe_name("x" * 300 + ".pdf")) < 120


def test_what_stands_on_sheets_is_refused_with_its_reason(demo):
    for fields, words in (
        ({"number": "x" * 61}, "60 letters"),
        ({"stock": (10.0,)}, "1000 to 30000"),
        ({"drawing_paper": "B5"}, "60 letters"),
    ):
        with pytest.raises(InputError, match=words):
            set_papers(demo, **fields)
    with pytest.raises(InputError, match="PNG or SVG"):
        set_logo(demo, b"GIF89a")
    with pytest.raises(InputError, match="300 kB"):
        set_logo(demo, b"\x89PNG" + b"x" * 400_000)
    assert set_logo(demo, PNG).papers.picture == PNG


def test_a_revision_is_listed_once(demo):
    project = add_revision(demo, "C", "Bars of C1", "2041-04-01", "A. Ertl")
    assert project.revision == "C"
    assert project.papers.revisions[-1].told == "Bars of C1"
    assert len(project.papers.revisions) == len(demo.papers.revisions) + 1
    with pytest.raises(InputError, match="which is listed"):
        add_revision(project, "C", "", "", "")


def test_the_logo_stands_on_every_page(demo, results):
    project = set_logo(demo, PNG)
    (quantities,) = [one for one in papers_of(project, results, BRIEF) if one.name == "Quantities"]
    (pdf,) = quantities.make("pdf").values()
    assert pdf.startswith(b"%PDF")
    assert quantities.digest != next(
        one.digest for one in papers_of(demo, results, BRIEF) if one.name == "Quantities"
    )


def test_new_projects_begin_with_what_is_kept_for_them(demo, tmp_path):
    path = tmp_path / "config" / "sheets.json"
    project = new_project()
    assert with_template(project, path) is project
    keep_template(set_logo(demo, PNG).papers, path)
    begun = with_template(project, path).papers
    assert (begun.author, begun.checker, begun.picture) == ("AE", "BM", PNG)
    # What is of one project alone is not kept.
    assert (begun.number, begun.date, begun.revisions) == ("", "", ())
    path.write_text('{"author": 7}')
    assert with_template(project, path) is project
    with pytest.raises(FexroError, match="Not a directory"):
        keep_template(demo.papers, path / "below" / "sheets.json")
