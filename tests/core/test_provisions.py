"""Derivations: what is printed is what ran, and can be done again by hand."""

from __future__ import annotations

import itertools
import math
import re

import numpy as np
import pytest
from numpy import maximum

from fexro.core.codes.aci318_19 import strength
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import Options
from fexro.core.members.check import check_lift
from fexro.core.provisions import Derivation, Formula, Given, Table, provision
from fexro.core.quantities import (
    Area,
    Dimension,
    Force,
    Length,
    Moment,
    Ratio,
    UnitSystem,
    unit_of,
)
from fexro.core.rendering.symbols import text_symbol, typst_symbol
from fexro.core.rendering.text import plain_text
from fexro.core.rendering.typst import typst_source
from fexro.core.section.shapes import Rectangle
from fexro.demo.tarnholm import tarnholm_archive, tarnholm_columns
from fexro.project.checking import check_project
from tests.conftest import make_column, make_lift

SI, IN_LB = UnitSystem.SI, UnitSystem.IN_LB


@provision("1.2.3", symbol="M_c")
def magnified(C_m: Ratio, P_u: Force, P_c: Force, M_2: Moment) -> Moment:
    """A formula with a step in between."""
    delta = maximum(C_m / (1 - P_u / (0.75 * P_c)), 1.0)
    return delta * M_2


@provision("4.5", symbol="d_0")
def difference(a: Length, b: Length, c: Length) -> Length:
    """Signs and brackets."""
    return a - (b - c) + a * (b + c) ** 2 / (b * c)


def test_without_a_derivation_a_provision_is_its_function():
    assert magnified(0.6, 0.0, 1e6, 10.0) == 10.0
    np.testing.assert_allclose(magnified(np.array([0.6, 1.0]), 3e5, 1e6, 10.0), [10.0, 10 / 0.6])


def test_each_statement_becomes_a_line():
    record = Derivation()
    assert magnified.into(record, 1.0, 3e5, 1e6, 2e8) == pytest.approx(2e8 / 0.6)
    first, last = record.lines
    assert isinstance(first, Formula)
    assert isinstance(last, Formula)
    assert first.clause == last.clause == "1.2.3"
    lines = plain_text(record, SI).replace("\u2009", " ").split("\n")
    assert lines == [
        "δ = max(C_m / (1 − P_u / (0.75 · P_c)); 1)"
        " = max(1 / (1 − 300 000 / (0.75 · 1 000 000)); 1) = 1.6667   [1.2.3]",
        "M_c = δ · M_2 = 1.66667 · 200 000 000 = 333 330 000 N·mm = 333.33 kN·m   [1.2.3]",
    ]


class Counted(float):
    """A number that counts how often it is multiplied."""

    times = 0

    def __rmul__(self, other):
        Counted.times += 1
        return float(self) * other


@provision("4.6", symbol="A_0")
def stepwise(a: Length) -> Area:
    """A step that is a length."""
    h: Length = 2 * a
    return h**2


def test_steps_are_evaluated_once_and_carry_the_dimension_of_their_annotation():
    record = Derivation()
    stepwise.into(record, Counted(25.4))
    assert Counted.times == 1
    # By hand: twice an inch, squared.
    assert plain_text(record, IN_LB).split("\n") == [
        "h = 2 · a = 2 · 1 = 2 in   [4.6]",
        "A_0 = h² = 2² = 4 in²   [4.6]",
    ]


def test_dimensions_are_products_of_powers():
    stiffness = Dimension.STRESS * Dimension.SECOND_MOMENT
    assert stiffness == Dimension.STIFFNESS == Dimension.FORCE * Dimension.LENGTH**2
    assert unit_of(Dimension.FORCE / Dimension.LENGTH, IN_LB).symbol == "kip/in"
    assert unit_of(Dimension.LENGTH**4, SI).symbol == "mm⁴"
    assert unit_of(Dimension.RATIO / Dimension.LENGTH, SI).symbol == "1/mm"
    assert unit_of(Dimension.STRESS**0.5, SI).symbol == "√MPa"
    root = unit_of(Dimension.STRESS**0.5, IN_LB)
    assert root.size == pytest.approx(unit_of(Dimension.STRESS, IN_LB).size ** 0.5)


def test_brackets_keep_the_meaning():
    record = Derivation()
    difference.into(record, -5.0, 2.0, 3.0)
    text = plain_text(record, SI)
    assert "a − (b − c) + a · (b + c)² / (b · c)" in text
    assert "(−5)" in text


def test_only_what_is_written_into_a_derivation_stands_there():
    record = Derivation()
    difference.into(record, 1.0, 2.0, 3.0)
    difference(1.0, 2.0, 3.0)
    difference.into(None, 1.0, 2.0, 3.0)
    assert len(record.lines) == 1


def test_a_provision_is_printed_with_the_symbols_of_an_axis():
    record = Derivation()
    magnified.named(M_2="M_2x", M_c="M_cx").into(record, 1.0, 0.0, 1e6, 2e8)
    assert "M_cx = δ · M_2x = " in plain_text(record, SI)
    magnified.into(record, 1.0, 0.0, 1e6, 2e8)
    assert "M_c = δ · M_2 = " in plain_text(record, SI)


def test_symbols():
    assert text_symbol("f_c_prime") == "f'_c"
    assert text_symbol("epsilon_ty") == "ε_ty"
    assert text_symbol("F_s_sum") == "ΣF_s"
    assert typst_symbol("P_n,max") == 'P_"n,max"'


def test_the_in_lb_edition_prints_coherent_units():
    record = Derivation()
    strength.concrete_force.into(record, 0.85 * 4 * 6.894757, 10 * 645.16)
    text = plain_text(record, IN_LB)
    assert "3.4 · 10 = 34 kip" in text


# Each printed line of the demo, recomputed from its printed numbers.

_POWERS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")


READ = {
    "sqrt": math.sqrt,
    "sin": math.sin,
    "cos": math.cos,
    "tan": math.tan,
    "arcsin": math.asin,
    "ln": math.log,
    "π": math.pi,
    "max": max,
    "min": min,
    "interpolate": np.interp,
}


def evaluate(text: str) -> float:
    """The value of a printed expression, read as a person with a calculator would."""
    python = re.sub(r"·10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)", lambda m: f"e{m[1].translate(_POWERS)}", text)
    python = re.sub(r"([\d.]+) ?°", r"(\1·π/180)", python)
    for written, read in (
        ("\u2009", ""),
        ("−", "-"),
        ("·", "*"),
        ("²", "**2"),
        ("³", "**3"),
        ("^", "**"),
        ("√", "sqrt"),
        (";", ","),
        (", else", " else"),
        ("≥", ">="),
        ("≤", "<="),
    ):
        python = python.replace(written, read)
    return float(eval(python, {"__builtins__": {}}, READ))


def number_of(result: str) -> float:
    return evaluate(result.split(" ")[0])


UNITS = {
    "kN": 1e3,
    "kN·m": 1e6,
    "N": 1,
    "N·mm": 1,
    "MPa": 1,
    "mm": 1,
    "mm²": 1,
    "kip": 1,
    "kip·ft": 12,
    "kip·in": 1,
    "ksi": 1,
    "in": 1,
    "in²": 1,
    "in⁴": 1,
    "mm⁴": 1,
    "N·mm²": 1,
    "kN·m²": 1e9,
    "kip·in²": 1,
    "1/mm": 1,
    "1/in": 1,
}


def recompute(line: str) -> tuple[float, list[float]]:
    """The value of the printed numbers, and the printed results in coherent units."""
    body, _, _ = line.rpartition("   [")
    _, _, *steps = body.split(" = ")
    # Where nothing is put in, the formula is its own result.
    substituted, *results = steps * 2 if len(steps) == 1 else steps
    found = []
    for result in results:
        number, _, unit = result.partition(" ")
        found.append(number_of(number) * UNITS.get(unit, 1))
    return evaluate(substituted), found


def left_open(line):
    """What the six figures of its parts leave open of a sum or a difference."""
    _, _, *steps = line.rpartition("   [")[0].split(" = ")
    return 1e-5 * abs(evaluate(steps[0].replace("−", "+"))) if len(steps) > 1 else 0.0


def recompute_root(line, name):
    """What vanishes for a root, with the printed root put in: small against its parts."""
    numbers = line.rpartition("   [")[0].partition(" with the residual ")[2].rpartition(" = ")[0]
    size = evaluate(numbers.replace("−", "+"))
    # The root is printed to five figures; the equation is steep where it is close to a pole.
    assert abs(evaluate(numbers)) < 5e-3 * max(abs(size), 1.0), f"{name}: {line}"


BASES = [
    ("ACI 318-19", "recommended", "SI"),
    ("ACI 318-19", "recommended", "in-lb"),
    ("EN 1992-1-1", "recommended", "SI"),
    pytest.param("EN 1992-1-1", "UK", "SI", marks=pytest.mark.long),
]


def derivations(code, annex, units, every):
    project = tarnholm_columns()
    basis = project.basis.model_copy(update={"code": code, "annex": annex, "units": units})
    project = project.changed(basis=basis)
    for key, result in check_project(project).items():
        for check in result.shown_findings:
            yield f"{key}, {check.name}", check.derive()
        for index in range(0, len(result.proportional.ratio), every):
            yield f"{key}, demand {index}", result.derivation_of(index)


def in_other_conditions(code, annex, units, level):
    """The checks of the demo as a building of ductile frames, in the weather and in fire."""
    project = tarnholm_columns()
    frame = {"ductility": level, "frame": "moment frame"}
    values = project.basis.values
    chosen = {
        "exposure": "weather",
        "fire_rating": "2 h",
        "exposure_class": "XC4",
        "fire_class": "R 60",
        "eta_fi": 0.6,
    }
    values = values.model_copy(
        update={
            "x": values.x.model_copy(update=frame),
            "y": values.y.model_copy(update=frame),
            "options": Options(chosen),
            "lap_length": 900.0,
        }
    )
    basis = project.basis.model_copy(
        update={"code": code, "annex": annex, "units": units, "values": values}
    )
    for key, result in check_project(project.changed(basis=basis)).items():
        for check in result.findings:
            if check.topic in ("detailing", "ductility", "shear"):
                yield f"{key}, {check.name}", check.derive()


def recompute_bars(lines, name):
    """Every number of the table of bars again from its neighbours and the lines above it."""
    known = {}
    for line in lines:
        symbol, equal, value = line.partition(" = ")
        if equal:
            known.setdefault(symbol, value.split("   ")[0].rsplit(" = ", 1)[-1].split(" ")[0])
    head = next(i for i, line in enumerate(lines) if line.startswith("  bar"))
    theta = math.radians(evaluate(known["θ"].rstrip("°")))
    top = evaluate(known["t_top"])
    peak = evaluate(known.get("ε_cu") or known["ε_top"])
    axis = known.get("c") or known.get("x")
    total, count = 0.0, 0
    in_lb = "(in)" in lines[head]
    length, stress, force = (0.002, 0.012, 0.06) if in_lb else (0.15, 0.12, 0.06)
    for row in itertools.takewhile(lambda line: line.startswith("  "), lines[head + 1 :]):
        _, x, y, d, strain, f_s, sigma_c, area, found = map(
            evaluate, re.split(" +", row.strip(" "))
        )
        assert d == pytest.approx(top - x * math.cos(theta) - y * math.sin(theta), abs=length), name
        if axis is not None:
            c = evaluate(axis)
            expected = 1000 * peak * (1 - d / c)
            # The depth is printed to five figures.
            open_ = 1e-4 + 1000 * peak * (length + 5e-5 * d) / c
            assert strain == pytest.approx(expected, abs=open_), name
        size = 1.0 if in_lb else 1e-3
        tolerance = force + (abs(f_s) + sigma_c) * size * 0.06 + area * stress * size
        assert found == pytest.approx((f_s - sigma_c) * area * size, abs=tolerance), name
        total += found
        count += 1
    summed = evaluate(known["ΣF_s"])
    # Each force is printed to a tenth.
    assert total == pytest.approx(summed, abs=0.06 * max(count, 30)), name


@pytest.mark.parametrize("every", [80, pytest.param(5, marks=pytest.mark.long)])
@pytest.mark.parametrize(("code", "annex", "units"), BASES)
def test_every_printed_line_of_the_demo_can_be_recomputed(code, annex, units, every):
    count = recompute_all(derivations(code, annex, units, every), UnitSystem(units))
    assert count > 400


@pytest.mark.parametrize("level", ["medium", pytest.param("high", marks=pytest.mark.long)])
@pytest.mark.parametrize(("code", "annex", "units"), BASES)
def test_every_printed_line_of_a_ductile_building_can_be_recomputed(code, annex, units, level):
    found = in_other_conditions(code, annex, units, level)
    assert recompute_all(found, UnitSystem(units)) > 1000


def of_walls(code, annex, units, level):
    """The checks of the demo's walls: panels, coupling beams and the bearing wall."""
    project = tarnholm_archive()
    basis = project.basis.model_copy(update={"code": code, "annex": annex, "units": units})
    marks = []
    for mark in project.marks:
        if mark.wall:
            values = mark.own.y.model_copy(update={"ductility": level})
            own = mark.own.model_copy(update={"x": values, "y": values})
            mark = mark.model_copy(update={"own": own})
        marks.append(mark)
    project = project.changed(basis=basis, marks=tuple(marks))
    for key, result in check_project(project).items():
        if key not in project.column_keys:
            for check in result.shown_findings:
                yield f"{key}, {check.name}", check.derive()


@pytest.mark.parametrize(
    "level", ["high", *(pytest.param(level, marks=pytest.mark.long) for level in ("medium", "low"))]
)
@pytest.mark.parametrize(("code", "annex", "units"), BASES)
def test_every_printed_line_of_the_walls_can_be_recomputed(code, annex, units, level):
    assert recompute_all(of_walls(code, annex, units, level), UnitSystem(units)) > 3000


def recompute_all(records, system):
    """Every printed line again from its printed numbers; how many there were."""
    count = 0
    for name, record in records:
        lines = plain_text(record, system).split("\n")
        if any(isinstance(line, Table) and line.title.startswith("Bars") for line in record.lines):
            recompute_bars(lines, name)
        for line in lines:
            if not line.endswith("]"):
                continue
            if " solved by " in line:
                recompute_root(line, name)
                count += 1
                continue
            value, results = recompute(line)
            unsure = 1e-9 + left_open(line)
            for result in results:
                # Results are printed to five figures, values put in to six.
                scale = max(abs(value), abs(result))
                assert value == pytest.approx(result, abs=2e-4 * scale + unsure), f"{name}: {line}"
            count += 1
    return count


def symbols_of(record):
    return [line.symbol for line in record.lines if isinstance(line, Formula | Given)]


@pytest.mark.parametrize(("code", "annex", "units"), BASES)
def test_each_symbol_of_a_strength_stands_for_one_thing(code, annex, units):
    project = tarnholm_columns()
    basis = project.basis.model_copy(update={"code": code, "annex": annex, "units": units})
    results = check_project(project.changed(basis=basis))
    for result in results.values():
        symbols = symbols_of(result.derivation_of(result.worst_demand))
        assert len(symbols) == len(set(symbols)), symbols


def lift_under(code, demand, bars="12 D25", shape=None):
    column = make_column(shape or Rectangle(width=500, depth=700), bars)
    return check_lift(make_lift(column, code, ("U1",), np.array([[demand, demand]])))


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_pure_tension_is_written_without_a_neutral_axis(code):
    text = plain_text(lift_under(code, [-1e6, 0.0, 0.0]).derivation_of(0), SI)
    assert "every bar yields" in text
    assert "depth of the neutral axis" not in text
    # By hand: 12 D25 of 420 MPa.
    yields = 12 * math.pi * 25**2 / 4 * 420
    ratio = 1e6 / (0.9 * yields) if code is ACI_SI else 1e6 / (yields / 1.15)
    assert number_of(text.rsplit(" = ", 1)[1]) == pytest.approx(ratio, rel=1e-4)


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
@pytest.mark.parametrize("demand", [[2e6, 3e8, 0.0], [2e6, 0.0, 3e8], [8e6, -1e7, 0.0]])
def test_no_rounding_of_zero_is_printed(code, demand):
    text = plain_text(lift_under(code, demand).derivation_of(0), SI)
    for number in re.findall(r"(?:=|−|\() ?([0-9.]+(?:·10[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)?)", text):
        assert number == "0" or evaluate(number) == 0 or evaluate(number) > 1e-6, text


@pytest.mark.long
def test_what_the_engine_computes_meanwhile_is_not_recorded():
    # More sections than strengths are kept, so that each is built anew while it is explained.
    results = [
        lift_under(ACI_SI, [2e6, 3e8, 1e8], shape=Rectangle(width=500, depth=600 + step))
        for step in range(70)
    ]
    lengths = {len(result.derivation_of(0).lines) for result in results}
    assert len(lengths) == 1


def test_the_cap_is_compared_with_the_largest_axial_strength():
    text = plain_text(lift_under(ACI_SI, [9e6, 0.0, 0.0]).derivation_of(0), SI)
    assert "U = P_u / (φ_c · P_n,max) = " in text
    assert "φ_c = (0.65 for ties; 0.75 for spiral) = 0.65   [Table 21.2.2: ties]" in text
    assert "α = (0.8 for ties; 0.85 for spiral) = 0.8   [Table 22.4.2.1: ties]" in text


def test_the_derivation_ends_in_the_utilisation_that_is_shown():
    project = tarnholm_columns()
    for key, result in list(check_project(project).items())[::5]:
        for index in range(len(result.proportional.ratio)):
            last = result.derivation_of(index).lines[-1]
            assert isinstance(last, Formula), key
            # The jump where a bar enters the block leaves up to half a percent between its sides.
            assert last.result.value == pytest.approx(result.proportional.ratio[index], rel=5e-3)


def test_bars_and_block_add_up_in_the_derivation():
    column = make_column(Rectangle(width=500, depth=700), "12 D25")
    demands = np.array([[[2e6, 3e8, 1e8], [2e6, -1e8, 5e7]]])
    result = check_lift(make_lift(column, ACI_SI, ("U1",), demands))
    record = result.derivation_of(0)
    assert [type(line) for line in record.lines].count(Given) > 5
    formulas = [line for line in record.lines if isinstance(line, Formula)]
    nominal = [f for f in formulas if f.symbol in ("P_n", "M_nx", "M_ny")]
    phi = next(f for f in formulas if f.symbol == "phi").result.value
    capacity = result.proportional.capacity[0]
    np.testing.assert_allclose([f.result.value * phi for f in nominal], capacity, rtol=1e-6)


def test_typst_source_names_every_clause():
    record = Derivation()
    strength.block_stress.into(record, 35.0)
    record.given("c", 410.0, Dimension.LENGTH, "depth [by iteration]")
    record.table("Bars", (("bar", None), ("f_s", Dimension.STRESS)), [("1", 420.0)])
    source = typst_source(record, SI)
    assert "22.2.2.4.1" in source
    assert "\\[by iteration\\]" in source
    assert '$f_"s"$ (MPa)' in source
