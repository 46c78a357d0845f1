"""Unused widgets are destroyed in the interface thread, whichever thread is at work."""

from __future__ import annotations

import threading
import weakref

from PyQt6.QtCore import QObject

from fexro.desktop.background import Background


class Node(QObject):
    """Refers to itself, so that only a collection can free it."""

    def __init__(self):
        super().__init__()
        self.itself = self


def litter(stopped):
    """Make more unused cycles than Python's own collections wait for."""
    for _ in range(200):
        for _ in range(1000):
            cycle = []
            cycle.append(cycle)
        yield threading.current_thread()


def test_work_in_the_background_destroys_no_objects_of_qt(qtbot):
    freed_in, worked_in = [], set()
    weakref.finalize(Node(), lambda: freed_in.append(threading.current_thread()))
    work = Background(worked_in.add)
    work.start(litter)
    qtbot.waitUntil(lambda: not work.running)
    qtbot.waitUntil(lambda: bool(freed_in))
    assert worked_in
    assert threading.main_thread() not in worked_in
    assert freed_in == [threading.main_thread()]
