"""The history of edits: what came before, what was undone, what is saved."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.project.project import Project

__all__ = ["History"]

DEPTH = 500


@dataclass(frozen=True)
class _State:
    label: str
    project: Project


class History:
    """The current project, what came before and what was undone."""

    def __init__(self, project: Project) -> None:
        self._past: list[_State] = []
        self._future: list[_State] = []
        self._current = _State("", project)
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

    def apply(self, label: str, project: Project) -> None:
        """Make an edited project the current one; the label says what was done."""
        self._past.append(self._current)
        del self._past[:-DEPTH]
        self._current = _State(label, project)
        self._future.clear()

    def undo(self) -> None:
        """Take the last edit back."""
        if self._past:
            self._future.append(self._current)
            self._current = self._past.pop()

    def redo(self) -> None:
        """Bring an undone edit back."""
        if self._future:
            self._past.append(self._current)
            self._current = self._future.pop()

    def mark_saved(self, project: Project | None = None) -> None:
        """Remember that a project, or the current one, is that on disk."""
        self._saved = project or self._current.project

    def mark_unsaved(self) -> None:
        """Remember that nothing of this is on disk."""
        self._saved = None
