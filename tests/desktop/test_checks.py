"""The checks of a lift on the bench: by what they are about, folded where all is well."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import Qt

from fexro.core.findings import Finding, State
from fexro.desktop.bench.check_groups import grouped
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from tests.desktop.pages import bench_of

WELL, OVER = LiftKey("C1", "L3"), LiftKey("C4", "L2")


def finding(name, topic="detailing", state=State.SATISFIED, ratio=math.nan, **more):
    return Finding(name, name.lower(), "", state, ratio, "", "", topic=topic, **more)


def test_what_is_worst_comes_first_and_what_is_assumed_last():
    groups = grouped(
        [
            finding("Ties for shear", "shear", State.EXCEEDED, 1.2),
            finding("Not looked at", "ductility", State.ATTENTION, assumption=True),
            finding("Tie size", ratio=0.95),
            finding("Bending", "strength", ratio=0.5),
            finding("Bars", ratio=0.3),
        ]
    )
    assert [group.title for group in groups] == ["Shear", "Strength", "Detailing", "Assumed"]
    assert [group.quiet for group in groups] == [False, True, True, True]
    assert groups[2].largest.name == "Tie size"
    assert groups[2].counted == "2 satisfied"


def test_the_worst_state_stands_for_a_group_before_the_largest_ratio():
    (group,) = grouped(
        [
            finding("Wide", state=State.EXCEEDED),
            finding("Near", state=State.ATTENTION, ratio=0.97),
            finding("Far", ratio=0.2),
        ]
    )
    assert group.largest.name == "Wide"
    assert group.counted == "1 exceeded, 1 attention, 1 satisfied"


def names(checks):
    return [head.check.name for head in checks.heads]


def group_head(checks, title):
    return next(head for head in checks.groups if head.group.title == title)


def test_satisfied_groups_are_folded_and_unfold_by_key(qtbot, window):
    window.go(Place(lift=WELL))
    checks = bench_of(window).checks
    assert "Tie spacing" not in names(checks)
    assert names(checks)[0] == "Axial + biaxial bending"
    assert group_head(checks, "Detailing").folded
    qtbot.keyClick(group_head(checks, "Detailing"), Qt.Key.Key_Return)
    assert {"Tie spacing", "Tie size", "Bar ratio"} <= set(names(checks))
    # As a person left it, also on another lift.
    window.go(Place(lift=OVER))
    assert not group_head(checks, "Detailing").folded
    qtbot.mouseClick(group_head(checks, "Detailing"), Qt.MouseButton.LeftButton)
    assert "Tie spacing" not in names(checks)


def test_a_check_that_fails_is_seen_without_unfolding(qtbot, window):
    document = window.document
    document.replace_lift(
        WELL,
        document.project.by_key[WELL].model_copy(
            update={
                "section": document.project.by_key[WELL].section.model_copy(
                    update={"ties": "D10@150/600"}
                )
            }
        ),
        "Wider ties",
    )
    qtbot.waitUntil(lambda: document.complete, timeout=10_000)
    window.go(Place(lift=WELL))
    checks = bench_of(window).checks
    assert names(checks)[0] == "Tie spacing"
    head = checks.heads[0]
    assert head.check.state is State.EXCEEDED
    assert "between the end zones" in head.detail
    assert not group_head(checks, "Detailing").folded


def test_the_calculation_of_shear_is_that_of_shear(qtbot, window):
    window.go(Place(lift=OVER))
    checks = bench_of(window).checks
    checks.toggle("Shear along x")
    text = checks.derivations["Shear along x"].text
    assert "Table 22.5.5.1(a)" in text
    assert "β_1" not in text
    # What governs it is selected.
    shown = next(head.check for head in checks.heads if head.check.name == "Shear along x")
    assert window.document.selection.combination == shown.combination


@pytest.mark.parametrize("title", ["Stability", "Shear"])
def test_groups_say_how_many_they_hold(window, title):
    window.go(Place(lift=OVER))
    head = group_head(bench_of(window).checks, title)
    assert head.accessibleName().startswith(f"{title}, ")
    assert "satisfied" in head.accessibleName()
