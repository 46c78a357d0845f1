"""Edits of combinations."""

from __future__ import annotations

from fexro.core.errors import InputError
from fexro.project.column import LiftKey, Member
from fexro.project.project import Project

__all__ = ["exempt_member"]


def exempt_member(project: Project, combination: str, member: Member, *, exempt: bool) -> Project:
    """Return the project with a combination marked as not applying to a member, or as applying.

    Raises:
        InputError: if there is no such combination or member.
    """
    names = [c.name for c in project.combinations]
    if combination not in names:
        raise InputError("combination", f"“{combination}”", f"one of {', '.join(names[:12])}")
    meant = frozenset(key for key in project.by_key if member.covers(key))
    if not meant:
        raise InputError("member", f"“{member}”", "a mark, or a mark and a storey of it")
    present = project.combinations[names.index(combination)]
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
