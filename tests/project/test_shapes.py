"""Shapes in the project: proposed from one another, kept in files, taken from tables."""

from __future__ import annotations

import pytest
from pydantic import TypeAdapter, ValidationError

from fexro.core.members.check import check_lift
from fexro.demo.tarnholm import tarnholm_columns
from fexro.exchange.members import member_rows, take_members
from fexro.project.column import LiftKey
from fexro.project.file import parse_project, project_text
from fexro.project.resolve import resolve_lift
from fexro.project.section import SectionModel, section_of
from fexro.project.shape_change import PROPOSED, as_kind, with_corner_bars
from fexro.project.shapes import (
    KINDS,
    Circle,
    Composed,
    Ellipse,
    HollowCircle,
    PartModel,
    PolygonShape,
    Rectangle,
    Shape,
    shape_of,
)

DEMO, C1L3 = tarnholm_columns(), LiftKey("C1", "L3")
SHAPE = TypeAdapter(Shape)


def with_shape(shape):
    """The demo with one lift of another shape."""
    lift = DEMO.by_key[C1L3]
    section = with_corner_bars(lift.section.model_copy(update={"shape": shape}))
    mark = DEMO.mark_by_name["C1"]
    lifts = tuple(
        one.model_copy(update={"shape": shape, "bars": section.bars}) if one.storey == "L3" else one
        for one in mark.lifts
    )
    marks = tuple(m.model_copy(update={"lifts": lifts}) if m is mark else m for m in DEMO.marks)
    return DEMO.changed(marks=marks)


@pytest.mark.parametrize("kind", PROPOSED)
@pytest.mark.parametrize("size", [(900.0, 900.0), (600.0, 1200.0)])
def test_every_shape_is_proposed_from_a_rectangle_kept_and_checked(kind, size):
    shape = as_kind(Rectangle(width=size[0], depth=size[1]), kind)
    assert shape.kind == kind
    x0, y0, x1, y1 = shape_of(shape).outline().bounds
    # A hexagon across flats of the shorter side reaches further at its corners.
    reach = 1.16 if kind == "hexagon" else 1.001
    assert x1 - x0 <= reach * size[0]
    assert y1 - y0 <= reach * size[1]
    project = with_shape(shape)
    kept = parse_project(project_text(project).encode(), "file")
    assert kept == project
    result = check_lift(resolve_lift(kept, C1L3))
    assert result.utilisation > 0


def test_bars_are_added_until_each_corner_has_one():
    section = SectionModel(
        shape=as_kind(Rectangle(width=900, depth=900), "plus"),
        cover=40,
        bars="8 D25",
        ties="D10@200",
    )
    assert with_corner_bars(section).bars == "12 D25"
    enough = section.model_copy(update={"bars": "4 D28 + 10 D20"})
    assert with_corner_bars(enough).bars == "4 D28 + 10 D20"
    assert len(section_of(with_corner_bars(section)).bars) == 12


def test_a_shape_goes_back_to_the_rectangle_that_holds_it():
    tee = as_kind(Rectangle(width=900, depth=800), "T")
    assert as_kind(tee, "rectangle") == Rectangle(width=900, depth=800)
    polygon = as_kind(tee, "polygon")
    assert isinstance(polygon, PolygonShape)
    assert shape_of(polygon).outline().area == pytest.approx(shape_of(tee).outline().area)
    assert as_kind(tee, "composed") == Composed(parts=(PartModel(shape=tee),))


@pytest.mark.parametrize(
    ("round_", "corners"),
    [
        (Circle(diameter=700), 4),
        (HollowCircle(diameter=700, void_diameter=200), 4),
        (Ellipse(width=900, depth=400), 16),
        (Rectangle(width=600, depth=500, radius=60), 8),
    ],
)
def test_what_is_round_becomes_arcs(round_, corners):
    polygon = as_kind(round_, "polygon")
    assert isinstance(polygon, PolygonShape)
    assert len(polygon.outer) == corners
    outline, former = shape_of(polygon).outline(), shape_of(round_).outline()
    # Arcs go through the middle of what they stand for; of an ellipse they are no more than that.
    assert outline.area == pytest.approx(former.area, rel=2e-4)
    assert outline.inertia == pytest.approx(former.inertia, rel=5e-4, abs=1.0)
    section = SectionModel(shape=polygon, cover=40, bars="8 D25", ties="D10@200")
    assert with_corner_bars(section).bars == "8 D25"
    assert len(section_of(section).bars) == 8


@pytest.mark.parametrize("kind", ["I", "Z", "channel"])
def test_flanges_have_room_for_bars_at_both_faces(kind):
    shape = as_kind(Rectangle(width=500, depth=500), kind)
    section = SectionModel(shape=shape, cover=40, bars="8 D25", ties="D10@200")
    assert len(section_of(with_corner_bars(section)).bars) >= 8


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (
            {"kind": "T", "width": 900, "depth": 800, "flange": 795, "web": 300},
            "less than the depth",
        ),
        ({"kind": "rectangle", "width": 500, "depth": 500, "radius": 249}, "half the shorter side"),
        ({"kind": "composed", "parts": []}, "at least 1 item"),
        (
            {
                "kind": "composed",
                "parts": [
                    {"shape": {"kind": "circle", "diameter": 500}},
                    {"shape": {"kind": "circle", "diameter": 100}, "x": 195, "how": "cut"},
                ],
            },
            "also beside openings",
        ),
    ],
)
def test_shapes_that_cannot_be_are_refused(data, words):
    with pytest.raises(ValidationError, match=words):
        SHAPE.validate_python(data)


def rows_of(project):
    """The table of members, as text."""
    rows = member_rows(project, {})
    return [["" if cell is None else str(cell) for cell in row] for row in rows]


def test_shapes_of_a_table_round_trip():
    for kind in KINDS:
        project = with_shape(as_kind(Rectangle(width=900, depth=900), kind))
        taken = take_members(DEMO, rows_of(project))
        assert taken.problems == ()
        assert taken.project.by_key[C1L3].section == project.by_key[C1L3].section
    # What a table cannot tell stays as it is.
    project = with_shape(as_kind(Rectangle(width=900, depth=900), "composed"))
    assert take_members(project, rows_of(project)).problems == ()
