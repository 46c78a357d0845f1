"""The checker's page: what governs by an independent path, and every printed line done again."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from fexro.core.findings import Finding
from fexro.core.members.audit import second_opinion
from fexro.core.members.lift import LiftResult
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.recompute import differences
from fexro.core.rendering.text import line_text
from fexro.documents.content import Block, Heading, Numeric, Paragraph, Table
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["Derive", "Printed", "checker_blocks", "printed_again"]

Derive = Callable[[Finding], Derivation]


def _derive(finding: Finding) -> Derivation:
    return finding.derive()


@dataclass(frozen=True)
class Printed:
    """The printed lines of a lift done again.

    Attributes:
        lines: how many there are.
        largest: difference of a printed result from its printed numbers, relative.
        where: the line that has it.
    """

    lines: int
    largest: float
    where: str


def printed_again(result: LiftResult, system: UnitSystem, derive: Derive = _derive) -> Printed:
    """Do every printed line of the checks of a lift again from its printed numbers."""
    count, largest, where = 0, 0.0, ""
    for finding in result.shown_findings:
        for line, difference in differences(derive(finding), system):
            count += 1
            if not difference <= largest:
                largest, where = difference, f"{finding.name}: {line_text(line, system)}"
    return Printed(count, largest, where)


def checker_blocks(
    project: Project, results: Mapping[LiftKey, LiftResult], derive: Derive = _derive
) -> Iterator[Block]:
    """Yield the checker's page for lifts.

    Args:
        project: the project.
        results: the lifts and their checks.
        derive: writes the calculation of a finding, or returns what is written of it.
    """
    system = project.basis.system
    yield Heading("For the checker", running="for the checker")
    yield Paragraph(
        "What governs was computed again by fibres: squares of the section under the same strains,"
        " without the integrals of the calculation. Every printed line was done again from the"
        " numbers printed in it; results have five figures, values put in have six."
    )
    rows, worst = [], Printed(0, 0.0, "")
    for key, result in results.items():
        opinion, printed = second_opinion(result), printed_again(result, system, derive)
        if not printed.largest <= worst.largest:
            worst = printed
        known = math.isfinite(opinion.engine)
        rows.append(
            (
                str(key),
                opinion.combination,
                Numeric(opinion.engine, 4) if known else "no forces",
                Numeric(opinion.fibres, 4) if known else "",
                Numeric(100 * opinion.difference, 2) if known else "",
                Numeric(printed.lines),
                Numeric(100 * printed.largest, 4),
            )
        )
    heads = (
        "Lift",
        "Combination",
        "Utilisation",
        "By fibres",
        "Difference (%)",
        "Printed lines",
        "Largest difference (%)",
    )
    yield Table(heads, tuple(rows), "Done again", frozenset({0, 1}))
    if worst.where:
        yield Paragraph(f"The largest difference of a printed line is in {worst.where}", "quiet")
