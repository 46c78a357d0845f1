"""How a calculation is written, in text and in Typst."""

from __future__ import annotations

import numpy as np
import pytest
import typst
from numpy import clip, minimum, sqrt, where

from fexro.core.codes.en1992_1_1.code import EN_UK
from fexro.core.errors import FexroError
from fexro.core.members.check import check_lift
from fexro.core.provisions import (
    Case,
    Coefficient,
    Derivation,
    LookupTable,
    Term,
    equation,
    provision,
    select,
)
from fexro.core.provisions.coefficient import MPA, PSI
from fexro.core.quantities import Dimension, Length, Ratio, Stress, Unit, UnitSystem
from fexro.core.rendering.data import derivation_data
from fexro.core.rendering.tables import sentence
from fexro.core.rendering.text import plain_text
from fexro.core.rendering.typst import typst_source
from fexro.core.section.shapes import Circle
from tests.conftest import make_column, make_lift

SI = UnitSystem.SI
MACROS = """#let source(b) = b
#let line-of(c, s, n, r) = [#s #n #r #c]
#let values(n, ..cells) = table(columns: n, ..cells)
"""


ROOT = Coefficient(0.62, Unit("√MPa", 1.0, 2), Dimension.STRESS**0.5)


@provision("9.9", symbol="f_r")
def rupture(f_c_prime: Stress) -> Stress:
    """A root."""
    return ROOT * sqrt(f_c_prime)


@provision("9.8", symbol="k")
def chosen(x: Ratio) -> Ratio:
    """A choice between a limit and a power."""
    return where(x >= 0.5, minimum(x**2, 0.9), clip(-x, -0.3, 0))


between = LookupTable("9.7", "a", (("n", Dimension.RATIO, (0.1, 0.7)),), (1.0, 1.5))
plane = LookupTable(
    "9.5",
    "k_h",
    (("h", Dimension.LENGTH, (100.0, 300.0)), ("n", Dimension.RATIO, (0.0, 0.5, 1.0))),
    (1.0, 0.8, 0.5, 0.9, 0.7, 0.4),
)
LIMIT = Coefficient(50, MPA, Dimension.STRESS)
SHARE = 0.45


@provision("9.4", symbol="r")
def limited(f_c_prime: Stress, kind: Case) -> Ratio:
    """Constants, a case by a name and one by a number."""
    return where(f_c_prime <= LIMIT, SHARE, 1 - f_c_prime / LIMIT) * select(kind, a=2.0, b=3.0)


@equation("9.3", symbol="k")
def balance(k: Ratio, n: Ratio) -> Ratio:
    """A cubic."""
    return k**3 + k - n


@provision("9.6", symbol="d")
def nested(a: Length, b: Length, c: Length) -> Length:
    """Quotients within quotients."""
    return a / (b / c) * (b / a) - (a + b) / c * a


def printed(call):
    record = Derivation()
    call(record)
    return plain_text(record, SI).replace("\u2009", " ")


def test_roots_and_choices_read_as_written():
    assert printed(lambda r: rupture.into(r, 25.0)) == (
        "f_r = 0.62 √MPa · √(f'_c) = 0.62 · √(25) = 3.1 MPa   [9.9]"
    )
    text = printed(lambda r: chosen.into(r, 0.6))
    assert "(min(x²; 0.9) if x ≥ 0.5, else min(max(−x; −0.3); 0))" in text
    assert text.endswith(" = min(0.6²; 0.9) = 0.36   [9.8: x ≥ 0.5]")
    text = printed(lambda r: chosen.into(r, 0.2))
    assert text.endswith(" = min(max(−0.2; −0.3); 0) = −0.2   [9.8: x < 0.5]")


def test_constants_and_cases_are_printed_with_the_reason_of_the_case():
    assert printed(lambda r: limited.into(r, 35.0, "a")) == (
        "r = (0.45 if f'_c ≤ 50 MPa, else 1 − f'_c / (50 MPa)) · (2 for a; 3 for b)"
        " = 0.45 · 2 = 0.9   [9.4: f'_c ≤ 50 MPa; a]"
    )
    # By hand: (1 − 60/50) 3.
    text = printed(lambda r: limited.into(r, 60.0, "b"))
    assert text.endswith("= (1 − 60 / 50) · 3 = −0.6   [9.4: f'_c > 50 MPa; b]")


def test_a_case_that_the_rule_lacks_is_an_error():
    with pytest.raises(KeyError):
        limited(35.0, "c")


def test_a_coefficient_is_printed_as_its_edition_writes_it():
    root = Unit("√psi", PSI.size**0.5, 0)
    two = Coefficient(2, root, Dimension.STRESS**0.5)
    record = Derivation()
    scaled.into(record, two, 4000 * PSI.size)
    text = plain_text(record, UnitSystem.IN_LB)
    # By hand: 2 √4000 = 126.5 psi.
    assert text == "v_c = 2 √psi · √(f'_c) = 0.0632456 · √(4) = 0.12649 ksi   [9.2]"
    record = Derivation()
    scaled.into(record, two, 4000 * PSI.size)
    assert plain_text(record, SI).endswith("= 0.166069 · √(27.579) = 0.87213 MPa   [9.2]")


@provision("9.2", symbol="v_c")
def scaled(k: Ratio, f_c_prime: Stress) -> Stress:
    """A root with a coefficient."""
    return k * sqrt(f_c_prime)


def test_tables_print_their_places_and_the_interpolation():
    # By hand: halfway from 1.0 to 1.5.
    assert printed(lambda r: between.into(r, 0.4)) == (
        "a = table at n 0.4 between 0.1 and 0.7"
        " = 1 · (0.7 − 0.4) / (0.7 − 0.1) + 1.5 · (0.4 − 0.1) / (0.7 − 0.1) = 1.25   [9.7]"
    )
    assert printed(lambda r: between.into(r, 0.05)) == "a = table at n 0.05 at 0.1 = 1 = 1   [9.7]"
    text = printed(lambda r: plane.into(r, 150.0, 0.25))
    assert text.startswith("k_h = table at h 150 between 100 and 300, n 0.25 between 0 and 0.5 = ")
    # By hand: 0.75 · 0.9 + 0.25 · 0.8.
    assert text.endswith(" = 0.875   [9.5]")
    np.testing.assert_allclose(plane(np.array([100.0, 500.0]), np.array([2.0, 0.5])), [0.5, 0.7])


def test_a_solved_equation_prints_root_and_residual():
    # By hand: 1 + 1 − 2 = 0.
    assert balance(0.0, 5.0, 2.0) == pytest.approx(1.0, rel=1e-15)
    text = printed(lambda r: balance.into(r, 0.0, 5.0, 2.0))
    assert text == ("k³ + k − n = 0, solved by k = 1 with the residual 1³ + 1 − 2 = 0   [9.3]")
    roots = balance(0.0, 5.0, np.array([2.0, 10.0]))
    np.testing.assert_allclose(roots, [1.0, 2.0], rtol=1e-15)
    with pytest.raises(FexroError, match="no k between 0 and 1"):
        balance(0.0, 1.0, 10.0)


def test_data_hold_the_values_with_their_units():
    record = Derivation()
    rupture.into(record, 25.0)
    record.given("M_ux", -1e6, Dimension.MOMENT, "demand")
    formula, given = derivation_data(record, SI)
    assert (formula["kind"], formula["clause"], formula["value"]) == ("formula", "9.9", 3.1)
    assert (given["symbol"], given["value"], given["unit"]) == ("M_ux", -1.0, "kN·m")


def test_quotients_keep_their_order():
    text = printed(lambda r: nested.into(r, 2.0, 3.0, 4.0))
    assert "a / (b / c) · (b / a) − (a + b) / c · a" in text
    assert "= 1.5 mm" in text


def test_tables_line_up():
    record = Derivation()
    record.table("Bars", (("bar", None), ("F", Dimension.FORCE)), [("1", 1.5e5), ("12", -2.25e6)])
    title, head, *rows = plain_text(record, SI).split("\n")
    assert title == "Bars:"
    assert {len(line) for line in (head, *rows)} == {len(head)}
    assert rows[0].endswith("150.0")
    assert rows[1].replace("\u2009", " ").endswith("−2 250.0")


def test_sources_and_notes_cannot_break_the_markup():
    record = Derivation()
    record.note("A note with #hash, $dollar$, *stars* and [brackets] = done_.")
    record.given("M_ux", -1e6, Dimension.MOMENT, "from #1 [a*b]")
    assert typst.compile((MACROS + typst_source(record, SI)).encode(), format="svg")


@pytest.mark.parametrize(
    "call",
    [
        lambda r: rupture.into(r, 25.0),
        lambda r: chosen.into(r, 0.2),
        lambda r: between.into(r, 0.4),
        lambda r: plane.into(r, 1.5e7, 0.25),
        lambda r: limited.into(r, 60.0, "b"),
        lambda r: balance.into(r, 0.0, 5.0, 2.0),
        lambda r: scaled.into(r, LIMIT, 25.0),
        lambda r: nested.into(r, -2.0, 3.0e7, 4.0),
    ],
)
def test_every_notation_is_valid_typst(call):
    record = Derivation()
    call(record)
    assert typst.compile((MACROS + typst_source(record, SI)).encode(), format="svg")


def test_every_calculation_of_a_european_lift_is_valid_typst():
    column = make_column(Circle(diameter=600), "8 D25", concrete=60, steel=500)
    analysed = np.array([[[2e6, 2e8, 1e8], [-4e5, 1e8, -5e7]], [[9e6, 0, 0], [0, 0, 0]]])
    result = check_lift(make_lift(column, EN_UK, ("U1", "U2"), analysed))
    records = [check.derive() for check in result.shown_findings]
    records += [result.derivation_of(i) for i in range(len(result.demands))]
    for record in records:
        assert typst.compile((MACROS + typst_source(record, SI)).encode(), format="svg")


def test_numbers_that_decide_are_shown_with_the_figures_that_tell_them_apart():
    share, mm = Dimension.SHARE, Dimension.LENGTH
    text = "{found} < {limit}"
    for found, limit, dimension, shown in (
        (0.001963, 0.002, share, "0.196 % < 0.2 %"),
        (0.0019996, 0.002, share, "0.19996 % < 0.2 %"),
        (39.98, 40.0, mm, "39.98 mm < 40 mm"),
        (40.0, 40.0 + 1e-9, mm, "40 mm < 40 mm"),
    ):
        values = {"found": Term(found, dimension), "limit": Term(limit, dimension)}
        assert sentence(text, values, UnitSystem.SI) == shown
