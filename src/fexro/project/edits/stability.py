"""Edits of what holds lifts: beams framing in, drifts of storeys, directions, options."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, Literal

from pydantic import BaseModel, ValidationError

from fexro.core.errors import InputError
from fexro.core.facts import Options
from fexro.project.column import LiftKey, LiftRecord
from fexro.project.edits.lifts import with_records
from fexro.project.edits.verified import verified
from fexro.project.framing import BracingModel, DriftModel, FramingBeam
from fexro.project.project import Project
from fexro.project.values import OwnDirection, OwnValues

LIMITS = (
    *(("ge", "{} or more"), ("gt", "more than {}")),
    *(("le", "{} or less"), ("lt", "less than {}")),
)
# A lift, a mark or a storey by its name, or nothing for the whole project.
Where = LiftKey | tuple[Literal["mark", "storey"], str] | None

__all__ = [
    "Where",
    "add_beams",
    "change_beams",
    "copy_beams",
    "made_bracing",
    "remove_beams",
    "set_bracing",
    "set_direction",
    "set_option",
    "set_storey_stability",
]


def add_beams(project: Project, beams: Iterable[FramingBeam]) -> Project:
    """Return the project with more beams framing in.

    Raises:
        InputError: if one is at a lift, or of a concrete, that there is not.
    """
    return verified(project.changed(beams=(*project.beams, *beams)))


def change_beams(project: Project, numbers: Iterable[int], **fields: Any) -> Project:
    """Return the project with some beams changed alike.

    Args:
        project: the project.
        numbers: places of the beams among all.
        fields: what is other.

    Raises:
        InputError: if a value is not allowed; says which.
    """
    wanted = set(numbers)
    beams = tuple(
        _changed(beam, fields, f"beam {beam.side} at {beam.key}") if i in wanted else beam
        for i, beam in enumerate(project.beams)
    )
    return verified(project.changed(beams=beams))


def remove_beams(project: Project, numbers: Iterable[int]) -> Project:
    """Return the project without some beams."""
    gone = set(numbers)
    return project.changed(beams=tuple(b for i, b in enumerate(project.beams) if i not in gone))


def copy_beams(project: Project, source: LiftKey, targets: Sequence[LiftKey]) -> Project:
    """Return the project with the beams at the top of a lift at those of others, for theirs.

    Args:
        project: the project.
        source: the lift.
        targets: other lifts, of its stack or its storey.
    """
    goals = [key for key in targets if key != source and key in project.by_key]
    kept = [beam for beam in project.beams if beam.key not in set(goals)]
    mine = project.beams_by_key.get(source, ())
    copies = [beam.model_copy(update=key._asdict()) for key in goals for beam in mine]
    return verified(project.changed(beams=(*kept, *copies)))


def set_storey_stability(project: Project, name: str, **fields: Any) -> Project:
    """Return the project with another drift, shear or vertical load of a storey.

    Args:
        project: the project.
        name: of the storey.
        fields: `drift_x`, `drift_y` as pairs of drift, mm, and shear, kN, or nothing; and
            `other_axial`, kN.

    Raises:
        InputError: if a value is not allowed.
    """
    storey = project.storey_by_name[name]
    given: dict[str, Any] = {}
    for field, value in fields.items():
        if field.startswith("drift") and value is not None:
            drift, shear = value
            where = f"storey {name}, {field.replace('_', ' ')}"
            given[field] = _made(DriftModel, {"drift": drift, "shear": shear}, where)
        else:
            given[field] = value
    changed = _changed(storey, given, f"storey {name}")
    return verified(
        project.changed(storeys=tuple(changed if s is storey else s for s in project.storeys))
    )


def set_bracing(project: Project, axis: str, bracing: BracingModel | None) -> Project:
    """Return the project with other walls that brace it along `x` or `y`.

    Raises:
        InputError: if they are of a concrete that there is not.
    """
    basis = project.basis.model_copy(update={f"bracing_{axis}": bracing})
    return verified(project.changed(basis=basis))


def made_bracing(fields: Mapping[str, Any], axis: str) -> BracingModel:
    """Return walls that brace a building.

    Raises:
        InputError: if a size is not allowed.
    """
    made: BracingModel = _made(BracingModel, fields, f"walls that brace {axis}")
    return made


def set_direction(project: Project, where: Where, axis: str, name: str, value: object) -> Project:
    """Return the project with something else of a direction.

    Args:
        project: the project.
        where: whose it is.
        axis: of the plan, `x` or `y`.
        name: of the value.
        value: nothing lets a lift, a mark or a storey inherit it.

    Raises:
        InputError: if the value is not allowed.
    """
    if value is not None:
        value = getattr(
            _made(OwnDirection, {name: value}, f"{name.replace('_', ' ')} {axis}"), name
        )
    if where is None:
        values = project.basis.values
        if value is None:
            value = type(getattr(values, axis)).model_fields[name].default
        direction = getattr(values, axis).model_copy(update={name: value})
        changed = values.model_copy(update={axis: direction})
        basis = project.basis.model_copy(update={"values": changed})
        return verified(project.changed(basis=basis))
    return _with_own(project, where, lambda own: own.with_direction(axis, name, value))


def set_option(project: Project, where: Where, name: str, value: object | None) -> Project:
    """Return the project with another choice where a code leaves room.

    Args:
        project: the project.
        where: whose it is.
        name: of the option.
        value: nothing takes what is inherited, or the default.

    Raises:
        InputError: if the value is not allowed.
    """

    def chosen(before: Mapping[str, Any]) -> Options:
        kept = {key: v for key, v in before.items() if key != name}
        return Options(kept if value is None else {**kept, name: value})

    if where is None:
        values = project.basis.values
        changed = values.model_copy(update={"options": chosen(values.options)})
        basis = project.basis.model_copy(update={"values": changed})
        return verified(project.changed(basis=basis))
    return _with_own(
        project, where, lambda own: own.model_copy(update={"options": chosen(own.options)})
    )


def _with_own(project: Project, where: Where, change: Callable[[OwnValues], OwnValues]) -> Project:
    """Return the project with other own values of a lift, a mark or a storey."""
    if isinstance(where, LiftKey):
        record: LiftRecord = project.record_by_key[where]
        changed = record.model_copy(update={"own": change(record.own)})
        return verified(with_records(project, {where: changed}))
    assert where is not None
    kind, name = where
    if kind == "mark":
        marks = tuple(
            m.model_copy(update={"own": change(m.own)}) if m.name == name else m
            for m in project.marks
        )
        return verified(project.changed(marks=marks))
    storeys = tuple(
        s.model_copy(update={"own": change(s.own)}) if s.name == name else s
        for s in project.storeys
    )
    return verified(project.changed(storeys=storeys))


def _changed(model: Any, fields: Mapping[str, Any], where: str) -> Any:
    return _made(type(model), {**dict(model), **fields}, where)


def _made(kind: type[BaseModel], fields: Mapping[str, Any], where: str) -> Any:
    """Return a record of fields, or refuse what is not allowed with its place."""
    try:
        return kind.model_validate(fields)
    except ValidationError as error:
        problem = error.errors(include_url=False)[0]
        place = ", ".join(str(step) for step in problem["loc"])
        context = problem.get("ctx", {})
        limits = {
            "ge": "{} or more",
            "gt": "more than {}",
            "le": "{} or less",
            "lt": "less than {}",
        }
        allowed = next(
            (words.format(f"{context[k]:g}") for k, words in limits.items() if k in context),
            str(context.get("error", problem["msg"].lower())),
        )
        raise InputError(f"{where}, {place}", f"{problem['input']}", allowed) from None
