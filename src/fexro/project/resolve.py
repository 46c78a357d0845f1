"""From the project as written to what the core computes with, and the rules both must meet."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping
from dataclasses import fields
from functools import lru_cache

import numpy as np

from fexro.core.actions import Actions
from fexro.core.codes import DesignCode
from fexro.core.codes.options import options_of
from fexro.core.codes.registry import codes_on_offer, design_code
from fexro.core.errors import InputError
from fexro.core.facts import (
    ColumnFacts,
    CriticalLoads,
    Options,
    StoreyDrift,
    StoreyFacts,
)
from fexro.core.members.lift import Lift
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import STANDARDS, bar_size
from fexro.project.actions import actions_of
from fexro.project.bars import sizes_by_name
from fexro.project.basis import Basis
from fexro.project.bearing import refuse_bearing, strip_of
from fexro.project.cases import Combination
from fexro.project.column import REINFORCEMENT, LiftKey, LiftModel, LiftRecord, Mark
from fexro.project.cross_section import cross_section_of
from fexro.project.held import beam_moments, directions_of, lift_above
from fexro.project.library import section_fields
from fexro.project.project import Project
from fexro.project.records import look
from fexro.project.section import refuse_wall_bars, section_of
from fexro.project.shapes import concretes_in
from fexro.project.sway import bracing_of, storey_sums
from fexro.project.values import OwnValues, Values
from fexro.project.wall_facts import of_wall
from fexro.project.wall_members import refuse_other_shape, refuse_strayed

__all__ = [
    "actions_at",
    "column_facts",
    "resolve_lift",
    "storey_facts",
    "verify",
    "verify_lift",
]

SAME_LEVEL = 1e-3  # m


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
    basis = basis or project.basis
    code = basis.design_code
    facts = column_facts(project, key, model, basis)
    actions = actions_at(project, key)
    storey = storey_facts(project, code, key.storey, {key: facts})
    return Lift(key.mark, key.storey, facts, code, actions, storey)


def storey_facts(
    project: Project,
    code: DesignCode,
    storey: str,
    instead: Mapping[LiftKey, ColumnFacts] | None = None,
) -> StoreyFacts:
    """Return what is known of a storey of the project.

    Args:
        project: the project.
        code: by which the critical loads of its lifts are found.
        storey: its name.
        instead: facts in place of those of some of its lifts.
    """
    sums, model = storey_sums(project)[storey], project.storey_by_name[storey]
    columns = {mark.name for mark in project.marks if mark.kind == "column"}
    keys = [key for key in project.by_key if key.storey == storey and key.mark in columns]

    def critical() -> CriticalLoads:
        found = np.zeros((2, len(sums.combinations)))
        without = []
        for key in keys:
            facts = (instead or {}).get(key) or column_facts(project, key)
            actions = actions_at(project, key)
            loads = code.stability.critical(facts, actions)
            places = [sums.combinations.index(name) for name in actions.combinations]
            if np.isnan(loads).any():
                without.append(str(key))
            found[:, places] += np.nan_to_num(loads)
        return CriticalLoads(found, tuple(without))

    drifts = [
        None if drift is None else StoreyDrift(drift.drift, 1e3 * drift.shear, 1e3 * model.height)
        for drift in (model.drift_x, model.drift_y)
    ]
    return StoreyFacts(
        storey,
        len(keys),
        sums.combinations,
        sums.axial + 1e3 * model.other_axial,
        sums.shear,
        (drifts[0], drifts[1]),
        bracing_of(project),
        critical,
    )


def column_facts(
    project: Project, key: LiftKey, model: LiftModel | None = None, basis: Basis | None = None
) -> ColumnFacts:
    """Return what a lift is, or would be."""
    model = model or project.by_key[key]
    basis = basis or project.basis
    section = cross_section_of(project, model, basis)
    values = model.values
    about_x, about_y = directions_of(project, key, values)
    section, panel, beam = of_wall(project, key, model, section, actions_at, column_facts)
    strip = strip_of(project, key, model)
    ties = values.tie_steel
    return ColumnFacts(
        *(section, values.aggregate, about_x, about_y, Options(values.options), values.laps),
        None if ties is None else project.steel_by_name[ties].material(values.known_share),
        values.lap_length,
        values.age,
        values.known_share,
        lift_above(project, key),
        1e3 * project.storey_by_name[key.storey].height,
        panel,
        beam,
        strip,
    )


def actions_at(project: Project, key: LiftKey) -> Actions:
    """Return the factored forces on a lift, found once for a project."""
    known: dict[LiftKey, Actions] = vars(project).setdefault("_actions", {})
    if key not in known:
        known[key] = actions_of(project, key)
    return known[key]


def verify(project: Project) -> None:
    """Refuse a project whose parts do not fit together.

    Raises:
        InputError: for a code that is not on offer, duplicate names, names that nothing bears,
            storeys out of order, and sections that cannot be built; says where in the file.
    """
    try:
        assert project.basis.design_code
    except InputError as error:
        raise InputError(f"basis.{error.where}", error.found, error.allowed) from None
    for field in ("concretes", "steels"):
        if not getattr(project, field):
            raise InputError(field, "an empty list", "at least one entry")
    for field in (
        "concretes",
        "steels",
        "storeys",
        "cases",
        "combinations",
        "marks",
        "groups",
        "sections",
        "grid",
        "mappings",
    ):
        _refuse_duplicates(field, [item.name for item in getattr(project, field)])
    _refuse_disorder(project)
    _refuse_bars(project)
    _refuse_unknown_materials(project, project.basis.values, "basis.values")
    for i, storey in enumerate(project.storeys):
        _refuse_unknown_materials(project, storey.own, f"storeys[{i}].own")
    for i, mark in enumerate(project.marks):
        _refuse_duplicates(f"marks[{i}].lifts", [lift.storey for lift in mark.lifts])
        _refuse_unknown_materials(project, mark.own, f"marks[{i}].own")
        for j, lift in enumerate(mark.lifts):
            verify_lift(project, mark, lift, f"marks[{i}].lifts[{j}]")
    _refuse_rules(project)
    _refuse_groups(project)
    _refuse_sections(project)
    _refuse_loose_combinations(project)
    _refuse_loose_forces(project)
    _refuse_loose_loads(project)
    _refuse_stability(project)
    _refuse_duplicates("walls", [wall.name for wall in project.walls])
    _refuse_duplicates("bearing_walls", [wall.name for wall in project.bearing_walls])
    refuse_strayed(project)
    refuse_bearing(project)


def _refuse_stability(project: Project) -> None:
    """Refuse beams of lifts and concretes that there are not, and options that are not allowed."""
    for i, beam in enumerate(project.beams):
        if beam.key not in project.by_key:
            raise InputError(f"beams[{i}]", f"“{beam.key}”", "a lift of the project")
        if beam.concrete is not None and beam.concrete not in project.concrete_by_name:
            known = _listed(list(project.concrete_by_name))
            raise InputError(f"beams[{i}].concrete", f"“{beam.concrete}”", f"one of {known}")
        try:
            beam_moments(project, beam.key, beam)
        except InputError as error:
            raise InputError(f"beams[{i}], {error.where}", error.found, error.allowed) from None
        if beam.depth >= 1e3 * project.storey_by_name[beam.storey].height:
            height = f"{1e3 * project.storey_by_name[beam.storey].height:g} mm"
            raise InputError(
                f"beams[{i}].depth", f"{beam.depth:g} mm", f"less than the storey, {height}"
            )
    for axis in ("x", "y"):
        bracing = getattr(project.basis, f"bracing_{axis}")
        if bracing is not None and bracing.concrete not in (None, *project.concrete_by_name):
            known = _listed(list(project.concrete_by_name))
            where = f"basis.bracing_{axis}.concrete"
            raise InputError(where, f"“{bracing.concrete}”", f"one of {known}")
    refuse_options(project.basis.values.options, "basis.values")
    for i, storey in enumerate(project.storeys):
        refuse_options(storey.own.options, f"storeys[{i}].own")
    for i, mark in enumerate(project.marks):
        refuse_options(mark.own.options, f"marks[{i}].own")
        for j, lift in enumerate(mark.lifts):
            refuse_options(lift.own.options, f"marks[{i}].lifts[{j}].own")


def refuse_options(given: Mapping[str, object], where: str) -> None:
    """Refuse options that no design code on offer has, and values that it does not allow.

    Raises:
        InputError: naming the option.
    """
    if not given:
        return
    known = all_options()
    for name, value in given.items():
        if name not in known:
            allowed = f"one of {_listed(sorted(known))}"
            raise InputError(f"{where}.options", f"“{name}”", allowed)
        try:
            options_of(known[name], {name: value})
        except InputError as error:
            raise InputError(f"{where}.{error.where}", error.found, error.allowed) from None


@lru_cache(maxsize=1)
def all_options() -> Mapping[str, type]:
    """Return the options of slenderness of all design codes, each with what it is part of."""
    found: dict[str, type] = {}
    for offer in codes_on_offer():
        kind = design_code(offer.key, UnitSystem.SI, offer.annexes[0]).stability.options
        found |= dict.fromkeys((option.name for option in fields(kind)), kind)
    return found


def _refuse_rules(project: Project) -> None:
    """Refuse rules of combination that no load standard has."""
    if project.basis.combining is not None:
        try:
            project.basis.combining.values()
        except InputError as error:
            where = f"basis.combining.{error.where}"
            raise InputError(where, error.found, error.allowed) from None


def _refuse_disorder(project: Project) -> None:
    """Refuse storeys out of order or within one another."""
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


def _refuse_loose_combinations(project: Project) -> None:
    """Refuse exemptions of members that there are not, and factors of cases that there are not."""
    marks = {mark.name: {lift.storey for lift in mark.lifts} for mark in project.marks}
    cases = [case.name for case in project.cases]
    known = {combination.name: combination for combination in project.combinations}
    for i, combination in enumerate(project.combinations):
        for axis in ("x", "y"):
            part = getattr(combination, f"sway_{axis}")
            if part is not None:
                _refuse_sway_part(combination, part, known, f"combinations[{i}].sway_{axis}")
        for name in combination.factors:
            if name not in cases:
                allowed = f"one of {_listed(cases)}" if cases else "a load case; there is none"
                raise InputError(f"combinations[{i}].factors", f"“{name}”", allowed)
        for j, member in enumerate(combination.not_for):
            where = f"combinations[{i}].not_for[{j}]"
            if member.mark not in marks:
                raise InputError(where, f"“{member.mark}”", f"one of {_listed(list(marks))}")
            storeys = marks[member.mark]
            if member.storey is not None and member.storey not in storeys:
                allowed = f"a storey of {member.mark}: {_listed(sorted(storeys))}"
                raise InputError(where, f"“{member.storey}”", allowed)


def _refuse_sway_part(
    combination: Combination, part: str, known: Mapping[str, Combination], where: str
) -> None:
    """Refuse forces of sway that are not given, are parts themselves, or stand beside cases."""
    if combination.factors:
        found = f"“{part}” beside load cases, by which the part that sways is known"
        raise InputError(where, found, "one of both: factors over load cases, or a set of forces")
    holder = known.get(part)
    if holder is None or holder is combination:
        raise InputError(where, f"“{part}”", "another combination of the project")
    if holder.factors:
        raise InputError(where, f"“{part}”, made of load cases", "forces that are given factored")
    if holder.sway_x is not None or holder.sway_y is not None:
        raise InputError(where, f"“{part}”, which has a part itself", "forces without parts")


def _refuse_loose_forces(project: Project) -> None:
    """Refuse forces of lifts, cases and combinations that there are not."""
    for field, forces, known in (
        ("case_forces", project.case_forces, [case.name for case in project.cases]),
        ("factored_forces", project.factored_forces, [c.name for c in project.combinations]),
    ):
        for i, name in enumerate(forces.columns):
            if name not in known:
                allowed = f"one of {_listed(known)}" if known else "none; there is no load case"
                raise InputError(f"{field}.columns[{i}]", f"“{name}”", allowed)
        for i, key in enumerate(forces.members):
            if key not in project.by_key:
                allowed = f"a lift, such as {_listed([str(k) for k in project.by_key][:3])}"
                raise InputError(f"{field}.members[{i}]", f"“{key}”", allowed)


def _refuse_loose_loads(project: Project) -> None:
    """Refuse loads of lifts and cases that there are not."""
    names = project.case_by_name.keys() | {c.name for c in project.combinations}
    for field in ("lift_loads", "span_forces"):
        for i, load in enumerate(getattr(project, field)):
            if load.key not in project.by_key:
                raise InputError(f"{field}[{i}]", f"“{load.key}”", "a lift of the project")
            name = load.case if field == "lift_loads" else load.name
            known = list(project.case_by_name) if field == "lift_loads" else sorted(names)
            if name not in known:
                raise InputError(f"{field}[{i}]", f"“{name}”", f"one of {_listed(known)}")


def verify_lift(project: Project, mark: Mark, lift: LiftRecord, where: str) -> None:
    """Refuse a lift that names what the project lacks or whose section cannot be built."""
    if lift.storey not in project.storey_by_name:
        allowed = f"one of {_listed(list(project.storey_by_name))}"
        raise InputError(f"{where}.storey", f"“{lift.storey}”", allowed)
    _refuse_unknown_materials(project, lift.own, f"{where}.own")
    refuse_other_shape(project, mark, lift, where)
    for name in concretes_in(lift.shape):
        if name not in project.concrete_by_name:
            known = _listed(list(project.concrete_by_name))
            raise InputError(f"{where}.shape, concrete of a part", f"“{name}”", f"one of {known}")
    complete = lift.complete(project.inherited(mark, lift))
    height, lap = 1e3 * project.storey_by_name[lift.storey].height, complete.values.lap_length
    if lap is not None and lap >= height:
        found = f"{lap:g} mm"
        raise InputError(f"{where}, lap length", found, f"less than the storey, {height:g} mm")
    try:
        section_of(complete.section, project.basis.bars.own)
        refuse_wall_bars(complete.section, project.basis.bars.own)
    except InputError as error:
        place = error.where.removeprefix("section.")
        joined = f"{where}.{place}" if place != error.where else f"{where}, {place}"
        raise InputError(joined.replace(", section, ", ", "), error.found, error.allowed) from error


def _refuse_unknown_materials(project: Project, values: Values | OwnValues, where: str) -> None:
    for field, known in (
        ("concrete", project.concrete_by_name),
        ("steel", project.steel_by_name),
        ("tie_steel", project.steel_by_name),
    ):
        name = getattr(values, field)
        if name is not None and name not in known:
            raise InputError(f"{where}.{field}", f"“{name}”", f"one of {_listed(list(known))}")


def _refuse_bars(project: Project) -> None:
    """Refuse sizes on offer that there are not, and own sizes that a standard has too."""
    bars = project.basis.bars
    _refuse_duplicates("basis.bars.own", [bar.name for bar in bars.own])
    standard = {name for sizes in STANDARDS.values() for name in sizes}
    for i, bar in enumerate(bars.own):
        if bar.name.upper() in standard:
            found = f"“{bar.name}”, which is a standard size"
            raise InputError(f"basis.bars.own[{i}].name", found, "a name that no standard has")
    own = sizes_by_name(bars.own)
    for field in ("main", "ties"):
        names = getattr(bars, field)
        if not names:
            raise InputError(f"basis.bars.{field}", "an empty list", "at least one size")
        _refuse_duplicates(f"basis.bars.{field}", names)
        for i, name in enumerate(names):
            bar_size(name, f"basis.bars.{field}[{i}]", own)
    for field in ("sizes", "ties"):
        for i, name in enumerate(getattr(project.basis.sizing, field)):
            bar_size(name, f"basis.sizing.{field}[{i}]", own)


def _refuse_sections(project: Project) -> None:
    """Refuse lifts that share a section that there is not, or another than it is."""
    kept = {section.name: section_fields(section) for section in project.sections}
    for i, section in enumerate(project.sections):
        for name in concretes_in(section.shape):
            if name not in project.concrete_by_name:
                known = _listed(list(project.concrete_by_name))
                where = f"sections[{i}].shape, concrete of a part"
                raise InputError(where, f"“{name}”", f"one of {known}")
    for i, mark in enumerate(project.marks):
        for j, lift in enumerate(mark.lifts):
            where = f"marks[{i}].lifts[{j}].named"
            if lift.named is None:
                continue
            if lift.named not in kept:
                allowed = f"one of {_listed(list(kept))}" if kept else "none; no section is kept"
                raise InputError(where, f"“{lift.named}”", allowed)
            if kept[lift.named] != section_fields(lift):
                found = f"“{lift.named}” beside another section"
                raise InputError(where, found, "the section that is kept under the name")


def _refuse_groups(project: Project) -> None:
    """Refuse groups of lifts that there are not, that are in two, or that differ in their bars."""
    seen: dict[LiftKey, str] = {}
    for i, group in enumerate(project.groups):
        first = project.record_by_key.get(group.members[0])
        for j, key in enumerate(group.members):
            where = f"groups[{i}].members[{j}]"
            lift = project.record_by_key.get(key)
            if lift is None:
                raise InputError(where, f"“{key}”", "a mark and a storey of a lift that there is")
            if key in seen:
                raise InputError(where, f"“{key}”, which is in {seen[key]}", "each lift once")
            seen[key] = group.name
            assert first is not None
            if any(getattr(lift, name) != getattr(first, name) for name in REINFORCEMENT):
                found = f"“{key}” with {lift.bars}, {lift.ties}"
                allowed = f"the bars and ties of the group: {first.bars}, {first.ties}"
                raise InputError(where, found, allowed)


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
