"""Edits of lifts: what they are, whether they are there, and what they inherit."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from fexro.core.errors import InputError
from fexro.project.bearing import with_strip_forces
from fexro.project.column import REINFORCEMENT, LiftKey, LiftModel, LiftRecord, Mark
from fexro.project.library import section_fields
from fexro.project.project import Project
from fexro.project.resolve import verify_lift
from fexro.project.shapes import Shape
from fexro.project.values import INHERITED, OwnValues, Values

__all__ = [
    "add_lifts",
    "by_hand",
    "change_lifts",
    "copy_lift",
    "inherit",
    "keep_lifts",
    "remove_lifts",
    "replace_lift",
    "replace_lifts",
    "with_groups",
    "with_records",
]


def replace_lift(project: Project, key: LiftKey, lift: LiftModel) -> Project:
    """Return the project with a lift in the place of another.

    Raises:
        InputError: if the new lift does not fit the project or its section cannot be built.
    """
    return replace_lifts(project, {key: lift})


def replace_lifts(project: Project, lifts: Mapping[LiftKey, LiftModel]) -> Project:
    """Return the project with other lifts in the place of some; groups go on having one call-out.

    Raises:
        InputError: if one does not fit the project or its section cannot be built; none is taken.
    """
    records = {}
    for key, lift in lifts.items():
        mark, before = project.mark_by_name[key.mark], project.record_by_key[key]
        inherited = project.inherited(mark, before)
        record = lift.record(inherited, before.own, before.named)
        records[key] = by_hand(record, before)
    return with_records(project, with_groups(project, records))


def by_hand(record: LiftRecord, before: LiftRecord) -> LiftRecord:
    """Return a lift as edited by hand: other bars or ties are kept by hand from then on."""
    same = all(getattr(record, name) == getattr(before, name) for name in REINFORCEMENT)
    kept = before.kept or not same
    return record.model_copy(update={"kept": kept, "sizing": before.sizing})


def keep_lifts(project: Project, keys: Iterable[LiftKey], *, kept: bool) -> Project:
    """Return the project with the bars and ties of some lifts kept by hand, or released."""
    records = {
        key: project.record_by_key[key].model_copy(update={"kept": kept})
        for key in keys
        if project.record_by_key[key].kept is not kept
    }
    return with_records(project, records)


def change_lifts(
    project: Project,
    keys: Iterable[LiftKey],
    *,
    section: Mapping[str, str] | None = None,
    sizes: Mapping[str, float] | None = None,
    values: Mapping[str, object] | None = None,
) -> Project:
    """Return the project with some lifts changed alike.

    Args:
        project: the project.
        keys: the lifts.
        section: other `bars` or `ties`.
        sizes: other sizes of their shapes, mm; shapes that lack one keep theirs.
        values: other values of their own.

    Raises:
        InputError: if one of them cannot be so; none is taken.
    """
    section, sizes, values = section or {}, sizes or {}, values or {}
    for name, value in values.items():
        try:
            OwnValues.model_validate({name: value})
        except ValueError:
            raise InputError(name, str(value), "a value that lifts can have") from None
    records: dict[LiftKey, LiftRecord] = {}
    for key in keys:
        record = project.record_by_key[key]
        if not records:
            _refuse_call_outs(record, section)
        shape = _resized(record.shape, sizes, key)
        own = _own(project.by_key[key].values, record.own, values)
        changed = record.model_copy(update={**section, "shape": shape, "own": own})
        records[key] = by_hand(changed, record)
    return with_records(project, with_groups(project, records))


def _refuse_call_outs(record: LiftRecord, section: Mapping[str, str]) -> None:
    """Refuse text that no call-out can be; laying it out tells whether one is understood."""
    for name, text in section.items():
        try:
            LiftRecord.model_validate({**dict(record), name: text})
        except ValueError:
            allowed = LiftRecord.model_fields[name].description
            raise InputError(name, f"“{text}”", f"a call-out {allowed}") from None


def _resized(shape: Shape, sizes: Mapping[str, float], key: LiftKey) -> Shape:
    known = {name: size for name, size in sizes.items() if hasattr(shape, name)}
    if not known:
        return shape
    try:
        return type(shape).model_validate({**shape.model_dump(), **known})
    except ValueError:
        wanted = ", ".join(f"{name.replace('_', ' ')} {v:g} mm" for name, v in known.items())
        raise InputError(str(key), wanted, "sizes that fit together") from None


def _own(before: Values, own: OwnValues, values: Mapping[str, object]) -> OwnValues:
    """Return the own values of a lift; what it inherits and is to be stays inherited."""
    others = {
        name: value
        for name, value in values.items()
        if name in own.given or value != getattr(before, name)
    }
    return own.model_copy(update=others) if others else own


def with_groups(project: Project, records: dict[LiftKey, LiftRecord]) -> dict[LiftKey, LiftRecord]:
    """Add the other lifts of the groups whose bars or ties become others."""
    found = dict(records)
    for key, record in records.items():
        group, before = project.group_by_key.get(key), project.record_by_key[key]
        if group is None or all(
            getattr(record, name) == getattr(before, name) for name in REINFORCEMENT
        ):
            continue
        for member in group.members:
            other = found.get(member, project.record_by_key[member])
            alike = {name: getattr(record, name) for name in REINFORCEMENT}
            found[member] = other.model_copy(update=alike)
    return found


def with_records(project: Project, records: Mapping[LiftKey, LiftRecord]) -> Project:
    """Return the project with lifts as given, which take the place of those that are there.

    Raises:
        InputError: if one does not fit the project or its section cannot be built.
    """
    single = len(records) == 1
    kept = {section.name: section_fields(section) for section in project.sections}
    # A lift whose section is no more the one that it shares has its own.
    records = {
        key: record.model_copy(update={"named": None})
        if record.named is not None and kept.get(record.named) != section_fields(record)
        else record
        for key, record in records.items()
    }
    for key, record in records.items():
        if key.mark not in project.mark_by_name:
            raise InputError("lift", f"“{key}”", "a mark of the project")
        try:
            verify_lift(project, project.mark_by_name[key.mark], record, str(key))
        except InputError as error:
            # In the window the place of a single lift is known; only the part of it is named.
            where = error.where.removeprefix(str(key)).lstrip("., ") if single else error.where
            raise InputError(where, error.found, error.allowed) from error
    order = {storey.name: i for i, storey in enumerate(project.storeys)}
    by_mark: dict[str, dict[str, LiftRecord]] = {}
    for key, record in records.items():
        by_mark.setdefault(key.mark, {})[key.storey] = record
    marks = []
    for mark in project.marks:
        if mark.name in by_mark:
            known = {lift.storey: lift for lift in mark.lifts} | by_mark[mark.name]
            lifts = sorted(known.values(), key=lambda lift: order[lift.storey])
            mark = mark.model_copy(update={"lifts": tuple(lifts)})
        marks.append(mark)
    # A strip of another thickness weighs otherwise.
    return with_strip_forces(project.changed(marks=tuple(marks)))


def add_lifts(project: Project, keys: Iterable[LiftKey]) -> Project:
    """Return the project with lifts where marks have none, like the nearest of their stacks.

    Raises:
        InputError: for a mark or a storey that there is not.
    """
    records = {}
    for key in keys:
        if key in project.record_by_key:
            continue
        mark = project.mark_by_name.get(key.mark)
        if mark is None or key.storey not in project.storey_by_name:
            raise InputError("lift", f"“{key}”", "a mark and a storey of the project")
        _refuse_walls(project, [key])
        records[key] = _like_nearest(project, mark, key.storey)
    return with_records(project, records)


def _like_nearest(project: Project, mark: Mark, storey: str) -> LiftRecord:
    order = {s.name: i for i, s in enumerate(project.storeys)}
    here = order[storey]
    # Of two as near the lower, which carries more.
    near = sorted(
        mark.lifts, key=lambda lift: (abs(order[lift.storey] - here), -order[lift.storey])
    )
    stacks = near or [lift for other in project.marks for lift in other.lifts][:1]
    if not stacks:
        raise InputError("lift", f"“{mark.name} · {storey}”", "a mark with a section to go by")
    return stacks[0].model_copy(update={"storey": storey, "unsupported": ()})


def remove_lifts(project: Project, keys: Iterable[LiftKey]) -> Project:
    """Return the project without some lifts, their forces, and what named them.

    Raises:
        InputError: for members of walls, which follow from these.
    """
    gone = set(keys)
    _refuse_walls(project, gone)
    marks = tuple(
        mark.model_copy(
            update={
                "lifts": tuple(
                    lift for lift in mark.lifts if LiftKey(mark.name, lift.storey) not in gone
                )
            }
        )
        if any(key.mark == mark.name for key in gone)
        else mark
        for mark in project.marks
    )
    return without_members(project.changed(marks=marks), gone)


def _refuse_walls(project: Project, keys: Iterable[LiftKey]) -> None:
    """Refuse to add or remove members that follow from their walls."""
    for key in keys:
        kind = project.mark_by_name[key.mark].kind
        if kind != "column":
            raise InputError(str(key), f"a {kind}", "lifts of columns; walls are changed as walls")


def without_members(project: Project, gone: set[LiftKey]) -> Project:
    """Return the project with nothing that names lifts which are gone."""
    groups = []
    for group in project.groups:
        members = tuple(key for key in group.members if key not in gone)
        if len(members) > 1:
            groups.append(group.model_copy(update={"members": members}))
    marks = {mark.name for mark in project.marks}
    combinations = tuple(
        c.model_copy(
            update={
                "not_for": tuple(
                    m
                    for m in c.not_for
                    if m.mark in marks
                    and (m.storey is None or LiftKey(m.mark, m.storey) not in gone)
                )
            }
        )
        if c.not_for
        else c
        for c in project.combinations
    )
    return project.changed(
        groups=tuple(groups),
        combinations=combinations,
        lift_loads=tuple(load for load in project.lift_loads if load.key not in gone),
        span_forces=tuple(span for span in project.span_forces if span.key not in gone),
        beams=tuple(beam for beam in project.beams if beam.key not in gone),
        case_forces=project.case_forces.without(gone),
        factored_forces=project.factored_forces.without(gone),
    )


def copy_lift(project: Project, source: LiftKey, targets: Iterable[LiftKey]) -> Project:
    """Return the project with the section, bars and own values of a lift given to others.

    Where a target is not there, it is made.

    Raises:
        InputError: if one does not fit; none is taken.
    """
    record = project.record_by_key[source]
    records = {}
    for key in targets:
        if key != source:
            before = project.record_by_key.get(key)
            unsupported = () if before is None else before.unsupported
            records[key] = record.model_copy(
                update={"storey": key.storey, "unsupported": unsupported}
            )
    there = {key: r for key, r in records.items() if key in project.record_by_key}
    return with_records(project, records | with_groups(project, there))


def inherit(project: Project, keys: Iterable[LiftKey], field: str) -> Project:
    """Return the project with a value of lifts put back to what they inherit.

    Raises:
        InputError: if a section cannot be built with it.
    """
    assert field in INHERITED

    def put_back(record: LiftRecord) -> LiftRecord:
        own = {name: value for name, value in record.own.given.items() if name != field}
        return record.model_copy(update={"own": OwnValues(**own)})

    return _mapped(project, keys, put_back)


def _mapped(
    project: Project, keys: Iterable[LiftKey], change: Callable[[LiftRecord], LiftRecord]
) -> Project:
    return with_records(project, {key: change(project.record_by_key[key]) for key in keys})
