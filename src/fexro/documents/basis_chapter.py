"""Chapters on what a project rests on: code, materials, load cases and combinations."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from fexro.core.codes.options import groups_of, options_of, word_of
from fexro.core.quantities import format_quantity
from fexro.documents.content import Block, Calculation, Facts, Heading, Numeric, Paragraph, Table
from fexro.project.cases import Combination
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["basis_blocks", "forces_blocks", "materials_blocks"]


def basis_blocks(project: Project) -> Iterator[Block]:
    """Yield the chapter on the design code and what was chosen where it leaves room."""
    basis, values = project.basis, project.basis.values
    code = basis.design_code
    yield Heading("Basis", running="basis")
    yield Facts(
        (
            ("Design code", code.name),
            ("Units", {"SI": "SI", "in-lb": "inch-pound"}[basis.units]),
            ("Laps", {"none": "bars coupled"}.get(values.laps, f"lapped, {values.laps}")),
            ("Frames along x", f"{values.x.frame}, sway {values.x.sway}"),
            ("Frames along y", f"{values.y.frame}, sway {values.y.sway}"),
            ("Storeys", str(len(project.storeys))),
            ("Lifts", str(len(project.by_key))),
        )
    )
    kind = code.stability.options
    chosen = options_of(kind, values.options, others=True)
    rows = [
        (
            title,
            option.metadata["label"],
            word_of(getattr(chosen, option.name)),
            _by(option, chosen),
        )
        for title, options in groups_of(kind)
        for option in options
    ]
    heads = ("About", "Choice", "Value", "By")
    yield Table(heads, tuple(rows), "Where the code leaves room", frozenset({0, 1, 2, 3}))
    rows_of_storeys = tuple(
        (storey.name, Numeric(storey.level, 2), Numeric(storey.height, 2))
        for storey in project.storeys
    )
    yield Table(("Storey", "Level (m)", "Height (m)"), rows_of_storeys, "Storeys")


def _by(option: object, chosen: object) -> str:
    name, default = option.name, option.default  # type: ignore[attr-defined]
    return "default" if getattr(chosen, name) == default else "chosen"


def materials_blocks(project: Project, keys: Sequence[LiftKey]) -> Iterator[Block]:
    """Yield the chapter on the materials that lifts are of, and what follows from them."""
    code, system = project.basis.design_code, project.basis.system
    models = [project.by_key[key] for key in keys]
    yield Heading("Materials", running="materials")
    used = {model.concrete for model in models}
    for grade in project.concretes:
        if grade.name in used:
            yield Heading(f"Concrete {grade.name}", 2)
            for fact in code.materials.concrete(grade.material()):
                shown = format_quantity(fact.value, fact.dimension, system)
                yield Calculation(f"{fact.symbol} = {shown}, {fact.name}", fact.derive(), system)
    used = {name for model in models for name in (model.steel, model.values.tie_steel) if name}
    for steel in project.steels:
        if steel.name in used:
            yield Heading(f"Reinforcing steel {steel.name}", 2)
            for fact in code.materials.steel(steel.material()):
                shown = format_quantity(fact.value, fact.dimension, system)
                yield Calculation(f"{fact.symbol} = {shown}, {fact.name}", fact.derive(), system)


def forces_blocks(project: Project) -> Iterator[Block]:
    """Yield the chapter on load cases, combinations and where forces are from."""
    yield Heading("Loads", running="loads")
    if project.cases:
        rows = tuple(
            (
                case.name,
                case.nature,
                case.direction or "",
                "±" if case.both_signs else "",
                case.sway or "",
                Numeric(case.sustained, 2),
            )
            for case in project.cases
        )
        heads = ("Case", "Nature", "Direction", "Signs", "Sways", "Lasting share")
        yield Table(heads, rows, "Load cases", frozenset({0, 1, 2, 3, 4}))
    rows_of = tuple(
        (one.name, _expression(one), one.equation, ", ".join(one.uses))
        for one in project.combinations
    )
    yield Table(
        ("Combination", "Factors", "By", "Used for"),
        rows_of,
        "Combinations",
        frozenset({0, 1, 2, 3}),
    )
    if project.takings:
        taken = tuple(
            (str(one.number), one.date[:10], one.file, str(one.members), one.checksum[:12])
            for one in project.takings
        )
        yield Table(
            ("Taking", "Date", "File", "Lifts", "SHA-256 begins"),
            taken,
            "Forces taken from files",
            frozenset({0, 1, 2, 4}),
        )
    else:
        yield Paragraph("Forces were entered by hand.", "quiet")


def _expression(one: Combination) -> str:
    if one.expression:
        return one.expression
    parts = [f"{factor:+g} {name}" for name, factor in one.factors.items()]
    return " ".join(parts).lstrip("+") or "given factored"
