"""Documents in every format, read back: text, numbers, equations; names are never code."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from html.parser import HTMLParser
from xml.etree import ElementTree

import docx
import openpyxl
import pypdf
import pytest

from fexro.core.findings import State
from fexro.core.provisions import Formula
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.expressions import results_of
from fexro.documents.calculation import CalculationOptions, calculation
from fexro.documents.content import (
    Calculation,
    Contents,
    Document,
    Facts,
    Figure,
    Heading,
    Numeric,
    Paragraph,
    Table,
)
from fexro.documents.markup import html_of, markdown_of
from fexro.documents.typesetting import pdf_of
from fexro.documents.word import docx_of
from fexro.documents.workbook import workbook_of, xlsx_of
from fexro.project.column import LiftKey

NASTY = [
    '=HYPERLINK("http://x","y")',
    "+1+1",
    "-2+3",
    "@SUM(A1)",
    '#let x = 1; $a^2$ *b* _c_ `d` "e" \\ {f} <g> [h]',
    "</w:t></w:r><script>alert(1)</script>&amp;",
    "עמוד ראשי 12",
    "Überlänge" * 12,
]
LIFT = LiftKey("C4", "L2")
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 4"><path d="M0 0L4 4"/></svg>'


@pytest.fixture(scope="module")
def lift(demo, results, sheet):
    return Document("Calculation", sheet, list(calculation(demo, results, [LIFT], sheet)))


def plain(text):
    """Text as it is compared: without the spaces that setting type puts between letters."""
    return re.sub(r"\s|\u2009|\u200b", "", text)


def text_of(pdf):
    return "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(pdf)).pages)


@pytest.fixture(scope="module")
def pdf(lift):
    return pdf_of(lift)


def test_every_page_carries_project_lift_revision_and_number(pdf):
    reader = pypdf.PdfReader(io.BytesIO(pdf))
    count = len(reader.pages)
    for number, page in enumerate(reader.pages, start=1):
        text = page.extract_text()
        for part in ("Tarnholm Archive", "2041-07", "Rev B", f"page {number} of {count}"):
            assert part in text, number
    inside = [
        page.extract_text() for page in reader.pages if "first order, top" in page.extract_text()
    ]
    assert inside
    assert all("Tarnholm Archive · C4 · L2" in text for text in inside)


def test_the_pdf_has_bookmarks_a_title_and_contents(pdf):
    reader = pypdf.PdfReader(io.BytesIO(pdf))
    titles = [one["/Title"] for one in reader.outline if not isinstance(one, list)]
    assert titles[:3] == ["Summary", "Basis", "Materials"]
    assert "C4 · L2" in titles
    assert titles[-1] == "For the checker"
    assert reader.metadata.title == "Calculation"
    assert re.search(r"C4 · L2[ .]+\d+", reader.pages[0].extract_text())


def test_every_result_of_every_line_stands_in_the_pdf(lift, pdf):
    text, count = plain(text_of(pdf)), 0
    for block in lift.blocks:
        if isinstance(block, Calculation):
            for line in block.record.lines:
                if isinstance(line, Formula):
                    # A power of ten is set as one: its digits stand apart.
                    (result, *_) = results_of(line.result, UnitSystem.SI)
                    if "·10" not in result and "√" not in result:
                        assert plain(result) in text, result
                        count += 1
    assert count > 100


def test_the_first_page_tells_what_is_exceeded_and_what_is_not_checked(demo, results, sheet):
    (first, *_) = pypdf.PdfReader(
        io.BytesIO(pdf_of(Document("Calculation", sheet, list(_brief(demo, results, sheet)))))
    ).pages
    text = first.extract_text()
    assert "36 lifts: 2 exceeded" in text
    # The revisions, each with what is other.
    assert "First issue" in text
    assert "Forces of the second run" in text
    for key in (LIFT, LiftKey("C4", "L1")):
        assert results[key].state is State.EXCEEDED
        assert str(key) in text


def _brief(demo, results, sheet):
    options = CalculationOptions("verdicts", parts=())
    return calculation(demo, results, list(demo.by_key), sheet, options)


def test_verdicts_checks_and_full_have_more_and_more_in_them(demo, results, sheet):
    found = []
    for options in (
        CalculationOptions("verdicts", parts=("section",)),
        CalculationOptions("checks", parts=("section", "checks")),
        CalculationOptions("full", parts=("section", "checks")),
        CalculationOptions("full", parts=("section", "checks"), combinations="all"),
    ):
        blocks = list(calculation(demo, results, [LIFT], sheet, options))
        calculations = sum(isinstance(block, Calculation) for block in blocks)
        found.append((calculations, sum(isinstance(block, Table) for block in blocks)))
    (verdicts, tables), (checks, more), (full, _), (everything, _) = found
    assert (verdicts, checks) == (0, 0)
    assert more == tables + 1
    assert 0 < full < everything


def test_a_chapter_may_have_less_than_the_others(demo, results, sheet):
    options = CalculationOptions("full", {"shear": "checks"}, parts=("checks",))
    names = [
        block.heading
        for block in calculation(demo, results, [LIFT], sheet, options)
        if isinstance(block, Calculation)
    ]
    assert names
    assert not any(name.startswith("Shear") for name in names)


def test_quantities_are_the_same_with_and_without_chapters_of_lifts(demo, results, sheet):
    tables = [
        [
            block.rows
            for block in calculation(
                demo, results, list(results), sheet, CalculationOptions("checks", parts=parts)
            )
            if isinstance(block, Table)
        ]
        for parts in (("quantities",), ("section", "quantities"))
    ]
    assert tables[1][-1][0][0] == str(len(results))
    assert tables[0][-1] == tables[1][-1]


def test_word_has_real_headings_tables_fields_and_equations(lift):
    book = docx.Document(io.BytesIO(docx_of(lift)))
    headings = [p.text for p in book.paragraphs if p.style.name == "Heading 1"]
    assert headings[0] == "Summary"
    assert "C4 · L2" in headings
    checks = next(t for t in book.tables if t.rows[0].cells[0].text == "Check")
    assert [cell.text for cell in checks.rows[0].cells][:3] == ["Check", "Ratio", "Clause"]
    xml = book.element.xml
    assert xml.count("<m:oMath>") > 300
    assert xml.count("<m:f>") > 50
    head, foot = (part._element.xml for part in (book.sections[0].header, book.sections[0].footer))
    assert 'STYLEREF "Heading 1"'.replace('"', "&quot;") in head
    assert "NUMPAGES" in foot


def test_a_workbook_has_numbers_as_numbers(lift):
    book = openpyxl.load_workbook(io.BytesIO(xlsx_of(lift)))
    sheet = next(s for s in book.worksheets if s["A1"].value == "Check")
    ratios = [row[1].value for row in sheet.iter_rows(min_row=2)]
    assert max(r for r in ratios if isinstance(r, float)) == pytest.approx(1.0164, abs=1e-3)
    done = next(s for s in book.worksheets if s["D1"].value == "By fibres")
    assert done["D2"].value == pytest.approx(done["C2"].value, rel=0.01)


def test_the_largest_difference_of_a_printed_line_is_that_of_its_last_figure(lift):
    (table,) = [b for b in lift.blocks if isinstance(b, Table) and b.title == "Done again"]
    ((_, _, engine, fibres, difference, lines, largest),) = table.rows
    assert fibres.value == pytest.approx(engine.value, rel=0.01)
    assert abs(difference.value) < 1.0
    assert lines.value > 100
    # Five figures: at most half of the fifth.
    assert 0 < largest.value <= 100 * 5.1e-5


@pytest.fixture(scope="module")
def nasty(sheet):
    cells = tuple((text, Numeric(1.5, 1)) for text in NASTY)
    shown = replace(sheet, project=NASTY[4], author=NASTY[5], number=NASTY[0])
    blocks = (
        Heading(NASTY[4], 0, running=NASTY[5]),
        Contents(),
        *(Heading(text) for text in NASTY),
        *(Paragraph(text, tone) for text in NASTY for tone in ("", "quiet", "strong")),
        Facts(tuple((text, text) for text in NASTY)),
        Table(("Text", "Number"), cells, NASTY[0]),
        Figure(SVG, NASTY[4]),
    )
    return Document(NASTY[5], shown, blocks)


def test_names_are_printed_as_they_are_in_pdf(nasty):
    text = plain(text_of(pdf_of(nasty)))
    for name in (one for one in NASTY if "ע" not in one):
        assert plain(name) in text, name


def test_names_are_text_in_a_workbook(nasty):
    book = openpyxl.load_workbook(io.BytesIO(xlsx_of(nasty)))
    sheet = book.worksheets[-1]
    found = [row[0] for row in sheet.iter_rows(min_row=2)]
    assert [cell.value for cell in found] == NASTY
    assert {cell.data_type for cell in found} == {"s"}
    assert all(cell.quotePrefix for cell in found)
    assert all(
        cell.data_type != "f" for s in book.worksheets for row in s.iter_rows() for cell in row
    )


def test_names_are_text_in_word(nasty):
    book = docx.Document(io.BytesIO(docx_of(nasty)))
    paragraphs = [p.text for p in book.paragraphs]
    for name in NASTY:
        assert paragraphs.count(name) >= 4
    assert [row.cells[0].text for row in book.tables[1].rows[1:]] == NASTY


class Reader(HTMLParser):
    def __init__(self):
        super().__init__()
        self.tags, self.texts = [], []

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)

    def handle_data(self, data):
        self.texts.append(data)


def test_names_are_text_in_html_and_markdown(nasty):
    reader = Reader()
    reader.feed(html_of(nasty))
    assert "script" not in reader.tags
    for name in NASTY:
        assert reader.texts.count(name) >= 4
    text = markdown_of(nasty)
    assert "<script>" not in text.replace("\\<script\\>", "")
    assert r"\*b\* \_c\_" in text


def test_html_has_formulas_as_mathml_that_is_well_formed(lift):
    page = html_of(lift)
    for math in re.findall(r"<math>.*?</math>", page)[:200]:
        ElementTree.fromstring(math)
    assert page.count("<mfrac>") > 50


def test_sheets_of_one_name_are_told_apart():
    table = Table(("A",), (("x",),))
    book = openpyxl.load_workbook(io.BytesIO(workbook_of([("a/b[c]:" * 9, table)] * 3)))
    assert len(set(book.sheetnames)) == 3
    assert all(len(name) <= 31 for name in book.sheetnames)
