"""The bar list of a project: marks, members, numbers, lengths, shapes, masses, and its cutting."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, get_args

from fexro.core.bending.bent_bar import BentBar
from fexro.core.bending.cutting import CuttingPlan, cutting_plan
from fexro.core.errors import InputError
from fexro.core.members.bar_layout import LaidBar
from fexro.core.members.lift import PreparedLift
from fexro.core.section.bars import BarSize
from fexro.project.column import LiftKey
from fexro.project.laid_bars import laid_bars
from fexro.project.papers import BarMark
from fexro.project.project import Project

__all__ = [
    "ORDERS",
    "BarList",
    "Cutting",
    "ListedBar",
    "MarkedBar",
    "Order",
    "SizeMass",
    "bar_list",
    "grade_of",
    "kept_mark",
]

Order = Literal["element", "size", "shape"]
ORDERS: tuple[Order, ...] = get_args(Order)


@dataclass(frozen=True)
class MarkedBar:
    """A bar with its mark: of one size, grade, shape and dimensions.

    Attributes:
        mark: its number.
        bar: as it is bent.
        grade: of its steel.
    """

    mark: str
    bar: BentBar
    grade: str


@dataclass(frozen=True)
class ListedBar:
    """Bars of a lift in the list.

    Attributes:
        key: of the lift.
        marked: the bar.
        laid: where they are.
        revision: letter of the revision since which they are as they are.
    """

    key: LiftKey
    marked: MarkedBar
    laid: LaidBar
    revision: str = ""

    @property
    def number(self) -> int:
        """How many there are in the lift."""
        return self.laid.number

    @property
    def length(self) -> float:
        """Of all of them as they are cut, mm."""
        return self.number * self.marked.bar.cut

    @property
    def mass(self) -> float:
        """Of all of them, kg."""
        return self.number * self.marked.bar.mass


@dataclass(frozen=True)
class SizeMass:
    """What bars of a size and grade come to.

    Attributes:
        number: of bars.
        length: of all as they are cut, mm.
        mass: kg.
    """

    size: BarSize
    grade: str
    number: int
    length: float
    mass: float


@dataclass(frozen=True)
class Cutting:
    """How bars of a size and grade are cut from stock.

    Attributes:
        plan: nothing where a bar is longer than any stock.
        told: why there is none; empty else.
    """

    size: BarSize
    grade: str
    plan: CuttingPlan | None
    told: str


@dataclass(frozen=True)
class BarList:
    """The bars of lifts.

    Attributes:
        rows: lift after lift.
        left_out: lifts that have no bars to be ordered, with the reason.
        practice: the standards that they are bent by, in words.
    """

    rows: tuple[ListedBar, ...]
    left_out: tuple[str, ...]
    practice: str

    def ordered(self, order: Order) -> list[ListedBar]:
        """Return the rows by element, by size, or by shape; within those as they are."""
        match order:
            case "element":
                return list(self.rows)
            case "size":
                return sorted(self.rows, key=lambda row: _size_key(row.marked))
            case "shape":
                return sorted(self.rows, key=lambda row: (row.marked.bar.shape, row.marked.mark))

    def of(self, key: LiftKey) -> list[ListedBar]:
        """Return the rows of a lift."""
        return self._by_key.get(key, [])

    @cached_property
    def _by_key(self) -> dict[LiftKey, list[ListedBar]]:
        found: dict[LiftKey, list[ListedBar]] = {}
        for row in self.rows:
            found.setdefault(row.key, []).append(row)
        return found

    @property
    def marks(self) -> list[tuple[MarkedBar, list[ListedBar]]]:
        """Every mark with where it is."""
        found: dict[MarkedBar, list[ListedBar]] = {}
        for row in self.rows:
            found.setdefault(row.marked, []).append(row)
        return sorted(found.items(), key=lambda item: item[0].mark)

    @property
    def masses(self) -> list[SizeMass]:
        """What each size and grade comes to, smallest size first."""
        found: dict[tuple[BarSize, str], list[ListedBar]] = {}
        for row in self.rows:
            found.setdefault((row.marked.bar.size, row.marked.grade), []).append(row)
        return [
            SizeMass(
                size,
                grade,
                sum(row.number for row in rows),
                sum(row.length for row in rows),
                sum(row.mass for row in rows),
            )
            for (size, grade), rows in sorted(
                found.items(), key=lambda i: (i[0][0].diameter, i[0][0].name, i[0][1])
            )
        ]

    @property
    def mass(self) -> float:
        """Of all bars, kg."""
        return sum(row.mass for row in self.rows)

    def cuttings(self, stock: Sequence[float]) -> Iterator[Cutting]:
        """Yield how each size and grade is cut from lengths of stock, mm; spirals are left out."""
        demand: dict[tuple[BarSize, str], dict[float, int]] = {}
        for row in self.rows:
            bar = row.marked.bar
            if row.laid.kind != "spiral":
                lengths = demand.setdefault((bar.size, row.marked.grade), {})
                lengths[bar.cut] = lengths.get(bar.cut, 0) + row.number
        for what in sorted(demand, key=lambda one: _in_order(*one)):
            size, grade = what
            lengths = demand[what]
            try:
                yield Cutting(size, grade, cutting_plan(lengths, stock), "")
            except InputError as error:
                yield Cutting(size, grade, None, str(error))


def _in_order(size: BarSize, grade: str) -> tuple[float, str, str]:
    """Return what sizes and grades are sorted by."""
    return size.diameter, size.name, grade


def _size_key(marked: MarkedBar) -> tuple[float, str, str]:
    return marked.bar.size.diameter, marked.grade, marked.mark


def kept_mark(mark: str, bar: BentBar, grade: str, revision: str = "") -> BarMark:
    """Return a mark as the project keeps it."""
    dimensions = tuple((letter, round(value, 3)) for letter, value in bar.dimensions)
    return BarMark(
        mark=mark or "-",
        size=bar.size.name,
        grade=grade,
        shape=bar.shape,
        dimensions=dimensions,
        cut=round(bar.cut, 3),
        told=bar.told,
        revision=revision,
    )


def _specified(one: BarMark) -> tuple[object, ...]:
    """Return what makes a mark another when it changes."""
    return one.size, one.grade, one.shape, one.dimensions, one.cut, one.told


def grade_of(project: Project, key: LiftKey, laid: LaidBar) -> str:
    """Return the grade of bars of a lift: ties may have a steel of their own."""
    values = project.by_key[key].values
    if laid.kind in ("bar", "dowel"):
        return values.steel
    return values.tie_steel or values.steel


def bar_list(
    project: Project, prepared: Mapping[LiftKey, PreparedLift], keys: Sequence[LiftKey]
) -> BarList:
    """Return the bar list of lifts.

    Marks are numbered over all lifts of the project, so that a list of some has the same marks.
    Those that were issued stay; bars that were not there get new ones.

    Args:
        project: the project.
        prepared: all lifts of the project.
        keys: the lifts of the list.
    """
    known = {_specified(one): one.mark for one in project.papers.marks}
    issued = {(one.key, one.bar, one.number): one.revision for one in project.papers.bars}
    fresh = (name for n in itertools.count(1) if (name := f"{n:02d}") not in known.values())
    marks: dict[tuple[BentBar, str], MarkedBar] = {}
    rows, wanted = [], set(keys)
    for key in project.by_key:
        for laid in laid_bars(project, prepared, key):
            what = laid.bar, grade_of(project, key, laid)
            if what not in marks:
                mark = known.get(_specified(kept_mark("", *what)))
                marks[what] = MarkedBar(next(fresh) if mark is None else mark, *what)
            if key in wanted:
                marked = marks[what]
                # What was not issued so is of the present revision.
                revision = issued.get((key, marked.mark, laid.number), project.revision)
                rows.append(ListedBar(key, marked, laid, revision if issued else ""))
    standing = [key for key in keys if project.by_key[key].values.age == "existing"]
    left_out = [f"{key}: stands already, its bars are not ordered" for key in standing]
    left_out += _of_walls(project, keys)
    told = {one.lift.code.bending(one.lift.facts).told for one in prepared.values()}
    return BarList(tuple(rows), tuple(left_out), "; ".join(sorted(told)))


def _of_walls(project: Project, keys: Sequence[LiftKey]) -> list[str]:
    """Return what of walls is not in a list, with the reason."""
    kinds = {project.mark_by_name[key.mark].kind for key in keys}
    found = []
    if "wall panel" in kinds:
        found.append("Walls: bars around openings beside those of the ends are left out")
    if "coupling beam" in kinds:
        found.append(
            "Coupling beams: bars that have no room for straight anchorage in the piers, and bars"
            " across cages of diagonals, are left out"
        )
    if "bearing wall" in kinds:
        found.append("Bearing walls: they are checked as strips, whose bars are not counted")
    return found
