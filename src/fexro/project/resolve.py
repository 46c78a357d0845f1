"""From the project as written to what the core computes with, and the rules both must meet."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from functools import lru_cache

import numpy as np

from fexro.core.actions import Actions
from fexro.core.codes.registry import design_code
from fexro.core.errors import InputError
from fexro.core.facts import ColumnFacts, CrossSection, Lengths
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.members.lift import Lift
from fexro.core.records import look
from fexro.core.section.bars import parse_call_out, parse_ties
from fexro.core.section.layout import Section, build_section
from fexro.project.model import Basis, LiftKey, LiftModel, Project, SectionModel

__all__ = ["resolve_lift", "section_of", "verify", "verify_lift"]

SAME_LEVEL = 1e-3  # m


@lru_cache(maxsize=4096)
def section_of(model: SectionModel) -> Section:
    """Return the section of a call-out, its bars laid out.

    Raises:
        InputError: where a call-out is not understood or the bars have no place.
    """
    groups = parse_call_out(model.bars, "section.bars")
    ties = parse_ties(model.ties, "section.ties")
    return build_section(model.shape, model.cover, groups, ties)


@lru_cache(maxsize=4096)
def _cross_section(
    section: SectionModel, concrete: Concrete, steel: ReinforcingSteel
) -> CrossSection:
    return CrossSection(section_of(section), concrete, steel)


def resolve_lift(
    project: Project, key: LiftKey, model: LiftModel | None = None, basis: Basis | None = None
) -> Lift:
    """Return a lift of the project, or what it would be, ready to be checked.

    Args:
        project: the project.
        key: names the lift.
        model: what to put in the lift's place.
        basis: what to put in place of the project's basis.

    Raises:
        InputError: if the section of `model` cannot be built.
    """
    model = model or project.by_key[key]
    basis = basis or project.basis
    section = _cross_section(
        model.section, project.concrete(model.concrete), project.steel(model.steel)
    )
    height = next(storey.height for storey in project.storeys if storey.name == key.storey)
    lengths = Lengths(1e3 * height)
    facts = ColumnFacts(section, basis.aggregate, lengths, lengths)
    applying = [c.name for c in project.combinations if c.applies(key)]
    names = tuple(name for name in applying if name in model.forces)
    missing = tuple(name for name in applying if name not in model.forces)
    # As they stand in the file: N, Mx, My, Vx, Vy.
    rows = np.array([model.forces[name] for name in names], dtype=float).reshape(-1, 2, 5)
    forces = np.zeros((len(names), 2, 6))
    forces[..., [0, 4, 5, 1, 2]] = rows * [1e3, 1e6, 1e6, 1e3, 1e3]
    code = design_code(basis.code, basis.system, basis.annex)
    return Lift(key.mark, key.storey, facts, code, Actions(names, forces, missing))


def verify(project: Project) -> None:
    """Refuse a project whose parts do not fit together.

    Raises:
        InputError: for duplicate names, names that nothing bears, missing combinations, storeys out
            of order, and sections that cannot be built; says where in the file.
    """
    for field in ("concretes", "steels", "storeys", "combinations", "marks"):
        names = [item.name for item in getattr(project, field)]
        if not names:
            raise InputError(field, "an empty list", "at least one entry")
        _refuse_duplicates(field, names)
    try:
        design_code(project.basis.code, project.basis.system, project.basis.annex)
    except InputError as error:
        raise InputError(f"basis.{error.where}", error.found, error.allowed) from None
    _refuse_disorder(project)
    for i, mark in enumerate(project.marks):
        _refuse_duplicates(f"marks[{i}].lifts", [lift.storey for lift in mark.lifts])
        for j, lift in enumerate(mark.lifts):
            verify_lift(project, lift, f"marks[{i}].lifts[{j}]")


def _refuse_disorder(project: Project) -> None:
    """Refuse storeys out of order or within one another, and exemptions of what there is not."""
    for i, (upper, lower) in enumerate(itertools.pairwise(project.storeys)):
        if lower.level >= upper.level:
            raise InputError(
                f"storeys[{i + 1}].level",
                f"{lower.level:g} m, not below {upper.name} at {upper.level:g} m",
                "storeys listed from the highest to the lowest",
            )
        foot = upper.level - upper.height
        if foot < lower.level - SAME_LEVEL:
            raise InputError(
                f"storeys[{i}].height",
                f"{upper.height:g} m, which reaches down to {foot:g} m,"
                f" below {lower.name} at {lower.level:g} m",
                f"{upper.level - lower.level:g} m or less",
            )
    marks = {mark.name: {lift.storey for lift in mark.lifts} for mark in project.marks}
    for i, combination in enumerate(project.combinations):
        for j, member in enumerate(combination.not_for):
            where = f"combinations[{i}].not_for[{j}]"
            if member.mark not in marks:
                raise InputError(where, f"“{member.mark}”", f"one of {_listed(list(marks))}")
            storeys = marks[member.mark]
            if member.storey is not None and member.storey not in storeys:
                allowed = f"a storey of {member.mark}: {_listed(sorted(storeys))}"
                raise InputError(where, f"“{member.storey}”", allowed)


def verify_lift(project: Project, lift: LiftModel, where: str) -> None:
    """Refuse a lift that names what the project lacks or whose section cannot be built."""
    for field, value, known in (
        ("storey", lift.storey, [storey.name for storey in project.storeys]),
        ("concrete", lift.concrete, [concrete.name for concrete in project.concretes]),
        ("steel", lift.steel, [steel.name for steel in project.steels]),
    ):
        if value not in known:
            raise InputError(f"{where}.{field}", f"“{value}”", f"one of {_listed(known)}")
    known = [combination.name for combination in project.combinations]
    for name in lift.forces:
        if name not in known:
            raise InputError(f"{where}.forces", f"“{name}”", f"one of {_listed(known)}")
    try:
        section_of(lift.section)
    except InputError as error:
        raise InputError(f"{where}.{error.where}", error.found, error.allowed) from error


def _refuse_duplicates(field: str, names: Iterable[str]) -> None:
    seen: dict[str, int] = {}
    for i, name in enumerate(names):
        first = seen.setdefault(look(name), i)
        if first != i:
            raise InputError(
                f"{field}[{i}]",
                f"“{name}”, already used by {field}[{first}]",
                "names that can be told apart",
            )


def _listed(names: list[str]) -> str:
    shown = ", ".join(names[:12])
    return shown + (f" and {len(names) - 12} more" if len(names) > 12 else "")
