"""Other bars in the same layout."""

from __future__ import annotations

from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.core.sizing.alternatives import other_counts, other_sizes, resized
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.alternatives import bar_alternatives
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import with_records


def written(found):
    return [format_call_out(groups) for groups in found]


def test_sizes_move_along_their_series():
    assert written(other_sizes(parse_call_out("12 D25"), 2)) == [
        *("12 D20", "12 D22", "12 D28", "12 D32"),
    ]
    assert written(other_sizes(parse_call_out("4 D28 + 6 D20"), 1)) == [
        *("4 D25 + 6 D18", "4 D32 + 6 D22"),
    ]
    assert written(other_sizes(parse_call_out("8 #8"), 1)) == ["8 #7", "8 #9"]


def test_the_series_has_ends():
    assert resized(parse_call_out("4 D40"), 1) is None
    assert resized(parse_call_out("4 D6"), -1) is None
    assert written(other_sizes(parse_call_out("4 D40"), 2)) == ["4 D32", "4 D36"]


def test_fewer_and_more_bars_change_the_last_group():
    assert written(other_counts(parse_call_out("8 D25"))) == ["4 D25", "6 D25", "10 D25", "12 D25"]
    assert written(other_counts(parse_call_out("4 D28 + 2 D20"))) == [
        *("4 D28 + 4 D20", "4 D28 + 6 D20"),
    ]
    assert written(other_counts(parse_call_out("398 D10"))) == ["394 D10", "396 D10", "400 D10"]


def test_bars_without_a_place_are_told_apart():
    project = tarnholm_columns()
    key = LiftKey("C1", "L1")
    found = bar_alternatives(project, key, counts=False)
    assert [alternative.fewer for alternative in found] == [True, True, False, False]
    assert all(alternative.lift is not None for alternative in found)
    lift = project.record_by_key[key].model_copy(update={"bars": "4 D25"})
    few = with_records(project, {key: lift})
    # A rectangle needs a bar in each corner.
    by_name = {a.call_out: a.lift for a in bar_alternatives(few, key, counts=True)}
    assert by_name["2 D25"] is None
    assert by_name["6 D25"] is not None
