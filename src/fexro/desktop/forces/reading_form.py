"""Qt view for how a table of forces is read: units, signs, axes, words, rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import ValidationError
from PyQt6.QtCore import pyqtSignal

from fexro.core.errors import InputError
from fexro.desktop.document import Document
from fexro.desktop.form import Form
from fexro.project.mapping import UNITS, ForcesMapping, Matrix

__all__ = ["ReadingForm"]

# Right-angled axes: where the local axes a and b point.
AXES: dict[str, Matrix] = {
    "a = x, b = y": ((1.0, 0.0), (0.0, 1.0)),
    "a = y, b = −x": ((0.0, 1.0), (-1.0, 0.0)),
    "a = −y, b = x": ((0.0, -1.0), (1.0, 0.0)),
    "a = −x, b = −y": ((-1.0, 0.0), (0.0, -1.0)),
    "a = y, b = x": ((0.0, 1.0), (1.0, 0.0)),
    "a = x, b = −y": ((-1.0, 0.0), (0.0, 1.0)),
    "a = −x, b = y": ((1.0, 0.0), (0.0, -1.0)),
    "a = −y, b = −x": ((0.0, -1.0), (-1.0, 0.0)),
}
TURNED = "turned by an angle"
_LISTS = ("sheets", "top_words", "bottom_words", "sum_words", "envelope_words", "repeating")
_ROWS = ("names_row", "units_row", "first_row")
_MARKS = [("", "none"), (",", "comma"), (".", "point"), ("'", "apostrophe"), (" ", "space")]
# What choices offer, and what they are called.
_OFFERED: dict[str, Sequence[tuple[str, str]]] = {
    "results": [("cases", "load cases"), ("combinations", "combinations")],
    "axial_positive": [("compression", "compression"), ("tension", "tension")],
    "moments": [("diagram", "of the diagram"), ("nodal", "of the nodes")],
    "turned_end": [("top", "top"), ("bottom", "bottom")],
    "station": [("bottom", "the foot of the lift"), ("element", "the element's node")],
    "sheet_is": [("", "nothing"), ("case", "a case"), ("storey", "a storey"), ("mark", "a mark")],
    "decimal": [(".", "point"), (",", "comma")],
    "thousands": _MARKS,
    **{kind: [(unit, unit) for unit in UNITS[kind]] for kind in UNITS},
}
_CHOICES = (
    ("results", "Forces are of"),
    ("axial_positive", "Positive axial"),
    ("axes", "Local axes"),
    ("moments", "Moments"),
    ("turned_end", "Turned end"),
    ("force", "Forces in"),
    ("moment", "Moments in"),
    ("length", "Lengths in"),
    ("station", "Distances from"),
    ("sheet_is", "A sheet is"),
    ("decimal", "Decimal mark"),
    ("thousands", "Thousands mark"),
)
_LINES = (
    ("name", "Kept as"),
    ("top_words", "Words for the top"),
    ("bottom_words", "Words for the bottom"),
    ("sum_words", "Words of sums"),
    ("envelope_words", "Words of envelopes"),
    ("repeating", "Blank means as above"),
    ("member_pattern", "Member pattern"),
    ("sheets", "Sheets"),
    ("names_row", "Row of headings"),
    ("units_row", "Row of units"),
    ("first_row", "First row of forces"),
    ("matrices", "Marks turned"),
    ("marks", "Marks called"),
    ("storeys", "Storeys called"),
    ("cases", "Cases called"),
)
_NAMES = ("marks", "storeys", "cases")


class ReadingForm(Form):
    """The fields of a mapping; each change makes another."""

    changed = pyqtSignal(ForcesMapping)

    def __init__(self, document: Document) -> None:
        super().__init__(document.typing, 190, 120)
        self._mapping = ForcesMapping()
        for name, caption in _CHOICES:
            self.choice(name, caption, lambda value, name=name: self._choose(name, value))  # type: ignore[misc]
            if name == "axes":
                self.line("angle", "Angle, degrees", self._turn)
        for name, caption in _LINES:
            self.line(name, caption, lambda text, name=name: self._type(name, text))  # type: ignore[misc]
        for name in _NAMES:
            field = self.fields[name]
            field.setToolTip("Names of the table and of the project: LEVEL 1 = L1, LEVEL 2 = L2")
        self.fields["matrices"].setToolTip("Degrees from x to the local axis a: C1 = 30, C2 = 90")

    def show_mapping(self, mapping: ForcesMapping, *, of_text: bool) -> None:
        """Show a mapping; what has no meaning for a file of text or for its columns is hidden."""
        self._mapping = mapping
        for name, offered in _OFFERED.items():
            self.show_choice(name, offered, getattr(mapping, name) or "")
        axes = next((text for text, matrix in AXES.items() if matrix == mapping.matrix), TURNED)
        self.show_choice("axes", [(text, text) for text in (*AXES, TURNED)], axes)
        self.show_text("angle", f"{_degrees(mapping.matrix):.6g}")
        for name in _LISTS:
            self.show_text(name, ", ".join(getattr(mapping, name)))
        for name in _ROWS:
            self.show_text(name, str(getattr(mapping, name) or ""))
        for name in _NAMES:
            pairs = getattr(mapping, name).items()
            self.show_text(name, ", ".join(f"{theirs} = {ours}" for theirs, ours in pairs))
        turned = ", ".join(
            f"{mark} = {_degrees(matrix):.6g}" for mark, matrix in mapping.matrices.items()
        )
        self.show_text("matrices", turned)
        for name in ("name", "member_pattern"):
            self.show_text(name, getattr(mapping, name))
        columns = mapping.columns
        shown = {
            "turned_end": mapping.moments == "nodal",
            "angle": axes == TURNED,
            "station": "element" in columns,
            "top_words": "end" in columns,
            "bottom_words": "end" in columns,
            "envelope_words": "step" in columns,
            "member_pattern": "member" in columns,
            "sheets": not of_text,
            "sheet_is": not of_text,
        }
        for name, visible in shown.items():
            self.set_visible(name, visible)

    def _choose(self, name: str, value: Any) -> None:
        if name == "axes" and value == TURNED:
            self.set_visible("angle", True)
        elif name == "axes":
            self._change(matrix=AXES[value], matrices={})
        else:
            self._change(**{name: value or None if name == "sheet_is" else value})

    def _turn(self, text: str) -> None:
        try:
            angle = np.radians(float(text.replace(",", ".").removesuffix("°")))
        except ValueError:
            raise InputError("angle", f"“{text}”", "degrees from x to a") from None
        self._change(matrix=_turned(angle), matrices={})

    def _type(self, name: str, text: str) -> None:
        parts = [part.strip() for part in text.split(",") if part.strip()]
        if name in _LISTS:
            self._change(**{name: tuple(parts)})
        elif name in _ROWS:
            if text.strip() and not text.strip().isdigit():
                raise InputError(name.replace("_", " "), f"“{text}”", "the number of a line")
            self._change(**{name: int(text) if text.strip() else None})
        elif name in _NAMES:
            self._change(**{name: _pairs(parts, text, "LEVEL 1 = L1")})
        elif name == "matrices":
            try:
                angles = {m: float(a) for m, a in _pairs(parts, text, "C1 = 30").items()}
            except ValueError:
                raise InputError("marks turned", f"“{text}”", "degrees from x to a") from None
            self._change(matrices={m: _turned(np.radians(a)) for m, a in angles.items()})
        else:
            self._change(**{name: text})

    def _change(self, **fields: Any) -> None:
        try:
            changed = ForcesMapping.model_validate({**self._mapping.model_dump(), **fields})
        except ValidationError as error:
            first = error.errors()[0]
            found = ", ".join(str(value) for value in fields.values())
            where = next(iter(fields)).replace("_", " ")
            allowed = str(first.get("ctx", {}).get("error", first["msg"]))
            raise InputError(where, f"“{found}”", allowed) from None
        self.changed.emit(changed)


def _pairs(parts: list[str], text: str, example: str) -> dict[str, str]:
    pairs = [part.split("=") for part in parts]
    if any(len(pair) != 2 for pair in pairs):
        raise InputError("names", f"“{text}”", f"pairs such as {example}, parted by commas")
    return {a.strip(): b.strip() for a, b in pairs}


def _turned(angle: float) -> Matrix:
    """Return the matrix of local axes turned by an angle, radians from x to a."""
    cos, sin = float(np.cos(angle)), float(np.sin(angle))
    return (cos, sin), (-sin, cos)


def _degrees(matrix: Matrix) -> float:
    (cos, sin), _ = matrix
    return float(np.degrees(np.arctan2(sin, cos)))
