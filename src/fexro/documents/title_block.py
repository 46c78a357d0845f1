"""The frame of a sheet with its title block."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.documents.content import Sheet
from fexro.documents.drawing import Drawing, Line, Text
from fexro.documents.paper_sizes import PAPERS

__all__ = ["BLOCK", "MARGIN", "Framed", "framed"]

MARGIN = 8.0  # mm, of the frame
BINDING = 18.0  # mm, at the left
BLOCK = 16.0  # mm, height of the title block along the bottom


@dataclass(frozen=True)
class Framed:
    """A sheet in its frame, and the room inside: left, bottom, width, height, mm."""

    drawing: Drawing
    left: float
    bottom: float
    width: float
    height: float


def framed(
    title: str, sheet: Sheet, paper: str, scale: float, number: str, told: str = ""
) -> Framed:
    """Return an empty sheet of paper with frame and title block.

    Args:
        title: of the drawing.
        sheet: what stands on every sheet.
        paper: name of its size.
        scale: real mm of a mm on paper.
        number: of the sheet, such as 1 of 3.
        told: notes at the left of the block.
    """
    width, height = PAPERS[paper]
    drawing = Drawing(title, width, height, scale)
    left, bottom = BINDING, MARGIN
    inside = width - BINDING - MARGIN
    drawing.rectangle(left, bottom, inside, height - 2 * MARGIN, "frame")
    top = bottom + BLOCK
    drawing.add(Line(((left, top), (left + inside, top)), "frame"))
    shown = f"1:{scale:g}" if scale > 1 else ""
    cells = [
        ("Project", sheet.project, 3.2),
        ("Drawing", title, 3.2),
        ("Number", sheet.number, 1.4),
        ("By", sheet.author, 1.2),
        ("Checked", sheet.checker, 1.2),
        ("Date", sheet.date, 1.3),
        ("Scale", shown, 0.9),
        ("Rev", sheet.revision, 0.6),
        ("Sheet", number, 0.9),
    ]
    notes = min(0.28 * inside, 110.0) if told else 0.0
    if told:
        _notes(drawing, told, left + 2, top - 3.4, notes - 4)
        drawing.add(Line(((left + notes, bottom), (left + notes, top)), "frame"))
    unit = (inside - notes) / sum(share for _, _, share in cells)
    x = left + notes
    for name, value, share in cells:
        wide = share * unit
        drawing.text(name, x + 1.5, top - 4.0, wide - 2, Text("", (0, 0), 1.5, "dimensions"))
        strong = Text("", (0, 0), 2.4, "text", strong=name in ("Project", "Drawing"))
        drawing.text(value, x + 1.5, bottom + 4.2, wide - 3, strong)
        x += wide
        if x < left + inside - 1:
            drawing.add(Line(((x, bottom), (x, top)), "frame"))
    return Framed(drawing, left, top, inside, height - MARGIN - top)


def _notes(drawing: Drawing, told: str, x: float, y: float, room: float) -> None:
    letters = max(int(room / 1.25), 12)
    line, lines = "", []
    for word in told.split():
        if len(line) + len(word) + 1 > letters and line:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    for number, one in enumerate([*lines, line][:5]):
        drawing.add(Text(one, (x, y - 2.7 * number), 1.45, "dimensions"))
