"""Documents as DOCX: real headings, tables, fields for pages, and equations that can be edited."""

from __future__ import annotations

import io
from collections.abc import Set
from typing import TYPE_CHECKING, Any
from xml.etree.ElementTree import Element
from xml.sax.saxutils import escape

from fexro.core.rendering.formula_tree import LineTree, line_trees, written
from fexro.documents.content import (
    Block,
    Calculation,
    Contents,
    Document,
    Facts,
    Figure,
    Heading,
    NewPage,
    Paragraph,
    Table,
    words_of,
)
from fexro.documents.raster import png_of

if TYPE_CHECKING:
    from docx.document import Document as WordDocument

__all__ = ["docx_of"]

MATH = "http://schemas.openxmlformats.org/officeDocument/2006/math"
QUIET = "5A6270"


def docx_of(document: Document) -> bytes:
    """Return a document as DOCX."""
    import docx  # only needed once one is written
    from docx.enum.section import WD_ORIENT
    from docx.shared import Mm, Pt

    book = docx.Document()
    section = book.sections[0]
    section.page_width, section.page_height = Mm(210), Mm(297)
    if document.sheet.paper == "letter":
        section.page_width, section.page_height = Mm(215.9), Mm(279.4)
    if document.sheet.landscape:
        section.page_width, section.page_height = section.page_height, section.page_width
        section.orientation = WD_ORIENT.LANDSCAPE
    section.left_margin = section.right_margin = Mm(17)
    section.top_margin, section.bottom_margin = Mm(24), Mm(19)
    for name, size in (("Normal", 9), ("Title", 19), ("Heading 1", 15), ("Heading 2", 11)):
        style = book.styles[name]
        style.font.name, style.font.size = "Inter", Pt(size)
    sheet = document.sheet
    book.core_properties.title, book.core_properties.author = document.title, sheet.author
    head = section.header.paragraphs[0]
    revision = f"Rev {sheet.revision}" if sheet.revision else ""
    told = (sheet.project, sheet.number, revision, sheet.date)
    head.add_run(" · ".join(part for part in told if part) + " · ")
    _field(head, 'STYLEREF "Heading 1"')
    foot = section.footer.paragraphs[0]
    foot.add_run(f"{document.title} · page ")
    _field(foot, "PAGE")
    foot.add_run(" of ")
    _field(foot, "NUMPAGES")
    for block in document.blocks:
        _block(book, block)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _block(book: WordDocument, block: Block) -> None:
    from docx.enum.text import WD_BREAK
    from docx.shared import Mm

    match block:
        case Heading(text=text, level=level):
            heading = book.add_heading(text, level)
            heading.paragraph_format.page_break_before = level == 1
        case Paragraph(text=text, tone=tone):
            run = book.add_paragraph().add_run(text)
            run.bold = tone == "strong"
            if tone == "quiet":
                _quiet(run)
        case Facts(rows=rows):
            _add(book, _grid([list(row) for row in rows], frozenset({0, 1})))
        case Table():
            _table(book, block)
        case Calculation(heading=heading, record=record, system=system):
            _add(book, _paragraph(heading, bold=True), *map(_line, line_trees(record, system)))
        case Figure(svg=svg, caption=caption, width=width):
            book.add_picture(io.BytesIO(png_of(svg)), width=Mm(176 * width))
            if caption:
                _quiet(book.add_paragraph().add_run(caption))
        case NewPage():
            book.add_paragraph().add_run().add_break(WD_BREAK.PAGE)
        case Contents(depth=depth):
            paragraph = book.add_paragraph()
            _field(paragraph, f'TOC \\o "1-{depth}" \\h \\z', "Update this field for the contents.")


def _quiet(run: Any) -> None:
    from docx.shared import Pt, RGBColor

    run.font.size, run.font.color.rgb = Pt(8), RGBColor.from_string(QUIET)


def _add(book: WordDocument, *parts: str) -> None:
    """Add paragraphs and tables at the end; one by one would take a time that grows as a square."""
    from docx.oxml import parse_xml
    from docx.oxml.ns import nsdecls

    names = f'{nsdecls("w")} xmlns:m="{MATH}"'
    end = book.element.body.sectPr
    for child in list(parse_xml(f"<w:body {names}>{''.join(parts)}</w:body>")):
        end.addprevious(child)


def _line(line: LineTree) -> str:
    if line.table is not None:
        heads, rows = line.table
        return _paragraph(f"{line.text}:") + _grid([heads, *rows], frozenset(), headed=True)
    if line.parts:
        math = _run_of(" ").join(f"<m:oMath>{_math(part)}</m:oMath>" for part in line.parts)
        aside = f"    [{line.clause}]" if line.clause else f"    {line.text}"
        return f"<w:p>{math}{_run_of(aside, quiet=True)}</w:p>"
    return _paragraph(line.text)


def _paragraph(text: str, *, bold: bool = False) -> str:
    return f"<w:p>{_run_of(text, bold=bold)}</w:p>"


def _run_of(text: str, *, bold: bool = False, quiet: bool = False) -> str:
    style = "<w:b/>" if bold else ""
    style += f'<w:color w:val="{QUIET}"/><w:sz w:val="16"/>' if quiet else ""
    return f'<w:r><w:rPr>{style}</w:rPr><w:t xml:space="preserve">{_written(text)}</w:t></w:r>'


def _table(book: WordDocument, table: Table) -> None:
    rows = [[words_of(cell) for cell in row] for row in table.rows]
    title = _paragraph(table.title, bold=True) if table.title else ""
    _add(book, title, _grid([list(table.heads), *rows], table.words, headed=True))


def _grid(rows: list[list[str]], words: Set[int], *, headed: bool = False) -> str:
    """Return rows as a table, the first as its head on every page where it has one."""
    border = '<w:bottom w:val="single" w:sz="4" w:color="D8D2C4"/>'
    inside = '<w:insideH w:val="single" w:sz="2" w:color="D8D2C4"/>'
    width = '<w:tblW w:w="5000" w:type="pct"/>'
    columns = "<w:gridCol/>" * len(rows[0] if rows else [])
    lines = []
    for number, row in enumerate(rows):
        head = headed and number == 0
        mark = "<w:trPr><w:tblHeader/></w:trPr>" if head else ""
        cells = (_cell(text, i in words, bold=head) for i, text in enumerate(row))
        lines.append(f"<w:tr>{mark}{''.join(cells)}</w:tr>")
    borders = f"<w:tblBorders>{border}{inside}</w:tblBorders>"
    return (
        f"<w:tbl><w:tblPr>{width}{borders}</w:tblPr><w:tblGrid>{columns}</w:tblGrid>"
        f"{''.join(lines)}</w:tbl><w:p/>"
    )


def _cell(text: str, word: bool, *, bold: bool) -> str:
    weight = "<w:b/>" if bold else ""
    align = "left" if word else "right"
    style = f'<w:pPr><w:spacing w:after="0"/><w:jc w:val="{align}"/></w:pPr>'
    run = (
        f'<w:rPr>{weight}<w:sz w:val="15"/></w:rPr><w:t xml:space="preserve">{_written(text)}</w:t>'
    )
    return f"<w:tc><w:tcPr/><w:p>{style}<w:r>{run}</w:r></w:p></w:tc>"


def _written(text: str) -> str:
    return escape("".join(c if c.isprintable() else " " for c in text))


def _field(paragraph: Any, code: str, shown: str = "") -> None:
    """Add a field that the word processor fills in."""
    from docx.oxml import parse_xml
    from docx.oxml.ns import nsdecls

    result = f"<w:r><w:t>{escape(shown)}</w:t></w:r>" if shown else ""
    field = f'<w:fldSimple {nsdecls("w")} w:instr="{escape(code, {chr(34): "&quot;"})}">'
    paragraph._p.append(parse_xml(f"{field}{result}</w:fldSimple>"))


def _math(element: Element) -> str:
    """Return the text and elements inside an element as office mathematics."""
    return written(element, _run, _element)


def _run(text: str | None) -> str:
    return f'<m:r><m:t xml:space="preserve">{escape(text)}</m:t></m:r>' if text else ""


def _element(element: Element) -> str:
    parts = [_math(part) for part in element]
    match element.tag:
        case "frac":
            return f"<m:f><m:num>{parts[0]}</m:num><m:den>{parts[1]}</m:den></m:f>"
        case "sub":
            return f"<m:sSub><m:e>{parts[0]}</m:e><m:sub>{parts[1]}</m:sub></m:sSub>"
        case "sup":
            return f"<m:sSup><m:e>{parts[0]}</m:e><m:sup>{parts[1]}</m:sup></m:sSup>"
        case "root":
            hidden = '<m:radPr><m:degHide m:val="1"/></m:radPr><m:deg/>'
            return f"<m:rad>{hidden}<m:e>{_math(element)}</m:e></m:rad>"
        case "par":
            return f"<m:d><m:e>{_math(element)}</m:e></m:d>"
        case "cases":
            rows = "".join(f"<m:e>{_row(case)}</m:e>" for case in element)
            edges = '<m:begChr m:val="{"/><m:endChr m:val=""/>'
            return f"<m:d><m:dPr>{edges}</m:dPr><m:e><m:eqArr>{rows}</m:eqArr></m:e></m:d>"
    return _math(element)


def _row(case: Element) -> str:
    value, name = (_math(part) for part in case)
    return value + _run("  ") + name
