"""Work that is waited for while the window goes on."""

from __future__ import annotations

from collections.abc import Callable
from threading import Thread
from typing import Generic, TypeVar

from PyQt6.QtCore import QEventLoop, QTimer

__all__ = ["wait_for"]

AT_ONCE = 0.02  # seconds that work may take without another word
LOOK = 10  # ms between two looks at whether it is done

Result = TypeVar("Result")


class _Work(Thread, Generic[Result]):
    def __init__(self, function: Callable[[], Result]) -> None:
        super().__init__(daemon=True)
        self._function = function
        self.result: Result | None = None
        self.error: BaseException | None = None

    def run(self) -> None:
        try:
            self.result = self._function()
        except BaseException as error:
            self.error = error


def wait_for(function: Callable[[], Result]) -> Result:
    """Run a function that touches nothing of Qt in a thread, and return what it returns.

    Events of the window are handled meanwhile.

    Raises:
        BaseException: what the function raises.
    """
    work = _Work(function)
    work.start()
    work.join(AT_ONCE)
    if work.is_alive():
        loop, timer = QEventLoop(), QTimer()
        timer.timeout.connect(lambda: None if work.is_alive() else loop.quit())
        timer.start(LOOK)
        loop.exec()
        timer.stop()
    work.join()
    if work.error is not None:
        raise work.error
    return work.result  # type: ignore[return-value]
