"""Schedule and drawings: what is on them, and files that are read back and measured."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from xml.etree import ElementTree

import ezdxf
import pypdf
import pytest
from ezdxf import recover

from fexro.documents.bar_list import bar_list
from fexro.documents.column_sheets import lift_sheet, stack_sheet
from fexro.documents.drawing import Dimension, Drawing, Text
from fexro.documents.drawing_dxf import dxf_of
from fexro.documents.drawing_svg import drawings_pdf, svg_of
from fexro.documents.paper_sizes import PAPERS, SCALES, scale_for
from fexro.documents.schedule_sheet import schedule_sheets
from fexro.project.column import LiftKey

C2L1, C4L2 = LiftKey("C2", "L1"), LiftKey("C4", "L2")


@pytest.fixture(scope="module")
def bars(demo, results):
    prepared = {key: result.prepared for key, result in results.items()}
    return bar_list(demo, prepared, list(demo.by_key))


def texts(drawing):
    return [item.text for item in drawing.items if isinstance(item, Text)]


@pytest.mark.parametrize("paper", ["A4", "A3", "A1", "ANSI B", "ANSI D"])
def test_the_schedule_has_every_lift_once_on_any_paper(demo, results, sheet, paper):
    sheets = schedule_sheets(demo, results, sheet, paper)
    assert {(one.width, one.height) for one in sheets} == {PAPERS[paper]}
    found = [text for one in sheets for text in texts(one)]
    bars = [demo.by_key[key].section.bars for key in demo.by_key]
    for call_out in set(bars):
        assert found.count(call_out) == bars.count(call_out)
    for number, one in enumerate(sheets, start=1):
        assert f"{number} of {len(sheets)}" in texts(one)
        assert f"1:{one.scale:g}" in texts(one)
        assert one.scale in SCALES
    for mark in demo.marks:
        assert mark.name in found


def test_nothing_is_drawn_beyond_the_paper(demo, results, sheet, bars):
    drawings = [
        *schedule_sheets(demo, results, sheet, "A3"),
        *(lift_sheet(demo, results, bars, key, sheet) for key in demo.by_key),
        *(stack_sheet(demo, results, bars, mark.name, sheet) for mark in demo.marks),
    ]
    for drawing in drawings:
        root = ElementTree.fromstring(svg_of(drawing))
        for path in root.iter("{http://www.w3.org/2000/svg}path"):
            for x, y in re.findall(r"[ML](-?[\d.]+) (-?[\d.]+)", path.get("d")):
                assert -0.5 <= float(x) <= drawing.width + 0.5, drawing.title
                assert -0.5 <= float(y) <= drawing.height + 0.5, drawing.title


def test_dimensions_of_a_section_are_those_of_the_model(demo, results, sheet, bars):
    drawing = lift_sheet(demo, results, bars, C4L2, sheet)
    written = [item.written for item in drawing.items if isinstance(item, Dimension)]
    # L 600 × 600 / 250 and its storey of 4200, clear 3700.
    for value in ("600", "350", "250", "4200", "3700"):
        assert value in written
    assert "cover 40" in texts(drawing)
    result = results[C4L2]
    low, high = result.lift.code.laps(result.lift.facts, result.prepared.context)
    assert f"lap {high - low:.0f}" in written


def test_the_sections_bars_carry_the_marks_of_the_list(demo, results, sheet, bars):
    drawing = lift_sheet(demo, results, bars, C2L1, sheet)
    found = texts(drawing)
    for row in bars.of(C2L1):
        assert any(text.endswith(f"– {row.marked.mark}") for text in found)
        assert row.marked.mark in found


def test_a_drawing_file_has_no_errors_and_its_dimensions_measure_the_model(
    demo, results, sheet, bars
):
    drawing = lift_sheet(demo, results, bars, C2L1, sheet)
    text = dxf_of([drawing])
    document, auditor = recover.read(io.BytesIO(text.encode()))
    assert not auditor.errors
    assert document.units == ezdxf.units.MM
    dimensions = list(document.modelspace().query("DIMENSION"))
    wanted = [item for item in drawing.items if isinstance(item, Dimension)]
    assert len(dimensions) == len(wanted)
    for entity, item in zip(dimensions, wanted, strict=True):
        factor = entity.override().get("dimlfac")
        assert entity.get_measurement() * factor == pytest.approx(item.length, abs=1e-6)
    lengths = {round(item.length) for item in wanted}
    assert {500, 700, 4200, 3700} <= lengths


def test_a_drawing_file_is_of_real_size_with_layers_styles_blocks_and_hatches(
    demo, results, sheet, bars
):
    drawing = lift_sheet(demo, results, bars, C2L1, sheet)
    document = ezdxf.read(io.StringIO(dxf_of([drawing])))
    assert {"CONCRETE", "BARS", "TIES", "DIMENSIONS", "TEXT", "HATCH"} <= {
        layer.dxf.name for layer in document.layers
    }
    assert "FEXRO" in document.styles
    block = document.blocks["DRAWING_1"]
    outlines = [e for e in block.query("LWPOLYLINE") if e.dxf.layer == "CONCRETE"]
    (outline, *_) = [e for e in outlines if e.closed]
    xs, ys = zip(*[(p[0], p[1]) for p in outline.get_points()], strict=True)
    assert max(xs) - min(xs) == pytest.approx(500)
    assert max(ys) - min(ys) == pytest.approx(700)
    bars_drawn = [e for e in block.query("CIRCLE") if e.dxf.layer == "BARS"]
    assert len(bars_drawn) == 14
    assert {round(2 * e.dxf.radius) for e in bars_drawn} == {28}
    assert block.query("HATCH")


def test_several_drawings_are_one_pdf_and_one_file(demo, results, sheet, bars):
    drawings = [stack_sheet(demo, results, bars, mark, sheet) for mark in ("C1", "C3")]
    reader = pypdf.PdfReader(io.BytesIO(drawings_pdf(drawings, "Columns")))
    assert len(reader.pages) == 2
    assert [one["/Title"] for one in reader.outline] == ["Column C1", "Column C3"]
    width = float(reader.pages[0].mediabox.width) / 72 * 25.4
    assert width == pytest.approx(594, abs=0.5)
    assert "C3 · L1" in reader.pages[1].extract_text()
    document = ezdxf.read(io.StringIO(dxf_of(drawings)))
    assert len(list(document.modelspace().query("INSERT"))) == 2


def test_names_are_text_on_drawings(demo, results, sheet, bars):
    nasty = '</text><script>x</script> %%c "&" \\P {\\fArial;y}'
    drawing = lift_sheet(demo, results, bars, C2L1, replace(sheet, project=nasty))
    root = ElementTree.fromstring(svg_of(drawing))
    assert not list(root.iter("{http://www.w3.org/2000/svg}script"))
    document = ezdxf.read(io.StringIO(dxf_of([drawing])))
    found = [e.dxf.text for e in document.blocks["DRAWING_1"].query("TEXT")]
    assert not any("%%c" in text for text in found)


def test_text_is_set_smaller_before_it_is_cut_short():
    drawing = Drawing("x", 100, 100)
    drawing.text("A name of some length", 0, 0, 30.0)
    drawing.text("A name that is very much longer than its cell " * 3, 0, 0, 30.0)
    fitting, cut = drawing.items
    assert fitting.text == "A name of some length"
    assert fitting.height < 2.2
    assert cut.text.endswith("…")


def test_the_scale_is_the_largest_usual_one_that_fits():
    assert scale_for((600, 600), (60, 60)) == 10
    assert scale_for((601, 600), (60, 60)) == 20
    assert scale_for((100_000, 1), (10, 10)) == 10_000
