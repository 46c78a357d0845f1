"""A first reading of a table of forces: what its columns, units, ends and signs seem to be."""

from __future__ import annotations

import re
import statistics
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from fexro.core.errors import InputError
from fexro.exchange.force_rows import cell_text
from fexro.exchange.force_table import plain_unit, read_force_table
from fexro.exchange.numbers_in_text import read_number
from fexro.exchange.sheets import Sheet
from fexro.project.mapping import MEANINGS, UNITS, ForcesMapping, Meaning
from fexro.project.records import look

__all__ = ["Guess", "guess_mapping"]

LOOKED_AT = 400  # rows
HEADS = 20  # rows among which the headings are
# What headings mean, without spaces, points, brackets and units; the first that fits.
_HEADINGS: tuple[tuple[Meaning, str], ...] = (
    ("mark", r"mark|column|col|columnmark|name|columnname|st[uü]tze|pos(ition)?nr|poteau|label"),
    ("storey", r"storey|story|level|floor|geschoss|ebene|etage|stockwerk|lift"),
    ("member", r"member|memberid|bar|stab"),
    ("element", r"elem(ent)?|elemno|elementno|frame"),
    ("zi", r"zfrom|zi|z1|zstart|zbottom"),
    ("zj", r"zto|zj|z2|zend|ztop"),
    ("case", r"(load)?case|lc|load|(load)?comb(o|ination)?|lastfall|lfk?"),
    ("step", r"step|maxmin|extreme|type"),
    ("end", r"end|pos|position|ende|joint|node|location|extremity|where"),
    ("station", r"station|loc|dist(ance)?|x|from(bottom|foot|base)|at"),
    ("angle", r"angle|beta|rotation|localangle"),
    ("N", r"n|p|f1|axial|axialforce|nx|normal(kraft|force)?|fx|ned|pu"),
    ("Va", r"v2|va|vx|shear2|sheara|shearx|q2|qx|fy2|f2"),
    ("Vb", r"v3|vb|vy|shear3|shearb|sheary|q3|qy|f3"),
    ("T", r"t|torsion|mt|m1|torque"),
    ("Ma", r"m2|ma|mx|mom2|momenta|momentx|moment2"),
    ("Mb", r"m3|mb|my|mom3|momentb|momenty|moment3"),
)
_TOP = {"top", "oben", "j", "jend", "endj", "head", "upper", "haut", "kopf", "2", "end"}
_BOTTOM = {"bottom", "bot", "unten", "i", "iend", "endi", "foot", "base", "lower", "bas", "fuss"}
_BOTTOM |= {"fuß", "1", "start"}
_SUMS = {"sum", "sums", "total", "totals", "summe", "subtotal"}
_EXTREMES = {"max", "min", "maximum", "minimum"}
_MEASURED = {m for m in MEANINGS if m[0] in "NVTM"} | {"station", "zi", "zj"}
_MEMBER = r"(?P<mark>.+?)\s*[-/·|_ ]\s*(?P<storey>[^-/·|_ ]+)"


@dataclass(frozen=True)
class Guess:
    """A first reading.

    Attributes:
        mapping: what the table seems to mean.
        doubts: what the user should look at, a sentence each.
    """

    mapping: ForcesMapping
    doubts: tuple[str, ...]


def guess_mapping(sheets: Sequence[Sheet], name: str = "forces") -> Guess:
    """Return what a table seems to mean, with what is uncertain about it.

    Args:
        sheets: of the table.
        name: of the mapping.

    Raises:
        InputError: if no row of headings is found.
    """
    heads = {sheet.name: head for sheet in sheets if (head := _head_row(sheet)) is not None}
    if not heads:
        raise InputError(
            sheets[0].name if sheets else "table",
            "no row of headings with forces below it",
            "columns for a mark, a case and N at least",
        )
    first = next(sheet for sheet in sheets if sheet.name in heads)
    found = _Reading(first, heads[first.name])
    alike = [
        sheet
        for sheet in sheets
        if heads.get(sheet.name) == heads[first.name]
        and [look(cell_text(c)) for c in sheet.rows[heads[first.name]]]
        == [look(cell_text(c)) for c in first.rows[heads[first.name]]]
    ]
    return found.guess(alike, name)


def _head_row(sheet: Sheet) -> int | None:
    """Return the row, from 0, of which most cells mean something, with numbers below it."""
    best, most = None, 2
    for i, row in enumerate(sheet.rows[:HEADS]):
        known = {meaning for cell in row if (meaning := _meaning(cell_text(cell))[0])}
        if len(known) > most and any(m.startswith(("N", "M")) for m in known):
            best, most = i, len(known)
    return best


def _meaning(heading: str) -> tuple[Meaning | None, str]:
    """Return what a heading means, and the unit in it."""
    bracket = re.search(r"[(\[]([^)\]]+)[)\]]\s*$", heading)
    # What stands in brackets is a unit, or a part of the name such as M(3).
    if bracket and _named(heading) is None:
        return _named(heading[: bracket.start()]), bracket[1].strip()
    return _named(heading), ""


def _named(heading: str) -> Meaning | None:
    words = re.split(r"[\s._]+", heading.strip().lower())
    whole = _known_heading(words)
    if whole is not None or len(words) < 2:
        return whole
    for known, side in ((("top", "head"), "@top"), (("bot", "bottom", "foot"), "@bottom")):
        for word in known:
            if word in words:
                force = _known_heading([w for w in words if w != word])
                if force is not None and force[0] in "NVTM":
                    return f"{force}{side}"  # type: ignore[return-value]
    return None


def _known_heading(words: Sequence[str]) -> Meaning | None:
    plain = re.sub(r"[\s._\-()\[\],;:]", "", "".join(words))
    return next((meaning for meaning, known in _HEADINGS if re.fullmatch(known, plain)), None)


def _units(kind: str) -> dict[str, str]:
    return {plain_unit(unit): unit for unit in UNITS[kind]}


class _Reading:
    """Looks at the rows of a sheet below its headings."""

    def __init__(self, sheet: Sheet, head: int) -> None:
        self._sheet, self._head = sheet, head
        self._doubts: list[str] = []
        self._columns: dict[Meaning, int] = {}
        self._headings: dict[Meaning, str] = {}
        self._heading_units: dict[Meaning, str] = {}
        for i, cell in enumerate(sheet.rows[head]):
            heading = cell_text(cell)
            meaning, unit = _meaning(heading)
            if meaning is not None and meaning not in self._columns:
                self._columns[meaning], self._headings[meaning] = i, heading
                if unit:
                    self._heading_units[meaning] = unit
        self._first = head + 1
        self._units_row = self._find_units_row()
        self._name_members_by_marks()

    def _name_members_by_marks(self) -> None:
        """Take members for marks where a storey stands beside them and none is in their names."""
        if not {"member", "storey"} <= self._columns.keys() or "mark" in self._columns:
            return
        names = [cell_text(cell) for cell in self._cells("member")]
        if any(re.fullmatch(_MEMBER, name) for name in names):
            return
        self._columns["mark"] = self._columns.pop("member")
        self._headings["mark"] = self._headings.pop("member")

    def guess(self, alike: Sequence[Sheet], name: str) -> Guess:
        decimal, thousands = self._marks_of_numbers()
        fields: dict[str, Any] = {
            "name": name,
            "names_row": self._head + 1,
            "units_row": None if self._units_row is None else self._units_row + 1,
            "first_row": self._first + 1,
            "decimal": decimal,
            "thousands": thousands,
            "columns": {m: i + 1 for m, i in self._columns.items()},
            "headings": self._headings,
            "repeating": self._repeating(),
            **self._units(),
            **self._words(),
        }
        if len(alike) > 1 and "case" not in self._columns:
            fields["sheet_is"] = "case"
        elif len(alike) > 1 and "storey" not in self._columns and "member" not in self._columns:
            fields["sheet_is"] = "storey"
        if not self._sheet.text:
            fields["sheets"] = tuple(sheet.name for sheet in alike)
        if "member" in self._columns and "mark" not in self._columns:
            fields["member_pattern"] = _MEMBER
        elif "element" in self._columns and {"zi", "zj", "station"} <= self._columns.keys():
            fields["station"] = "element"
        mapping = ForcesMapping(**fields)
        return Guess(self._with_signs(mapping, alike), tuple(self._doubts))

    def _cells(self, meaning: Meaning) -> list[object]:
        at = self._columns[meaning]
        rows = self._sheet.rows[self._first : self._first + LOOKED_AT]
        return [row[at] for row in rows if len(row) > at]

    def _find_units_row(self) -> int | None:
        rows = self._sheet.rows
        if len(rows) <= self._first:
            return None
        cells = [plain_unit(cell_text(cell)) for cell in rows[self._first]]
        known = {unit for kind in UNITS for unit in _units(kind)}
        if sum(cell in known for cell in cells) < 2:
            return None
        self._first += 1
        return self._first - 1

    def _units(self) -> dict[str, Any]:
        """Return the units of force, moment and length, and of single columns that differ."""
        told = dict(self._heading_units)
        if self._units_row is not None:
            row = self._sheet.rows[self._units_row]
            for meaning, at in self._columns.items():
                if len(row) > at and cell_text(row[at]):
                    told[meaning] = cell_text(row[at])
        found: dict[str, Any] = {"units": {}}
        for kind, starts in (("force", "NV"), ("moment", "MT"), ("length", "sz")):
            mine = {
                meaning: _units(kind)[plain_unit(unit)]
                for meaning, unit in told.items()
                if meaning[0] in starts and plain_unit(unit) in _units(kind)
            }
            for meaning, unit in told.items():
                if meaning[0] in starts and meaning not in mine and meaning in _MEASURED:
                    self._doubts.append(f"The unit “{unit}” of {meaning} is not known.")
            if mine:
                common = Counter(mine.values()).most_common(1)[0][0]
                found[kind] = common
                found["units"] |= {m: unit for m, unit in mine.items() if unit != common}
            elif kind != "length":
                default = "kN" if kind == "force" else "kN·m"
                self._doubts.append(f"No unit of {kind} is told; {default} is assumed.")
        return found

    def _marks_of_numbers(self) -> tuple[str, str]:
        """Return the decimal and thousands marks of numbers kept as text."""
        texts = [
            cell.strip()
            for meaning in self._columns
            if meaning[0] in "NVM"
            for cell in self._cells(meaning)
            if isinstance(cell, str) and cell.strip()
        ]
        best, most = (".", ""), -1
        for decimal, thousands in (
            (".", ""), (",", ""), (".", ","), (",", "."), (".", "'"), (",", " "), (".", " "),
        ):  # fmt: skip
            read = sum(read_number(t, decimal, thousands) == read_number(t, decimal, thousands)
                       for t in texts)  # fmt: skip
            if read > most:
                best, most = (decimal, thousands), read
        return best

    def _repeating(self) -> tuple[Meaning, ...]:
        """Return the columns of names that are blank where others are not."""
        found = []
        for meaning in ("mark", "storey", "member", "case"):
            if meaning in self._columns:
                cells = [cell_text(cell) for cell in self._cells(meaning)]
                if cells and cells[0] and sum(not cell for cell in cells) > 0.2 * len(cells):
                    found.append(meaning)
        return tuple(found)

    def _words(self) -> dict[str, Any]:
        """Return the words by which ends, sums and envelopes are told."""
        found: dict[str, Any] = {}
        if "end" in self._columns:
            words = self._distinct("end")
            found["top_words"] = tuple(w for w in words if _plain(w) in _TOP)
            found["bottom_words"] = tuple(w for w in words if _plain(w) in _BOTTOM)
            rest = [w for w in words if _plain(w) not in _TOP | _BOTTOM]
            if rest:
                self._doubts.append(f"Which end is meant by {_listed(rest)}?")
        if "case" in self._columns:
            found["sum_words"] = tuple(w for w in self._distinct("case") if _plain(w) in _SUMS)
        if "step" in self._columns:
            extremes = tuple(w for w in self._distinct("step") if _plain(w) in _EXTREMES)
            found["envelope_words"] = extremes
            if extremes:
                told = "Rows of maxima and minima are left out: they do not act together."
                self._doubts.append(told)
        heading = _plain(self._headings.get("case", ""))
        if "comb" in heading:
            found["results"] = "combinations"
        return found

    def _distinct(self, meaning: Meaning) -> list[str]:
        at = self._columns[meaning]
        rows = self._sheet.rows[self._first :]
        texts = (cell_text(row[at]) for row in rows if len(row) > at)
        return list(dict.fromkeys(text for text in texts if text))

    def _with_signs(self, mapping: ForcesMapping, sheets: Sequence[Sheet]) -> ForcesMapping:
        """Return the mapping with the sign of N and the kind of moments that the numbers tell."""
        try:
            table = read_force_table([self._head_of(sheet) for sheet in sheets], mapping)
        except InputError as error:
            self._doubts.append(f"{error}")
            return mapping
        axial = table.values[..., 0]
        known = axial[~np.isnan(axial)]
        if known.size and np.sum(known < 0) > 0.5 * known.size:
            mapping = mapping.model_copy(update={"axial_positive": "tension"})
            self._doubts.append("Most axial forces are negative: tension is taken as positive.")
        if "angle" not in mapping.columns:
            self._doubts.append("Local axes are taken as those of the sections.")
        if not {"Va", "Vb"} <= mapping.columns.keys():
            self._doubts.append(
                "Without shears it is not seen whether moments are of a diagram or of nodes:"
                " those of a diagram are assumed."
            )
            return mapping
        errors = {
            (moments, end): self._disagreement(mapping, sheets, moments, end)
            for moments, end in (("diagram", "top"), ("nodal", "top"), ("nodal", "bottom"))
        }
        moments, end = min(errors, key=lambda kind: errors[kind])
        if moments == "nodal":
            self._doubts.append(
                f"By the shears the moments are of nodes; those at the {end} change sign."
            )
        return mapping.model_copy(update={"moments": moments, "turned_end": end})

    def _disagreement(
        self, mapping: ForcesMapping, sheets: Sequence[Sheet], moments: str, end: str
    ) -> float:
        """Return how far shears are from the slope of the moments, as a share; heights unknown."""
        changed = mapping.model_copy(update={"moments": moments, "turned_end": end})
        table = read_force_table([self._head_of(sheet) for sheet in sheets], changed)
        values = table.values
        slope = np.stack(
            [values[:, 0, :, 5] - values[:, 1, :, 5], values[:, 0, :, 4] - values[:, 1, :, 4]],
            axis=-1,
        )
        shear = values[:, 0, :, 1:3]
        there = ~np.isnan(shear) & ~np.isnan(slope) & (np.abs(shear) > 1.0)
        if not there.any():
            return 0.0 if moments == "diagram" else 1.0
        # The height is that which most lifts agree on.
        heights = slope[there] / shear[there]
        height = statistics.median(abs(h) for h in heights)
        return float(np.median(np.abs(heights - height)))

    def _head_of(self, sheet: Sheet) -> Sheet:
        return Sheet(sheet.name, sheet.rows[: self._first + LOOKED_AT], sheet.text)


def _plain(word: str) -> str:
    return re.sub(r"[\s._\-]", "", word.lower())


def _listed(words: Iterable[str]) -> str:
    shown = list(words)
    return ", ".join(f"“{word}”" for word in shown[:6]) + (" …" if len(shown) > 6 else "")
