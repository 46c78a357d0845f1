"""Sizing many lifts in several processes, those of one section in the same."""

from __future__ import annotations

import os
import signal
import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack
from multiprocessing import forkserver, get_context
from multiprocessing.connection import Connection, wait
from multiprocessing.context import BaseContext
from multiprocessing.process import BaseProcess
from threading import active_count

from fexro.core.errors import FexroError
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.sizing_run import Chain, Outcome, chains, size_chain

__all__ = ["outcomes"]

LOOK = 0.1  # s between two looks at whether to go on


def outcomes(
    project: Project,
    keys: Sequence[LiftKey],
    workers: int = 1,
    paused: Callable[[], bool] = lambda: False,
) -> Iterator[list[Outcome]]:
    """Search the bars and ties of many lifts, and yield what is found as it is.

    Closing the iterator stops what is under way.

    Args:
        project: the project.
        keys: of the lifts.
        workers: processes; with one it is done in this one.
        paused: tells whether nothing more is to be begun for now.

    Raises:
        InputError: where the rules contradict one another.
    """
    tasks = chains(project, keys)
    workers = min(workers, len(tasks))
    if workers <= 1:
        for chain in tasks:
            while paused():
                time.sleep(LOOK)
            yield size_chain(project, chain)
        return
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    # Without other threads this process, with all that it has loaded, is forked as it is.
    alone = active_count() == 1
    if not alone:
        forkserver.set_forkserver_preload([__name__])
    context: BaseContext = get_context("fork" if alone else "forkserver")
    waiting = _Waiting(project, tasks, workers)
    with ExitStack() as stack:
        processes = [stack.enter_context(_Process(context, project)) for _ in range(workers)]
        busy: dict[Connection, int] = {}
        while waiting or busy:
            for number, process in enumerate(processes):
                if waiting and process.connection not in busy and not paused():
                    process.connection.send(waiting.take(number))
                    busy[process.connection] = number
            for ready in wait(list(busy), LOOK):
                assert isinstance(ready, Connection)
                del busy[ready]
                yield _received(ready)
            if not busy and paused():
                time.sleep(LOOK)


class _Process:
    """A process that sizes lifts of a project until it is left."""

    def __init__(self, context: BaseContext, project: Project) -> None:
        self.connection, self._far = context.Pipe()
        # mypy does not know that every context makes processes.
        self._process: BaseProcess = context.Process(  # type: ignore[attr-defined]
            target=_size_all, args=(self._far, project), daemon=True
        )

    def __enter__(self) -> _Process:
        self._process.start()
        self._far.close()
        return self

    def __exit__(self, *_: object) -> None:
        self._process.terminate()
        self._process.join()
        self.connection.close()


def _size_all(connection: Connection, project: Project) -> None:
    """Size the chains that come, and send what is found, or the error."""
    # The window alone is interrupted.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    while True:
        chain: Chain = connection.recv()
        found: list[Outcome] | Exception
        try:
            found = size_chain(project, chain)
        except Exception as error:
            found = error
        connection.send(found)


def _received(connection: Connection) -> list[Outcome]:
    """Return what a process has found, or raise its error."""
    try:
        found: list[Outcome] | Exception = connection.recv()
    except (EOFError, ConnectionError):
        raise FexroError(
            "A process that sized lifts was ended from outside, perhaps for want of memory;"
            " the lifts it had not finished have no proposal."
        ) from None
    if isinstance(found, Exception):
        raise found
    return found


class _Waiting:
    """What is still to be sized.

    A process keeps to the lifts of one section: what is worked out of its candidates serves all of
    them. When no section is left that nobody has, it helps with those of another.
    """

    def __init__(self, project: Project, tasks: Sequence[Chain], workers: int) -> None:
        alike: dict[object, deque[Chain]] = {}
        for chain in tasks:
            section = project.by_key[chain[0][0]].section
            alike.setdefault((section.shape, section.cover), deque()).append(chain)
        self._free = sorted(alike.values(), key=len)
        self._own: list[deque[Chain]] = [deque() for _ in range(workers)]

    def __bool__(self) -> bool:
        return any(self._own) or bool(self._free)

    def take(self, worker: int) -> Chain:
        """Return what a process is to do next; something must be left."""
        if not self._own[worker] and self._free:
            self._own[worker] = self._free.pop()
        if self._own[worker]:
            return self._own[worker].popleft()
        return max(self._own, key=len).pop()
