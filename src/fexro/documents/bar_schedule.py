"""The bar list as it leaves the office: rows, shapes drawn, masses by size, cutting plan."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from fexro.core.bending.bent_bar import BentBar
from fexro.core.bending.cutting import CutBar
from fexro.core.quantities import INCH, Dimension, Unit, UnitSystem, unit_of
from fexro.documents.bar_list import BarList, ListedBar, Order
from fexro.documents.content import Block, Cell, Heading, Numeric, Paragraph, Sketch, Table
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["bar_blocks", "bar_rows", "cutting_table"]

LETTERS = 6  # dimensions that have a column; others are told with the sketch
FOOT = 12 * INCH


def bar_rows(project: Project, bars: BarList, order: Order = "element") -> Table:
    """Return the bar list as a table: members with the same bars share their rows."""
    length = unit_of(Dimension.LENGTH, project.basis.system)
    letters = "ABCDEF"[:LETTERS]
    rows = tuple(
        _row(row, members, length, letters)
        for row, members in _shared(bars.ordered(order), by_element=order == "element")
    )
    heads = (
        *("Members", "Mark", "Type and size", "Of each", "Members", "Total"),
        *(f"Length ({length.symbol})", "Shape"),
        *letters,
        *("Rev", "What"),
    )
    words = frozenset({0, 1, 2, 7, len(heads) - 2, len(heads) - 1})
    return Table(heads, rows, f"Bars by {order}, dimensions in {length.symbol}", words)


def _shared(
    rows: Sequence[ListedBar], *, by_element: bool
) -> Iterator[tuple[ListedBar, list[LiftKey]]]:
    """Yield rows with the members that have them.

    By element, members are taken together whose bars are all the same; else those that have as many
    of a mark.
    """
    of: dict[LiftKey, list[tuple[str, int, str]]] = {}
    for row in rows:
        of.setdefault(row.key, []).append((row.marked.mark, row.number, row.revision))
    alike: dict[tuple[object, ...], tuple[ListedBar, list[LiftKey]]] = {}
    for row in rows:
        what = row.marked.mark, row.number, row.revision
        key = (*what, tuple(of[row.key]), row.key.mark) if by_element else what
        alike.setdefault(key, (row, []))[1].append(row.key)
    yield from alike.values()


def _members(keys: Sequence[LiftKey]) -> str:
    """Return lifts as they are called, those of a stack together."""
    levels: dict[str, list[str]] = {}
    for key in keys:
        levels.setdefault(key.mark, []).append(key.storey)
    return "; ".join(f"{mark} · {', '.join(names)}" for mark, names in levels.items())


def _row(
    row: ListedBar, members: Sequence[LiftKey], length: Unit, letters: str
) -> tuple[Cell, ...]:
    bar = row.marked.bar
    by = dict(bar.dimensions)
    dimensions = [_measured(by.get(letter), bar, letter, length) for letter in letters]
    return (
        _members(members),
        row.marked.mark,
        f"{row.marked.grade} {bar.size.name}",
        Numeric(row.number),
        Numeric(len(members)),
        Numeric(row.number * len(members)),
        Numeric(bar.cut / length.size, length.decimals),
        bar.shape,
        *dimensions,
        row.revision,
        row.laid.kind,
    )


def _measured(value: float | None, bar: BentBar, letter: str, length: Unit) -> Cell:
    if value is None:
        return ""
    if bar.shape == "77" and letter == "C":
        return Numeric(value, 1)
    return Numeric(value / length.size, length.decimals)


def _marks(project: Project, bars: BarList) -> Table:
    """Return every mark with its sketch, where it is, and what it comes to."""
    length = unit_of(Dimension.LENGTH, project.basis.system)
    rows = []
    for marked, some in bars.marks:
        bar = marked.bar
        told = ", ".join(
            f"{letter} {value / length.size:.{length.decimals}f}"
            for letter, value in bar.dimensions
        )
        number = sum(row.number for row in some)
        where = _members(list(dict.fromkeys(row.key for row in some)))
        rows.append(
            (
                marked.mark,
                f"{marked.grade} {bar.size.name}",
                bar.shape,
                Sketch(bar.line),
                f"{told}; {bar.told}" if bar.told else told,
                Numeric(bar.cut / length.size, length.decimals),
                Numeric(number),
                Numeric(number * bar.mass, 1),
                where,
            )
        )
    heads = (
        *("Mark", "Type and size", "Shape", "Sketch", f"Dimensions ({length.symbol})"),
        *(f"Length ({length.symbol})", "Total", "Mass (kg)", "Members"),
    )
    return Table(heads, tuple(rows), "Marks", frozenset({0, 1, 2, 3, 4, 8}))


def _masses(project: Project, bars: BarList) -> Table:
    in_lb = project.basis.system is UnitSystem.IN_LB
    size, symbol = (FOOT, "ft") if in_lb else (1000.0, "m")
    rows = [
        (
            one.size.name,
            one.grade,
            Numeric(one.number),
            Numeric(one.length / size, 1),
            Numeric(one.mass, 1),
        )
        for one in bars.masses
    ]
    total = ("all", "", Numeric(sum(one.number for one in bars.masses)), "", Numeric(bars.mass, 1))
    heads = ("Size", "Grade", "Number", f"Length ({symbol})", "Mass (kg)")
    return Table(heads, (*rows, total), "Masses by size", frozenset({0, 1}))


def cutting_table(project: Project, bars: BarList, stock: Sequence[float]) -> Table:
    """Return how each size and grade is cut from lengths of stock, mm."""
    in_lb = project.basis.system is UnitSystem.IN_LB
    size, symbol = (FOOT, "ft") if in_lb else (1000.0, "m")
    rows: list[tuple[Cell, ...]] = []
    for one in bars.cuttings(stock):
        if one.plan is None:
            rows.append((one.size.name, one.grade, "", "", "", one.told))
            continue
        share = 100 * one.plan.waste / one.plan.bought if one.plan.bought else 0.0
        rows.append(
            (
                one.size.name,
                one.grade,
                Numeric(len(one.plan.bars)),
                Numeric(one.plan.bought / size, 1),
                Numeric(share, 1),
                _patterns(one.plan.bars, size) + ("" if one.plan.proved else " (best found)"),
            )
        )
    heads = ("Size", "Grade", "Stock bars", f"Bought ({symbol})", "Waste (%)", "Cut")
    return Table(heads, tuple(rows), "Cutting plan", frozenset({0, 1, 5}))


def _patterns(bars: Sequence[CutBar], size: float) -> str:
    """Return how many stock bars are cut to what, each pattern once."""
    found = Counter((bar.stock, tuple(sorted(bar.cuts, reverse=True))) for bar in bars)
    parts = []
    for (stock, cuts), number in found.most_common():
        pieces = Counter(cuts)
        told = " + ".join(
            f"{count} × {cut / size:.5g}" if count > 1 else f"{cut / size:.5g}"
            for cut, count in pieces.items()
        )
        parts.append(f"{number} of {stock / size:g}: {told}")
    return "; ".join(parts)


def bar_blocks(
    project: Project, bars: BarList, stock: Sequence[float], order: Order = "element"
) -> Iterator[Block]:
    """Yield the bar list as a document.

    Args:
        project: the project.
        bars: its bar list.
        stock: lengths that bars are delivered in, mm.
        order: of the rows.
    """
    yield Heading("Bar list", 0, running="bar list")
    yield Paragraph(
        f"{bars.practice[:1].upper()}{bars.practice[1:]}. Lengths are up to the next"
        f" {_step(project)}; masses are those of the lengths as they are cut. Starters below the"
        " lowest lift are not in this list, nor are bars of slabs, beams and foundations."
    )
    for one in bars.left_out:
        yield Paragraph(one)
    yield bar_rows(project, bars, order)
    yield _marks(project, bars)
    yield _masses(project, bars)
    yield cutting_table(project, bars, stock)


def _step(project: Project) -> str:
    return "25 mm" if project.basis.system is UnitSystem.SI else "inch"
