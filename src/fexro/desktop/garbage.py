"""Unused objects that refer to one another, collected in the interface thread alone."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

__all__ = ["GarbageCollector"]

LOOK = 200  # ms between two looks at how much there is


class GarbageCollector(QObject):
    """Takes the place of Python's own collections, which run in whichever thread comes to them.

    One in a thread of background work would destroy widgets there, which Qt does not survive.

    Args:
        parent: the application, whose thread collects.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        # What the imported modules hold stays; it need not be looked through again and again.
        gc.freeze()
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def _look(self) -> None:
        counts, thresholds = gc.get_count(), gc.get_threshold()
        for generation in (2, 1, 0):
            if counts[generation] > thresholds[generation]:
                gc.collect(generation)
                break
