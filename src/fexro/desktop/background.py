"""Work away from the interface thread, whose results are taken in it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from queue import Empty, SimpleQueue
from threading import Event, Thread
from typing import Generic, TypeVar

from PyQt6.QtCore import QObject, QTimer

__all__ = ["Background"]

LOOK = 8  # ms between two looks at what has been done

Result = TypeVar("Result")


class _Failure:
    """An error on its way to the interface thread."""

    def __init__(self, error: Exception) -> None:
        self.error = error


def _raise(error: Exception) -> None:
    raise error


class Background(QObject, Generic[Result]):
    """Runs one piece of work at a time; a new one takes the place of the last.

    Results wait in a queue that the interface thread looks into, so that no object of Qt is touched
    by two threads.

    Args:
        take: called in the interface thread with each result.
        parent: what it belongs to.
        failed: called there with the error that ended the work; else it is raised.
    """

    def __init__(
        self,
        take: Callable[[Result], None],
        parent: QObject | None = None,
        failed: Callable[[Exception], None] | None = None,
    ) -> None:
        super().__init__(parent)
        self._take, self._failed = take, failed or _raise
        self._queue: SimpleQueue[Result | _Failure | None] = SimpleQueue()
        self._stopped = Event()
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK)
        self._timer.timeout.connect(self._look)

    @property
    def running(self) -> bool:
        """Whether there is work whose results are still to come."""
        return self._timer.isActive()

    def start(self, work: Callable[[Event], Iterator[Result]]) -> None:
        """Start work that yields results; it looks at the event, which tells it to stop."""
        self.cancel()
        queue: SimpleQueue[Result | _Failure | None] = SimpleQueue()
        self._queue, stopped = queue, self._stopped

        def run() -> None:
            try:
                for result in work(stopped):
                    queue.put(result)
            except Exception as error:  # whatever it is, the interface thread is told
                queue.put(_Failure(error))
            queue.put(None)

        Thread(target=run, daemon=True).start()
        self._timer.start()

    def cancel(self) -> None:
        """Tell the work to stop; what it still yields is not taken."""
        self._stopped.set()
        self._stopped = Event()
        self._timer.stop()

    def _look(self) -> None:
        queue = self._queue
        while queue is self._queue and self._timer.isActive():
            try:
                result = queue.get_nowait()
            except Empty:
                return
            if result is None:
                self._timer.stop()
            elif isinstance(result, _Failure):
                self._timer.stop()
                self._failed(result.error)
            else:
                self._take(result)
