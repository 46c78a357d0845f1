"""Writes the journal of the open project away from the interface thread."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from queue import Empty, SimpleQueue
from threading import Thread

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from fexro.project.journal import Journal, LostProject
from fexro.project.project import Project
from fexro.project.storage import FileState

__all__ = ["JournalWriter"]

LOOK = 500  # ms between two looks at whether something could not be written
PATIENCE = 5.0  # seconds that closing waits for what is still to be written


class JournalWriter(QObject):
    """Takes edits in their order and writes each at once, in a thread of its own.

    Args:
        folder: where journals are kept.
        parent: what it belongs to.

    Signals:
        failed: why the journal cannot be written; told once.
    """

    failed = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._journal = Journal(folder)
        self._work: SimpleQueue[Callable[[], None] | None] = SimpleQueue()
        self._failures: SimpleQueue[str] = SimpleQueue()
        self._told = False
        self._thread: Thread | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK)
        self._timer.timeout.connect(self._look)

    def edited(
        self,
        before: Project,
        after: Project,
        label: str,
        path: Path | None,
        state: FileState | None,
    ) -> None:
        """Write an edit of the project; its file, if it has one, was last seen in a state."""
        self._do(partial(self._journal.record, before, after, label, path, state))

    def saved(self, project: Project, present: Project, path: Path, state: FileState) -> None:
        """Begin anew from what was saved; what was edited meanwhile stays."""
        self._do(self._journal.remove)
        if present is not project:
            self.edited(project, present, "edits while saving", path, state)

    def takes_over(self, project: Project, lost: LostProject) -> None:
        """Write a recovered project, and only then forget the journal it came from."""
        self.edited(project, project, "recovered", lost.path, lost.state)
        self._do(lost.forget)

    def drop(self) -> None:
        """Remove the journal: its project is closed."""
        self._do(self._journal.remove)

    def close(self) -> None:
        """Write what is still to be written, and end."""
        if self._thread is not None:
            self._work.put(None)
            self._thread.join(PATIENCE)
            self._thread = None
        self._timer.stop()

    def _do(self, work: Callable[[], None]) -> None:
        if self._thread is None:
            self._thread = Thread(target=self._run, daemon=True)
            self._thread.start()
            self._timer.start()
        self._work.put(work)

    def _run(self) -> None:
        while (work := self._work.get()) is not None:
            try:
                work()
            except OSError as error:
                self._failures.put(error.strerror or str(error))

    def _look(self) -> None:
        try:
            reason = self._failures.get_nowait()
        except Empty:
            return
        if not self._told:
            self._told = True
            self.failed.emit(
                f"Edits cannot be kept for recovery: {reason}. Save often; nothing else is amiss."
            )
