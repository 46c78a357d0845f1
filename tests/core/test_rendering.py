"""How a calculation is written, in text and in Typst."""

from __future__ import annotations

import numpy as np
import pytest
import typst
from numpy import clip, interp, minimum, sqrt, where

from fexro.core.codes.en1992_1_1.code import EN_UK
from fexro.core.members.lift import Lift, check_lift, explain_demand
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Dimension, Length, Ratio, Stress, UnitSystem
from fexro.core.rendering import plain_text, typst_source
from fexro.core.section.shapes import Circle
from tests.conftest import make_column

SI = UnitSystem.SI
MACROS = """#let source(b) = b
#let line-of(c, s, n, r) = [#s #n #r #c]
#let values(n, ..cells) = table(columns: n, ..cells)
"""


@provision("9.9", symbol="f_r")
def rupture(f_c_prime: Stress) -> Stress:
    """A root."""
    return 0.62 * sqrt(f_c_prime)


@provision("9.8", symbol="k")
def chosen(x: Ratio) -> Ratio:
    """A choice between a limit and a power."""
    return where(x >= 0.5, minimum(x**2, 0.9), clip(-x, -0.3, 0))


@provision("9.7", symbol="a")
def between(n: Ratio) -> Ratio:
    """A table."""
    return interp(n, (0.1, 0.7), (1.0, 1.5))


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
        "f_r = 0.62 · √(f'_c) = 0.62 · √(25) = 3.1 MPa   [9.9]"
    )
    text = printed(lambda r: chosen.into(r, 0.6))
    assert "(min(x²; 0.9) if x ≥ 0.5, else min(max(−x; −0.3); 0))" in text
    assert text.endswith("= 0.36   [9.8]")
    assert "interpolate(0.4; [0.1, 0.7]; [1, 1.5]) = 1.25" in printed(
        lambda r: between.into(r, 0.4)
    )


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
    result = check_lift(Lift("C1", "L1", column, EN_UK, ("U1", "U2"), analysed))
    records = [check.derive() for check in result.shown_checks]
    records += [explain_demand(result, i) for i in range(len(result.demands))]
    for record in records:
        assert typst.compile((MACROS + typst_source(record, SI)).encode(), format="svg")
