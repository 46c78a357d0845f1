"""Ties, shear, laps and ductile detailing of single lifts, with every value, against the cases.

The reference is a scalar calculation, one function a clause, checked by hand. Each case is a lift
with the codes' own provisions; all that the case names is compared.
"""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from fexro.core.codes.aci318_19 import special_frames
from fexro.core.codes.aci318_19.detailing import least_clear_spacing
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.codes.aci318_19.intermediate_frames import (
    hoop_zone,
    intermediate_design_shear,
    shear_of_moments,
)
from fexro.core.codes.aci318_19.lap_splices import Lapped, lap_splice
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.shear import one_way_shear, two_directions
from fexro.core.codes.aci318_19.ties import spiral_limits, tie_limits
from fexro.core.codes.en1992_1_1 import anchorage, materials
from fexro.core.codes.en1992_1_1.annex import ANNEXES
from fexro.core.codes.en1992_1_1.code import HELD
from fexro.core.codes.en1992_1_1.detailing import least_clear_spacing as least_clear_spacing_en
from fexro.core.codes.en1992_1_1.links import link_limits
from fexro.core.codes.en1992_1_1.shear import (
    ShearOptions,
    ShearWeb,
    combined_ratio,
    shear,
    shear_web,
)
from fexro.core.codes.en1998_1.columns import Seismic, capacity_shear, ductile_column
from fexro.core.facts import CrossSection
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import INCH, KIP
from fexro.core.section.bars import Bars, BarSize, Ties
from fexro.core.section.section import Section
from fexro.core.section.shapes import Circle, Rectangle
from fexro.core.section.ties import HeldRule, unheld_bars
from fexro.core.transverse import Transverse

CASES = json.loads((Path(__file__).parent / "detailing.json").read_text())
TOLERANCE = 1e-3
ACI = [case for case in CASES if case["code"].startswith("ACI")]
EN = [case for case in CASES if case["code"].startswith("EN")]
AXES = ("x", "y")


class Units:
    """The size of a case's units in N, mm and MPa."""

    def __init__(self, case):
        imperial = case.get("edition") == "in-lb"
        self.edition = IN_LB_EDITION if imperial else SI_EDITION
        self.length = INCH if imperial else 1.0
        self.area = self.length**2
        self.force = KIP if imperial else 1e3
        self.moment = KIP * 12 * INCH if imperial else 1e6
        self.stress = KIP / INCH**2 if imperial else 1.0


def concrete_of(case, units):
    """The concrete, light ones by the density at which a lift would have their λ."""
    strength, lam = case["concrete"]["strength"], case["concrete"].get("lambda", 1.0)
    if lam == 1.0:
        return Concrete("concrete", strength * units.stress)
    unit, _ = units.edition.density_unit
    return Concrete("concrete", strength * units.stress, lam / units.edition.light[2] * unit)


def cross_of(case, units):
    shape, L = case["section"], units.length
    made = (
        Circle(shape["D"] * L)
        if shape["shape"] == "circle"
        else Rectangle(shape["b"] * L, shape["h"] * L)
    )
    x, y, area, diameter = (np.array(case["bars"]) * [L, L, units.area, L]).T
    ties = case["ties"]
    size = BarSize(str(ties["size"]), ties["db"] * L, ties["area"] * units.area)
    section = Section(
        made.outline(),
        Bars(x, y, area, diameter),
        Ties(size, ties["spacing"]["middle"] * L, case["transverse"] == "spiral"),
        case["cover"] * L,
        shape["shape"] == "circle",
    )
    steel = case["steel"]
    return CrossSection(
        section,
        concrete_of(case, units),
        ReinforcingSteel(
            "steel", steel["yield_strength"] * units.stress, steel["modulus"] * units.stress
        ),
    )


def transverse_of(case, cross, units):
    ties, L = case["ties"], units.length
    legs = ties["legs"] or {"x": [0, 0], "y": [0, 0]}
    spacing = {zone: value * L for zone, value in ties["spacing"].items()}
    kind = {"links": "ties", "circular links": "circular ties"}.get(
        case["transverse"], case["transverse"]
    )
    first = ties.get("first")
    return Transverse(
        kind,
        cross.section.ties.size,
        case["tie_steel"]["yield_strength"] * units.stress,
        legs=(float(len(legs["x"])), float(len(legs["y"]))),
        held=tuple(case["held"]),
        first=None if first is None else first * L,
        **spacing,
    )


def lapped_of(case, units):
    lap, L = case["lap"], units.length
    return Lapped(
        lap["db"] * L,
        case["steel"]["yield_strength"] * units.stress,
        lap["clear_cover"] * L,
        lap["clear_spacing"] * L,
        lap["cb"] * L,
        lap["pitch"] * L,
        lap["Atr"] * units.area,
        lap["n"],
        lap["fs"] * units.stress,
        percent=lap["percent"],
        staggered=lap["staggered"],
        confined=lap["confined"],
        coated=lap["coating"] == "epoxy",
        over_fresh_concrete=lap["over_fresh_concrete"],
    )


def plain(value):
    """A number, word or list as the case writes it."""
    if isinstance(value, np.ndarray | np.generic):
        value = value.reshape(-1)[0].item() if np.size(value) == 1 else value.tolist()
    return None if isinstance(value, float) and math.isnan(value) else value


def compare(found, wanted, where):
    """All that the case names is there and the same."""
    if isinstance(wanted, dict):
        missing = sorted(set(wanted) - set(found))
        assert not missing, (where, missing)
        for key, value in wanted.items():
            compare(found[key], value, f"{where} {key}")
    elif isinstance(wanted, list):
        assert len(found) == len(wanted), (where, found)
        for number, (one, other) in enumerate(zip(found, wanted, strict=True)):
            compare(one, other, f"{where} {number}")
    elif wanted is None or isinstance(wanted, bool | str):
        assert plain(found) == wanted, (where, found)
    else:
        value = plain(found)
        exact = isinstance(wanted, int) or wanted == 0
        assert value is not None, where
        assert value == pytest.approx(wanted, rel=TOLERANCE, abs=1e-9 if exact else 0), where


def clear_spacing(cross, units, least):
    clear, larger = cross.section.bars.pairs()
    i, j = divmod(int(clear.argmin()), len(clear))
    limit = float(least(larger[i, j]))
    return {
        "clear": clear[i, j] / units.length,
        "limit": limit / units.length,
        "ok": bool(clear[i, j] >= limit),
    }


def shear_values(one, units, at=0):
    """What the case calls the values of shear along an axis."""
    L, F, A = units.length, units.force, units.area

    def of(value):
        return np.broadcast_to(value, np.shape(one.ratio)).reshape(-1)[at]

    return {
        "bw": one.width / L,
        "d": one.depth / L,
        "As_t": one.tension_area / A,
        "rho_w": one.tension_ratio,
        "sqrt_fc_limited": one.root_limited,
        "fyt": one.tie_yield / units.stress,
        "Av": one.tie_area / A,
        "Av_min": of(one.least_ties) / A,
        "minimum_ties": bool(of(one.enough_ties)),
        "lambda_s": one.size_factor,
        "N_term_raw": of(one.axial) / units.stress,
        "N_term": of(one.axial_limited) / units.stress,
        "Vc_a": of(one.concrete_a) / F,
        "Vc_b": of(one.concrete_b) / F,
        "Vc_c": of(one.concrete_c) / F,
        "Vc_cap": one.largest_concrete / F,
        "Vc": of(one.concrete) / F,
        "Vs_provided": of(one.ties_there) / F,
        "Vs_max": one.largest_ties / F,
        "Vs": of(one.ties) / F,
        "phi_Vn": of(one.strength) / F,
        "ties_needed": bool(of(one.needs_ties)),
        "Vs_required": of(one.required) / F,
        "s_max": of(one.largest_spacing) / L,
        "s_ok": bool(of(one.close_enough)) if of(one.needs_ties) else None,
        "section_ok": bool(of(one.large_enough)),
        "ratio": of(one.ratio),
        "ok": bool(of(one.satisfied)),
    }


def aci_shear(case, edition, cross, transverse, units):
    """Shear of all demands at once, as the product does it."""
    demands, F = case["demands"], units.force
    N = np.array([demand["N"] for demand in demands]) * F
    V = np.array([[demand["Vx"], demand["Vy"]] for demand in demands]).T * F
    s = np.array([transverse.spacing(demand["zone"]) for demand in demands])
    found = [{"name": demand["name"]} for demand in demands]
    if cross.section.round:
        resultant = np.hypot(*V)
        one = one_way_shear(None, edition, cross, transverse, 0, (N, resultant, s))
        for at, values in enumerate(found):
            values["V"] = resultant[at] / F
            values["resultant"] = shear_values(one, units, at)
            values["utilisation"] = one.ratio[at]
        return found
    x, y = (
        one_way_shear(None, edition, cross, transverse, axis, (N, V[axis], s)) for axis in (0, 1)
    )
    both = two_directions(None, x.ratio, y.ratio)
    for at, values in enumerate(found):
        values["x"], values["y"] = shear_values(x, units, at), shear_values(y, units, at)
        values["biaxial"] = {
            "ratio_x": x.ratio[at],
            "ratio_y": y.ratio[at],
            "neglected": bool(both.neglected[at]),
            "sum": both.sum[at],
            "utilisation": both.utilisation[at],
            "ok": bool(both.utilisation[at] <= 1),
        }
        values["utilisation"] = both.utilisation[at]
    return found


def aci_held(case, edition, cross, units):
    rule = HeldRule("25.7.2.3", edition.held_distance, clear=True, both=True, alternate=True)
    unheld = unheld_bars(cross.section, case["held"], rule)
    L = units.length
    violations = [one for one in unheld if one.reasons]
    return {
        "limit": rule.distance / L,
        "unheld": [
            {"bar": one.bar, "clear_before": one.before / L, "clear_after": one.after / L}
            for one in unheld
        ],
        "violations": [{"bar": one.bar, "reasons": list(one.reasons)} for one in violations],
        "ok": not violations,
    }


def aci_ties(case, edition, cross, transverse, units):
    L = units.length
    limits = tie_limits(None, edition, cross, transverse, case["aggregate"] * L)
    return {
        "size_min": limits.least_size / L,
        "size_ok": limits.size_enough,
        "s_16db": limits.by_bars / L,
        "s_48dt": limits.by_ties / L,
        "s_dimension": limits.by_section / L,
        "s_max": limits.largest / L,
        "s_min": limits.least / L,
        "spacing_ok": limits.allowed(transverse),
        "first_max": limits.first / L,
        "first_ok": limits.first_enough,
    }


def aci_spiral(case, edition, cross, transverse, units):
    L = units.length
    limits = spiral_limits(None, edition, cross, transverse, case["aggregate"] * L)
    return {
        "Dch": limits.core_diameter / L,
        "Ach": limits.core_area / units.area,
        "fyt": limits.yield_strength / units.stress,
        "rho_s": limits.ratio,
        "rho_s_min": limits.least_ratio,
        "rho_ok": limits.enough,
        "pitch_max_rho": limits.largest_pitch / L,
        "clear": limits.clear / L,
        "clear_min": limits.least_clear / L,
        "clear_max": limits.largest_clear / L,
        "clear_ok": limits.clear_allowed,
        "size_ok": limits.size_enough,
    }


def aci_laps(case, edition, cross, transverse, units):
    L, A = units.length, units.area
    lap = lap_splice(
        None,
        edition,
        cross.section,
        (cross.concrete.strength, lightness(None, edition, cross.concrete)),
        lapped_of(case, units),
        transverse,
    )
    d, reduction = lap.development, lap.reduction
    need, have = reduction.need or (None, None), reduction.have or (None, None)
    areas = {
        **{f"need_{axis}": value and value / A for axis, value in zip(AXES, need, strict=True)},
        **{f"have_{axis}": value and value / A for axis, value in zip(AXES, have, strict=True)},
    }
    return {
        "tension": {
            "psi_t": d.cast,
            "psi_e": d.coating,
            "psi_te": d.cast_and_coating,
            "psi_s": d.size,
            "psi_g": d.grade,
            "Ktr": d.transverse_index / L,
            "confinement_raw": d.confinement_there,
            "confinement": d.confinement,
            "ld_raw": d.before_least / L,
            "ld": d.tension / L,
            "Ktr_min": d.least_index and d.least_index / L,
            "Ktr_ok": d.index_enough,
        },
        "compression": {
            "psi_r": d.confining,
            "ldc_a": d.compression_a / L,
            "ldc_b": d.compression_b / L,
            "ldc": d.compression / L,
        },
        "tie_reduction": {**areas, "factor": reduction.factor},
        "tension_lap": {"class": lap.tension_class, "lap": lap.tension / L},
        "compression_lap": {
            "base": lap.compression_base / L,
            "low_strength_factor": lap.low_strength,
            "lsc": lap.compression_unreduced / L,
            "reduction": reduction.factor,
            "lap": lap.compression / L,
            "allowed": lap.allowed,
        },
        "kind": lap.kind,
        "lap": lap.length / L,
        "lap_allowed": lap.allowed,
    }


def strength_of(case, edition, cross, transverse, units, axis, axial, shear, **options):
    one = one_way_shear(
        None,
        edition,
        cross,
        transverse,
        0 if cross.section.round else axis,
        (axial, shear, transverse.at_ends),
        **options,
    )
    return shear_values(one, units)


def aci_intermediate(case, edition, cross, transverse, units):
    L, F, M = units.length, units.force, units.moment
    clear = case["storey"]["clear"] * L
    zone = hoop_zone(None, edition, cross, transverse, clear)
    found = {
        "lo": zone.length / L,
        "s_bar": zone.by_bars / L,
        "s_absolute": zone.by_grade / L,
        "s_half_dimension": zone.by_section / L,
        "s_max": zone.largest / L,
        "s_ok": zone.close_enough,
        "first_max": zone.first / L,
        "first_ok": zone.first_enough,
        "shear": {},
    }
    for axis, name in enumerate(AXES):
        given = case["ductile"]["shear"].get(name)
        if given is None:
            continue
        moments = shear_of_moments(given["Mn_top"] * M, given["Mn_bottom"] * M, clear)
        design = intermediate_design_shear(moments, given["V_omega"] * F, given["V_analysis"] * F)
        found["shear"][name] = {
            "V_moments": moments / F,
            "V_omega": given["V_omega"],
            "V_design": design / F,
            "strength": strength_of(
                case, edition, cross, transverse, units, axis, given["Pu"] * F, design
            ),
        }
    return found


def aci_special(case, edition, cross, transverse, units):
    L, F, A = units.length, units.force, units.area
    given = case["ductile"]
    clear, axial = case["storey"]["clear"] * L, given["Pu"] * F
    zone = special_frames.confinement_zone(None, edition, cross, transverse, clear, axial)
    amount = special_frames.confinement(
        None, edition, cross, transverse, axial, demanding=zone.demanding
    )
    held = zone.held_spacing is not None
    found = {
        "least_dimension_ok": zone.wide_enough,
        "aspect": zone.aspect,
        "aspect_ok": zone.square_enough,
        "rho": zone.ratio,
        "rho_ok": zone.ratio_allowed,
        "bars_ok": zone.bars_enough,
        "lo": zone.length / L,
        "P_ratio": zone.axial_ratio,
        "demanding": zone.demanding,
        "hx": zone.held_spacing / L if held else None,
        "hx_limit": zone.held_limit / L if held else None,
        "hx_ok": zone.held_enough,
        "all_held": zone.all_held,
        "s_quarter": zone.by_section / L,
        "s_bar": zone.by_bars / L,
        "so": zone.by_held_bars / L,
        "s_max": zone.largest / L,
        "s_ok": zone.close_enough,
        "fyt": amount.yield_strength / units.stress,
        "Ach": amount.core_area / A,
        "kf": amount.strength_factor,
        "nl": amount.held_bars,
        "kn": amount.held_factor,
        "amount_ok": amount.enough,
        "s_outside_max": zone.largest_outside / L,
        "s_outside_ok": zone.close_enough_outside,
        "strong_column": {},
        "shear": {},
    }
    ratios = (amount.by_spalling, amount.by_strength, amount.by_axial)
    if transverse.circular:
        found |= zip(("rho_s_d", "rho_s_e", "rho_s_f"), ratios, strict=True)
        found |= {
            "Dch": amount.core_diameter / L,
            "rho_s_required": amount.required,
            "rho_s": amount.volume_ratio,
        }
    else:
        found |= zip(("Ash_a", "Ash_b", "Ash_c"), ratios, strict=True)
        found["Ash_over_s_bc"] = amount.required
        for name, leg in zip(AXES, amount.legs, strict=True):
            found[f"legs_{name}"] = {
                "bc": leg.core / L,
                "Ash": leg.there / A,
                "Ash_required": leg.required / A,
                "s_max_amount": leg.largest_spacing / L,
                "ok": leg.enough,
            }
    for name, joint in given["joints"].items():
        strong = special_frames.strong_column(
            None,
            cross,
            [m * units.moment for m in joint["Mnc"]],
            [m * units.moment for m in joint["Mnb"]],
            ends=joint["discontinuous"],
            axial=joint["Pu"] * F,
        )
        found["strong_column"][name] = {
            "sum_Mnc": strong.columns / units.moment,
            "sum_Mnb": strong.beams / units.moment,
            "ratio": strong.ratio,
            "exempt": strong.exempt,
            "ok": strong.satisfied,
        }
    for axis, name in enumerate(AXES):
        if name in given["shear"]:
            found["shear"][name] = probable(case, edition, cross, transverse, units, axis)
    if "lap" in case:
        needed = special_frames.bond_length(
            lap_splice(
                None,
                edition,
                cross.section,
                (cross.concrete.strength, lightness(None, edition, cross.concrete)),
                lapped_of(case, units),
                transverse,
            ).development.tension
        )
        found["bond_18_7_4_3"] = {
            "ld_1_25": needed / L,
            "half_clear": clear / 2 / L,
            "ok": bool(needed <= clear / 2),
        }
    else:
        found["bond_18_7_4_3"] = None
    return found


def probable(case, edition, cross, transverse, units, axis):
    F, M = units.force, units.moment
    given = case["ductile"]["shear"][AXES[axis]]
    beams = [
        None if (sum_ := given[f"beams_{end}"]) is None else (sum_ * M, given[f"share_{end}"])
        for end in ("top", "bottom")
    ]
    shear = special_frames.shear_of_probable_moments(
        None,
        cross,
        case["storey"]["clear"] * units.length,
        (given["Mpr_top"] * M, given["Mpr_bottom"] * M),
        tuple(beams),
        given["V_analysis"] * F,
        given["Pu_min"] * F,
    )
    return {
        "V_columns": shear.columns / F,
        "M_top": shear.top / M,
        "M_bottom": shear.bottom / M,
        "V_capped": shear.capped / F,
        "Ve": shear.design / F,
        "Vc_zero": shear.without_concrete,
        "strength": strength_of(
            case,
            edition,
            cross,
            transverse,
            units,
            axis,
            given["Pu_min"] * F,
            shear.design,
            without_concrete=shear.without_concrete,
        ),
    }


@pytest.mark.parametrize("case", ACI, ids=lambda case: case["case"])
def test_every_value_of_a_case_to_aci(case):
    units = Units(case)
    edition = units.edition
    cross = cross_of(case, units)
    transverse = transverse_of(case, cross, units)
    given = (case, edition, cross, transverse, units)

    def least(diameter):
        aggregate = case["aggregate"] * units.length
        return least_clear_spacing(edition.least_spacing, diameter, aggregate)

    found = {
        "Ag": cross.section.outline.area / units.area,
        "clear_spacing": clear_spacing(cross, units, least),
        "shear": aci_shear(*given),
    }
    if transverse.spiral:
        found["spiral"] = aci_spiral(*given)
    else:
        found["ties"] = aci_ties(*given)
    if not cross.section.round:
        found["held"] = aci_held(case, edition, cross, units)
    if "lap" in case:
        found["laps"] = aci_laps(*given)
    if "ductile" in case:
        frame = case["ductile"]["frame"]
        found["ductile"] = (aci_special if frame == "special" else aci_intermediate)(*given)
    compare(found, case["expected"], case["case"])


@pytest.mark.parametrize(
    ("unit", "edition", "density", "lam"),
    [("SI", SI_EDITION, 1840.0, 0.8648), ("in-lb", IN_LB_EDITION, 110.0, 0.825)],
)
def test_light_concrete_carries_less_shear_by_its_factor(unit, edition, density, lam):
    """λ by hand: 0.00047 · 1840 and 0.0075 · 110 (19.2.4.1); it multiplies √f'c, not Nu/6Ag."""
    case = next(case for case in ACI if case["edition"] == unit)
    units = Units(case)
    normal = cross_of(case, units)
    light = replace(
        normal,
        concrete=Concrete("light", normal.concrete.strength, density * edition.density_unit[0]),
    )
    transverse = transverse_of(case, normal, units)
    one, other = (
        one_way_shear(None, edition, cross, transverse, 0, (0.0, 1e5, transverse.middle))
        for cross in (normal, light)
    )
    for name in ("concrete_a", "concrete_b", "concrete_c", "largest_concrete"):
        assert getattr(other, name) == pytest.approx(lam * getattr(one, name), rel=1e-9)
    assert other.ties == one.ties


def en_options(case):
    given = case["options"]
    strut = given["cot_theta"]
    best = strut == "optimised"
    return ShearOptions(
        "best slope" if best else "given slope",
        1.0 if best else strut,
        alpha_cw="gain" if given["alpha_cw"] == "gain" else "level",
        nu1=given["nu1"],
        biaxial=given["biaxial"],
    )


def en_shear_values(one, at):
    def of(value):
        return np.broadcast_to(value, np.shape(one.ratio)).reshape(-1)[at]

    return {
        "bw": one.web.width,
        "d": one.web.depth,
        "z": one.web.arm,
        "Asl": one.web.tension_area,
        "fck_shear": one.strength,
        "fcd_shear": one.design_strength,
        "k": one.size_factor,
        "rho_l_raw": one.ratio_there,
        "rho_l": one.tension_ratio,
        "sigma_cp_raw": of(one.axial),
        "sigma_cp": of(one.axial_limited),
        "v_min": one.least_stress,
        "VRd_c_a": of(one.by_bars) / 1e3,
        "VRd_c_min": of(one.least) / 1e3,
        "VRd_c": of(one.concrete) / 1e3,
        "links_needed": bool(of(one.links_needed)),
        "Asw": one.link_area,
        "nu1": one.strut_factor,
        "fywd": one.link_strength,
        "alpha_cw": of(one.chord_factor),
        "cot_theta_max": of(one.flattest_allowed),
        "cot_theta": of(one.strut),
        "VRd_s": of(one.links) / 1e3,
        "VRd_max": of(one.struts) / 1e3,
        "VRd_links": min(of(one.links), of(one.struts)) / 1e3,
        "VRd": of(one.resistance) / 1e3,
        "ratio": of(one.ratio),
        "crushed": bool(of(one.crushed)),
        "cot_flattest": of(one.flattest),
        "Asw_s_required": of(one.required),
        "dFtd": of(one.chord_tension) / 1e3,
        "ok": bool(of(one.ratio) <= 1),
    }


def en_shear(case, annex, cross, transverse):
    demands, options = case["demands"], en_options(case)
    N = np.array([demand["N"] for demand in demands]) * 1e3
    V = np.array([[demand["Vx"], demand["Vy"]] for demand in demands]).T * 1e3
    s = np.array([transverse.spacing(demand["zone"]) for demand in demands])
    found = [{"name": demand["name"]} for demand in demands]
    if "circle" in case:
        given = case["circle"]
        web = ShearWeb(given["bw"], given["d"], given["z"], given["Asl"], given["link_efficiency"])
        resultant = np.hypot(*V)
        one = shear(None, annex, options, cross, transverse, 0, web, (N, resultant, s))
        for at, values in enumerate(found):
            values["V"] = resultant[at] / 1e3
            values["resultant"] = en_shear_values(one, at)
            values["utilisation"] = one.ratio[at]
            values["ok"] = bool(one.ratio[at] <= 1)
        return found
    both = []
    for axis, name in enumerate(AXES):
        arm = case["options"]["z"][name]
        web = shear_web(cross, axis)
        if arm != "0.9d":
            web = replace(web, arm=arm)
        both.append(shear(None, annex, options, cross, transverse, axis, web, (N, V[axis], s)))
    combined = combined_ratio(None, options, both[0].ratio, both[1].ratio)
    for at, values in enumerate(found):
        for one, name in zip(both, AXES, strict=True):
            values[name] = en_shear_values(one, at)
        values["combined"] = combined[at]
        values["utilisation"] = max(combined[at], both[0].ratio[at], both[1].ratio[at])
        values["ok"] = bool(values["utilisation"] <= 1)
    return found


def en_links(cross, transverse):
    limits = link_limits(None, cross, transverse)
    return {
        "size_min": limits.least_size,
        "size_ok": limits.size_enough,
        "s_20phi": limits.by_bars,
        "s_dimension": limits.by_section,
        "s_absolute": 400.0,
        "s_max": limits.largest,
        "s_max_end": limits.at_ends,
        "end_length": limits.end_length,
        "s_max_lap": limits.at_laps,
        "spacing_ok": limits.allowed(transverse),
    }


def en_held(case, cross):
    unheld = unheld_bars(cross.section, case["held"], HELD)
    violations = [one for one in unheld if one.reasons]
    return {
        "limit": HELD.distance,
        "unheld": [{"bar": one.bar, "distance": one.nearer} for one in unheld],
        "violations": [{"bar": one.bar, "reasons": list(one.reasons)} for one in violations],
        "ok": not violations,
    }


def en_alphas(alphas):
    return {
        "cd": alphas.cover,
        "sum_Ast_min": alphas.least_transverse,
        "lambda": alphas.share,
        "alpha1": alphas.shape,
        "alpha2": alphas.by_cover,
        "alpha3": alphas.by_transverse,
        "alpha4": alphas.welded,
        "alpha5": alphas.pressure,
        "alpha235": alphas.together,
    }


def en_laps(case, annex, cross, transverse):
    given = case["lap"]
    lapped = anchorage.Lapped(
        given["phi"],
        given["sigma_sd"],
        given["a"],
        given["c1"],
        given["c"],
        given["sum_Ast"],
        given["K"],
        given["rho1"],
        gap=given["gap"],
        link_area=given["link_area"],
        pressure=given["p"],
        good=given["good"],
        bent=given["shape"] == "bent",
        welded=given["welded"],
        tension=given["tension"],
    )
    lap = anchorage.lap(None, annex, cross, lapped, transverse.spacing("lap"))
    bond, steel = lap.bond, lap.transverse
    return {
        "bond": {
            "fctm": bond.mean_tensile,
            "fctk_005": bond.low_tensile,
            "fctd": bond.design_tensile,
            "eta1": bond.position,
            "eta2": bond.size,
            "fbd": bond.strength,
        },
        "lb_rqd": lap.basic,
        "anchorage": en_alphas(lap.anchorage.alphas)
        | {"lb_min": lap.anchorage.least, "lbd": lap.anchorage.length},
        "lap_alphas": en_alphas(lap.alphas),
        "alpha6": lap.share,
        "l0_raw": lap.before_least,
        "l0_min": lap.least,
        "l0": lap.length,
        "lap": lap.with_gap,
        "transverse": {
            "needed": steel.needed,
            "sum_Ast": steel.total,
            "each_end": steel.each_end,
            "end_length": steel.end_length,
            "links_each_end": steel.links,
            "outside_within": steel.outside,
        },
        "large_bar": lap.large_bar,
        "three_links_ok": lap.three_links,
    }


def en_ductile(case, annex, cross, transverse):
    given, clear = case["ductile"], case["storey"]["clear"]
    f_cd = float(
        materials.concrete_design_strength(
            cross.concrete.strength, case["alpha_cc"], case["gamma_c"]
        )
    )
    f_yd = cross.steel.yield_strength / case["gamma_s"]
    f_ywd = transverse.yield_strength / case["gamma_s"]
    seismic = Seismic(
        given["class"],
        given["base"],
        given["NEd"] * 1e3,
        given["q0"],
        given["q"],
        given["T1"],
        given["TC"],
        given["steel_class"],
    )
    column = ductile_column(None, cross, transverse, seismic, clear, (f_cd, f_yd, f_ywd))
    found = {
        "fcd": f_cd,
        "nu_d": column.axial_ratio,
        "nu_d_max": column.largest_axial,
        "nu_d_ok": column.axial_ratio <= column.largest_axial,
        "rho_l": column.ratio,
        "rho_l_ok": column.ratio_allowed,
        "intermediate_ok": column.between_corners,
        "lcr": column.length,
        "whole_critical": column.whole,
        "bo": column.core[0],
        "ho": column.core[1],
        "sum_bi2": column.squares,
        "alpha_n": column.of_bars,
        "alpha_s": column.of_spacing,
        "alpha": column.effect,
        "s_core": column.by_core,
        "s_absolute": column.by_class,
        "s_bar": column.by_bars,
        "s_max": column.largest,
        "s_ok": column.close_enough,
        "link_min": column.least_hoop,
        "link_ok": column.hoop_enough,
        "held_max": column.held,
        "held_limit": column.held_limit,
        "held_ok": column.held_enough,
        "volumetric_ratio": column.volume_ratio,
        "omega_wd": column.mechanical_ratio,
        "mu_phi": column.ductility,
        "eps_sy_d": column.yield_strain,
        "bc_over_bo": column.width_ratio,
        "alpha_omega_required": column.required,
        "alpha_omega": column.confinement,
        "omega_wd_min": column.least_mechanical,
        "en1992_suffices": column.light,
        "omega_wd_required": column.required_mechanical,
        "confinement_ok": column.confined,
        "lap_s_max": column.lap_spacing,
        "lap_Ast": column.lap_hoops,
        "capacity": {},
    }
    for name, ends in given["capacity"].items():
        capacity = capacity_shear(
            None,
            given["class"],
            clear,
            *(
                (
                    [m * 1e6 for m in ends[end]["MRc"]],
                    [m * 1e6 for m in ends[end]["MRb"]],
                    ends[end]["top_storey"],
                )
                for end in ("top", "bottom")
            ),
        )
        found["capacity"][name] = {
            "gamma_Rd": capacity.overstrength,
            "V_Ed": capacity.shear / 1e3,
        } | {
            end: {
                "sum_MRc": one.columns / 1e6,
                "sum_MRb": one.beams / 1e6,
                "ratio": one.ratio,
                "exempt": one.exempt,
                "ok": one.satisfied,
                "M_d": one.moment / 1e6,
            }
            for end, one in (("top", capacity.top), ("bottom", capacity.bottom))
        }
    return found


@pytest.mark.parametrize("case", EN, ids=lambda case: case["case"])
def test_every_value_of_a_case_to_en(case):
    units = Units(case)
    annex = replace(ANNEXES[case["annex"]], gamma_c=case["gamma_c"], gamma_s=case["gamma_s"])
    cross = cross_of(case, units)
    transverse = transverse_of(case, cross, units)

    def least(diameter):
        return least_clear_spacing_en(
            annex.spacing_factor, diameter, case["aggregate"], annex.spacing_margin
        )

    found = {
        "Ac": cross.section.outline.area,
        "clear_spacing": clear_spacing(cross, units, least),
        "links": en_links(cross, transverse),
        "shear": en_shear(case, annex, cross, transverse),
    }
    if not cross.section.round:
        found["held"] = en_held(case, cross)
    if "lap" in case:
        found["laps"] = en_laps(case, annex, cross, transverse)
    if "ductile" in case:
        found["ductile"] = en_ductile(case, annex, cross, transverse)
    compare(found, case["expected"], case["case"])


def test_all_cases_are_there():
    assert len(ACI) + len(EN) == len(CASES) >= 1
    assert len({case["case"] for case in CASES}) == len(CASES)
