"""Checking a project, in this process or spread over several."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable, Generator, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from multiprocessing import forkserver, get_context, parent_process
from multiprocessing.context import BaseContext
from threading import Thread, active_count

from fexro.core.errors import FexroError
from fexro.core.members.check import Solution, Task, solve_in_turn, solve_task, stream_checks
from fexro.core.members.lift import Lift, LiftResult
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["check_in_processes", "check_project"]

WORTH_SERVER, WORTH_FORKS = 120, 20  # sections from which starting processes pays


def check_project(
    project: Project, workers: int = 1, report: Callable[[int], None] | None = None
) -> dict[LiftKey, LiftResult]:
    """Check every lift of the project.

    Args:
        project: the project.
        workers: processes to use for many sections.
        report: called with the number of lifts that are done whenever one is.
    """
    keys = list(project.by_key)
    results: dict[int, LiftResult] = {}
    lifts = [resolve_lift(project, key) for key in keys]
    # Without other threads this process, with all that it has loaded, is forked as it is.
    for i, result in check_in_processes(lifts, workers, forked=active_count() == 1):
        results[i] = result
        if report is not None:
            report(len(results))
    return {key: results[i] for i, key in enumerate(keys)}


def check_in_processes(
    lifts: Sequence[Lift], workers: int, *, forked: bool = False
) -> Generator[tuple[int, LiftResult], None, None]:
    """Check lifts and yield each with its index as it is done; closing the iterator stops.

    Args:
        lifts: the lifts.
        workers: processes to use; one stays in this process, as do a few sections.
        forked: whether they are forked from this one, which must have no other threads then.
    """
    return stream_checks(lifts, partial(_solve, workers=workers, forked=forked))


def _solve(tasks: Sequence[Task], workers: int, forked: bool) -> Iterator[tuple[int, Solution]]:
    sections = sum(len(task.loads) for task in tasks)
    if workers == 1 or sections < (WORTH_FORKS if forked else WORTH_SERVER):
        return solve_in_turn(tasks)
    if not forked:
        _ready_server()
    return _solve_in_workers(tasks, workers, get_context("fork" if forked else "forkserver"))


def _ready_server() -> None:
    """Make ready the server that workers are forked from: safe beside the threads of a window."""
    # One thread of linear algebra in each process: the matrices are small.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    forkserver.set_forkserver_preload([__name__])
    forkserver.ensure_running()


def _solve_in_workers(
    tasks: Sequence[Task], workers: int, context: BaseContext
) -> Iterator[tuple[int, Solution]]:
    pool = ProcessPoolExecutor(workers, mp_context=context, initializer=_end_with_parent)
    try:
        running = {
            pool.submit(solve_task, task): number for number, task in enumerate(tasks) if number
        }
        # The first is small, and there before the processes are.
        yield 0, solve_task(tasks[0])
        for future in as_completed(running):
            yield running[future], future.result()
    except BrokenProcessPool:
        raise FexroError(
            "A process that checked lifts was ended from outside, perhaps for want of memory;"
            " the lifts it had not finished are not checked."
        ) from None
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def _end_with_parent() -> None:
    """End this process as soon as the one it works for is gone, however that ended.

    An interrupt is for that one, which then ends this.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    parent = parent_process()
    assert parent is not None

    def wait() -> None:
        parent.join()
        os._exit(1)

    Thread(target=wait, daemon=True).start()
