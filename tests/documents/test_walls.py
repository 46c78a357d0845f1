"""Drawings of walls and their reinforcement by level: measured against the model."""

from __future__ import annotations

import io
import re
from collections import Counter
from xml.etree import ElementTree

import ezdxf
import pytest
from ezdxf import recover

from fexro.core.section.shapes import Legs
from fexro.documents.content import Numeric
from fexro.documents.drawing import Dimension, Line, Text
from fexro.documents.drawing_dxf import dxf_of
from fexro.documents.drawing_svg import svg_of
from fexro.documents.issue import papers_of
from fexro.documents.paper_sizes import SCALES
from fexro.documents.schedule_sheet import schedule_sheets
from fexro.documents.wall_drawing import wall_items, wall_size
from fexro.documents.wall_list import wall_rows
from fexro.documents.wall_sheets import members_of, wall_sheets
from fexro.project.column import LiftKey
from tests.documents.test_drawings import texts

SCALE = 50.0


@pytest.fixture(scope="module")
def core(archive):
    return archive.walls[0]


@pytest.fixture(scope="module")
def wall(archive):
    return archive.walls[1]


@pytest.fixture(scope="module")
def elevation(archive, archive_results, wall):
    return list(wall_items(archive, archive_results, wall, SCALE))


def test_every_panel_and_beam_stands_in_its_elevation_once_for_each_leg(
    archive, archive_results, core
):
    names = Counter(
        item.text
        for item in wall_items(archive, archive_results, core, SCALE)
        if isinstance(item, Text) and item.layer == "marks"
    )
    # Each channel is seen on three of the four straight walls, six storeys each.
    assert names == {"K1.1": 18, "K1.2": 18, "K1.B1": 6, "K1.B2": 6}
    assert len(members_of(archive, core)) == 24


def test_bars_are_as_far_apart_as_the_section_has_them(archive, archive_results, elevation):
    # W1 in L1: 8 D25 in 450 at both ends and D16@200 between, two curtains behind one another.
    facts = archive_results[LiftKey("W1", "L1")].lift.facts
    legs = facts.panel.legs
    assert isinstance(legs, Legs)
    upright = {
        round(item.points[0][0] * SCALE, 1): item
        for item in elevation
        if isinstance(item, Line)
        and item.layer == "bars"
        and item.points[0][0] == item.points[1][0]
        and item.points[0][1] == 0.0
    }
    places = sorted(set(facts.section.bars.y.round(1).tolist()))
    assert sorted(upright) == pytest.approx(places, abs=0.06)
    thick = [place for place, item in upright.items() if item.weight * SCALE == 25.0]
    assert len(thick) == 8
    assert all(place < 460 or place > 5000 - 460 for place in thick)


def test_dimensions_are_those_of_the_model(archive, elevation, wall):
    written = Counter(item.written for item in elevation if isinstance(item, Dimension))
    # An opening of 1000 in the middle of 5000, five storeys of 4200 and one of 3600, 24600 in all.
    assert written == {"2000": 2, "1000": 1, "5000": 1, "4200": 5, "3600": 1, "24600": 1}
    assert wall_size(archive, wall) == (5000.0, pytest.approx(24600.0))


def test_sheets_are_to_scale_on_any_paper_and_nothing_is_beyond_it(
    archive, archive_results, sheet, core
):
    for paper in ("A3", "A1", "ANSI D"):
        drawings = wall_sheets(archive, archive_results, core, sheet, paper)
        assert drawings[0].scale in SCALES or paper == "A3"
        shown = [text for one in drawings for text in texts(one)]
        for number in range(1, len(drawings) + 1):
            assert f"{number} of {len(drawings)}" in shown
        assert any(text.startswith("K1.B1 · L3, 1:") for text in shown)
        for drawing in drawings:
            root = ElementTree.fromstring(svg_of(drawing))
            for path in root.iter("{http://www.w3.org/2000/svg}path"):
                for x, y in re.findall(r"[ML](-?[\d.]+) (-?[\d.]+)", path.get("d")):
                    assert -0.5 <= float(x) <= drawing.width + 0.5
                    assert -0.5 <= float(y) <= drawing.height + 0.5


def test_a_drawing_file_of_a_wall_is_sound(archive, archive_results, sheet, wall):
    drawings = wall_sheets(archive, archive_results, wall, sheet, "A2")
    found, auditor = recover.read(io.BytesIO(dxf_of(drawings).encode()))
    assert isinstance(found, ezdxf.document.Drawing)
    assert not auditor.has_errors
    dimensions = found.modelspace().query("DIMENSION")
    assert any(abs(one.get_measurement() - 24600.0) < 0.5 for one in dimensions)


def test_the_list_has_each_leg_and_beam_with_its_bars(archive, archive_results):
    table = wall_rows(archive, archive_results)
    by = {(row[1], row[2], row[3]): row for row in table.rows}
    # 2 panels × 3 legs × 6 storeys, 12 beams; W1: 5 storeys whole, two piers, a beam.
    assert len(table.rows) == 2 * 3 * 6 + 12 + 5 + 2 + 1
    row = by["L1", "W1", "leg 1 of 1"]
    assert row[7:11] == ("D16@200 each face", "8 D25 each end in 450", "D12@90", "D12@200")
    # Two curtains of D12 at 200 in 300 mm: 2 × 113.1 / (300 × 200).
    assert isinstance(row[12], Numeric)
    assert row[12].value == pytest.approx(100 * 2 * 113.097 / (300 * 200), rel=1e-4)
    beam = by["L2", "W1.B1", "coupling beam"]
    assert beam[8:10] == ("2 × 4 D20", "D12@75")
    assert [cell.value for cell in beam[4:7]] == [1000.0, 300.0, pytest.approx(2000.0, rel=0.3)]


def test_walls_have_papers_of_their_own(archive, archive_results):
    names = [paper.name for paper in papers_of(archive, archive_results)]
    assert {"Wall K1", "Wall W1", "Wall reinforcement", "Bearing wall P1"} <= set(names)
    assert not any(name.startswith(("Column K1", "Column W1")) for name in names)
    few = papers_of(archive, archive_results, keys=[LiftKey("C1", "L1")])
    assert not any(paper.name.startswith("Wall") for paper in few)
    listed = next(p for p in papers_of(archive, archive_results) if p.name == "Wall reinforcement")
    (content,) = listed.make("csv").values()
    assert content.decode("utf-8-sig").count("\n") >= 56


def test_walls_beside_them_do_not_make_columns_small(
    archive, archive_results, sheet, demo, results
):
    alone = schedule_sheets(demo, results, sheet, "A2")
    beside = schedule_sheets(archive, archive_results, sheet, "A2")
    assert [one.scale for one in beside] == [one.scale for one in alone]
