"""Work away from the interface thread."""

from __future__ import annotations

import threading
import time

import pytest

from fexro.desktop.background import Background


@pytest.fixture
def taken():
    return []


def test_results_arrive_in_order_and_in_the_interface_thread(qtbot, taken):
    threads = set()

    def take(result):
        threads.add(threading.current_thread())
        taken.append(result)

    work = Background(take)
    work.start(lambda stopped: iter(range(50)))
    assert work.running
    qtbot.waitUntil(lambda: not work.running)
    assert taken == list(range(50))
    assert threads == {threading.current_thread()}


def test_new_work_takes_the_place_of_the_last(qtbot, taken):
    work = Background(taken.append)
    ended = threading.Event()

    def endless(stopped):
        number = 0
        while not stopped.is_set():
            number += 1
            yield f"old {number}"
            time.sleep(0.001)
        ended.set()

    work.start(endless)
    qtbot.waitUntil(lambda: len(taken) > 3)
    work.start(lambda stopped: iter(["new"]))
    taken.clear()
    qtbot.waitUntil(lambda: not work.running)
    assert taken == ["new"]
    assert ended.wait(2)


def test_cancelled_work_is_told_to_stop_and_takes_nothing_more(qtbot, taken):
    work = Background(taken.append)
    ended = threading.Event()

    def patient(stopped):
        stopped.wait(5)
        ended.set()
        yield "late"

    work.start(patient)
    work.cancel()
    assert ended.wait(2)
    qtbot.wait(40)
    assert not taken
    assert not work.running


def test_an_error_reaches_the_interface_thread(qtbot, taken):
    work = Background(taken.append)

    def failing(stopped):
        yield 1
        raise ValueError("beyond what was foreseen")

    with qtbot.captureExceptions() as errors:
        work.start(failing)
        qtbot.waitUntil(lambda: not work.running)
    assert taken == [1]
    assert [str(error[1]) for error in errors] == ["beyond what was foreseen"]
