"""Edits of combinations."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping
from typing import Any

from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.core.loads.cases import Use
from fexro.core.loads.expression import factors_of, written
from fexro.project.cases import Combination, CombinationRules, Factors
from fexro.project.column import LiftKey, Member
from fexro.project.edits.storeys import free_name
from fexro.project.edits.verified import named, verified
from fexro.project.project import Project
from fexro.project.records import look

__all__ = [
    "add_combination",
    "change_combination",
    "exempt_member",
    "make_combinations",
    "remove_combinations",
    "set_sway_part",
]


def exempt_member(project: Project, combination: str, member: Member, *, exempt: bool) -> Project:
    """Return the project with a combination marked as not applying to a member, or as applying.

    Raises:
        InputError: if there is no such combination or member.
    """
    present = _named(project, combination)
    meant = frozenset(key for key in project.by_key if member.covers(key))
    if not meant:
        raise InputError("member", f"“{member}”", "a mark, or a mark and a storey of it")
    outside = {key for key in project.by_key if not present.applies(key)}
    outside = outside | meant if exempt else outside - meant
    members: list[Member] = []
    for mark in project.marks:
        lifts = [LiftKey(mark.name, lift.storey) for lift in mark.lifts]
        left_out = [key for key in lifts if key in outside]
        if lifts and left_out == lifts:
            members.append(Member(mark=mark.name))
        else:
            members += [Member(mark=key.mark, storey=key.storey) for key in left_out]
    changed = present.model_copy(update={"not_for": tuple(members)})
    combinations = tuple(changed if c is present else c for c in project.combinations)
    return project.changed(combinations=combinations)


def add_combination(project: Project, name: str, text: str = "") -> Project:
    """Return the project with another combination.

    Args:
        project: the project.
        name: of the combination; a free one where none is given.
        text: its expression; without one its forces are given factored.

    Raises:
        InputError: if the name is taken, or the expression is not understood.
    """
    name = named("combination", name or free_name("U", [c.name for c in project.combinations]))
    made = Combination(name=name, **_expressed(project, text))
    return verified(project.changed(combinations=(*project.combinations, made)))


def change_combination(
    project: Project,
    name: str,
    *,
    new_name: str | None = None,
    text: str | None = None,
    factors: Mapping[str, float] | None = None,
    uses: tuple[Use, ...] | None = None,
) -> Project:
    """Return the project with a combination called otherwise, made otherwise or used otherwise.

    Args:
        project: the project.
        name: of the combination.
        new_name: another name.
        text: another expression.
        factors: other factors by load case; those of 0 are left out.
        uses: what it is used for.

    Raises:
        InputError: if one of them is not allowed.
    """
    present = _named(project, name)
    fields: dict[str, Any] = {}
    if text is not None:
        fields |= _expressed(project, text)
    if factors is not None:
        kept = {case: value for case, value in factors.items() if value}
        fields |= {"factors": Factors(kept), "expression": written(kept)}
    if fields:
        fields["equation"] = ""  # people have made it another
    if uses is not None:
        fields["uses"] = uses
    if new_name is not None:
        fields["name"] = named("combination", new_name)
    try:
        changed = Combination.model_validate({**dict(present), **fields})
    except ValidationError as error:
        first = error.errors()[0]
        raise InputError(name, f"“{first['input']}”", first["msg"].lower()) from None
    project = project.changed(
        combinations=tuple(changed if c is present else c for c in project.combinations)
    )
    if changed.name != name:

        def call(column: str) -> str:
            return changed.name if column == name else column

        def renamed(one: Combination) -> Combination:
            parts = {f"sway_{axis}": getattr(one, f"sway_{axis}") for axis in ("x", "y")}
            others = {field: call(part) for field, part in parts.items() if part is not None}
            return one.model_copy(update=others) if others else one

        project = project.changed(
            combinations=tuple(map(renamed, project.combinations)),
            factored_forces=project.factored_forces.with_columns(call),
            former_factored_forces=project.former_factored_forces.with_columns(call),
        )
    return verified(project)


def remove_combinations(project: Project, names: Collection[str]) -> Project:
    """Return the project without some combinations, and without forces given for them."""
    gone = set(names)
    kept = []
    for one in project.combinations:
        parts = [f"sway_{axis}" for axis in ("x", "y")]
        lost = {part: None for part in parts if getattr(one, part) in gone}
        if one.name not in gone:
            kept.append(one.model_copy(update=lost) if lost else one)
    return project.changed(
        combinations=tuple(kept),
        factored_forces=project.factored_forces.with_columns(
            lambda column: None if column in gone else column
        ),
    )


def set_sway_part(project: Project, name: str, axis: str, part: str | None) -> Project:
    """Return the project with forces given factored added to a combination as what sways it.

    Args:
        project: the project.
        name: of the combination, whose own forces are given factored too.
        axis: direction of the sway, `x` or `y`.
        part: combination that holds the forces; it is not checked by itself any more.

    Raises:
        InputError: if one of both is made of load cases.
    """
    present = _named(project, name)
    field = f"sway_{axis}"
    former = getattr(present, field)
    combinations = []
    for one in project.combinations:
        if one is present:
            one = one.model_copy(update={field: part})
        elif part is not None and one.name == part:
            one = one.model_copy(update={"uses": ("sway part",)})
        combinations.append(one)
    used = {getattr(c, f"sway_{a}") for c in combinations for a in ("x", "y")}
    if former is not None and former not in used:
        combinations = [
            c.model_copy(update={"uses": ("strength",)}) if c.name == former else c
            for c in combinations
        ]
    return verified(project.changed(combinations=tuple(combinations)))


def make_combinations(project: Project, rules: CombinationRules) -> Project:
    """Return the project with the combinations that rules make of its load cases.

    Those that rules made before give way; those that people wrote, and those whose forces are
    given factored, stay. A set of factors that is there already is not made again.

    Raises:
        InputError: if there is no load case, or the rules are refused.
    """
    made = rules.combine(project.case_by_name)
    kept = [c for c in project.combinations if not c.equation]
    known = {frozenset(c.factors.items()) for c in kept if c.factors}
    former = {frozenset(c.factors.items()): c for c in project.combinations if c.equation}
    uses: dict[frozenset[tuple[str, float]], list[Use]] = {}
    for one in made:
        uses.setdefault(frozenset(one.factors.items()), []).append(one.use)
    # One that serves two uses is one combination.
    single = {frozenset(one.factors.items()): one for one in reversed(made)}
    fresh = [
        one
        for one in made
        if (key := frozenset(one.factors.items())) not in known and single[key] is one
    ]
    counts = Counter(one.equation for one in fresh)
    taken = {look(c.name) for c in kept}
    numbers: Counter[str] = Counter()
    combinations = []
    for one in fresh:
        numbers[one.equation] += 1
        base = one.equation.replace(" ", "")
        name = base if counts[one.equation] == 1 else f"{base}-{numbers[one.equation]}"
        while look(name) in taken:
            name = f"{name}'"
        taken.add(look(name))
        before = former.get(frozenset(one.factors.items()))
        combinations.append(
            Combination(
                name=name[:40],
                expression=written(one.factors)[:200],
                factors=Factors(one.factors),
                equation=one.equation,
                uses=tuple(uses[frozenset(one.factors.items())]) if before is None else before.uses,
                not_for=() if before is None else before.not_for,
            )
        )
    basis = project.basis.model_copy(update={"combining": rules})
    return verified(project.changed(basis=basis, combinations=(*combinations, *kept)))


def _named(project: Project, name: str) -> Combination:
    for combination in project.combinations:
        if combination.name == name:
            return combination
    names = [c.name for c in project.combinations]
    raise InputError("combination", f"“{name}”", f"one of {', '.join(names[:12])}")


def _expressed(project: Project, text: str) -> dict[str, Any]:
    """Return the factors that an expression means; none of empty text."""
    if not text.strip():
        return {"factors": Factors(), "expression": ""}
    factors = factors_of(text, project.case_by_name)
    if not factors:
        raise InputError("expression", f"“{text}”, which is nothing", "factors that do not cancel")
    return {"factors": Factors(factors), "expression": " ".join(text.split())}
