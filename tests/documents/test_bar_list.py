"""The bar list: marks, members, masses, cutting, and quantities that agree with it."""

from __future__ import annotations

import itertools
import math

import pytest

from fexro.documents.bar_list import ORDERS, bar_list
from fexro.documents.bar_schedule import bar_blocks, bar_rows, cutting_table
from fexro.documents.content import Numeric, Paragraph, Table
from fexro.documents.quantities import quantities_of, quantity_blocks
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import replace_lift


def list_of(project, results, keys=None):
    prepared = {key: result.prepared for key, result in results.items()}
    return bar_list(project, prepared, list(project.by_key) if keys is None else keys)


@pytest.fixture(scope="module")
def bars(demo, results):
    return list_of(demo, results)


def test_a_mark_is_of_one_size_grade_shape_and_dimensions(bars):
    by_mark = {}
    for row in bars.rows:
        assert by_mark.setdefault(row.marked.mark, row.marked) == row.marked
    assert len({(one.bar, one.grade) for one in by_mark.values()}) == len(by_mark)
    assert [marked.mark for marked, _ in bars.marks] == sorted(by_mark)


def test_a_list_of_some_lifts_has_the_marks_of_the_whole(demo, results, bars):
    keys = [key for key in demo.by_key if key.mark == "C4"]
    some = list_of(demo, results, keys)
    assert [row.marked for row in some.rows] == [row.marked for row in bars.rows if row.key in keys]


def test_the_bars_of_a_lift_by_hand(bars):
    # C1 · L5: 8 D20, storey 4.2 m, lap 671 mm above: 4871 → 4875; 19 sets of 420 × 420 ties.
    along, outer, inner = bars.of(LiftKey("C1", "L5"))
    assert (along.number, along.marked.bar.size.name, along.marked.bar.cut) == (8, "D20", 4875)
    assert along.mass == pytest.approx(8 * 2.466 * 4.875)
    assert (outer.number, outer.marked.bar.shape) == (19, "51")
    assert dict(outer.marked.bar.dimensions) == {"A": 420, "B": 420, "C": 75}
    # 2(A + B − 2d) + (3π − 8)(r + d/2) + 2e.
    length = 2 * (420 + 420 - 20) + (3 * math.pi - 8) * 25 + 150
    assert outer.marked.bar.length == pytest.approx(length)
    assert inner.laid.kind == "inner tie"


def test_a_lift_past_a_floor_that_does_not_hold_it_has_its_own_height(demo, results, bars):
    key = LiftKey("C6", "L5")
    facts = results[key].lift.facts
    assert facts.about_x.storey > facts.height
    along, *_ = bars.of(key)
    storey = 1000 * demo.storey_by_name["L5"].height
    assert storey < along.marked.bar.cut < storey + 1000
    assert along.laid.storey == storey


def test_masses_add_up_in_every_order(bars):
    total = math.fsum(row.mass for row in bars.rows)
    assert bars.mass == pytest.approx(total)
    assert math.fsum(one.mass for one in bars.masses) == pytest.approx(total)
    for order in ORDERS:
        assert math.fsum(row.mass for row in bars.ordered(order)) == pytest.approx(total)
    sizes = [row.marked.bar.size.diameter for row in bars.ordered("size")]
    assert sizes == sorted(sizes)


def test_the_steel_of_the_quantities_is_that_of_the_bar_list(demo, results, bars):
    found = quantities_of(demo, results, list(demo.by_key))
    assert found.total.amounts.steel == pytest.approx(bars.mass)
    for lift in found.lifts:
        assert lift.amounts.steel == pytest.approx(sum(row.mass for row in bars.of(lift.key)))
    by_storey = next(
        b for b in quantity_blocks(demo, found) if isinstance(b, Table) and b.title == "By storey"
    )
    column = by_storey.heads.index("Steel (kg)")
    assert sum(row[column].value for row in by_storey.rows) == pytest.approx(bars.mass)
    # 36 lifts: concrete of C1 by hand, 0.5 · 0.5 m over 24.6 m.
    concrete = sum(lift.amounts.concrete for lift in found.lifts if lift.key.mark == "C1")
    assert concrete == pytest.approx(0.25 * 24.6)


def test_rows_that_members_share_have_all_their_bars(demo, bars):
    for order in ORDERS:
        table = bar_rows(demo, bars, order)
        total = table.heads.index("Total")
        assert sum(row[total].value for row in table.rows) == sum(row.number for row in bars.rows)
    by_element = bar_rows(demo, bars)
    assert any(row[0] == "C1 · L5, L4" for row in by_element.rows)


def test_the_cutting_plan_buys_all_bars(demo, bars):
    table = cutting_table(demo, bars, [12_000.0])
    bought = sum(row[3].value for row in table.rows)
    used = sum(one.length for one in bars.masses) / 1000
    waste = sum(row[3].value * row[4].value / 100 for row in table.rows)
    assert bought - waste == pytest.approx(used)
    short = cutting_table(demo, bars, [3_000.0])
    assert any("3000 mm" in row[-1] for row in short.rows)


def test_columns_that_stand_have_no_bars_to_be_ordered(demo):
    key = LiftKey("C1", "L1")
    project = replace_lift(demo, key, demo.by_key[key].with_values(age="existing"))
    bars = list_of(project, check_project(project))
    assert not bars.of(key)
    assert bars.left_out == ("C1 · L1: stands already, its bars are not ordered",)
    blocks = list(bar_blocks(project, bars, [12_000.0]))
    assert Paragraph(bars.left_out[0]) in blocks


def test_every_mark_is_drawn_and_every_dimension_told(demo, bars):
    marks = next(
        b for b in bar_blocks(demo, bars, [12_000.0]) if isinstance(b, Table) and b.title == "Marks"
    )
    assert len(marks.rows) == len(bars.marks)
    for row, (marked, _) in zip(marks.rows, bars.marks, strict=True):
        assert row[3].line == marked.bar.line
        for letter, value in marked.bar.dimensions:
            assert f"{letter} {value:.0f}" in row[4]
    assert all(isinstance(row[5], Numeric) for row in marks.rows)


def test_en_lists_links_by_bs_8666(demo):
    basis = demo.basis.model_copy(update={"code": "EN 1992-1-1"})
    project = demo.changed(basis=basis)
    bars = list_of(project, check_project(project))
    links = [row.marked.bar for row in bars.rows if row.laid.kind == "outer tie"]
    rectangles = [bar for bar in links if bar.shape == "51"]
    assert rectangles
    for bar in rectangles:
        by = dict(bar.dimensions)
        # 2(A + B + C) − 2.5 r − 5 d, with r = 2 d.
        d = bar.size.diameter
        assert bar.length == pytest.approx(2 * (by["A"] + by["B"] + by["C"]) - 10 * d)
        assert bar.cut == 25 * math.ceil(bar.length / 25)
    assert "BS 8666:2020" in bars.practice


def test_lengths_are_of_whole_inches_in_inches(demo):
    project = demo.changed(basis=demo.basis.model_copy(update={"units": "in-lb"}))
    bars = list_of(project, check_project(project))
    for row in itertools.islice(bars.rows, 40):
        inches = row.marked.bar.cut / 25.4
        assert inches == pytest.approx(round(inches))
