"""Lengths, masses, numbers and cutting plans of bars against the cases.

The reference computes drawn paths beside the formulas, and full searches beside the integer
programmes.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest

from fexro.core.bending import centreline
from fexro.core.bending.cutting import cutting_plan
from fexro.core.bending.hooks import Hook
from fexro.core.bending.masses import POUND, mass_per_length
from fexro.core.bending.shapes import scheduled_length, shape_length
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.codes.aci318_19.hooks import tie_hook
from fexro.core.codes.en1992_1_1.hooks import link_hook
from fexro.core.quantities import INCH
from fexro.core.section.bars import bar_size
from fexro.core.tie_zones import TieZone, tie_count, tie_places

CASES = json.loads((Path(__file__).parent / "bending.json").read_text())
HOOKS = {
    "ACI SI": lambda d, angle: tie_hook(d, angle, SI_EDITION),
    "ACI in-lb": lambda d, angle: tie_hook(d, angle, IN_LB_EDITION),
    "EN": link_hook,
}


def of_kind(kind):
    some = [case for case in CASES if case["kind"] == kind]
    return pytest.mark.parametrize("case", some, ids=[case["case"] for case in some])


def near(value):
    return pytest.approx(value, rel=1e-6)


@of_kind("shape")
def test_shapes(case):
    d, expected = float(case["d"]), case["expected"]
    dimensions = {letter: float(case[letter]) for letter in "ABCDER" if letter in case}
    length, radius = shape_length(case["code"], d, dimensions)
    assert radius == expected["r"]
    assert length == near(expected["length"])
    assert scheduled_length(length) == expected["scheduled"]
    mass = mass_per_length(bar_size(f"D{case['d']}")) * scheduled_length(length) / 1000
    assert mass == near(expected["mass_of_one"])


def centre_length(case, unit, hooks):
    """Return the length of a case's bar in its unit, by the function of its kind."""
    size = {name: case[name] * unit for name in case if isinstance(case[name], (int, float))}
    d, what = size["d"], case["what"]
    angle = math.radians(case.get("hook", 0.0))
    if what == "rectangular tie":
        return centreline.rectangular_tie(d, size["A"], size["B"], hooks[0], angle)
    if what == "cross tie":
        ends = tuple(zip(hooks, map(math.radians, (case["h1"], case["h2"])), strict=True))
        return centreline.cross_tie(d, size["L"], ends)
    if what == "circular tie":
        return centreline.circular_tie(
            d, size["A"], size["lap"], hooks[0] if hooks else None, angle
        )
    if what == "cranked":
        bends = size["A"], size["C"], size["D"], case["n"]
        return centreline.cranked(d, size["r"], *bends)
    if what == "U":
        return centreline.u_bar(d, size["r"], size["A"], size["B"], size["C"])
    if what == "L":
        return centreline.l_bar(d, size["r"], size["A"], size["B"], math.radians(case["angle"]))
    return centreline.helix(d, size["A"], size["pitch"], size["height"], case["extra"])


@of_kind("centreline")
def test_centre_lines(case):
    unit, expected = INCH if case["units"] == "in" else 1.0, case["expected"]
    angles = [case[name] for name in ("hook", "h1", "h2") if name in case]
    hooks = [HOOKS[case["rule"]](case["d"] * unit, angle) for angle in angles if "rule" in case]
    for name, hook in zip(("e",) if "hook" in case else ("e1", "e2"), hooks, strict=False):
        if name in case:
            continue
        assert hook.straight == near(expected[name] * unit)
    if hooks:
        assert hooks[0].radius == near(expected["r"] * unit)
    if "e" in case:
        hooks = [Hook(case["r"] * unit, case["e"] * unit)]
    length = centre_length(case, unit, hooks)
    assert length == near(expected["length"] * unit)
    if "scheduled" in expected:
        assert scheduled_length(length) == expected["scheduled"]


@of_kind("zones")
def test_zones_of_ties(case):
    expected, clear, first = case["expected"], case["clear"], case["first"]
    ends = np.cumsum([zone["length"] for zone in case["zones"]])
    marks = [first, *ends[:-1], clear - first]
    called = [zone["spacing"] for zone in case["zones"]]
    zones = tuple(map(TieZone, marks, marks[1:], called))
    for zone, wanted in zip(zones, expected["zones"], strict=True):
        assert zone.spaces == wanted["spaces"]
        assert zone.spacing == near(wanted["real_spacing"])
    assert tie_count(zones) == expected["sets"]
    assert tie_count(zones) * case["links_per_set"] == expected["total_ties"]
    assert list(tie_places(zones)) == pytest.approx(expected["positions"], abs=1e-4)


@of_kind("mass")
def test_masses(case):
    in_lb = case["units"] == "in-lb"
    unit, mass = (INCH, POUND) if in_lb else (1.0, 1.0)
    found = {}
    for bar in case["bars"]:
        size = bar_size(bar["size"] if in_lb else f"D{bar['size']}")
        one = mass_per_length(size) * bar["length"] * unit / 1000 / mass
        name = str(bar["size"])
        found[name] = found.get(name, 0.0) + bar["number"] * one
    assert found == near(case["expected"]["per_size"])
    assert sum(found.values()) == near(case["expected"]["total"])


@of_kind("cutting")
def test_cutting_plans(case):
    expected, stock = case["expected"], case["stock"]
    several = isinstance(stock, list)
    demand = {piece["length"]: piece["count"] for piece in case["demand"]}
    plan = cutting_plan(demand, stock if several else [stock], case["kerf"])
    assert plan.proved
    if several:
        assert plan.bought == near(expected["purchased_length"])
        assert plan.waste == near(expected["waste"])
    else:
        assert len(plan.bars) == expected["bars"]
        assert plan.waste == near(expected["waste_including_kerf"])
    for length, count in demand.items():
        assert sum(bar.cuts.count(length) for bar in plan.bars) == count
    for bar in plan.bars:
        assert sum(bar.cuts) + (len(bar.cuts) - 1) * case["kerf"] <= bar.stock
