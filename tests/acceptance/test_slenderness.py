"""Slenderness and sway of single lifts, with every intermediate value, against the cases.

The reference is a scalar calculation, one function a clause, checked by worked examples and closed
forms. Each case is a lift with the codes' own provisions; all that the case names is compared.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest

from fexro.core.actions import Actions, Profile
from fexro.core.codes import Context
from fexro.core.codes.aci318_19.code import code_aci
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.codes.aci318_19.stability import axial_capacity
from fexro.core.codes.en1992_1_1 import strength as en_strength
from fexro.core.codes.en1992_1_1.annex import ANNEXES
from fexro.core.codes.en1992_1_1.code import code_en
from fexro.core.codes.en1992_1_1.second_order import bracing_limit
from fexro.core.codes.en1992_1_1.stability import separate_checks
from fexro.core.codes.slenderness import REVERSED, SectionAbout
from fexro.core.facts import (
    Bracing,
    BracingWall,
    ColumnFacts,
    CriticalLoads,
    CrossSection,
    End,
    FramingMember,
    LiftDirection,
    Options,
    StoreyDrift,
    StoreyFacts,
)
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.members.lift import Lift, PreparedLift
from fexro.core.provisions import Derivation
from fexro.core.quantities import INCH, KIP, UnitSystem
from fexro.core.section.bars import METRIC_SIZES, Bars, Ties
from fexro.core.section.section import Section
from fexro.core.section.shapes import Circle, Rectangle
from fexro.core.strength.slices import moments_at
from fexro.core.strength.utilisation import proportional

CASES = json.loads((Path(__file__).parent / "slenderness.json").read_text())
OF_UTILISATION = ("utilisation", "utilisation_max", "governing", "simplified_biaxial")
TOLERANCE, OF_STRENGTH = 1e-3, 3e-3
AXES = ("x", "y")
COMBINATION = ("U",)


class Units:
    """The size of a case's units in N, mm and MPa."""

    def __init__(self, case):
        self.imperial = case.get("edition") == "in-lb"
        self.length = INCH if self.imperial else 1.0
        self.force = KIP if self.imperial else 1e3
        self.moment = KIP * 12 * INCH if self.imperial else 1e6
        self.stress = KIP / INCH**2 if self.imperial else 1.0
        self.stiffness = KIP * INCH**2 if self.imperial else 1e9
        self.density = 0.45359237 / 0.3048**3 if self.imperial else 1.0


def number_of(value):
    return math.inf if value == "inf" else value


def concrete_of(strength, units, density=None):
    kept = None if density is None else density * units.density
    return Concrete("concrete", strength * units.stress, kept)


def section_of(case, units):
    shape, L = case["section"], units.length
    made = (
        Circle(shape["D"] * L)
        if shape["shape"] == "circle"
        else Rectangle(shape["b"] * L, shape["h"] * L)
    )
    x, y, area = (np.array(case["bars"], dtype=float) * [L, L, L**2]).T
    bars = Bars(x, y, area, np.sqrt(4 * area / np.pi))
    ties = Ties(METRIC_SIZES["D10"], 100.0, case.get("transverse") == "spiral")
    section = Section(made.outline(), bars, ties, 40.0, shape["shape"] == "circle")
    steel = case["steel"]
    return CrossSection(
        section,
        concrete_of(case["concrete"]["strength"], units, case["concrete"].get("density")),
        ReinforcingSteel(
            "steel", steel["yield_strength"] * units.stress, steel["modulus"] * units.stress
        ),
    )


def member_of(data, units, kind):
    L = units.length
    return FramingMember(
        data["width"] * data["depth"] ** 3 / 12 * L**4,
        data["length"] * L,
        concrete_of(data["strength"], units),
        kind,
        far_end=data.get("far_end", "fixed"),
    )


def end_of(data, units):
    if "psi" in data or "k" in data:
        return End("partial", number_of(data.get("psi", data.get("k"))))
    column = data["column"] and member_of(data["column"], units, "column")
    beams = tuple(member_of(beam, units, "beam") for beam in data["beams"])
    return End("framing", column=column, beams=beams)


def direction_of(case, axis, units):
    data, L = case["directions"][axis], units.length
    ends = data["ends"]
    clear = data.get("lu", data.get("l")) * L
    given = {}
    if "top" in ends:
        given = {name: end_of(ends[name], units) for name in ("top", "bottom")}
    elif "l0_over_l" in ends:
        name = "factor" if data["braced"] or "global" in data else "factor_sway"
        given = {name: ends["l0_over_l"]}
    else:
        given = {"factor": ends["k_braced"], "factor_sway": number_of(ends.get("k_sway"))}
    sway = data.get("sway", {})
    return LiftDirection(
        storey=data["lc"] * L if "lc" in data else clear,
        clear=clear,
        # Sway along y bends about x.
        plan=1 - AXES.index(axis),
        sway="braced" if data["braced"] else "sway",
        sway_moments="analysis" if sway.get("method") == "given" else "cases",
        lasting=data.get("M0Eqp_over_M0Ed"),
        alpha_cr=data.get("global", {}).get("alpha_cr"),
        members=data.get("members", 1.0),
        moment_shape=data.get("c0"),
        moment_factor=data.get("beta"),
        **given,
    )


def options_of(case):
    given = dict(case["options"])
    given.pop("annex", None)
    if "Cm_at_minimum" in given:
        given["Cm_at_minimum"] = given["Cm_at_minimum"].replace("_", " ")
    sways = [data["sway"] for data in case["directions"].values() if "sway" in data]
    # Without a drift the sum of the loads is the only way.
    if any(sway["method"] == "sum_P" and "drift" in sway for sway in sways):
        given["magnifier"] = "ΣP"
    betas = [sway["beta_ds"] for sway in sways if "beta_ds" in sway]
    if betas:
        given["beta_ds"] = betas[0]
    if "creep" in case:
        creep = dict(case["creep"])
        given["creep"] = "given" if "phi" in creep else "Annex B"
        given |= creep
    return Options(given)


def actions_of(case, units):
    axial = case.get("Pu", case.get("NEd")) * units.force
    forces, sway = np.zeros((1, 2, 6)), np.zeros((2, 1, 2, 6))
    forces[..., 0] = axial
    span = False
    along = np.zeros((1, 3, 6))
    along[..., 0] = axial
    for number, axis in enumerate(AXES):
        data = case["directions"][axis]
        for end, name in enumerate(("top", "bottom")):
            part = data.get(f"Ms_{name}", 0.0)
            forces[0, end, 4 + number] = (data[f"M_{name}"] + part) * units.moment
            sway[1 - number, 0, end, 4 + number] = part * units.moment
        straight = forces[0, ::-1, 4 + number]
        along[0, :, 4 + number] = [straight[0], straight.mean(), straight[1]]
        if "M_span" in data:
            span = True
            along[0, 1, 4 + number] = data["M_span"] * units.moment
    lasting = case["beta_dns"] * forces if "beta_dns" in case else None
    between = Profile(np.array([0.0, 0.5, 1.0]), along) if span else None
    return Actions(COMBINATION, forces, sustained=lasting, sway=sway, between=between)


def code_of(case, units):
    if not case["code"].startswith("ACI"):
        return code_en(UnitSystem.SI, ANNEXES[case["options"]["annex"]])
    system, edition = (
        (UnitSystem.IN_LB, IN_LB_EDITION) if units.imperial else (UnitSystem.SI, SI_EDITION)
    )
    return code_aci(system, edition)


def storey_of(case, units, stability, facts, actions):
    """The storey: its drift, its vertical load, and the critical loads of its columns."""
    drifts, critical = [None, None], np.zeros((2, 1))
    known = [
        data.get("sway") or data.get("storey") or data.get("global") or {}
        for data in (case["directions"][axis] for axis in AXES)
    ]
    loads = [found.get("sum_Pu", found.get("VEd", 0.0)) * units.force for found in known]
    summed = [load for load, found in zip(loads, known, strict=True) if "like_this" in found]
    axial = max(summed or loads)
    for number, (found, load) in enumerate(zip(known, loads, strict=True)):
        plan = 1 - number
        if "drift" in found:
            # A storey has one vertical load: where the case has two, its product with the drift
            # over the shear is kept.
            shear = found.get("Vus", found.get("HEd")) * units.force * axial / load
            drifts[plan] = StoreyDrift(
                found["drift"] * units.length, shear, found["lc"] * units.length
            )
        if "like_this" in found:
            own = stability.critical(facts, actions)[plan, 0]
            critical[plan] = found["like_this"] * own + found["other_Pc"] * units.force
    return StoreyFacts(
        "storey",
        1,
        COMBINATION,
        np.array([axial]),
        np.zeros((1, 2)),
        tuple(drifts),
        find_critical=lambda: CriticalLoads(critical),
    )


def prepared_of(case):
    units = Units(case)
    code = code_of(case, units)
    about_x, about_y = (direction_of(case, axis, units) for axis in AXES)
    facts = ColumnFacts(section_of(case, units), 20.0, about_x, about_y, options_of(case))
    actions = actions_of(case, units)
    storey = storey_of(case, units, code.stability, facts, actions)
    return PreparedLift.of(Lift("C", "L", facts, code, actions, storey)), units


def sizes(units):
    """Of each expected value its size in internal units; 1 where it is a ratio."""
    L, F, M, S, B = units.length, units.force, units.moment, units.stress, units.stiffness
    return {
        **dict.fromkeys(("depth", "r", "i", "l0", "ei", "is", "d", "e2", "e0", "h0"), L),
        **dict.fromkeys(("Ag", "Ast", "Ac", "As"), L**2),
        **dict.fromkeys(("Ig", "Ise", "Ic", "Is", "I_c"), L**4),
        **dict.fromkeys(("Ec", "Ecm", "Ecd", "fcd", "fyd", "fcm"), S),
        **dict.fromkeys(("Po", "phi_Pn_max", "Pc", "Pc_sway", "sum_Pc", "NB", "NRd"), F),
        **dict.fromkeys(("buckling_x", "buckling_y", "capacity"), F),
        **dict.fromkeys(("EI_eff", "EI_eff_sway", "EI", "sum_EcdIc"), B),
        **dict.fromkeys(
            (
                *("M_top_first", "M_bottom_first", "M_top", "M_bottom", "M1", "M2", "M2_min"),
                *("Mc", "Mc_min", "M02", "M01", "M0Ed", "M_Ed", "N_e0", "M_design"),
            ),
            M,
        ),
    }


def compare(found, wanted, size, where, tolerance=TOLERANCE):
    if isinstance(wanted, str) and wanted != "inf":
        assert str(found) == wanted, where
    elif isinstance(wanted, bool):
        assert bool(found) is wanted, where
    elif wanted is None:
        assert found is None or np.isnan(float(found)), (where, found)
    elif wanted == "inf":
        assert np.isinf(float(found)), where
    else:
        value = float(np.asarray(found, dtype=float).reshape(-1)[0]) / size
        assert value == pytest.approx(wanted, rel=tolerance, abs=1e-9 if wanted == 0 else 0), where


def value_of(axis, key, prepared, number):
    """What the lift has for a key of the expected values about an axis."""
    about, values = SectionAbout(prepared.lift.facts.section, number), axis.values
    match key:
        case "Ig" | "Ic":
            return about.second_moment
        case "state":
            return axis.states[0]
        case "depth":
            return about.depth
        case "Ise" | "Is":
            return about.bars_second_moment
        case "nonsway":
            return float(values["Q"][0]) <= 0.05
        case "within_1_4":
            ratio = float(np.asarray(values["second_order_ratio"]).reshape(-1)[0])
            return None if np.isnan(ratio) else ratio <= 1.4
        case "delta_s_from" | "design_governs":
            said = np.asarray(axis.words[key]).reshape(-1)[0]
            return None if axis.unstable[0] and key == "design_governs" else said
        case "lambda":
            return values["slenderness"]
    return first_of(values[key])


def first_of(value):
    return None if value is None else np.asarray(value).reshape(-1)[0]


def test_all_cases_are_there():
    assert {case["code"] for case in CASES} == {"ACI 318-19", "EN 1992-1-1:2004"}
    assert len({case["case"] for case in CASES}) == len(CASES) >= 1


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["case"])
def test_every_value_of_the_case(case):
    prepared, units = prepared_of(case)
    second, expected, size = prepared.second_order, case["expected"], sizes(units)
    assert not second.missing
    for number, name in enumerate(AXES):
        axis = second.axes[number]
        for key, wanted in expected[name].items():
            where = f"{case['case']} {name} {key}"
            if isinstance(wanted, dict):
                pair = axis.values[key]
                for part, value in wanted.items():
                    found = first_of(pair[part])
                    if part == "governs" and axis.unstable[0]:
                        found = None
                    if part == "M01" and axis.values["transverse"]:
                        found = None
                    compare(found, value, size.get(part, 1.0), f"{where} {part}")
                continue
            compare(value_of(axis, key, prepared, number), wanted, size.get(key, 1.0), where)
    for key, wanted in expected.items():
        where = f"{case['case']} {key}"
        if key in second.values and not isinstance(wanted, dict):
            compare(first_of(second.values[key]), wanted, size.get(key, 1.0), where)
        elif key == "creep":
            for part, value in wanted.items():
                compare(second.values["creep"][part], value, size.get(part, 1.0), where)
        elif key == "state":
            compare(state_of(second), wanted, 1.0, where)
        elif key == "axial":
            found = axial_capacity(context_of(prepared))
            for part, value in wanted.items():
                compare(first_of(found[part]), value, size.get(part, 1.0), f"{where} {part}")
        elif key == "storey":
            check_bracing(case, wanted)
        elif key == "separate_checks":
            check_separate(separate_checks(second, 0), wanted, where)
        elif key == "demands":
            check_demands(prepared, wanted, units, where)
        else:
            assert key in (
                "x",
                "y",
                "utilisation",
                "utilisation_max",
                "governing",
                "simplified_biaxial",
            )
    if "utilisation" in expected:
        check_utilisation(prepared, expected, case["case"])
    if "simplified_biaxial" in expected:
        check_simplified(prepared, expected["simplified_biaxial"], case["case"])


def context_of(prepared):
    lift = prepared.lift
    return Context(lift.actions, prepared.second_order, prepared.storey, lift.code.stability)


def state_of(second):
    states = [str(axis.states[0]) for axis in second.axes]
    for worst in ("unstable storey", "unstable"):
        if worst in states:
            return worst
    ratios = [first_of(axis.values.get("second_order_ratio", 1.0)) for axis in second.axes]
    return "exceeds 1.4" if max(ratios) > 1.4 else "ok"


def applying(prepared):
    demands = prepared.demands
    return [
        (name, demands.values[0, place])
        for place, name in enumerate(demands.places)
        # Load between the ends adds stations, and what is not its own image is turned round too.
        if demands.applies[0, place] and not name.startswith("between") and REVERSED not in name
    ]


def check_demands(prepared, wanted, units, where):
    found = applying(prepared)
    assert [name for name, _ in found] == [demand["name"] for demand in wanted], where
    for (_, values), demand in zip(found, wanted, strict=True):
        for value, key, size in zip(
            values, ("P", "Mx", "My"), (units.force, units.moment, units.moment), strict=True
        ):
            compare(value, demand[key], size, f"{where} {demand['name']} {key}")


def check_utilisation(prepared, expected, where):
    rows = applying(prepared)
    found = proportional(prepared.lift.strength, np.array([values for _, values in rows])).ratio
    for value, wanted in zip(found, expected["utilisation"], strict=True):
        compare(value, wanted, 1.0, where, OF_STRENGTH)
    compare(found.max(), expected["utilisation_max"], 1.0, where, OF_STRENGTH)
    governing = [name for name, _ in rows].index(expected["governing"])
    assert found[governing] == pytest.approx(found.max(), rel=OF_STRENGTH)


def check_bracing(case, wanted):
    data = case["storey"]
    bracing = Bracing(
        tuple(BracingWall(wall["length"], wall["thickness"]) for wall in data["walls"]),
        Concrete("walls", data["strength"]),
        data["storeys"],
        data["L"],
        data["bracing"] == "cracked",
        data["FVEd"] * 1e3,
    )
    found = bracing_limit(None, bracing)
    compare(found["sum_EcdIc"], wanted["sum_EcdIc"], 1e9, case["case"])
    compare(found["k1"], wanted["k1"], 1.0, case["case"])
    compare(found["limit"], wanted["limit"], 1e3, case["case"])
    assert (bracing.axial <= found["limit"]) is wanted["neglected"]


def check_separate(found, wanted, where):
    for key, value in wanted.items():
        if isinstance(value, dict):
            check_separate(found[key], value, f"{where} {key}")
        else:
            compare(found[key], value, 1.0, f"{where} {key}")


def check_simplified(prepared, wanted, where):
    lift = prepared.lift
    strength, rows = lift.strength, dict(applying(prepared))
    axial = rows["imperfection x"][0]
    units = [np.array([1.0, 0.0]), np.array([0.0, 1.0])]
    about_x, about_y = moments_at(strength, np.array([axial, axial]), units)
    compare(about_x, wanted["MRd_x"], 1e6, where, OF_STRENGTH)
    compare(about_y, wanted["MRd_y"], 1e6, where, OF_STRENGTH)
    n = en_strength.axial_share(axial, prepared.second_order.values["NRd"])
    a = 2.0 if lift.facts.section.round else en_strength.biaxial_exponent(n)
    compare(a, wanted["a"], 1.0, where)
    for name in ("imperfection x", "imperfection y"):
        _, moment_x, moment_y = rows[name]
        found = en_strength.biaxial_ratio(abs(moment_x), about_x, abs(moment_y), about_y, a)
        compare(found, wanted[name], 1.0, where, OF_STRENGTH)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["case"])
def test_derivation_ends_in_the_same_moments(case):
    """What is printed runs through the same steps with plain numbers."""
    prepared, _ = prepared_of(case)
    lift = prepared.lift
    record = Derivation()
    lift.code.stability.explain_axes(record, lift.facts, prepared.storey, lift.actions, 0)
    assert record.lines
