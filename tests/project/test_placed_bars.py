"""Bars placed by hand: made from a layout, kept, and said where they have no place."""

from __future__ import annotations

import json

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.bars import OwnBar, PlacedBar
from fexro.project.column import LiftKey
from fexro.project.edits.bars import (
    add_bar,
    laid_out,
    move_bars,
    placed_bars,
    remove_bars,
    resize_bars,
    with_placed,
)
from fexro.project.edits.groups import join_group
from fexro.project.edits.lifts import change_lifts, replace_lift
from fexro.project.file import parse_project, project_text
from fexro.project.resolve import resolve_lift
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import Rectangle

DEMO, C1L3, C1L4 = tarnholm_columns(), LiftKey("C1", "L3"), LiftKey("C1", "L4")
SQUARE = SectionModel(
    shape=Rectangle(width=500, depth=500), cover=40, bars="4 D28 + 4 D20", ties="D10@150"
)


def with_section(section, key=C1L3):
    lift = DEMO.by_key[key]
    return replace_lift(DEMO, key, lift.model_copy(update={"section": section}))


def test_a_layout_becomes_bars_one_by_one_in_the_same_places():
    placed = placed_bars(SQUARE)
    assert [bar.size for bar in placed] == ["D28"] * 4 + ["D20"] * 4
    by_hand = section_of(with_placed(SQUARE, placed))
    laid = section_of(SQUARE)
    np.testing.assert_allclose(by_hand.bars.x, laid.bars.x, atol=0.051)
    np.testing.assert_allclose(by_hand.bars.area, laid.bars.area)
    assert by_hand.by_hand
    assert not by_hand.misplaced
    assert laid_out(with_placed(SQUARE, placed)) == SQUARE


def test_bars_are_moved_added_resized_and_removed():
    moved = move_bars(SQUARE, {0, 1}, 0.0, 25.0)
    before, after = placed_bars(SQUARE), moved.placed
    assert [b.y - a.y for a, b in zip(before, after, strict=True)][:3] == [25.0, 25.0, 0.0]
    more = add_bar(moved, 0.0, 0.0, "D16")
    assert more.bars == "4 D28 + 4 D20 + 1 D16"
    larger = resize_bars(more, {8}, "d32")
    assert larger.placed[8].size == "D32"
    less = remove_bars(larger, {4, 5, 6, 7})
    assert less.bars == "4 D28 + 1 D32"
    assert len(section_of(less).bars) == 5
    with pytest.raises(InputError, match="1 to 400"):
        remove_bars(less, range(5))
    with pytest.raises(InputError, match="one of D6"):
        resize_bars(less, {0}, "D99")
    own = (OwnBar(name="T26", diameter=26, area=531),)
    assert section_of(add_bar(SQUARE, 0, 0, "T26", own), own).bars.area[-1] == 531


def test_what_is_placed_is_kept_and_no_call_out_takes_its_place():
    project = with_section(move_bars(SQUARE, {0}, 5.0, 5.0))
    assert parse_project(project_text(project).encode(), "file") == project
    with pytest.raises(InputError, match="lay them out anew first"):
        change_lifts(project, [C1L3], section={"bars": "8 D25"})
    again = replace_lift(
        project,
        C1L3,
        project.by_key[C1L3].model_copy(update={"section": laid_out(SQUARE, "8 D25")}),
    )
    assert again.by_key[C1L3].section.placed == ()


def test_bars_of_any_area_can_stand_in_a_file():
    bars = [PlacedBar(x=x, y=y, area=500.0) for x in (-180, 180) for y in (-180, 180)]
    section = with_placed(SQUARE, bars)
    assert section.bars == "4 500 mm²"
    project = with_section(section)
    data = json.loads(project_text(project))
    lift = next(x for m in data["marks"] for x in m["lifts"] if x["placed"])
    first = {"x": -180.0, "y": -180.0, "size": None, "area": 500.0, "bundle": None}
    assert lift["placed"][0] == first
    del lift["placed"][0]["area"]
    with pytest.raises(InputError, match="a size by its name, or an area"):
        parse_project(json.dumps(data).encode(), "file")


def test_bars_outside_after_a_resize_are_pointed_at_and_nothing_is_dropped():
    project = with_section(with_placed(SQUARE, placed_bars(SQUARE)))
    narrow = change_lifts(project, [C1L3], sizes={"width": 420.0})
    section = section_of(narrow.by_key[C1L3].section)
    assert len(section.bars) == 8
    bars = section.bars
    beyond = np.flatnonzero(np.abs(bars.x) + bars.diameter / 2 > 420 / 2 - 40 - 10)
    assert {one.bar for one in section.misplaced} == set(beyond.tolist())
    assert len(beyond) == 6
    result = check_lift(resolve_lift(narrow, C1L3))
    assert result.state is State.NOT_CHECKED
    finding = next(f for f in result.findings if f.name == "Bars in their places")
    assert finding.values["first"] == "bar 1"
    touching = with_section(move_bars(SQUARE, {4}, -100.0, 0.0))
    other = with_section(with_placed(SQUARE, [*placed_bars(SQUARE), placed_bars(SQUARE)[0]]))
    assert check_lift(resolve_lift(touching, C1L3)).state is not State.NOT_CHECKED
    overlap = section_of(other.by_key[C1L3].section).misplaced
    assert [one.where for one in overlap] == ["bars 1 and 9"]


def test_a_group_has_its_bars_in_the_same_places():
    project = with_section(move_bars(SQUARE, {0}, 5.0, 5.0))
    joined = join_group(project, [C1L3, C1L4], C1L3)
    assert joined.by_key[C1L4].section.placed == joined.by_key[C1L3].section.placed
