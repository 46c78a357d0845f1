"""What follows from materials, against values worked out by hand."""

from __future__ import annotations

import math

import pytest

from fexro.core.codes.registry import design_code
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.typst import typst_source

PSI = 4448.2216152605 / 1000 / 25.4**2


def facts_of(code, annex, units=UnitSystem.SI):
    materials = design_code(code, units, annex).materials
    found = [
        *materials.concrete(Concrete("C35", 35.0)),
        *materials.steel(ReinforcingSteel("S", 420.0, 200_000.0)),
    ]
    return {fact.symbol: fact for fact in found}


@pytest.mark.parametrize(
    ("code", "annex", "expected"),
    [
        # 4700 √35; 0.85 - 0.05 · 7 / 7; 420 / 200 000.
        ("ACI 318-19", "recommended", {"Ec": 27_805.57, "β1": 0.80, "εty": 0.0021}),
        # 22 000 · 4.3^0.3; 35 / 1.5; 420 / 1.15 and over 200 000.
        (
            "EN 1992-1-1",
            "recommended",
            {"Ecm": 34_077.15, "fcd": 23.3333, "εcu2": 0.0035, "fyd": 365.217, "εyd": 0.00182609},
        ),
        ("EN 1992-1-1", "UK", {"fcd": 19.8333}),
    ],
)
def test_what_follows_from_materials(code, annex, expected):
    found = facts_of(code, annex)
    for symbol, value in expected.items():
        assert found[symbol].value == pytest.approx(value, rel=1e-5)
        # What is printed is what was computed.
        line = found[symbol].derive().lines[0]
        assert line.result.value == pytest.approx(found[symbol].value)


def test_the_root_of_a_unit_is_typeset_as_one():
    record = facts_of("ACI 318-19", "recommended")["Ec"].derive()
    assert 'thin sqrt("MPa")' in typst_source(record, UnitSystem.SI)


def test_the_edition_in_inches_and_pounds_has_its_own_modulus():
    modulus = facts_of("ACI 318-19", "recommended", UnitSystem.IN_LB)["Ec"].value
    assert modulus == pytest.approx(57_000 * math.sqrt(35.0 / PSI) * PSI, rel=1e-9)
