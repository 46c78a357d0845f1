"""Documents as Typst markup, and from there as PDF."""

from __future__ import annotations

import base64
import re
import struct
from functools import lru_cache
from threading import Lock
from typing import TYPE_CHECKING, Any

from fexro.core.errors import FexroError
from fexro.core.rendering.typst import typst_source
from fexro.documents.content import (
    Block,
    Calculation,
    Cell,
    Contents,
    Document,
    Facts,
    Figure,
    Heading,
    NewPage,
    Paragraph,
    Sheet,
    Sketch,
    Table,
    words_of,
)
from fexro.fonts import FONTS

if TYPE_CHECKING:
    import typst

__all__ = ["pdf_of", "picture_source", "quoted", "set_pdf", "set_png", "typst_of"]

SKETCH = (60.0, 22.0)  # of the box of a sketch
_SETTING = Lock()
LONG = 28  # letters without a space from which a word may be broken
PNG = b"\x89PNG"
PAPERS = {"letter": "us-letter", "legal": "us-legal"}

_SETTINGS = """
#set text(font: "Inter", size: 8.5pt, fill: rgb("#20293A"), number-width: "tabular", lang: "en")
#set par(leading: 0.55em, spacing: 0.8em)
#show heading: set text(weight: "semibold")
#show heading.where(level: 1): set text(size: 15pt)
#show heading.where(level: 2): set text(size: 11pt)
#show heading.where(level: 3): set text(size: 9pt)
#show heading: set block(above: 1.3em, below: 0.7em, sticky: true)
#show math.equation: set text(size: 9.5pt)
#show math.equation.where(block: true): set align(left)
#show math.equation.where(block: true): set block(spacing: 0.6em)
#let quiet = rgb("#5A6270")
#let hairline = 0.4pt + rgb("#B9B2A2")
#let running = state("running", "")
#let source(body) = text(size: 7pt, fill: quiet, body)
#let inline(shown) = math.equation(math.display(shown.body))
#let line-of(clause, symbols, numbers, result) = block(width: 100%, breakable: false,
  above: 0.75em, below: 0.75em)[
  #inline(symbols) #inline(numbers) #inline(result) #box(width: 1fr, align(right, source(clause)))
]
#let values(columns, ..cells) = block(width: 100%, text(size: 6.5pt, table(
  columns: (auto,) * columns, align: right, inset: (x: 2.6pt, y: 1.8pt),
  stroke: (_, y) => if y == 0 { (bottom: hairline) }, ..cells)))
#let facts(..cells) = block(width: 100%, grid(columns: (auto, 1fr), column-gutter: 12pt,
  row-gutter: 5pt, ..cells.pos().enumerate().map(((i, cell)) =>
    if calc.even(i) { text(fill: quiet, cell) } else { cell })))
#let listing(columns, align, head, ..cells) = block(width: 100%, text(size: 7.5pt, table(
  columns: columns, align: align, inset: (x: 3pt, y: 2.6pt),
  stroke: (_, y) => (bottom: if y == 0 { 0.6pt + rgb("#20293A") } else { 0.25pt + rgb("#D8D2C4") }),
  table.header(..head.map(one => text(fill: quiet, one))), ..cells)))
#let step(body) = block(above: 1.1em, below: 0.6em, sticky: true, text(weight: "medium", body))
"""


def _block(block: Block) -> str:
    match block:
        case Heading(text=text, level=level, running=running):
            head = "" if running is None else f"#running.update({quoted(running)})\n"
            new = "#pagebreak(weak: true)\n" if level == 1 else ""
            if level == 0:
                return f'{head}#block(text(size: 19pt, weight: "semibold", {_words(text)}))'
            return f"{head}{new}#heading(level: {level}, {quoted(text)})"
        case Paragraph(text=text, tone=tone):
            styles = {"quiet": "size: 7.5pt, fill: quiet", "strong": 'weight: "semibold"'}
            body = _words(text)
            return f"#text({styles[tone]})[#{body}]\n" if tone else f"#{body}\n"
        case Facts(rows=rows):
            cells = ", ".join(f"{_words(name)}, {_words(value)}" for name, value in rows)
            return f"#facts({cells})"
        case Table():
            return _table(block)
        case Calculation(heading=heading, record=record, system=system):
            return f"#step({_words(heading)})\n\n{typst_source(record, system)}"
        case Figure(svg=svg, caption=caption, width=width):
            image = f"image({picture_source(svg)}, width: {100 * width:.1f}%)"
            told = f"#v(2pt)\n#source({quoted(caption)})" if caption else ""
            return f"#block(breakable: false, width: 100%)[#align(center, {image})\n{told}]"
        case NewPage():
            return "#pagebreak(weak: true)"
        case Contents(depth=depth):
            title = '#block(above: 1.6em, text(size: 11pt, weight: "semibold", "Contents"))'
            return f"{title}\n#outline(title: none, depth: {depth}, indent: 1em)"


def _table(table: Table) -> str:
    count = len(table.heads)
    align = ", ".join("left" if i in table.words else "right" for i in range(count))
    widths = ", ".join(_width(table, i) for i in range(count))
    heads = ", ".join(_words(head) for head in table.heads)
    cells = ", ".join(_cell(cell) for row in table.rows for cell in row)
    title = f"#step({_words(table.title)})\n" if table.title else ""
    rows = f", {cells}" if cells else ""
    return f"{title}#listing(({widths},), ({align},), ({heads},){rows})"


def _cell(cell: Cell) -> str:
    if isinstance(cell, Sketch):
        return f"image({picture_source(sketch_svg(cell))}, height: 8mm)"
    return _words(words_of(cell))


def sketch_svg(sketch: Sketch) -> bytes:
    """Return a sketch as SVG, as large as there is room in its box."""
    xs, ys = zip(*sketch.line, strict=True)
    wide, high = max(max(xs) - min(xs), 1e-6), max(max(ys) - min(ys), 1e-6)
    # A long bar is drawn lying, and shorter than it is.
    points = [(x - min(xs), y - min(ys)) for x, y in sketch.line]
    if high > wide:
        points, wide, high = [(y, x) for x, y in points], high, wide
    across, up = SKETCH[0] / wide, min(SKETCH[1] / high, 8 * SKETCH[0] / wide)
    size = min(across, up)
    across = size if high * size > 0.2 * SKETCH[1] else across
    path = " L".join(f"{2 + x * across:.2f} {SKETCH[1] + 2 - y * up:.2f}" for x, y in points)
    box = f"0 0 {SKETCH[0] + 4:g} {SKETCH[1] + 4:g}"
    line = f'<path d="M{path}" fill="none" stroke="#20293A" stroke-width="1.1"/>'
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{line}</svg>'.encode()


def _width(table: Table, column: int) -> str:
    """Return the width of a column: the wordiest takes what is left."""
    if column not in table.words:
        return "auto"
    longest = max((len(words_of(row[column])) for row in table.rows), default=0)
    return "1fr" if longest > LONG else "auto"


def quoted(text: str) -> str:
    """Return text as a Typst string: nothing in it is markup."""
    shown = "".join(c if c.isprintable() or c == "\n" else " " for c in text)
    escaped = shown.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n")
    return f'"{escaped}"'


def _words(text: str) -> str:
    """Return text as a Typst string in which very long words can be broken."""
    broken = re.sub(rf"\S{{{LONG},}}", lambda m: _breakable(m[0]), text)
    return quoted(broken)


def _breakable(word: str) -> str:
    parts = (word[i : i + LONG // 2] for i in range(0, len(word), LONG // 2))
    return "\u200b".join(parts)


def picture_source(content: bytes) -> str:
    """Return a picture, SVG or PNG, as what `image` takes."""
    if content.startswith(PNG):
        width, height = struct.unpack(">II", content[16:24])
        href = f"data:image/png;base64,{base64.b64encode(content).decode()}"
        image = f'<image width="{width}" height="{height}" href="{href}"/>'
        view = f'width="{width}" height="{height}" viewBox="0 0 {width} {height}"'
        content = f'<svg xmlns="http://www.w3.org/2000/svg" {view}>{image}</svg>'.encode()
    return f'bytes({quoted(content.decode())}), format: "svg"'


def typst_of(document: Document) -> str:
    """Return a document as Typst markup; pictures are in it."""
    return "\n\n".join([_page(document), _SETTINGS, *map(_block, document.blocks)]) + "\n"


def _page(document: Document) -> str:
    sheet = document.sheet
    logo = f"image({picture_source(sheet.logo)}, height: 9mm)" if sheet.logo else "none"
    right = " · ".join(part for part in (sheet.number, _revision(sheet), sheet.date) if part)
    who = " · ".join(
        f"{name} {value}"
        for name, value in (("by", sheet.author), ("checked", sheet.checker))
        if value
    )
    return f"""#set document(title: {quoted(document.title)}, author: {quoted(sheet.author)})
#set page(
  paper: "{PAPERS.get(sheet.paper, sheet.paper)}", flipped: {str(sheet.landscape).lower()},
  margin: (x: 17mm, top: 24mm, bottom: 19mm),
  header: context {{
    set text(size: 7.5pt)
    let shown = state("running", "").get()
    grid(columns: (auto, 1fr, auto), column-gutter: 8pt,
      align: (left + bottom, left + bottom, right + bottom),
      {logo},
      [#text(weight: "semibold", {quoted(sheet.project)})#if shown != "" [ · #shown]],
      {quoted(right)})
    v(-4pt)
    line(length: 100%, stroke: 0.4pt + rgb("#B9B2A2"))
  }},
  footer: context {{
    set text(size: 7pt, fill: rgb("#5A6270"))
    grid(columns: (1fr, auto, 1fr), align: (left, center, right),
      {quoted(document.title)}, {quoted(who)},
      [page #counter(page).display() of #counter(page).final().first()])
  }},
)"""


def _revision(sheet: Sheet) -> str:
    return f"Rev {sheet.revision}" if sheet.revision else ""


@lru_cache(maxsize=1)
def _compiler() -> typst.Compiler:
    """Return what sets type, with the fonts that are brought along."""
    import typst  # only needed once something is set

    return typst.Compiler(font_paths=[str(FONTS)], ignore_system_fonts=True)


def pdf_of(document: Document) -> bytes:
    """Return a document as PDF.

    Raises:
        FexroError: if it cannot be set.
    """
    return set_pdf(typst_of(document))


def set_pdf(source: str) -> bytes:
    """Return Typst markup as PDF.

    Raises:
        FexroError: if it cannot be set.
    """
    # Tags make a long calculation four times as large and eight times as slow.
    return _set(source, format="pdf", pdf_tags=False)


def set_png(source: str, dots: float) -> bytes:
    """Return Typst markup of one page as PNG, of so many dots an inch.

    Raises:
        FexroError: if it cannot be set.
    """
    return _set(source, format="png", ppi=dots)


def _set(source: str, **wanted: Any) -> bytes:
    try:
        # One document at a time, whichever thread it is asked for in.
        with _SETTING:
            found = _compiler().compile(source.encode(), **wanted)
    except RuntimeError as error:
        raise FexroError(f"The document could not be set: {error}.") from error
    assert isinstance(found, bytes)
    return found
