"""Sections that a project keeps: shared, changed for all, exported and imported."""

from __future__ import annotations

import json

import pytest

from fexro.core.errors import InputError
from fexro.demo.tarnholm import tarnholm_columns
from fexro.exchange.section_library import library_text, read_library
from fexro.project.column import LiftKey
from fexro.project.edits.library import (
    add_sections,
    change_section,
    keep_section,
    remove_section,
    rename_section,
    use_section,
    users_of_section,
)
from fexro.project.edits.lifts import change_lifts, replace_lift
from fexro.project.effects import effect_of
from fexro.project.file import parse_project, project_text
from fexro.project.resolve import verify

C1 = [LiftKey("C1", f"L{i}") for i in range(1, 6)]


@pytest.fixture
def project():
    kept = keep_section(tarnholm_columns(), C1[2], "K1")
    return use_section(kept, C1[3:], "K1")


def test_lifts_share_a_section(project):
    assert users_of_section(project, "K1") == tuple(reversed(C1[2:]))
    sections = {project.by_key[key].section for key in C1[2:]}
    assert len(sections) == 1
    again = parse_project(project_text(project).encode(), "kept")
    assert again.sections == project.sections
    assert users_of_section(again, "K1") == users_of_section(project, "K1")
    verify(again)


def test_a_lift_that_is_changed_has_its_own(project):
    changed = change_lifts(project, [C1[3]], section={"bars": "12 D25"})
    assert changed.record_by_key[C1[3]].named is None
    assert users_of_section(changed, "K1") == (C1[4], C1[2])
    # A value that is no part of the section leaves it shared.
    lift = project.by_key[C1[3]]
    steel = project.steels[-1].name
    other = replace_lift(project, C1[3], lift.with_values(steel=steel))
    assert other.record_by_key[C1[3]].named == "K1"


def test_changing_one_changes_its_users(project):
    changed = change_lifts(project, [C1[3]], section={"bars": "12 D25"})
    after = change_section(changed, "K1", C1[3])
    assert {after.by_key[key].section.bars for key in C1[2:]} == {"12 D25"}
    assert users_of_section(after, "K1") == tuple(reversed(C1[2:]))
    (effect,) = effect_of(changed, after, None)
    # C1 · L4 itself stays as it is: two others change.
    assert effect.lifts >= 2
    assert "lifts change" in str(effect)


def test_sections_are_renamed_and_removed(project):
    renamed = rename_section(project, "K1", "Edge")
    assert users_of_section(renamed, "Edge") == users_of_section(project, "K1")
    removed = remove_section(renamed, "Edge")
    assert removed.sections == ()
    assert removed.by_key[C1[3]].section == project.by_key[C1[3]].section
    with pytest.raises(InputError, match="a name that is not taken"):
        keep_section(project, C1[0], "K1")
    with pytest.raises(InputError, match="a section that the project keeps"):
        use_section(project, C1, "K9")
    assert keep_section(project, C1[0]).sections[-1].name == "S1"


def test_sections_go_to_another_project(project):
    text = library_text(project.sections)
    sections = read_library(text.encode(), "a.json")
    other = add_sections(tarnholm_columns(), sections)
    assert other.sections == project.sections
    # Alike they are not kept twice; another of the same name gets one of its own.
    assert add_sections(other, sections) == other
    thicker = [sections[0].model_copy(update={"bars": "16 D25"})]
    assert [s.name for s in add_sections(other, thicker).sections] == ["K1", "K1 2"]
    assert use_section(other, [C1[0]], "K1").by_key[C1[0]].section.bars == sections[0].bars


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "no JSON"),
        (b"[]", "another kind"),
        (b'{"format": "fexro sections", "version": 1, "sections": []}', "sections"),
        (b'{"format": "fexro sections", "version": 2, "sections": [{}]}', "version"),
        (
            b'{"format": "fexro sections", "version": 1, "sections": [{"name": "A",'
            b' "shape": {"kind": "circle", "diameter": 5}, "bars": "8 D20", "ties": "D10@150"}]}',
            "diameter",
        ),
    ],
)
def test_files_of_other_kinds_are_refused(content, words):
    with pytest.raises(InputError, match=words):
        read_library(content, "a.json")


def test_a_file_that_contradicts_itself_is_refused(project):
    data = json.loads(project_text(project))
    data["sections"][0]["bars"] = "12 D25"
    with pytest.raises(InputError, match="beside another section"):
        parse_project(json.dumps(data).encode(), "kept")
    data["sections"] = []
    with pytest.raises(InputError, match="no section is kept"):
        parse_project(json.dumps(data).encode(), "kept")
