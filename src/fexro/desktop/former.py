"""Results under the forces that the last taking took the place of, found in the background."""

from __future__ import annotations

import os
from collections.abc import Iterator
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from fexro.core.errors import FexroError
from fexro.core.members.lift import LiftResult
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.project.checking import check_in_processes
from fexro.project.column import LiftKey
from fexro.project.comparison import former_project
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["FormerResults"]

Results = dict[LiftKey, LiftResult]


class FormerResults(QObject):
    """What lifts would be with the forces before; found while somebody wants to see it.

    Attributes:
        results: by lift; empty until they are found.

    Signals:
        compared: they are found, or are those of another project.
    """

    compared = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self._document = document
        self.results: Results = {}
        self._wanted: set[str] = set()
        self._of: tuple[object, ...] = ()
        self._work: Background[Results] = Background(self._take, self, self._failed)
        document.opened.connect(self._reset)
        document.edited.connect(lambda _: self._refresh())

    def want(self, who: str, wanted: bool) -> None:
        """Say whether somebody looks at them."""
        if wanted:
            self._wanted.add(who)
        else:
            self._wanted.discard(who)
        self._refresh()

    @property
    def known(self) -> bool:
        """Whether there are forces before."""
        project = self._document.project
        return project is not None and bool(
            project.former_case_forces.members or project.former_factored_forces.members
        )

    def change(self, key: LiftKey) -> float | None:
        """Return by how much the utilisation of a lift changed, if that is known."""
        before, after = self.results.get(key), self._document.results.get(key)
        if before is None or after is None:
            return None
        change = after.utilisation - before.utilisation
        return None if change != change else change

    def _reset(self) -> None:
        self._work.cancel()
        self.results, self._of = {}, ()
        self.compared.emit()
        self._refresh()

    def _refresh(self) -> None:
        project = self._document.project
        if project is None or not self._wanted:
            return
        if not self.known:
            if self.results:
                self.results, self._of = {}, ()
                self.compared.emit()
            return
        of = (
            project.former_case_forces,
            project.former_factored_forces,
            project.marks,
            project.storeys,
            project.combinations,
            project.cases,
            project.basis,
        )
        if len(of) == len(self._of) and all(a is b for a, b in zip(of, self._of, strict=True)):
            return
        self._of, self.results = of, {}
        self.compared.emit()
        self._start(former_project(project))

    def _start(self, former: Project) -> None:
        def work(stopped: Event) -> Iterator[Results]:
            keys = list(former.by_key)
            lifts = [resolve_lift(former, key) for key in keys]
            found: Results = {}
            for i, result in check_in_processes(lifts, os.cpu_count() or 1):
                found[keys[i]] = result
                if stopped.is_set():
                    return
            yield found

        self._work.start(work)

    def _take(self, results: Results) -> None:
        self.results = results
        self.compared.emit()

    def _failed(self, error: Exception) -> None:
        if not isinstance(error, FexroError):
            raise error
        self._document.told.emit(str(error))
