"""Parts of sections: added, changed, removed; sections turned and mirrored."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.project.edits.bars import placed_bars, with_placed
from fexro.project.edits.parts import (
    add_part,
    change_part,
    composed,
    mirror_section,
    remove_part,
    resize_part,
    turn_section,
)
from fexro.project.section import SectionModel, section_of
from fexro.project.shape_change import as_kind
from fexro.project.shapes import KINDS, Composed, LShape, PolygonShape, Rectangle, shape_of


def section(shape, bars="14 D20"):
    return SectionModel(shape=shape, cover=40, bars=bars, ties="D10@150")


BOX = section(Rectangle(width=600, depth=800))


def test_an_opening_is_cut_moved_resized_and_taken_out():
    cut = add_part(BOX, "cut")
    assert isinstance(cut.shape, Composed)
    assert cut.shape.parts[1].shape.diameter == 120
    area = shape_of(cut.shape).outline().area
    assert area == pytest.approx(600 * 800 - 3.14159265 * 60**2, rel=1e-6)
    moved = change_part(cut, 1, x=80.0, y=-100.0)
    assert shape_of(moved.shape).outline().centroid[0] < 0
    larger = resize_part(moved, 1, "diameter", 200.0)
    assert shape_of(larger.shape).outline().area < area
    square = change_part(larger, 1, kind="rectangle")
    assert (square.shape.parts[1].shape.width, square.shape.parts[1].x) == (200.0, 80.0)
    assert remove_part(square, 1) == BOX
    with pytest.raises(InputError, match="at least one part"):
        remove_part(BOX, 0)


def test_a_part_is_joined_at_the_side():
    joined = add_part(BOX, "join")
    outline = shape_of(joined.shape).outline()
    assert outline.area == 600 * 800 + 150 * 300
    assert outline.bounds[2] == 450
    assert shape_of(change_part(joined, 1, how="cut").shape).outline().area == 435_000


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (lambda s: change_part(s, 1, x=5000.0), "changes the section"),
        (lambda s: change_part(s, 1, angle=500.0), "less than or equal to 360"),
        (lambda s: resize_part(s, 1, "diameter", 590.0), "also beside openings"),
        (lambda s: resize_part(s, 1, "diameter", 1.0), "greater than or equal to 50"),
        (lambda s: change_part(s, 0, how="cut"), "others join or cut"),
    ],
)
def test_parts_that_cannot_be_are_refused(edit, words):
    with pytest.raises(InputError, match=words):
        edit(add_part(BOX, "cut"))


@pytest.mark.parametrize("kind", [*KINDS, "polygon"])
def test_turned_and_mirrored_sections_have_turned_and_mirrored_moments(kind):
    shape = as_kind(Rectangle(width=600, depth=800), kind)
    one = section(shape)
    before = shape_of(shape).outline()
    turned = shape_of(turn_section(one, 90.0).shape).outline()
    about_x, about_y, product = before.inertia
    scale = max(about_x, about_y)
    assert turned.inertia == pytest.approx((about_y, about_x, -product), abs=1e-9 * scale)
    mirrored = shape_of(mirror_section(one).shape).outline()
    assert mirrored.inertia == pytest.approx((about_x, about_y, -product), abs=1e-9 * scale)
    again = mirror_section(mirror_section(one))
    assert shape_of(again.shape).outline().centroid == pytest.approx(before.centroid, abs=1e-6)


@given(st.floats(-180, 180))
def test_bars_placed_by_hand_turn_with_their_section(angle):
    ell = section(LShape(width=700, depth=600, leg=250), "10 D20")
    by_hand = with_placed(ell, placed_bars(ell))
    turned = turn_section(by_hand, angle)
    found = section_of(turned)
    assert found.misplaced == ()
    area = shape_of(turned.shape).outline().area
    assert area == pytest.approx(shape_of(ell.shape).outline().area, rel=1e-9)
    back = turn_section(turned, -angle)
    for bar, other in zip(back.placed, by_hand.placed, strict=True):
        assert (bar.x, bar.y) == pytest.approx((other.x, other.y), abs=1e-4)


def test_a_mirrored_outline_keeps_its_arcs():
    arc = PolygonShape(outer=((0, 0), (600, 0), (600, 400), (0, 400)), bulges=(0.0, 0.5, 0.0, 0.0))
    mirrored = mirror_section(section(arc)).shape
    a, b = (shape_of(shape).outline() for shape in (arc, mirrored))
    assert b.area == pytest.approx(a.area, rel=1e-12)
    assert b.bounds[0] == pytest.approx(-a.bounds[2])
    assert composed(arc).parts[0].shape == arc
