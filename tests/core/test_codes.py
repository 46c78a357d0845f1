"""Design codes as data: each registers itself, and what is not on offer is refused."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

import fexro
from fexro.core.codes.registry import codes_on_offer, design_code
from fexro.core.errors import InputError
from fexro.core.quantities import UnitSystem


def test_every_code_on_offer_can_be_had_in_both_systems_with_all_its_annexes():
    offers = codes_on_offer()
    assert [offer.key for offer in offers] == ["ACI 318-19", "EN 1992-1-1"]
    titles = [offer.title(annex) for offer in offers for annex in offer.annexes]
    assert titles == ["ACI 318-19", "EN 1992-1-1, recommended annex", "EN 1992-1-1, UK annex"]
    for offer in offers:
        for annex in offer.annexes:
            for units in UnitSystem:
                code = design_code(offer.key, units, annex)
                assert (code.key, code.annex, code.units) == (offer.key, annex, units)
                assert code is design_code(offer.key, units, annex)
                assert code.name.startswith(offer.key)


@pytest.mark.parametrize(
    ("key", "annex", "words"),
    [
        ("EN 1992", "recommended", "code: found “EN 1992”; allowed: one of ACI 318-19, EN"),
        ("ACI 318-19", "UK", "annex: found “UK”; allowed: one of recommended for ACI 318-19"),
    ],
)
def test_what_is_not_on_offer_is_refused(key, annex, words):
    with pytest.raises(InputError, match=words):
        design_code(key, UnitSystem.SI, annex)


def test_nothing_outside_the_codes_asks_which_it_is():
    """No text of a code's key stands anywhere else, but in the demo and in migrations."""
    root = Path(fexro.__file__).parent
    keys = {offer.key.split(" ")[0] for offer in codes_on_offer()}
    for path in root.rglob("*.py"):
        place = path.relative_to(root)
        if place.parts[:2] == ("core", "codes") or place.parts[0] == "demo":
            continue
        if place == Path("project/migrations.py"):
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                words = node.value.split()
                assert "\n" in node.value or not keys & set(words[:1]), f"{place}: {node.value}"
