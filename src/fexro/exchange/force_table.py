"""Forces out of the rows of a table under a mapping, and what is doubtful about them."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.errors import InputError
from fexro.exchange.force_rows import Complaint, MemberRows, Place, member_rows
from fexro.exchange.sheets import Sheet
from fexro.project.mapping import FORCES_OF, UNITS, ForcesMapping
from fexro.project.records import look

__all__ = ["Complaint", "ForceTable", "SpanMaximum", "plain_unit", "read_force_table", "unit_size"]

Name = TypeVar("Name")
TOP, BOTTOM, BETWEEN, NOWHERE = 0, 1, 2, 3
SAME_PLACE = 1e-3  # m
SAME_FORCE = 1e-9
MORE_BETWEEN = 1e-3  # by which a moment between the ends is larger than both
SHEAR_ROUNDING, SHEAR_SHARE = 0.15, 0.02  # kN, and share of the shear


@dataclass(frozen=True)
class SpanMaximum:
    """A moment between the ends of a lift that is larger than at both, kN·m.

    Attributes:
        mark, storey, case: of the lift.
        place: as a share of its height from the bottom.
        Mx, My: there.
        N, Vx, Vy, T: there; not numbers where the table has none.
    """

    mark: str
    storey: str
    case: str
    place: float
    Mx: float
    My: float
    N: float = math.nan
    Vx: float = math.nan
    Vy: float = math.nan
    T: float = math.nan


@dataclass(frozen=True, eq=False)
class ForceTable:
    """Forces of a table in kN and kN·m with the signs and axes of sections.

    Attributes:
        members: mark and storey as the table calls them, (M,).
        cases: load cases or combinations, (C,).
        values: N, Vx, Vy, T, Mx, My at top and bottom, (M, 2, C, 6); not numbers where not known.
        heights: of the lifts, m; not a number where the table does not tell, (M,).
        complaints: what is doubtful.
        span_maxima: larger moments between the ends.
        undecided: mark, storey, case and end that have two readings, or none.
        rows: how many rows hold forces of members.
        matched: for each of both ends and every case, the row it is from, (M, 2, C); -1 for none.
        places: sheets and lines of the rows.
    """

    members: tuple[tuple[str, str], ...]
    cases: tuple[str, ...]
    values: FloatArray
    heights: FloatArray
    complaints: tuple[Complaint, ...]
    span_maxima: tuple[SpanMaximum, ...]
    undecided: tuple[tuple[str, str, str, str], ...]
    rows: int
    matched: IntArray
    places: tuple[Place, ...]

    @property
    def count(self) -> int:
        """How many ends have forces."""
        return int((~np.isnan(self.values[..., 0])).sum())


def unit_size(name: str, kind: str) -> float:
    """Return a unit in kN, kN·m or m.

    Args:
        name: as people write it, such as kN.m, kip-ft or t·m.
        kind: force, moment or length.

    Raises:
        InputError: if there is none of that name.
    """
    known = {plain_unit(unit): size for unit, size in UNITS[kind].items()}
    if plain_unit(name) not in known:
        raise InputError(f"unit of {kind}", f"“{name}”", f"one of {', '.join(UNITS[kind])}")
    return known[plain_unit(name)]


def plain_unit(name: str) -> str:
    """Return the name of a unit without what parts it, in small letters, by its usual name."""
    plain = re.sub(r"[\s.·*\-_/()\[\]⋅]", "", name).lower()
    plain = plain.replace("kips", "kip").replace("lbf", "lb")
    return {"t": "tf", "tm": "tfm", "tonf": "tf", "inch": "in", "feet": "ft"}.get(plain, plain)


def read_force_table(
    sheets: Sequence[Sheet],
    mapping: ForcesMapping,
    report: Callable[[str], None] | None = None,
) -> ForceTable:
    """Return the forces of a table under a mapping.

    Args:
        sheets: of the file.
        mapping: how they are read.
        report: is told what is being done; may raise to stop.

    Raises:
        InputError: if the table has not the sheets or columns of the mapping.
    """
    tell = report or (lambda _: None)
    tell("looking at rows")
    rows = member_rows(sheets, mapping)
    tell("matching rows")
    return _Matching(rows, mapping).table()


class _Matching:
    """Puts rows in their places: member, case, end."""

    def __init__(self, rows: MemberRows, mapping: ForcesMapping) -> None:
        self._rows, self._mapping = rows, mapping
        marks, storeys = rows.texts["mark"], rows.texts["storey"]
        self._wide = any("@" in meaning for meaning in mapping.columns)
        self.members, member = _numbered(list(zip(marks, storeys, strict=True)))
        self.cases, case = _numbered(rows.texts["case"])
        self._complaints = list(rows.complaints)
        count = len(rows.places)
        halves = (("top", TOP), ("bottom", BOTTOM)) if self._wide else (("", NOWHERE),)
        self._row = np.tile(np.arange(count), len(halves))
        self._member, self._case = np.tile(member, len(halves)), np.tile(case, len(halves))
        self._forces = np.concatenate([self._components(end) for end, _ in halves])
        self._heights = np.full(len(self.members), np.nan)
        self._share = np.full(len(self._row), np.nan)
        if self._wide:
            self._end = np.repeat([end for _, end in halves], count)
        else:
            self._end = self._ends()

    @cached_property
    def _element(self) -> IntArray:
        texts = self._rows.texts.get("element")
        if texts is None:
            return np.zeros(len(self._row), dtype=np.intp)
        return np.tile(_numbered(texts)[1], 2 if self._wide else 1)

    def _components(self, end: str) -> FloatArray:
        """Return N, Va, Vb, T, Ma, Mb in kN and kN·m as the table has them; shears it lacks not."""
        columns = []
        for name in FORCES_OF:
            meaning = f"{name}@{end}" if end else name
            # A column of a wide table without an end is of both.
            numbers = self._rows.numbers.get(meaning, self._rows.numbers.get(name))
            if numbers is None:
                lacking = np.nan if name in ("Va", "Vb") else 0.0
                columns.append(np.full(len(self._rows.places), lacking))
                continue
            kind, unit = self._mapping.unit_of(meaning)  # type: ignore[arg-type]
            columns.append(numbers * unit_size(unit, kind))
        return np.stack(columns, axis=1)

    def _ends(self) -> IntArray:
        """Return where each row is: top, bottom, between, or nowhere that is understood."""
        if "end" in self._rows.texts and (self._mapping.top_words or self._mapping.bottom_words):
            words = {look(w): TOP for w in self._mapping.top_words}
            words |= {look(w): BOTTOM for w in self._mapping.bottom_words}
            texts = self._rows.texts["end"]
            known = {text: words.get(look(text), NOWHERE) for text in set(texts)}
            return np.array([known[text] for text in texts], dtype=np.intp)
        if "station" not in self._rows.numbers:
            raise InputError("columns", "none for end or station", "one of both")
        length = unit_size(self._mapping.length, "length")
        place = self._rows.numbers["station"] * length
        low, high = np.zeros_like(place), place
        if self._mapping.station == "element":
            for meaning in ("zi", "zj"):
                if meaning not in self._rows.numbers:
                    raise InputError("columns", f"none for {meaning}", "elevations of both nodes")
            zi, zj = (self._rows.numbers[name] * length for name in ("zi", "zj"))
            low, high = np.minimum(zi, zj), np.maximum(zi, zj)
            place = place + low
        bottom, top = np.full(len(self.members), np.inf), np.full(len(self.members), -np.inf)
        np.fmin.at(bottom, self._member, low)
        np.fmax.at(top, self._member, high)
        height = top - bottom
        self._heights = np.where(height > SAME_PLACE, height, np.nan)
        from_bottom = place - bottom[self._member]
        self._share = from_bottom / self._heights[self._member]
        end = np.full(len(place), BETWEEN, dtype=np.intp)
        end[np.abs(place - top[self._member]) < SAME_PLACE] = TOP
        end[np.abs(from_bottom) < SAME_PLACE] = BOTTOM
        end[np.isnan(place)] = NOWHERE
        return end

    def table(self) -> ForceTable:
        """Return the forces."""
        self._tell_elements()
        ends = ("top", "bottom") if self._wide else ("",)
        unreadable = self._rows.unreadable
        bad = np.concatenate([unreadable[""] | unreadable[end] for end in ends])
        lost = self._end == NOWHERE
        self._tell("end not understood", lost)
        self._tell("unreadable number", bad & ~lost)
        self._tell("number as text", self._rows.kept_as_text[self._row] & ~lost)
        shape = len(self.members), len(ENDS), len(self.cases)
        matched = np.full(shape, -1, dtype=np.intp)
        undecided = self._decide(matched, bad, lost)
        values = np.full((*shape, len(COMPONENTS)), np.nan)
        there = matched >= 0
        turned = self._turned()
        values[there] = turned[matched[there]]
        self._tell_missing(matched, undecided)
        self._tell_shear(values, matched)
        # A shear that the table lacks follows from the moments where the height is known.
        self._fill_shear(values)
        span = self._span_maxima(turned, values, bad | lost)
        places = self._row[np.maximum(matched, 0)]
        return ForceTable(
            tuple(self.members),
            tuple(self.cases),
            values,
            self._heights,
            tuple(self._complaints),
            tuple(span),
            tuple(
                (*self.members[m], self.cases[c], ENDS[e])
                for m, e, c in sorted(undecided, key=lambda key: (key[0], key[2], key[1]))
            ),
            len(self._rows.places),
            np.where(there, places, -1),
            tuple(self._rows.places),
        )

    def _tell(self, kind: str, lines: BoolArray) -> None:
        rows = sorted({int(i) for i in self._row[np.flatnonzero(lines)]})
        if rows:
            places = tuple(self._rows.places[i] for i in rows)
            self._complaints.append(Complaint(kind, places))

    def _tell_elements(self) -> None:
        if "element" not in self._rows.texts:
            return
        pairs = np.unique(np.stack([self._member, self._element], axis=1), axis=0)
        several = np.bincount(pairs[:, 0], minlength=len(self.members)) > 1
        self._tell("member in two elements", several[self._member])

    def _decide(
        self, matched: IntArray, bad: BoolArray, lost: BoolArray
    ) -> set[tuple[int, int, int]]:
        """Choose the row of each end; tell repeated and conflicting rows."""
        share = np.nan_to_num(np.round(self._share / SAME_PLACE), nan=-1.0)
        place = np.where(self._end == BETWEEN, share, -1.0)
        # Elements that meet between the ends of a lift have a row each there.
        element = np.where(self._end == BETWEEN, self._element, 0)
        keys = (element, place, self._end, self._case, self._member)
        order = np.lexsort((np.arange(len(self._row)), *keys))
        columns = np.stack([key[order] for key in keys], axis=1)
        new = np.ones(len(order), dtype=bool)
        new[1:] = (columns[1:] != columns[:-1]).any(axis=1)
        starts = np.flatnonzero(new)
        ends = np.append(starts[1:], len(order))
        repeated = np.zeros(len(self._row), dtype=bool)
        conflicting = np.zeros(len(self._row), dtype=bool)
        undecided: set[tuple[int, int, int]] = set()
        several = (ends - starts) > 1
        single = order[starts[~several]]
        single = single[self._end[single] < BETWEEN]
        good = single[~bad[single]]
        matched[self._member[good], self._end[good], self._case[good]] = good
        for i in single[bad[single]]:
            undecided.add((int(self._member[i]), int(self._end[i]), int(self._case[i])))
        for start, stop in zip(starts[several], ends[several], strict=True):
            rows = order[start:stop]
            if lost[rows[0]]:
                continue
            forces = np.nan_to_num(self._forces[rows])
            scale = np.maximum(np.abs(forces).max(axis=0), 1.0)
            same = (np.abs(forces - forces[0]) <= SAME_FORCE * scale).all() and not bad[rows].any()
            key = int(self._member[rows[0]]), int(self._end[rows[0]]), int(self._case[rows[0]])
            if same:
                repeated[rows[1:]] = True
                if key[1] < BETWEEN:
                    matched[key] = rows[0]
            else:
                conflicting[rows] = True
                if key[1] < BETWEEN:
                    undecided.add(key)
        # In a wide table a row stands for both ends; it is repeated when both are.
        if self._wide:
            count = len(self._rows.places)
            both = repeated[:count] & repeated[count:]
            repeated = np.tile(both, 2)
        self._tell("duplicate row", repeated)
        self._tell("conflicting rows", conflicting)
        return undecided

    def _turned(self) -> FloatArray:
        """Return N, Vx, Vy, T, Mx, My with the signs and axes of the project, (R, 6)."""
        N, Va, Vb, T, Ma, Mb = self._forces.T
        if self._mapping.axial_positive == "tension":
            N = -N
        if self._mapping.moments == "nodal":
            turned = self._end == (TOP if self._mapping.turned_end == "top" else BOTTOM)
            Ma, Mb = np.where(turned, -Ma, Ma), np.where(turned, -Mb, Mb)
        matrix = self._matrices()
        Mx = matrix[:, 0, 0] * Ma + matrix[:, 0, 1] * Mb
        My = matrix[:, 1, 0] * Ma + matrix[:, 1, 1] * Mb
        # Va is the slope of Mb, Vb that of Ma.
        Vy = matrix[:, 0, 0] * Vb + matrix[:, 0, 1] * Va
        Vx = matrix[:, 1, 0] * Vb + matrix[:, 1, 1] * Va
        return np.stack([N, Vx, Vy, T, Mx, My], axis=1) + 0.0

    def _matrices(self) -> FloatArray:
        """Return the matrix of each row, (R, 2, 2)."""
        angles = self._rows.numbers.get("angle")
        if angles is not None and not self._mapping.matrices:
            angle = np.radians(np.tile(angles, 2 if self._wide else 1))
            cos, sin = np.cos(angle), np.sin(angle)
            turn = np.stack([np.stack([cos, sin], 1), np.stack([-sin, cos], 1)], axis=1)
            return np.asarray(turn @ np.array(self._mapping.matrix))
        by_mark = {look(mark): matrix for mark, matrix in self._mapping.matrices.items()}
        of_member = np.array(
            [by_mark.get(look(mark), self._mapping.matrix) for mark, _ in self.members], dtype=float
        ).reshape(-1, 2, 2)
        found: FloatArray = of_member[self._member]
        return found

    def _tell_missing(self, matched: IntArray, undecided: set[tuple[int, int, int]]) -> None:
        """Tell members, cases and ends that others have."""
        there = matched >= 0
        for key in undecided:
            there[key] = True
        any_end: BoolArray = np.any(there, axis=1)
        marks = list(dict.fromkeys(mark for mark, _ in self.members))
        storeys = list(dict.fromkeys(storey for _, storey in self.members))
        known = set(self.members)
        members = tuple((m, s) for m in marks for s in storeys if (m, s) not in known)
        if members:
            self._complaints.append(Complaint("missing member", (), members))
        cases = tuple(
            (*self.members[m], self.cases[c]) for m, c in np.argwhere(~any_end) if any_end[m].any()
        )
        if cases:
            self._complaints.append(Complaint("missing case", (), cases))
        rows, keys = [], []
        for m, e, c in np.argwhere(~there & any_end[:, None, :]):
            row = matched[m, 1 - e, c]
            if row >= 0:
                rows.append(self._rows.places[self._row[row]])
            keys.append((*self.members[m], self.cases[c], ENDS[e]))
        if keys:
            self._complaints.append(Complaint("missing end", tuple(rows), tuple(keys)))

    def _tell_shear(self, values: FloatArray, matched: IntArray) -> None:
        """Tell lifts whose shears are not the slope of their moments."""
        height = self._heights[:, None]
        odd = np.zeros(values.shape[0:1] + values.shape[2:3], dtype=bool)
        for shear, moment in ((1, 5), (2, 4)):
            slope = (values[:, TOP, :, moment] - values[:, BOTTOM, :, moment]) / height
            for end in (TOP, BOTTOM):
                given = values[:, end, :, shear]
                apart = np.abs(given - slope)
                size = np.maximum(np.abs(given), np.abs(slope))
                odd |= apart > SHEAR_ROUNDING + SHEAR_SHARE * size
        lines = np.zeros(len(self._row), dtype=bool)
        for m, c in np.argwhere(odd):
            lines[matched[m, :, c]] = True
        self._tell("shear and moments disagree", lines)

    def _fill_shear(self, values: FloatArray) -> None:
        for shear, moment in ((1, 5), (2, 4)):
            slope = (values[:, TOP, :, moment] - values[:, BOTTOM, :, moment]) / np.where(
                np.isnan(self._heights), np.inf, self._heights
            )[:, None]
            for end in (TOP, BOTTOM):
                lacking = np.isnan(values[:, end, :, shear]) & ~np.isnan(values[:, end, :, 0])
                values[:, end, :, shear] = np.where(
                    lacking, np.nan_to_num(slope), values[:, end, :, shear]
                )

    def _span_maxima(
        self, turned: FloatArray, values: FloatArray, out: BoolArray
    ) -> list[SpanMaximum]:
        between = np.flatnonzero((self._end == BETWEEN) & ~out)
        if not len(between):
            return []
        m, c = self._member[between], self._case[between]
        ends = np.abs(values[m, :, c][:, :, [4, 5]]).max(axis=1)
        there = np.abs(turned[between][:, [4, 5]])
        larger = (there > (1 + MORE_BETWEEN) * ends + 10 * MORE_BETWEEN).any(axis=1)
        found: dict[tuple[int, int, float], SpanMaximum] = {}
        for i in between[larger]:
            key = int(self._member[i]), int(self._case[i]), round(float(self._share[i]), 6)
            mark, storey = self.members[key[0]]
            here = dict(zip(COMPONENTS, turned[i].tolist(), strict=True))
            found[key] = SpanMaximum(mark, storey, self.cases[key[1]], key[2], **here)
        return list(found.values())


def _numbered(values: list[Name]) -> tuple[list[Name], IntArray]:
    known: dict[Name, int] = {}
    numbers = [known.setdefault(value, len(known)) for value in values]
    return list(known), np.array(numbers, dtype=np.intp)
