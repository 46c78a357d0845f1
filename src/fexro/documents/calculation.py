"""The calculation: what was assumed, what was found, and every number with its derivation."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, get_args

from fexro.core.findings import Finding, State, Topic
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import detail_of, failing_first, message_of, summary_of
from fexro.core.quantities import Dimension, UnitSystem, unit_of
from fexro.documents.assumed import assumed_blocks
from fexro.documents.basis_chapter import basis_blocks, forces_blocks, materials_blocks
from fexro.documents.called import shape_called
from fexro.documents.charts import axial_bending_figure, biaxial_figure
from fexro.documents.checker import Derive, checker_blocks
from fexro.documents.content import (
    Block,
    Calculation,
    Cell,
    Contents,
    Facts,
    Figure,
    Heading,
    Numeric,
    Paragraph,
    Sheet,
    Table,
)
from fexro.documents.quantities import quantities_of, quantity_blocks
from fexro.documents.section_figure import section_figure
from fexro.project.column import LiftKey
from fexro.project.papers import PicturePart, PutPicture
from fexro.project.project import Project

__all__ = [
    "DETAILS",
    "PARTS",
    "CalculationOptions",
    "Combinations",
    "Detail",
    "Part",
    "PictureMaker",
    "calculation",
    "summary_table",
]

Detail = Literal["verdicts", "checks", "full"]
DETAILS: tuple[Detail, ...] = get_args(Detail)
Combinations = Literal["governing", "tables", "all"]
Part = Literal[
    "basis",
    "materials",
    "forces",
    "section",
    "stability",
    "N–M",
    "Mx–My",
    "surface",
    "stresses",
    "moments",
    "elevation",
    "checks",
    "quantities",
    "assumptions",
    "second opinion",
]
PARTS: tuple[Part, ...] = get_args(Part)
PICTURES: tuple[PicturePart, ...] = get_args(PicturePart)
WORST = 60  # lifts that the first page names

Results = Mapping[LiftKey, LiftResult]
# Makes one of the pictures of a lift's bench, in a combination or that which governs.
PictureMaker = Callable[[LiftKey, Part, str | None], Figure | None]


@dataclass(frozen=True)
class CalculationOptions:
    """What a calculation has in it.

    Attributes:
        detail: of the checks.
        details: of checks about a topic, in its place.
        parts: chapters and pictures.
        combinations: those that govern alone, with the others in tables, or all of them in full.
    """

    detail: Detail = "full"
    details: Mapping[Topic, Detail] = field(default_factory=dict)
    parts: tuple[Part, ...] = tuple(part for part in PARTS if part != "surface")
    combinations: Combinations = "governing"

    def of(self, finding: Finding) -> Detail:
        """Return how much a check has."""
        return self.details.get(finding.topic, self.detail)


def calculation(
    project: Project,
    results: Results,
    keys: Sequence[LiftKey],
    sheet: Sheet,
    options: CalculationOptions | None = None,
    pictures: PictureMaker | None = None,
) -> Iterator[Block]:
    """Yield the parts of the calculation of lifts, so that progress can be told.

    Args:
        project: the project.
        results: of all its lifts.
        keys: the lifts of the calculation.
        sheet: what stands on every page.
        options: what it has in it; all but the surface where nothing is said.
        pictures: makes the pictures of a bench beside section and diagrams.
    """
    options = options or CalculationOptions()
    # What is printed is done again for the checker.
    derive = functools.cache(lambda finding: finding.derive())
    chosen = {key: results[key] for key in keys}
    yield from _front(project, chosen, sheet)
    if "basis" in options.parts:
        yield from basis_blocks(project)
    if "materials" in options.parts:
        yield from materials_blocks(project, keys)
    if "forces" in options.parts:
        yield from forces_blocks(project)
    if "assumptions" in options.parts:
        yield from assumed_blocks(project, chosen)
    if not {"section", "checks", *PICTURES} & set(options.parts):
        yield from _verdicts(project, chosen)
        papers = project.papers
        put = {one.key for one in papers.pictures} | {one.key for one in papers.checks}
        chapters = [key for key in keys if key in put]
    else:
        chapters = list(keys)
    for key in chapters:
        yield from _lift(project, key, chosen[key], options, pictures, derive)
    if "quantities" in options.parts:
        yield Heading("Quantities", running="quantities")
        yield from quantity_blocks(project, quantities_of(project, results, keys))
    if "second opinion" in options.parts:
        yield from checker_blocks(project, chosen, derive)


def _front(project: Project, results: Results, sheet: Sheet) -> Iterator[Block]:
    system = project.basis.system
    yield Heading(project.name, 0, running="")
    yield Paragraph("Calculation of columns for axial load with biaxial bending")
    yield Facts(sheet.told)
    if project.papers.revisions:
        listed = tuple((one.name, one.date, one.by, one.told) for one in project.papers.revisions)
        heads = ("Revision", "Date", "By", "What is other")
        yield Table(heads, listed, "Revisions", frozenset({0, 1, 2, 3}))
    counts = [(state, _count(results, state)) for state in sorted(State, reverse=True)]
    told = ", ".join(f"{count} {state.word}" for state, count in counts if count)
    noun = "lift" if len(results) == 1 else "lifts"
    yield Paragraph(f"{len(results)} {noun}: {told or 'none'}.", "strong")
    open_ones = [
        (key, result)
        for key, result in results.items()
        if result.state in (State.NOT_CHECKED, State.EXCEEDED)
    ]
    if open_ones:
        rows = [
            (str(key), result.state.word, message)
            for key, result in open_ones[:WORST]
            for message in [_why(result, system)]
        ]
        yield Table(
            ("Lift", "State", "Why"), tuple(rows), "Exceeded or not checked", frozenset({0, 1, 2})
        )
        if len(open_ones) > WORST:
            yield Paragraph(f"and {len(open_ones) - WORST} more, see the summary.")
    yield Contents()
    yield Heading("Summary", running="summary")
    yield summary_table(results)


def _why(result: LiftResult, system: UnitSystem) -> str:
    """Return what keeps a lift from being satisfied, with every reason why it is not checked."""
    if result.state is State.EXCEEDED:
        return summary_of(result, system)[0]
    missing = [f for f in result.findings if f.state is State.NOT_CHECKED]
    return " ".join(dict.fromkeys(message_of(finding, system) for finding in missing))


def _count(results: Results, state: State) -> int:
    return sum(result.state is state for result in results.values())


def summary_table(results: Results) -> Table:
    """Return one row for each lift: section, utilisation, what governs."""
    rows = []
    for key, result in results.items():
        governing = result.governing
        rows.append(
            (
                key.mark,
                key.storey,
                Numeric(result.shown_ratio, 3),
                governing.name,
                governing.clause,
                governing.combination or "",
                result.state.word,
            )
        )
    heads = ("Mark", "Level", "Utilisation", "Governing", "Clause", "Combination", "State")
    return Table(heads, tuple(rows), "", frozenset({0, 1, 3, 4, 5, 6}))


def _verdicts(project: Project, results: Results) -> Iterator[Block]:
    """Yield the verdict of every lift with what else a person should look at, and no more."""
    system = project.basis.system
    yield Heading("Verdicts", running="verdicts")
    rows = tuple((str(key), " ".join(summary_of(r, system))) for key, r in results.items())
    yield Table(("Lift", "Verdict"), rows, "", frozenset({0, 1}))


def _lift(
    project: Project,
    key: LiftKey,
    result: LiftResult,
    options: CalculationOptions,
    pictures: PictureMaker | None,
    derive: Derive,
) -> Iterator[Block]:
    system = project.basis.system
    yield Heading(str(key), running=str(key))
    for number, sentence in enumerate(summary_of(result, system)):
        yield Paragraph(sentence, "" if number else "strong")
    first = failing_first(result)
    if first:
        yield Paragraph(first)
    if "section" in options.parts:
        yield Facts(tuple(_described(project, key, result)))
        yield section_figure(result, system)
    if "forces" in options.parts and options.detail != "verdicts":
        yield from _demands(result, system, options)
    for part in PICTURES:
        if part in options.parts:
            yield from _picture(result, system, pictures, key, part)
    for one in project.papers.pictures:
        if one.key == key:
            yield from _put_in(result, system, pictures, one)
    put = tuple(one.check for one in project.papers.checks if one.key == key)
    if put:
        yield _checks(result, system, "Put in", put)
    if "checks" in options.parts:
        yield _checks(result, system)
        yield from _derivations(result, system, options, derive)


def _picture(
    result: LiftResult,
    system: UnitSystem,
    pictures: PictureMaker | None,
    key: LiftKey,
    part: Part,
) -> Iterator[Block]:
    """Yield a picture: diagrams are drawn here, others by who was given to draw them."""
    if part in ("N–M", "Mx–My"):
        if result.solved is not None:
            draw = axial_bending_figure if part == "N–M" else biaxial_figure
            yield draw(result, system)
        return
    figure = None if pictures is None else pictures(key, part, None)
    if figure is not None:
        yield figure


def _put_in(
    result: LiftResult, system: UnitSystem, pictures: PictureMaker | None, one: PutPicture
) -> Iterator[Block]:
    """Yield a picture that was put in, as it is now."""
    if result.solved is None:
        return
    demand = None
    if one.combination in result.combinations:
        demand = result.demand_index(result.combination_index(one.combination))
    match one.part:
        case "N–M":
            angle = None if one.angle is None else math.radians(one.angle)
            yield axial_bending_figure(result, system, demand, angle)
        case "Mx–My":
            axial = None if one.axial is None else 1e3 * one.axial
            yield biaxial_figure(result, system, demand, axial)
        case _:
            figure = None if pictures is None else pictures(one.key, one.part, one.combination)
            if figure is not None:
                yield figure


def _described(project: Project, key: LiftKey, result: LiftResult) -> Iterator[tuple[str, str]]:
    model, facts, system = project.by_key[key], result.lift.facts, project.basis.system
    length = unit_of(Dimension.LENGTH, system)

    def shown(value: float) -> str:
        return f"{value / length.size:.5g} {length.symbol}"

    section, cross = facts.section, facts.cross_section
    yield "Section", f"{shape_called(project, key)} {length.symbol}, cover {shown(section.cover)}"
    ratio = 100 * section.bars.total_area / section.outline.area
    yield "Bars", f"{model.section.bars} ({ratio:.2f} %)"
    yield result.lift.code.vocabulary.ties.capitalize(), model.section.ties
    stress, words = unit_of(Dimension.STRESS, system), result.lift.code.vocabulary
    grades = f"{cross.concrete.name}, {cross.steel.name}"
    strengths = ", ".join(
        f"{symbol} = {value / stress.size:.4g} {stress.symbol}"
        for symbol, value in (
            (words.concrete_strength, cross.concrete.strength),
            (words.steel_strength, cross.steel.yield_strength),
        )
    )
    yield "Materials", f"{grades}; {strengths}"
    heights = [
        f"about {axis}: storey {shown(one.storey)}, clear {shown(one.length)}"
        for axis, one in (("x", facts.about_x), ("y", facts.about_y))
    ]
    yield "Heights", "; ".join(heights)


def _demands(
    result: LiftResult, system: UnitSystem, options: CalculationOptions
) -> Iterator[Block]:
    """Yield the forces of the combination that governs, or of all, with their utilisations."""
    if not len(result.demands):
        yield Paragraph("No forces are known.")
        return
    force, moment = unit_of(Dimension.FORCE, system), unit_of(Dimension.MOMENT, system)
    words = result.lift.code.vocabulary
    places = max(len(result.places), 1)
    if options.combinations == "governing":
        worst = result.worst_demand // places
        rows = range(worst * places, (worst + 1) * places)
        title = f"Forces in {result.combination_of(result.worst_demand)}, which governs"
    else:
        rows, title = range(len(result.demands)), "Forces in all combinations"
    first = result.prepared.demands.first_order.reshape(-1, 3)
    ratios = result.proportional.ratio

    def row(i: int) -> tuple[Cell, ...]:
        moments = [
            Numeric(of[i, 1 + axis] / moment.size, moment.decimals)
            for of in (first, result.demands)
            for axis in (0, 1)
        ]
        axial = Numeric(result.demands[i, 0] / force.size, force.decimals)
        ratio = Numeric(float(ratios[i]), 3)
        return (result.combination_of(i), result.place_of(i), axial, *moments, ratio)

    heads = (
        "Combination",
        "At",
        f"{words.axial} ({force.symbol})",
        f"{words.moment_x}, first order ({moment.symbol})",
        f"{words.moment_y}, first order ({moment.symbol})",
        f"{words.moment_x} ({moment.symbol})",
        f"{words.moment_y} ({moment.symbol})",
        "Utilisation",
    )
    yield Table(heads, tuple(map(row, rows)), title, frozenset({0, 1}))


def _checks(
    result: LiftResult,
    system: UnitSystem,
    title: str = "Checks",
    names: tuple[str, ...] | None = None,
) -> Table:
    """Return checks with their numbers: all, or by name; one that is not made now says so."""
    answered = {finding.name: finding for finding in result.shown_findings}
    rows = tuple(
        (
            finding.name,
            "" if math.isnan(finding.ratio) else Numeric(finding.ratio, 3),
            finding.clause,
            finding.combination or "",
            detail_of(finding, system),
            finding.state.word,
        )
        for finding in result.shown_findings
        if names is None or finding.name in names
    )
    rows += tuple(
        (name, "", "", "", "not made now", "–") for name in names or () if name not in answered
    )
    heads = ("Check", "Ratio", "Clause", "Combination", "Found and allowed", "State")
    return Table(heads, rows, title, frozenset({0, 2, 3, 4, 5}))


def _derivations(
    result: LiftResult, system: UnitSystem, options: CalculationOptions, derive: Derive
) -> Iterator[Block]:
    for finding in result.shown_findings:
        if options.of(finding) == "full":
            record = derive(finding)
            if record.lines:
                parts = (finding.name, finding.clause, detail_of(finding, system))
                yield Calculation(" · ".join(part for part in parts if part), record, system)
    if options.combinations == "all" and options.detail == "full":
        for demand in range(len(result.demands)):
            if demand != result.worst_demand:
                name = f"Bending, {result.combination_of(demand)} {result.place_of(demand)}"
                yield Calculation(name, result.derivation_of(demand), system)
