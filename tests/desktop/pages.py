"""The pages inside a window, for tests that look into them."""

from __future__ import annotations


def bench_of(window):
    """The bench, made if it is not yet."""
    stage = window.stage("bench")
    window.prepare(stage)
    return stage.page


def schedule_of(window):
    """The schedule."""
    return window.stage("schedule").page
