"""Edits of the project and their history. A project never changes; an edit makes a new one."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.errors import InputError
from fexro.project.model import Basis, LiftKey, LiftModel, Member, Project
from fexro.project.resolve import verify_lift

__all__ = ["Edit", "History", "exempt_member", "replace_basis", "replace_lift"]

DEPTH = 500


@dataclass(frozen=True)
class Edit:
    """A change that was made: what it was, and the lifts it touched."""

    label: str
    project: Project
    touched: frozenset[LiftKey]


class History:
    """The current project, what came before and what was undone."""

    def __init__(self, project: Project) -> None:
        self._past: list[Edit] = []
        self._future: list[Edit] = []
        self._current = Edit("", project, frozenset())
        self._saved: Project | None = project

    @property
    def project(self) -> Project:
        """The current project."""
        return self._current.project

    @property
    def modified(self) -> bool:
        """Whether the project differs from the one last saved."""
        return self._current.project is not self._saved

    @property
    def undo_label(self) -> str | None:
        """What undo would take back, if anything."""
        return self._current.label if self._past else None

    @property
    def redo_label(self) -> str | None:
        """What redo would bring back, if anything."""
        return self._future[-1].label if self._future else None

    def apply(self, edit: Edit) -> None:
        """Make an edit the current state."""
        self._past.append(self._current)
        del self._past[:-DEPTH]
        self._current = edit
        self._future.clear()

    def undo(self) -> frozenset[LiftKey]:
        """Take the last edit back; return the lifts it touched."""
        touched = self._current.touched
        if self._past:
            self._future.append(self._current)
            self._current = self._past.pop()
        return touched

    def redo(self) -> frozenset[LiftKey]:
        """Bring an undone edit back; return the lifts it touches."""
        if self._future:
            self._past.append(self._current)
            self._current = self._future.pop()
        return self._current.touched

    def mark_saved(self, project: Project | None = None) -> None:
        """Remember that a project, or the current one, is that on disk."""
        self._saved = project or self._current.project

    def mark_unsaved(self) -> None:
        """Remember that nothing of this is on disk."""
        self._saved = None


def replace_lift(project: Project, key: LiftKey, lift: LiftModel, label: str) -> Edit:
    """Return the edit that puts a lift in the place of another.

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
            update={"lifts": [lift if old.storey == key.storey else old for old in mark.lifts]}
        )
        if mark.name == key.mark
        else mark
        for mark in project.marks
    ]
    return Edit(f"{label} of {key}", _changed(project, {"marks": marks}), frozenset({key}))


def replace_basis(project: Project, basis: Basis, label: str) -> Edit:
    """Return the edit that puts the project on another basis; it touches every lift."""
    return Edit(label, _changed(project, {"basis": basis}), frozenset(project.by_key))


def exempt_member(project: Project, combination: str, member: Member, *, exempt: bool) -> Edit:
    """Return the edit that marks a combination as not applying to a member, or as applying again.

    Raises:
        InputError: if there is no such combination or member.
    """
    names = [c.name for c in project.combinations]
    if combination not in names:
        raise InputError("combination", f"“{combination}”", f"one of {', '.join(names[:12])}")
    touched = frozenset(key for key in project.by_key if member.covers(key))
    if not touched:
        raise InputError("member", f"“{member}”", "a mark, or a mark and a storey of it")
    present = project.combinations[names.index(combination)]
    outside = {key for key in project.by_key if not present.applies(key)}
    outside = outside | touched if exempt else outside - touched
    members: list[Member] = []
    for mark in project.marks:
        lifts = [LiftKey(mark.name, lift.storey) for lift in mark.lifts]
        left_out = [key for key in lifts if key in outside]
        if lifts and left_out == lifts:
            members.append(Member(mark=mark.name))
        else:
            members += [Member(mark=key.mark, storey=key.storey) for key in left_out]
    changed = present.model_copy(update={"not_for": tuple(members)})
    combinations = [changed if c is present else c for c in project.combinations]
    verb = "not for" if exempt else "again for"
    return Edit(
        f"{combination} {verb} {member}", _changed(project, {"combinations": combinations}), touched
    )


def _changed(project: Project, update: dict[str, object]) -> Project:
    changed = project.model_copy(update=update)
    # A copy carries cached values over; the lifts by key may no longer be those.
    changed.__dict__.pop("by_key", None)
    return changed
