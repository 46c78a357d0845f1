"""Edits of groups: lifts that carry the same bars and ties."""

from __future__ import annotations

from collections.abc import Iterable

from fexro.core.errors import InputError
from fexro.project.column import REINFORCEMENT, Group, LiftKey
from fexro.project.edits.lifts import with_records
from fexro.project.edits.storeys import free_name
from fexro.project.edits.verified import named, verified
from fexro.project.project import Project

__all__ = ["join_group", "leave_groups", "rename_group"]


def join_group(project: Project, keys: Iterable[LiftKey], like: LiftKey, name: str = "") -> Project:
    """Return the project with lifts in one group, with the bars and ties of one of them.

    Groups that they are in now lose them; where all are of one group already, and it is named, that
    group takes them.

    Args:
        project: the project.
        keys: the lifts.
        like: the one whose bars and ties all take.
        name: of the group; without one Fexro finds one, or keeps that of `like`.

    Raises:
        InputError: for fewer than two lifts, a name that is taken, or a section in which the bars
            have no place; none is taken.
    """
    members = sorted(set(keys) | {like}, key=list(project.record_by_key).index)
    if len(members) < 2:
        raise InputError("group", "one lift", "at least two lifts")
    present = project.group_by_key.get(like)
    if not name and present is not None:
        name = present.name
    left = leave_groups(project, members)
    name = named("group", name) if name else free_name("G", [group.name for group in left.groups])
    joined = [group for group in left.groups if group.name == name]
    if joined:
        members = sorted({*joined[0].members, *members}, key=list(project.record_by_key).index)
    record = project.record_by_key[like]
    group = Group(name=name, members=tuple(members))
    others = tuple(g for g in left.groups if g.name != name)
    bars = {name: getattr(record, name) for name in REINFORCEMENT}
    records = {key: left.record_by_key[key].model_copy(update=bars) for key in members}
    changed = with_records(left, records).changed(groups=(*others, group))
    return verified(changed)


def leave_groups(project: Project, keys: Iterable[LiftKey]) -> Project:
    """Return the project with lifts in no group; a group of which one is left is none."""
    gone = set(keys)
    groups = []
    for group in project.groups:
        members = tuple(key for key in group.members if key not in gone)
        if len(members) > 1:
            groups.append(group.model_copy(update={"members": members}))
    return project.changed(groups=tuple(groups))


def rename_group(project: Project, name: str, new_name: str) -> Project:
    """Return the project with a group called otherwise.

    Raises:
        InputError: if the name is taken.
    """
    new_name = named("group", new_name)
    groups = tuple(
        g.model_copy(update={"name": new_name}) if g.name == name else g for g in project.groups
    )
    changed = project.changed(groups=groups)
    return verified(changed)
