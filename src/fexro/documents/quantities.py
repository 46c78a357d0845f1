"""Quantities: concrete, formwork, steel by size, cost and carbon, of lifts, storeys and groups."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from fexro.core.members.lift import LiftResult
from fexro.core.section.bars import BarSize
from fexro.core.sizing.amounts import Amounts, amounts_of
from fexro.core.sizing.objective import Costs
from fexro.documents.bar_list import BarList, bar_list
from fexro.documents.content import Block, Cell, Numeric, Paragraph, Table
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.sizing import lap_of, objective_of

__all__ = ["LiftQuantities", "Quantities", "quantities_of", "quantity_blocks"]


@dataclass(frozen=True)
class LiftQuantities:
    """What a lift takes.

    Attributes:
        key: of the lift.
        amounts: of its materials; steel as it is cut.
        steel: kg of each size.
        costs: mass of steel, cost and carbon.
    """

    key: LiftKey
    amounts: Amounts
    steel: Mapping[BarSize, float]
    costs: Costs

    @property
    def density(self) -> float:
        """Steel in the concrete, kg/m³."""
        return self.amounts.steel / self.amounts.concrete


@dataclass(frozen=True)
class Quantities:
    """What lifts take."""

    lifts: tuple[LiftQuantities, ...]

    @property
    def sizes(self) -> list[BarSize]:
        """The sizes of their bars, smallest first."""
        found = {size for lift in self.lifts for size in lift.steel}
        return sorted(found, key=lambda size: (size.diameter, size.name))

    def of(self, keys: Sequence[LiftKey]) -> LiftQuantities | None:
        """Return what some of them take together; nothing without any."""
        some = [lift for lift in self.lifts if lift.key in set(keys)]
        if not some:
            return None
        steel: dict[BarSize, float] = {}
        for lift in some:
            for size, mass in lift.steel.items():
                steel[size] = steel.get(size, 0.0) + mass
        amounts = functools.reduce(Amounts.__add__, (lift.amounts for lift in some))
        costs = functools.reduce(Costs.__add__, (lift.costs for lift in some))
        return LiftQuantities(some[0].key, amounts, steel, costs)

    @property
    def total(self) -> LiftQuantities | None:
        """What all of them take."""
        return self.of([lift.key for lift in self.lifts])


def quantities_of(
    project: Project, results: Mapping[LiftKey, LiftResult], keys: Sequence[LiftKey]
) -> Quantities:
    """Return what lifts take; their steel is that of the bar list.

    Args:
        project: the project.
        results: of all its lifts.
        keys: the lifts.
    """
    prepared = {key: result.prepared for key, result in results.items()}
    bars, objective = bar_list(project, prepared, keys), objective_of(project.basis.sizing)
    found = []
    for key in keys:
        lift = results[key].lift
        amounts, steel = _with_bars(amounts_of(lift, lap_of(lift)), bars, key)
        found.append(LiftQuantities(key, amounts, steel, objective.costs(amounts)))
    return Quantities(tuple(found))


def _with_bars(
    amounts: Amounts, bars: BarList, key: LiftKey
) -> tuple[Amounts, Mapping[BarSize, float]]:
    """Return amounts with the steel of a lift in the bar list, and that by size."""
    steel: dict[BarSize, float] = {}
    along = ties = 0.0
    for row in bars.of(key):
        size = row.marked.bar.size
        steel[size] = steel.get(size, 0.0) + row.mass
        if row.laid.kind in ("bar", "dowel"):
            along += row.mass
        else:
            ties += row.mass
    return amounts.with_steel(along, ties, amounts.count), steel


def quantity_blocks(project: Project, quantities: Quantities) -> Iterator[Block]:
    """Yield quantities by lift, storey and group, and of all."""
    keys = [lift.key for lift in quantities.lifts]
    yield _table(
        "By lift", "Lift", quantities, [(str(lift.key), [lift.key]) for lift in quantities.lifts]
    )
    yield _table(
        "By storey",
        "Storey",
        quantities,
        [
            (storey.name, [key for key in keys if key.storey == storey.name])
            for storey in project.storeys
        ],
    )
    groups = [(group.name, [k for k in group.members if k in keys]) for group in project.groups]
    if groups:
        yield _table("By group", "Group", quantities, groups)
    yield _table("All", "Lifts", quantities, [(str(len(keys)), keys)])
    rates = project.basis.sizing
    yield Paragraph(
        "Concrete over the storey height, bars not deducted; formwork of the outer faces over the"
        " clear height; steel as it is cut, of new columns, laps in it. Prices:"
        f" {rates.prices.source}; carbon: {rates.carbon.source}, {rates.carbon.bars:g} kg CO₂e per"
        f" kg of bars, {rates.carbon.concrete:g} per m³ of concrete and {rates.carbon.strength:g}"
        " for each MPa.",
        "quiet",
    )


def _table(
    title: str, head: str, quantities: Quantities, parts: Sequence[tuple[str, Sequence[LiftKey]]]
) -> Table:
    sizes = quantities.sizes
    rows: list[tuple[Cell, ...]] = []
    for name, keys in parts:
        one = quantities.of(keys)
        if one is None:
            continue
        amounts, costs = one.amounts, one.costs
        by_size = [Numeric(one.steel.get(size, 0.0), 1) for size in sizes]
        concrete = Numeric(amounts.concrete, 2), Numeric(amounts.formwork, 1)
        steel = Numeric(amounts.steel, 1), Numeric(one.density, 0)
        rows.append(
            (name, *concrete, *by_size, *steel, Numeric(costs.cost, 0), Numeric(costs.carbon, 0))
        )
    heads = (
        head,
        "Concrete (m³)",
        "Formwork (m²)",
        *(f"{size.name} (kg)" for size in sizes),
        "Steel (kg)",
        "kg/m³",
        "Cost",
        "Carbon (kg CO₂e)",
    )
    return Table(heads, tuple(rows), title)
