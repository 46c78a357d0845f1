"""Edits of storeys: made, renamed, moved, removed, with the lifts in them."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Literal

from fexro.core.errors import InputError
from fexro.project.column import LiftKey, LiftRecord, Mark
from fexro.project.edits.lifts import without_members
from fexro.project.edits.verified import named, verified
from fexro.project.edits.walls import relaid
from fexro.project.project import FORCES, Project
from fexro.project.storey import Storey
from fexro.project.values import OwnValues

__all__ = ["add_storey", "change_storey", "free_name", "remove_storey", "set_storey_values"]

HEIGHT = 3.5  # m, of the first storey


def free_name(stem: str, taken: list[str], start: int = 1) -> str:
    """Return a name of a stem and a number that is not taken."""
    seen = {name.casefold() for name in taken}
    numbers = itertools.count(start)
    return next(name for n in numbers if (name := f"{stem}{n}").casefold() not in seen)


def add_storey(
    project: Project, beside: str | None, place: Literal["above", "below"], name: str = ""
) -> Project:
    """Return the project with a storey above or below another, as high as it and with its lifts.

    What frames into those is copied too; drifts, and what others carry, are not known of it. What
    lies above a storey that is put between moves up. Without a storey to go by, the first one is
    made.

    Raises:
        InputError: if the name is taken or a level is out of range.
    """
    names = [storey.name for storey in project.storeys]
    if beside is None:
        new = Storey(name=name or "L1", level=HEIGHT, height=HEIGHT)
        return verified(project.changed(storeys=(new, *project.storeys)))
    at = names.index(beside)
    by = project.storeys[at]
    alike = by.model_copy(update={"drift_x": None, "drift_y": None, "other_axial": 0.0})
    name = named("storey", name) if name else _next_name(beside, names)
    before, after = project.storeys[:at], project.storeys[at + 1 :]
    if place == "above":
        new = alike.model_copy(update={"name": name, "level": by.level + by.height})
        before = tuple(_raised(storey, by.height) for storey in before)
        storeys = (*before, new, by, *after)
    elif after:
        new = alike.model_copy(update={"name": name, "level": by.level})
        storeys = (*(_raised(s, by.height) for s in before), _raised(by, by.height), new, *after)
    else:
        new = alike.model_copy(update={"name": name, "level": by.level - by.height})
        storeys = (*before, by, new)
    changed = project.changed(storeys=tuple(_checked(storey) for storey in storeys))
    order = {storey.name: i for i, storey in enumerate(storeys)}

    def with_copy(mark: Mark) -> Mark:
        source = next((lift for lift in mark.lifts if lift.storey == beside), None)
        if source is None:
            return mark
        copy = source.model_copy(update={"storey": name, "unsupported": ()})
        lifts = sorted([*mark.lifts, copy], key=lambda lift: order[lift.storey])
        return mark.model_copy(update={"lifts": tuple(lifts)})

    beams = [b.model_copy(update={"storey": name}) for b in project.beams if b.storey == beside]
    marks = tuple(with_copy(mark) for mark in project.marks)
    return verified(changed.changed(marks=marks, beams=(*project.beams, *beams)))


def _next_name(name: str, taken: list[str]) -> str:
    """Return a name that goes on counting from one such as L5, or beside one without number."""
    stem = name.rstrip("0123456789")
    number = name[len(stem) :]
    return free_name(stem if number else "L", taken, int(number) + 1 if number else 1)


def _raised(storey: Storey, by: float) -> Storey:
    return storey.model_copy(update={"level": round(storey.level + by, 6)})


def _checked(storey: Storey) -> Storey:
    try:
        return Storey.model_validate(storey.model_dump())
    except ValueError:
        found = f"a level of {storey.level:g} m and a height of {storey.height:g} m"
        raise InputError(f"storey {storey.name}", found, "levels of −1000 to 10 000 m") from None


def change_storey(
    project: Project,
    name: str,
    *,
    new_name: str | None = None,
    level: float | None = None,
    height: float | None = None,
) -> Project:
    """Return the project with a storey renamed, moved or of another height.

    A storey that grows or shrinks lifts or lowers its own floor and what is above; one that is
    moved by its level takes its floor there, and its height and that of the storey above follow.

    Raises:
        InputError: if the name is taken or the storeys would reach into one another.
    """
    at = [storey.name for storey in project.storeys].index(name)
    storeys = list(project.storeys)
    old = storeys[at]
    if height is not None and height != old.height:
        rise = height - old.height
        storeys[: at + 1] = [_raised(storey, rise) for storey in storeys[: at + 1]]
        storeys[at] = storeys[at].model_copy(update={"height": height})
    if level is not None and level != old.level:
        rise = level - old.level
        grown = {"level": level, "height": round(old.height + rise, 6)}
        storeys[at] = storeys[at].model_copy(update=grown)
        if at > 0:
            above = storeys[at - 1]
            storeys[at - 1] = above.model_copy(update={"height": round(above.height - rise, 6)})
    for i in {max(at - 1, 0), at}:
        if not 0.2 < storeys[i].height <= 100:
            found = f"a height of {storeys[i].height:g} m"
            raise InputError(f"storey {storeys[i].name}", found, "more than 0.2 m, 100 m or less")
    changed = project.changed(storeys=tuple(_checked(storey) for storey in storeys))
    if new_name is not None and new_name != name:
        changed = _renamed(changed, name, named("storey", new_name))
    changed = relaid(changed)
    return verified(changed)


def _renamed(project: Project, old: str, new: str) -> Project:
    def lift(record: LiftRecord) -> LiftRecord:
        return record.model_copy(update={"storey": new}) if record.storey == old else record

    def key(k: LiftKey) -> LiftKey:
        return LiftKey(k.mark, new) if k.storey == old else k

    storeys = tuple(
        s.model_copy(update={"name": new}) if s.name == old else s for s in project.storeys
    )
    marks = tuple(
        mark.model_copy(update={"lifts": tuple(lift(record) for record in mark.lifts)})
        for mark in project.marks
    )
    changed = project.changed(
        storeys=storeys,
        marks=marks,
        walls=tuple(wall.with_storeys({old: new}) for wall in project.walls),
        bearing_walls=tuple(wall.with_storeys({old: new}) for wall in project.bearing_walls),
    )
    return renamed_members(changed, key)


def renamed_members(project: Project, key: Callable[[LiftKey], LiftKey]) -> Project:
    """Return the project with lifts called otherwise by groups, combinations and forces."""

    def not_for(member: object) -> object:
        from fexro.project.column import Member

        assert isinstance(member, Member)
        if member.storey is None:
            return Member(mark=key(LiftKey(member.mark, "")).mark)
        new = key(LiftKey(member.mark, member.storey))
        return Member(mark=new.mark, storey=new.storey)

    groups = tuple(
        g.model_copy(update={"members": tuple(map(key, g.members))}) for g in project.groups
    )
    combinations = tuple(
        c.model_copy(update={"not_for": tuple(map(not_for, c.not_for))}) if c.not_for else c
        for c in project.combinations
    )
    return project.changed(
        groups=groups,
        combinations=combinations,
        **{field: getattr(project, field).renamed(key) for field in FORCES},
        **{
            field: tuple(
                one.model_copy(update=key(one.key)._asdict()) for one in getattr(project, field)
            )
            for field in ("lift_loads", "span_forces", "beams")
        },
    )


def remove_storey(project: Project, name: str) -> Project:
    """Return the project without a storey and its lifts; what lies above comes down."""
    at = [storey.name for storey in project.storeys].index(name)
    gone = {key for key in project.record_by_key if key.storey == name}
    height = project.storeys[at].height
    above = tuple(_raised(storey, -height) for storey in project.storeys[:at])
    last = at == len(project.storeys) - 1
    storeys = (*(project.storeys[:at] if last else above), *project.storeys[at + 1 :])
    marks = tuple(
        mark.model_copy(update={"lifts": tuple(lift for lift in mark.lifts if lift.storey != name)})
        for mark in project.marks
    )
    changed = project.changed(
        storeys=storeys,
        marks=tuple(mark for mark in marks if mark.lifts or mark.kind == "column"),
        walls=tuple(w for wall in project.walls if (w := wall.without_storey(name)) is not None),
        bearing_walls=tuple(
            b for wall in project.bearing_walls if (b := wall.without_storey(name)) is not None
        ),
    )
    return relaid(without_members(changed, gone))


def set_storey_values(project: Project, name: str, own: OwnValues) -> Project:
    """Return the project with other values of a storey.

    Raises:
        InputError: if they name what the project lacks, or a section cannot be built with them.
    """
    storeys = tuple(
        s.model_copy(update={"own": own}) if s.name == name else s for s in project.storeys
    )
    return verified(project.changed(storeys=storeys))
