"""Documents as Markdown and as HTML of one file, formulas as MathML."""

from __future__ import annotations

import base64
from collections.abc import Iterator
from html import escape
from xml.etree.ElementTree import Element

from fexro.core.rendering.formula_tree import line_trees, written
from fexro.core.rendering.text import line_text
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

__all__ = ["html_of", "markdown_of"]

_STYLE = """
body { font: 15px/1.5 Inter, system-ui, sans-serif; color: #20293A; background: #FFFEFB;
  max-width: 60rem; margin: 2rem auto; padding: 0 1rem; font-variant-numeric: tabular-nums; }
h1 { border-top: 1px solid #D8D2C4; padding-top: 1.5rem; margin-top: 2.5rem; }
table { border-collapse: collapse; font-size: 13px; margin: .5rem 0 1rem; }
th { text-align: right; color: #5A6270; font-weight: 400; border-bottom: 1.5px solid #20293A; }
td, th { padding: 2px 8px; text-align: right; } td { border-bottom: 1px solid #E3DED2; }
.word { text-align: left; } .quiet { color: #5A6270; font-size: 13px; }
.line { display: flex; gap: .6em; flex-wrap: wrap; margin: .3em 0; }
.line .clause { margin-left: auto; } dl { display: grid; grid-template-columns: max-content 1fr;
  gap: .1rem 1rem; } dt { color: #5A6270; } dd { margin: 0; } figure { margin: 1rem 0; }
figure img { max-width: 100%; }
"""


def markdown_of(document: Document) -> str:
    """Return a document as Markdown; pictures are in it as data."""
    parts = [_front(document), *(_markdown(block) for block in document.blocks)]
    return "\n\n".join(part for part in parts if part) + "\n"


def _front(document: Document) -> str:
    return "\n".join(f"- {_plain(name)}: {_plain(value)}" for name, value in document.sheet.told)


def _plain(text: str) -> str:
    """Return text in which no letter is markup."""
    shown = " ".join(text.split())
    for letter in "\\`*_{}[]<>#|~$!":
        shown = shown.replace(letter, f"\\{letter}")
    return shown


def _markdown(block: Block) -> str:
    match block:
        case Heading(text=text, level=level):
            return f"{'#' * (level + 1)} {_plain(text)}"
        case Paragraph(text=text, tone=tone):
            return f"**{_plain(text)}**" if tone == "strong" else _plain(text)
        case Facts(rows=rows):
            return "\n".join(f"- {_plain(name)}: {_plain(value)}" for name, value in rows)
        case Table():
            return _markdown_table(block)
        case Calculation(heading=heading, record=record, system=system):
            lines = "\n".join(line_text(line, system) for line in record.lines)
            return f"**{_plain(heading)}**\n\n```\n{lines.replace('```', '` ` `')}\n```"
        case Figure(svg=svg, caption=caption):
            return f"![{_plain(caption)}]({_data(svg)})"
        case NewPage() | Contents():
            return ""


def _markdown_table(table: Table) -> str:
    rule = " | ".join("---" if i in table.words else "---:" for i in range(len(table.heads)))
    rows = [" | ".join(_plain(words_of(cell)) for cell in row) for row in table.rows]
    heads = " | ".join(_plain(head) or " " for head in table.heads)
    lines = "\n".join(f"| {row} |" for row in (heads, rule, *rows))
    return f"**{_plain(table.title)}**\n\n{lines}" if table.title else lines


def html_of(document: Document) -> str:
    """Return a document as HTML of one file."""
    body = "\n".join(part for block in document.blocks for part in _html(block))
    told = "".join(f"<dt>{escape(a)}</dt><dd>{escape(b)}</dd>" for a, b in document.sheet.told)
    return (
        f'<!DOCTYPE html>\n<html lang="en"><head><meta charset="utf-8">'
        f"<title>{escape(document.title)}</title><style>{_STYLE}</style></head>\n"
        f"<body>\n<dl>{told}</dl>\n{body}\n</body></html>\n"
    )


def _html(block: Block) -> Iterator[str]:
    match block:
        case Heading(text=text, level=level):
            number = max(level, 1)
            yield f"<h{number}>{escape(text)}</h{number}>"
        case Paragraph(text=text, tone=tone):
            inner = f"<strong>{escape(text)}</strong>" if tone == "strong" else escape(text)
            yield f'<p class="{tone}">{inner}</p>' if tone == "quiet" else f"<p>{inner}</p>"
        case Facts(rows=rows):
            cells = "".join(f"<dt>{escape(a)}</dt><dd>{escape(b)}</dd>" for a, b in rows)
            yield f"<dl>{cells}</dl>"
        case Table():
            yield from _html_table(block)
        case Calculation(heading=heading, record=record, system=system):
            yield f"<p><strong>{escape(heading)}</strong></p>"
            for line in line_trees(record, system):
                if line.table is not None:
                    heads, cells_of = line.table
                    made = tuple(map(tuple, cells_of))
                    yield from _html_table(Table(tuple(heads), made, line.text, frozenset()))
                elif line.parts:
                    yield _equation(line.parts, line.clause, line.text)
                else:
                    yield f"<p>{escape(line.text)}</p>"
        case Figure(svg=svg, caption=caption, width=width):
            told = escape(caption)
            style = f"width:{100 * width:.0f}%"
            image = f'<img src="{_data(svg)}" alt="{told}" style="{style}">'
            yield f'<figure>{image}<figcaption class="quiet">{told}</figcaption></figure>'
        case NewPage() | Contents():
            return


def _html_table(table: Table) -> Iterator[str]:
    if table.title:
        yield f"<p><strong>{escape(table.title)}</strong></p>"

    def row(cells: list[str], tag: str) -> str:
        return "".join(
            f'<{tag} class="word">{escape(cell)}</{tag}>'
            if i in table.words
            else f"<{tag}>{escape(cell)}</{tag}>"
            for i, cell in enumerate(cells)
        )

    lines = "".join(
        f"<tr>{row([words_of(cell) for cell in cells], 'td')}</tr>" for cells in table.rows
    )
    head = f"<thead><tr>{row(list(table.heads), 'th')}</tr></thead>"
    yield f"<table>{head}<tbody>{lines}</tbody></table>"


def _equation(parts: tuple[Element, ...], clause: str, source: str) -> str:
    equation = "".join(f"<math><mrow>{_math(part)}</mrow></math>" for part in parts)
    aside = f"[{clause}]" if clause else source
    return f'<div class="line">{equation}<span class="quiet clause">{escape(aside)}</span></div>'


def _math(element: Element) -> str:
    """Return the text and elements inside an element as MathML."""
    return written(element, _text, _element)


def _text(text: str | None) -> str:
    return f"<mtext>{escape(text)}</mtext>" if text else ""


def _element(element: Element) -> str:
    parts = [f"<mrow>{_math(part)}</mrow>" for part in element]
    match element.tag:
        case "frac":
            return f"<mfrac>{parts[0]}{parts[1]}</mfrac>"
        case "sub":
            return f"<msub>{parts[0]}{parts[1]}</msub>"
        case "sup":
            return f"<msup>{parts[0]}{parts[1]}</msup>"
        case "root":
            return f"<msqrt>{_math(element)}</msqrt>"
        case "par":
            return f"<mrow><mo>(</mo>{_math(element)}<mo>)</mo></mrow>"
        case "cases":
            rows = "".join(
                f"<mtr><mtd>{_math(case[0])}</mtd><mtd>{_math(case[1])}</mtd></mtr>"
                for case in element
            )
            return f"<mrow><mo>{{</mo><mtable>{rows}</mtable></mrow>"
    return _math(element)


def _data(picture: bytes) -> str:
    kind = "image/png" if picture.startswith(b"\x89PNG") else "image/svg+xml"
    return f"data:{kind};base64,{base64.b64encode(picture).decode()}"
