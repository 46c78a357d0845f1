"""The documents stage: papers with their state, issuing, sheets, bars, quantities."""

from __future__ import annotations

import io

import pypdf
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QApplication

from fexro.desktop.bench.paper import PaperPictures
from fexro.desktop.shell.stages import Place
from fexro.documents.calculation import CalculationOptions, calculation
from fexro.documents.content import Figure, Table
from fexro.documents.issue import papers_of, sheet_of
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import change_lifts
from tests.desktop.test_basis import chosen, typed

SHEETS, BARS, QUANTITIES = 1, 2, 3


@pytest.fixture
def page(qtbot, window):
    qtbot.keyClick(window, Qt.Key.Key_7, Qt.KeyboardModifier.ControlModifier)
    assert window.shows(window.stage("documents"))
    return window.stage("documents").page


def states(page):
    table = page.issue.table
    return [table.item(row, 1).text() for row in range(table.rowCount())]


def settled(qtbot, page):
    qtbot.waitUntil(
        lambda: bool(states(page)) and not any("…" in one for one in states(page)), timeout=60_000
    )


def test_papers_are_listed_with_state_and_thumbnail(qtbot, window, page):
    settled(qtbot, page)
    table = page.issue.table
    names = [table.item(row, 0).text() for row in range(table.rowCount())]
    assert names[:3] == ["Calculation", "Column schedule", "Column C1"]
    assert names[-3:] == ["Bar list", "Quantities", "Building model"]
    assert set(states(page)) == {"◌ not issued"}
    assert not any(table.item(row, 0).icon().isNull() for row in range(table.rowCount()))
    qtbot.waitUntil(lambda: page.issue.view.document().pageCount() > 0, timeout=30_000)


def test_the_chosen_paper_is_shown_whole_on_demand(qtbot, window, page):
    settled(qtbot, page)
    page.issue.table.selectRow(page.issue.table.rowCount() - 3)
    qtbot.waitUntil(lambda: "Bar list" in page.issue.told.text(), timeout=30_000)
    page.issue.all_pages.click()
    qtbot.waitUntil(lambda: page.issue.told.text().endswith("pages."), timeout=30_000)
    assert page.issue.view.document().pageCount() > 3


@pytest.mark.long
def test_all_is_issued_and_what_changes_then_is_told(qtbot, window, page, tmp_path):
    page.sheets.options.value = CalculationOptions("verdicts", parts=("section", "elevation"))
    page.issue.refresh()
    settled(qtbot, page)
    page.issue.issue_into(tmp_path / "out")
    manifest = tmp_path / "out" / "manifest.json"
    qtbot.waitUntil(lambda: manifest.exists() and not page.issue.stop.isVisible(), timeout=200_000)
    names = {path.name for path in (tmp_path / "out").iterdir()}
    wanted = {"Calculation.pdf", "Column C1.dxf", "Bar list.csv", "manifest.json"}
    assert wanted <= names
    text = pypdf.PdfReader(tmp_path / "out" / "Calculation.pdf").pages[0].extract_text()
    assert "36 lifts: 2 exceeded" in text
    settled(qtbot, page)
    assert set(states(page)) == {"● up to date"}
    window.document.edit(
        "Bars", lambda p: change_lifts(p, [LiftKey("C3", "L5")], section={"bars": "9 D25"})
    )
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    settled(qtbot, page)
    assert page.issue.changed == 6
    window.document.undo()
    window.document.undo()
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    settled(qtbot, page)
    assert set(states(page)) == {"◌ not issued"}


def test_a_folder_that_cannot_be_written_is_a_sentence(qtbot, window, page):
    settled(qtbot, page)
    page.issue.table.selectRow(page.issue.table.rowCount() - 1)
    from pathlib import Path

    page.issue.write_into(Path("/proc/nothing"))
    qtbot.waitUntil(lambda: "nothing was written" in page.issue.told.text(), timeout=60_000)


def test_one_paper_is_written_in_all_its_formats(qtbot, window, page, tmp_path):
    settled(qtbot, page)
    page.issue.table.selectRow(page.issue.table.rowCount() - 2)
    page.issue.write_into(tmp_path)
    qtbot.waitUntil(lambda: (tmp_path / "Quantities.xlsx").exists(), timeout=60_000)
    assert window.document.project.papers.issued == ()


def test_an_issue_is_stopped_and_leaves_nothing(qtbot, window, page, tmp_path):
    settled(qtbot, page)
    page.issue.issue_into(tmp_path / "out")
    qtbot.waitUntil(page.issue.stop.isVisible)
    page.issue.stop.click()
    assert page.issue.told.text() == "Stopped; nothing was written."
    qtbot.wait(1500)
    assert not (tmp_path / "out").exists()


def test_the_pages_that_are_shown_are_printed(qtbot, window, page, tmp_path):
    settled(qtbot, page)
    page.issue.table.selectRow(1)
    qtbot.waitUntil(lambda: "Column schedule" in page.issue.told.text(), timeout=30_000)
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    page.issue.paint_pages(printer)
    assert len(pypdf.PdfReader(tmp_path / "printed.pdf").pages) == 1


def test_what_stands_on_every_sheet_is_typed_and_undone(qtbot, window, page):
    page.show_view(SHEETS)
    fields = page.sheets.form.fields
    typed(qtbot, fields["number"], "2041-07")
    typed(qtbot, fields["author"], "A. Ertl")
    typed(qtbot, fields["stock"], "6000, 12000")
    typed(qtbot, fields["revision"], "C")
    papers = window.document.project.papers
    assert (papers.number, papers.author, papers.stock) == ("2041-07", "A. Ertl", (6000, 12000))
    assert window.document.project.revision == "C"
    table = page.sheets.revisions
    assert [table.item(row, 0).text() for row in range(table.rowCount())] == ["A", "B", "C"]
    project, results = window.document.project, window.document.results
    (bars,) = [one for one in papers_of(project, results) if one.name == "Bar list"]
    text = pypdf.PdfReader(io.BytesIO(bars.pages())).pages[0].extract_text()
    assert "2041-07 · Rev C" in text
    assert "A. Ertl" in text
    typed(qtbot, fields["stock"], "many")
    assert "1000 to 30000 mm" in page.sheets.form.error.text()
    assert window.document.project.papers.stock == (6000, 12000)
    window.document.undo()
    assert window.document.project.revision == "B"


def test_parts_of_the_calculation_are_chosen(qtbot, window, page):
    page.show_view(SHEETS)
    page.sheets.boxes["stresses"].setChecked(False)
    assert "stresses" not in page.sheets.options.value.parts
    chosen(page.sheets.calculation.fields["shear"], "checks")
    chosen(page.sheets.calculation.fields["detailing"], "verdicts")
    chosen(page.sheets.calculation.fields["detailing"], "")
    assert dict(page.sheets.options.value.details) == {"shear": "checks"}
    page.sheets.boxes["surface"].setChecked(True)
    assert "surface" in page.sheets.options.value.parts


def test_a_picture_that_is_no_logo_is_refused(qtbot, window, page, tmp_path):
    page.show_view(SHEETS)
    wrong = tmp_path / "logo.png"
    wrong.write_bytes(b"no picture")
    page.sheets.take_logo(wrong)
    assert "PNG or SVG" in page.sheets.told.text()
    page.sheets.take_logo(tmp_path / "nothing.png")
    assert "No such file" in page.sheets.told.text()
    assert window.document.project.papers.logo == ""


def test_a_bar_leads_to_its_lift_and_back(qtbot, window, page):
    page.show_view(BARS)
    bars = page.bars
    number = next(i for i, row in enumerate(bars.rows) if row.key == LiftKey("C4", "L2"))
    bars.table.itemDoubleClicked.emit(bars.table.item(number, 0))
    assert window.document.selection.lift == LiftKey("C4", "L2")
    assert window.shows(window.stage("bench"))
    window.document.selection.select_lift(LiftKey("C2", "L3"))
    window.go(Place("documents"))
    assert bars.rows[bars.table.currentRow()].key == LiftKey("C2", "L3")
    bars.order.setCurrentIndex(1)
    sizes = [row.marked.bar.size.diameter for row in bars.rows]
    assert sizes == sorted(sizes)


def test_quantities_tell_what_has_changed_against_what_was_kept(qtbot, window, page):
    page.show_view(QUANTITIES)
    table = page.quantities.table
    assert table.rowCount() == 6
    page.quantities.keep.click()
    assert "(" not in table.item(0, 3).text()
    window.document.edit(
        "Bars", lambda p: change_lifts(p, [LiftKey("C1", "L1")], section={"bars": "8 D20"})
    )
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    page.quantities.refresh()
    texts = [table.item(row, 3).text() for row in range(6)]
    assert "(−" in texts[5]
    assert "(" not in texts[0]
    page.quantities.drop.click()
    assert "(" not in table.item(5, 3).text()


def test_the_calculation_may_be_of_a_stack_a_storey_or_a_lift(qtbot, window, page):
    window.document.selection.select_lift(LiftKey("C4", "L2"))
    page.show_view(SHEETS)
    options, project = page.sheets.options, window.document.project
    assert options.keys(project) == list(project.by_key)
    fields = page.sheets.calculation.fields
    chosen(fields["scope"], "stack")
    assert {key.mark for key in options.keys(project)} == {"C4"}
    chosen(fields["scope"], "lift")
    assert options.keys(project) == [LiftKey("C4", "L2")]
    page.issue.refresh()
    assert "Column C4 · L2" in [paper.name for paper in page.issue.papers]
    chosen(fields["name"], "C2 · L1")
    assert options.keys(project) == [LiftKey("C2", "L1")]
    chosen(fields["scope"], "storey")
    assert {key.storey for key in options.keys(project)} == {"L2"}
    page.show_view(0)
    settled(qtbot, page)
    page.issue.table.selectRow(0)
    page.issue.all_pages.click()
    qtbot.waitUntil(lambda: page.issue.told.text().endswith("pages."), timeout=60_000)


def test_the_building_model_is_one_of_the_papers(qtbot, window, page, tmp_path):
    settled(qtbot, page)
    page.issue.table.selectRow(page.issue.table.rowCount() - 1)
    page.issue.write_into(tmp_path)
    model = tmp_path / "Building model.ifc"
    qtbot.waitUntil(model.exists, timeout=60_000)
    assert model.read_text().startswith("ISO-10303-21")


def test_a_picture_of_the_bench_is_put_into_the_calculation_and_stays_live(qtbot, window, page):
    key = LiftKey("C4", "L2")
    window.go(Place(lift=key))
    pictures = window.stage("bench").page.pictures
    window.document.selection.select_combination("U3")
    pictures.show_view(0)
    pictures.put_into_calculation()
    pictures.show_view(3)
    window.commands.actions["put_in"].trigger()
    (diagram, stresses) = window.document.project.papers.pictures
    assert (diagram.part, diagram.key, diagram.combination) == ("N–M", key, "U3")
    assert (stresses.part, stresses.angle) == ("stresses", None)
    # The same is not put in twice.
    pictures.put_into_calculation()
    assert len(window.document.project.papers.pictures) == 2
    options = CalculationOptions("verdicts", parts=("section",))
    project, results = window.document.project, window.document.results
    maker = PaperPictures(results, project.basis.system)
    blocks = calculation(project, results, [key], sheet_of(project), options, maker)
    captions = [block.caption for block in blocks if isinstance(block, Figure)]
    assert len(captions) == 3
    assert "with U3" in captions[1]
    assert captions[2].startswith("U3")
    window.go(Place("documents"))
    page.show_view(SHEETS)
    assert page.sheets.put.rowCount() == 2
    page.sheets.put.selectRow(0)
    page.sheets.out.click()
    assert [one.part for one in window.document.project.papers.pictures] == ["stresses"]


def test_numbers_of_a_check_are_put_into_the_calculation_and_stay_live(qtbot, window, page):
    key = LiftKey("C4", "L2")
    window.go(Place(lift=key))
    bench = window.stage("bench").page
    head = next(head for head in bench.checks.heads if head.check.leads)
    checked = head.check.name
    (action,) = head.actions()
    action.trigger()
    # The same is not put in twice.
    action.trigger()
    (put,) = window.document.project.papers.checks
    assert (put.key, put.check) == (key, checked)

    def rows():
        project, results = window.document.project, window.document.results
        options = CalculationOptions("verdicts", parts=())
        blocks = calculation(project, results, [key], sheet_of(project), options)
        return next(b.rows for b in blocks if isinstance(b, Table) and b.title == "Put in")

    result = window.document.results[key]
    strength = next(one for one in result.shown_findings if one.name == checked)
    ((name, ratio, *_),) = rows()
    assert (name, ratio.value) == (checked, pytest.approx(strength.ratio))
    window.document.edit("Bars", lambda p: change_lifts(p, [key], section={"bars": "12 D32"}))
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    settled(qtbot, page)
    ((_, after, *_),) = rows()
    assert after.value < ratio.value
    window.go(Place("documents"))
    page.show_view(SHEETS)
    page.sheets.put.selectRow(0)
    page.sheets.out.click()
    assert window.document.project.papers.checks == ()


def test_the_application_ends_with_its_last_window_though_pictures_were_painted(window, page):
    project, results = window.document.project, window.document.results
    maker = PaperPictures(results, project.basis.system)
    assert maker(LiftKey("C4", "L2"), "elevation") is not None
    shown = [one for one in QApplication.topLevelWidgets() if one.isVisible()]
    assert len(shown) > 1
    ending = [one for one in shown if one.testAttribute(Qt.WidgetAttribute.WA_QuitOnClose)]
    assert ending == [window]
