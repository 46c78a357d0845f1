"""Combinations of loads by four standards: hand-listed sets, and their values worked by hand."""

from __future__ import annotations

import pytest

from fexro.core.codes.asce7.live_load import live_load_factor
from fexro.core.codes.loading import live_load_rules, load_standard, load_standards
from fexro.core.errors import InputError
from fexro.core.loads.cases import Case
from fexro.core.loads.expression import ExpressionError, factors_of, written
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text

D, L = Case("D", "permanent"), Case("L", "imposed", category="B")
S, W = Case("S", "snow"), Case("W", "wind", direction="x", both_signs=True)


def made(standard, cases, **options):
    found = load_standard(standard)
    return found.combine(cases, found.option_values(options))


def sums(combinations, values):
    """What combinations give with a value of each case, by their equation, the largest of each."""
    found = {}
    for one in combinations:
        total = sum(factor * values[name] for name, factor in one.factors.items())
        found.setdefault(one.equation, []).append(total)
    return found


def test_aci_by_hand():
    """D 1000, L 400, S 50, W 300, half of L as a companion."""
    found = sums(
        made("ACI 318-19", [D, L, S, W], live_factor=0.5), {"D": 1000, "L": 400, "S": 50, "W": 300}
    )
    assert found["U1"] == pytest.approx([1400])
    assert found["U2"] == pytest.approx([1865])
    assert sorted(found["U3"]) == pytest.approx([1130, 1430, 1480])
    assert max(found["U4"]) == pytest.approx(1725)
    assert min(found["U6"]) == pytest.approx(600)


def test_en_by_hand():
    """G 1000, Q 400 of offices, W 200."""
    values = {"D": 1000, "L": 400, "W": 200}
    single = sums(made("EN 1990", [D, L, W]), values)["6.10"]
    assert {2130.0, 2070.0} <= {round(v, 6) for v in single}
    pair = sums(made("EN 1990", [D, L, W], expression="6.10a/b"), values)
    assert max(pair["6.10a"]) == pytest.approx(1950)
    assert max(pair["6.10b"]) == pytest.approx(1927.5)
    uk = sums(made("EN 1990", [D, L, W], annex="UK"), values)
    assert max(uk["6.10"]) == pytest.approx(2100)
    pair = sums(made("EN 1990", [D, L, W], annex="UK", expression="6.10a/b"), values)
    assert max(pair["6.10b"]) == pytest.approx(1998.75)
    assert max(pair["6.10a"]) == pytest.approx(1920)


def test_as_nzs_and_bs_by_hand():
    values = {"D": 1000, "L": 400, "W": 200}
    general = Case("L", "imposed", category="general")
    found = sums(made("AS/NZS 1170.0", [D, general, W]), values)
    assert found["1.35G"] == pytest.approx([1350])
    assert found["1.2G + 1.5Q"] == pytest.approx([1800])
    assert found["1.2G + 1.5ψl Q"] == pytest.approx([1440])
    assert max(found["1.2G + Wu + ψc Q"]) == pytest.approx(1560)
    assert min(found["0.9G + Wu"]) == pytest.approx(700)
    found = sums(made("BS 8110", [D, L, W]), values)
    assert [max(found[number]) for number in "123"] == pytest.approx([2040, 1680, 1920])
    # Without imposed load the dead load still acts alone.
    assert max(sums(made("BS 8110", [D, W]), values)["1"]) == pytest.approx(1400)


def listed(combinations, use):
    return {written(one.factors) for one in combinations if one.use == use}


def test_service_and_accidents_are_made_where_they_are_asked_for():
    blast = Case("A", "accidental")
    aci = made("ACI 318-19", [D, L, S, blast], service=True, extraordinary=True)
    assert listed(aci, "service") == {"1.0 D + 1.0 L", "1.0 D + 0.5 S", "1.0 D + 0.5 L"}
    assert listed(aci, "accidental") == {
        "1.2 D + 1.0 A + 0.5 L + 0.2 S",
        "0.9 D + 1.0 A + 0.5 L + 0.2 S",
    }
    en = made("EN 1990", [D, L, S], service=True, fire=True)
    assert listed(en, "service") == {
        "1.0 D + 1.0 L + 0.5 S",  # characteristic
        "1.0 D + 0.7 L + 1.0 S",
        "1.0 D + 0.5 L",  # frequent
        "1.0 D + 0.3 L + 0.2 S",
        "1.0 D + 0.3 L",  # quasi-permanent
    }
    assert listed(en, "accidental") == {"1.0 D + 0.3 L"}
    australian = made("AS/NZS 1170.0", [D, Case("L", "imposed")], service=True)
    assert listed(australian, "service") == {"1.0 D + 0.7 L", "1.0 D + 0.4 L"}
    british = made("BS 8110", [D, L, W], service=True)
    assert "1.0 D + 1.0 L − 1.0 W" in listed(british, "service")


def test_no_combination_has_a_factor_of_zero_and_none_stands_twice():
    cases = [D, L, S, W, Case("Ex", "earthquake", "x", True), Case("Ey", "earthquake", "y", True)]
    for standard in load_standards():
        combinations = standard.combine(cases, standard.option_values({}))
        sets = [frozenset(one.factors.items()) for one in combinations]
        assert len(set(sets)) == len(sets)
        assert all(factor for one in combinations for factor in one.factors.values())
        assert {one.use for one in combinations} <= {"strength", "earthquake"}


@pytest.mark.parametrize(
    ("standard", "options", "words"),
    [
        ("EN 1990", {"annex": "FR"}, "one of recommended, UK"),
        ("EN 1990", {"KFI": 2}, "0.9 to 1.1"),
        ("EN 1990", {"KFI": "high"}, "a number"),
        ("EN 1990", {"fire": 1}, "true or false"),
        ("ACI 318-19", {"speed": 1}, "one of loads"),
        ("XX", {}, "one of ACI 318-19"),
    ],
)
def test_options_that_a_standard_has_not_are_refused(standard, options, words):
    with pytest.raises(InputError, match=words):
        made(standard, [D], **options)


def test_the_derivation_of_a_reduction_is_that_of_its_edition():
    """ASCE 7-16 4.7.2 by hand: KLL AT = 3600 ft², 0.25 + 15/60 = 0.5."""
    floors = Floors(2, 900 * 304.8**2, 0.0, 4.0, "other", UnitSystem.IN_LB)
    record = Derivation()
    assert live_load_rules()["ASCE 7-16"].factor(record, floors) == pytest.approx(0.5)
    text = plain_text(record, UnitSystem.IN_LB)
    assert "15 ft" in text
    assert "4.7.2" in text
    assert float(live_load_factor(4.0, 1e6, 4570.0, 37.2e6, 0.5)) == 1.0


@pytest.mark.parametrize("rule", list(live_load_rules()))
def test_more_floors_never_leave_more_of_the_load(rule):
    found = live_load_rules()[rule]
    category = found.categories[0] if found.categories else ""
    shares = [found.factor(None, Floors(n, 40e6 * n, 2.4e-3, 4.0, category)) for n in range(1, 15)]
    assert all(0 < share <= 1 for share in shares)
    assert shares == sorted(shares, reverse=True)


def test_expressions_are_written_as_they_are_read():
    factors = {"D": 1.2, "Wx": -0.5, "Live 2": 1.0}
    text = written(factors)
    assert text == "1.2 D − 0.5 Wx + 1.0 “Live 2”"
    assert factors_of(text, factors) == factors
    deep = "(" * 80 + "D" + ")" * 80
    with pytest.raises(ExpressionError, match="fewer parentheses"):
        factors_of(deep, ["D"])
    with pytest.raises(ExpressionError, match="character 3"):
        factors_of("D ?", ["D"])
