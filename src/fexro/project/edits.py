"""Edits: from a project to another. A project never changes."""

from __future__ import annotations

from fexro.core.errors import InputError
from fexro.project.basis import Basis
from fexro.project.column import LiftKey, LiftModel, Member
from fexro.project.project import Project
from fexro.project.resolve import verify_lift

__all__ = ["exempt_member", "replace_basis", "replace_lift"]


def replace_lift(project: Project, key: LiftKey, lift: LiftModel) -> Project:
    """Return the project with a lift in the place of another.

    Raises:
        InputError: if the new lift does not fit the project or its section cannot be built.
    """
    try:
        verify_lift(project, lift, str(key))
    except InputError as error:
        # In the window the place is known; only the part of the section needs to be named.
        raise InputError(error.where.removeprefix(f"{key}."), error.found, error.allowed) from error
    marks = [
        mark.model_copy(
            update={"lifts": tuple(lift if old.storey == key.storey else old for old in mark.lifts)}
        )
        if mark.name == key.mark
        else mark
        for mark in project.marks
    ]
    return project.changed(marks=tuple(marks))


def replace_basis(project: Project, basis: Basis) -> Project:
    """Return the project on another basis.

    Raises:
        InputError: if it names a code or an annex that is not on offer.
    """
    assert basis.design_code
    return project.changed(basis=basis)


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
