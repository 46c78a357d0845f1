"""The acceptance cases of walls, from a plain scalar reference checked by hand."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
import pytest

from fexro.core.codes.aci318_19.bearing_walls import (
    ConcentratedLoad,
    effective_lengths,
    simplified_wall,
    slender_wall,
)
from fexro.core.codes.aci318_19.boundary_elements import (
    BoundaryElement,
    by_displacement,
    by_stress,
    element_limits,
    end_ties,
)
from fexro.core.codes.aci318_19.code import code_aci
from fexro.core.codes.aci318_19.coupling_beams import (
    DiagonalBars,
    beam_kind,
    diagonal_beam,
    frame_beam,
    pier_kind,
)
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.codes.aci318_19.materials import concrete_modulus
from fexro.core.codes.aci318_19.special_walls import (
    Segment,
    design_shear,
    effective_flange,
    flange_limit,
    special_bars,
    special_shear,
)
from fexro.core.codes.aci318_19.wall_bars import WallMesh, least_thickness, wall_bars
from fexro.core.codes.aci318_19.wall_magnifier import WallStiffness, magnified_wall
from fexro.core.codes.aci318_19.wall_shear import largest_of_wall, wall_shear
from fexro.core.codes.en1992_1_1.anchorage import (
    design_tensile_strength,
    low_tensile_strength,
    mean_tensile_strength,
)
from fexro.core.codes.en1992_1_1.annex import ANNEXES, Annex
from fexro.core.codes.en1992_1_1.code import code_en
from fexro.core.codes.en1992_1_1.plain_walls import ALPHA_PLAIN, plain_wall
from fexro.core.codes.en1992_1_1.wall_shear import joint_shear
from fexro.core.codes.en1992_1_1.wall_shear import wall_shear as wall_shear_en
from fexro.core.codes.en1992_1_1.walls import VerticalBars, is_wall
from fexro.core.codes.en1992_1_1.walls import wall_bars as wall_bars_en
from fexro.core.codes.en1998_1.wall_shear import (
    coupled_beam,
    shear_aspect,
    shear_envelope,
    web_bars,
)
from fexro.core.codes.en1998_1.walls import WallElement, WallSeismic, ductile_wall
from fexro.core.facts import CrossSection
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import KIP, UnitSystem
from fexro.core.section.bars import METRIC_SIZES, Bars, Ties
from fexro.core.section.curtains import curtain_places, nearest
from fexro.core.section.section import Section
from fexro.core.section.shapes import Leg, Legs
from fexro.core.sizing.curtains import required_ratio
from fexro.core.strength.utilisation import proportional
from fexro.core.strips import Strip, StripLoad, StripStorey, strip_forces

CASES = json.loads((Path(__file__).parent / "walls.json").read_text())
TOLERANCE, OF_STEEL = 1e-3, 5e-3
OPTIONS = {"standard": "nu", "reduced stress": "0.8fywk", "default": "level", "gain": "gain"}


@dataclass(frozen=True)
class Units:
    """What numbers of a case are multiplied by: N, mm, MPa."""

    length: float
    force: float
    moment: float
    stress: float
    edition: object

    @property
    def area(self):
        return self.length**2

    @property
    def line(self):
        """Line loads: kN/m, kip/ft."""
        return 1.0 if self.length == 1.0 else KIP / (12 * 25.4)


SI = Units(1.0, 1e3, 1e6, 1.0, SI_EDITION)
IN_LB = Units(25.4, KIP, KIP * 12 * 25.4, KIP / 25.4**2, IN_LB_EDITION)


def units_of(case):
    return IN_LB if case.get("edition") == "in-lb" else SI


def plain(value):
    """A number, word or list as the case writes it."""
    if isinstance(value, np.ndarray | np.generic):
        value = value.item() if np.size(value) == 1 else value.tolist()
    return None if isinstance(value, float) and math.isnan(value) else value


def compare(found, wanted, where, tolerance):
    """All that the case names is there and the same."""
    if isinstance(wanted, dict):
        missing = sorted(set(wanted) - set(found))
        assert not missing, (where, missing)
        for key, value in wanted.items():
            compare(found[key], value, f"{where} {key}", tolerance)
    elif isinstance(wanted, list):
        assert len(found) == len(wanted), (where, found)
        for number, (one, other) in enumerate(zip(found, wanted, strict=True)):
            compare(one, other, f"{where} {number}", tolerance)
    elif wanted is None or isinstance(wanted, bool | str):
        assert plain(found) == wanted, (where, found)
    else:
        value = plain(found)
        assert type(value) in (int, float), where
        near = 1e-9 if wanted == 0 else 0.0
        assert value == pytest.approx(wanted, rel=tolerance, abs=near), where


# ---- ACI 318-19 ----------------------------------------------------------------------------------


def aci_minimum(given, u):
    L, S, F = u.length, u.stress, u.force
    kind = given["kind"] if given["kind"] in ("bearing", "nonbearing") else "basement"
    found = wall_bars(
        None,
        u.edition,
        (given["h"] * L, given["lw"] * L, given["hw"] * L),
        (given["fc"] * S, given["lambda"]),
        WallMesh(
            given["making"],
            "bars" if given["reinforcement"] == "bars" else "wire",
            given["small_bars"],
            given["fy"] * S,
        ),
        given["rho_t"],
        given["Vu"] * F,
        kind=kind,
        unsupported=min(given["unsupported_length"], given["unsupported_height"]) * L,
        one_curtain=given["exception"] is not None,
    )
    return {
        "Acv": found.web / u.area,
        "alpha_c": found.concrete_factor / float(u.edition.walls.slender) * base_of(u),
        "low_shear_limit": found.low_limit / F,
        "low_shear": found.low,
        "phi_Vc": found.concrete / F,
        "shear_bars_needed": found.needed,
        "rho_t_for_strength": found.for_strength,
        "rho_l_formula": found.by_height,
        "rho_l_min": found.least_vertical,
        "rho_t_min": found.least_horizontal,
        "rho_t_required": found.required_horizontal,
        "rho_l_ok": given["rho_l"] >= found.least_vertical,
        "rho_t_ok": given["rho_t"] >= found.required_horizontal,
        "s_vertical_max": found.vertical_spacing / L,
        "s_horizontal_max": found.horizontal_spacing / L,
        "two_curtains": found.two_curtains,
        "h_min": found.least_thickness / L,
        "h_ok": given["h"] * L >= found.least_thickness,
    }


def base_of(u):
    """αc of slender walls as the edition writes it: 0.17 and 2."""
    return 0.17 if u is SI else 2.0


def root(value, u):
    """A factor of √f'c as the edition writes it."""
    return value / float(u.edition.walls.slender) * base_of(u)


def aci_shear(given, u):
    L, S, F = u.length, u.stress, u.force
    found = wall_shear(
        None,
        u.edition,
        (given["bw"] * L, given["lw"] * L, given["hw"] / given["lw"]),
        (given["fc"] * S, given["lambda"]),
        (given["rho_t"], given["fyt"] * S),
        (np.array(given["Nu"] * F), np.array(given["Vu"] * F)),
    )
    return {
        "Acv": found.web / u.area,
        "hw_lw": found.aspect,
        "alpha_c_no_tension": root(found.without_tension, u),
        "alpha_c": root(float(found.concrete_factor), u),
        "fyt_used": found.yield_strength / S,
        "Vc": found.concrete / F,
        "Vs": found.bars / F,
        "Vn_uncapped": found.uncapped / F,
        "Vn_max": found.largest / F,
        "Vn": found.strength / F,
        "phi": 0.75,
        "phi_Vn": 0.75 * found.strength / F,
        "utilisation": found.ratio,
        "cap_governs": bool(found.uncapped > found.largest),
        "adequate": bool(found.ratio <= 1),
    }


def aci_special_shear(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    area = sum(one["bw"] * one["lw"] for one in given["segments"]) * u.area
    V, moment = given["Vu"] * F, given["Mu"] * M
    bars = special_bars(
        None,
        u.edition,
        (area, given["lw"] * L, given["hw"] * L),
        (given["fc"] * S, given["lambda"], given["fy"] * S),
        (V, moment),
        single_section=given["single_critical_section"],
    )
    design = design_shear(
        None,
        u.edition,
        (given["lw"] * L, given["hwcs"] * L, given["stories"]),
        (V, moment, given["Mpr"] * M),
    )
    shear = special_shear(
        None,
        u.edition,
        (given["fc"] * S, given["lambda"]),
        [
            Segment(
                *(one["bw"] * L, one["lw"] * L),
                max(given["hw"] / given["lw"], one["hw"] / one["lw"]),
                *(one["rho_t"], given["fyt"] * S),
                one["share"] * design.shear,
                one.get("Nu", 0.0) * F,
            )
            for one in given["segments"]
        ],
        design.shear,
    )
    return {
        "Acv": area / u.area,
        "hwcs_lw": design.aspect,
        "ns": design.storeys,
        "Omega_v": design.overstrength,
        "omega_v": design.dynamic,
        "product": design.overstrength * design.dynamic,
        "amplification": design.amplification,
        "Ve": design.shear / F,
        "reduction_limit": bars.low_limit / F,
        "rho_reduction_permitted": bars.low,
        "rho_l_min": bars.least,
        "rho_t_min": bars.least,
        "curtain_limit": bars.curtain_limit / F,
        "two_curtains": bars.two_curtains,
        "rho_l_at_least_rho_t": bars.vertical_not_less,
        "s_max": float(u.edition.walls.spacing) / L,
        "rho_end_min": bars.end_ratio,
        "end_length": bars.end_length and bars.end_length / L,
        "end_extent": bars.end_extent and bars.end_extent / L,
        "segments": [
            {
                "Acw": one.web / u.area,
                "hw_lw_used": one.aspect,
                "alpha_c": root(float(one.concrete_factor), u),
                "Vn_uncapped": one.uncapped / F,
                "Vn_cap": one.largest / F,
                "Vn": one.strength / F,
                "Ve": part["share"] * design.shear / F,
                "utilisation": one.ratio,
                "rho_t_for_strength": one.for_strength,
            }
            for one, part in zip(shear.segments, given["segments"], strict=True)
        ],
        "sum_Vn": shear.sum / F,
        "group_cap": shear.cap / F,
        "Vn": shear.strength / F,
        "phi": 0.75,
        "group_utilisation": shear.ratio,
        "utilisation_max": shear.worst,
    }


def element_values(given, u, length):
    """What the case calls the limits of a boundary element, and whether it meets them."""
    L, S = u.length, u.stress
    one = given["element"]
    built = BoundaryElement(
        one.get("length", length / L) * L,
        *(one[name] * L for name in ("b", "hu", "hx", "db", "s")),
        one["fyt"] * S,
        (one["bc"][0] * L, one["bc"][1] * L),
    )
    found = element_limits(
        None,
        u.edition,
        (given["lw"] * L, given["hw"] * L),
        given["c"] * L,
        (given["fc"] * S, given["fy"] * S),
        built,
        single_section=given["single_critical_section"],
    )
    return {
        "length": found.length / L,
        "length_built": built.length / L,
        "length_ok": built.length >= found.length,
        "b_min": found.width / L,
        "b_300_rule": found.wide,
        "b_ok": built.width >= found.width,
        "hx_max": found.held / L,
        "hx_ok": built.held <= found.held,
        "hoop_overlap_min": found.overlap / L,
        "hoop_length_max": found.longest / L,
        "s_limits": {
            "least_dimension_third": found.by_section / L,
            "db_18_7_5_3": found.by_bars / L,
            "so": found.by_held / L,
            "table_18_10_6_5b": found.by_ties / L,
        },
        "s_max": found.spacing / L,
        "s_ok": built.spacing <= found.spacing,
        "Ag": found.area / u.area,
        "Ach": found.core / u.area,
        "Ag_Ach": found.area / found.core,
        "factor_area": found.by_spalling,
        "factor_min": found.by_strength,
        "Ash_over_s_bc": found.amount,
        "Ash": [leg / u.area for leg in found.legs],
    }


def aci_boundary_displacement(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    one = given.get("element") or {}
    found = by_displacement(
        None,
        u.edition,
        (given["bw"] * L, given["lw"] * L, given["hwcs"] * L),
        given["c"] * L,
        given["delta_u"] * L,
        given["fc"] * S,
        (given["Vu"] * F, given["Ve"] * F, given["Mu"] * M),
        one["b"] * L if one else None,
    )
    values = {
        "hwcs_lw": found.aspect,
        "drift_raw": found.drift_raw,
        "drift": found.drift,
        "demand": found.demand,
        "trigger": found.trigger,
        "c_trigger": found.depth_limit / L,
        "needed": found.needed,
    }
    if not found.needed:
        return values
    stable = one["b"] * L >= found.stable_width if one else False
    values |= {
        "length": found.length / L,
        "extent": found.extent / L,
        "b_root": found.stable_width and found.stable_width / L,
        "b_root_ok": stable,
        "shear_term": found.shear_term,
        "drift_capacity_raw": found.capacity_raw,
        "drift_capacity": found.capacity,
        "drift_capacity_ok": found.capable,
        "width_or_drift_ok": stable or found.capable,
    }
    return values | (element_values(given, u, found.length) if one else {})


def aci_boundary_stress(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    length = given["lw"] * L
    found = by_stress(
        None,
        (given["bw"] * L * length, length),
        given["fc"] * S,
        (np.array(given["Pu"]) * F, np.array(given["Mu_combinations"]) * M),
    )
    values = {
        "A": found.area / u.area,
        "S": found.modulus / L**3,
        "stresses": list(found.stresses / S),
        "stress": found.largest / S,
        "start_limit": found.start / S,
        "stop_limit": found.stop / S,
        "needed": found.needed,
    }
    if not found.needed:
        return values
    along = max(given["c"] - 0.1 * given["lw"], given["c"] / 2)
    return values | {"length": along} | element_values(given, u, along * L)


def aci_no_boundary_element(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    found = end_ties(
        None,
        u.edition,
        (given["bw"] * L, given["lw"] * L),
        given["c"] * L,
        (given["fc"] * S, given["lambda"], given["fy"] * S),
        (given["Vu"] * F, given["Mu"] * M),
        (given["rho_boundary"], given["db"] * L),
    )
    return {
        "rho_limit": found.limit,
        "ties_needed": found.needed,
        "length": found.length / L,
        "extent_critical": found.extent / L,
        "s_critical": found.near / L,
        "s_elsewhere": found.elsewhere / L,
        "hook_limit": found.hook_limit / F,
        "hooks_needed": found.hooks,
    }


def aci_effective_flange(given, u):
    limit = float(flange_limit(given["height_above"]))
    halves = [math.inf if d is None else d / 2 for d in given["distance_to_next_web"]]
    used = [
        float(effective_flange(projection, half, limit))
        for projection, half in zip(given["flange_projection"], halves, strict=True)
    ]
    return {
        "quarter_height": limit,
        "limit_each_side": [min(limit, half) for half in halves],
        "used_each_side": used,
        "effective_width": given["bw"] + sum(used),
    }


def aci_coupling_beam(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    bw, h = given["bw"] * L, given["h"] * L
    fc, fy, V = given["fc"] * S, given["fy"] * S, given["Vu"] * F
    kind, limit = beam_kind(None, u.edition, (bw, h, given["ln"] * L), (fc, given["lambda"]), V)
    cap = largest_of_wall(u.edition.walls.largest_segment, fc, bw * h)
    values = {
        "Acw": bw * h / u.area,
        "ln_h": given["ln"] / given["h"],
        "diagonal_limit": limit / F,
        "category": kind,
        "Vn_cap": float(cap) / F,
    }
    if one := given.get("diagonal"):
        groups = one["confinement"] == "groups"
        bars = DiagonalBars(
            one["Avd"] * u.area,
            one["db"] * L,
            math.radians(one["alpha"]),
            "groups" if groups else "section",
            one["cover"] * L,
            one["fyt"] * S,
            one["s"] * L,
            (one["cage"][0] * L, one["cage"][1] * L) if groups else None,
            (one.get("hx") or 0.0) * L,
        )
        found = diagonal_beam(None, u.edition, (bw, h), (fc, fy), bars, V)
        more = found.confined
        values |= {
            "Vn_diagonals": found.of_bars / F,
            "Vn": found.strength / F,
            "phi": 0.85,
            "phi_Vn": found.design / F,
            "utilisation": found.ratio,
            "Avd_required": found.required / u.area,
            "cage_min": more.cage and [size / L for size in more.cage],
            "cage_ok": groups and all(a >= b for a, b in zip(bars.cage, more.cage, strict=True)),
            "so": more.by_held and more.by_held / L,
            "s_max": more.spacing / L,
            "leg_spacing_max": more.legs_apart / L,
            "skin_per_spacing": more.skin and more.skin / L,
            "skin_spacing_max": more.skin_apart and more.skin_apart / L,
            "confinement_Ag": more.area / u.area,
            "confinement_Ach": more.core / u.area,
            "Ag_Ach": more.area / more.core,
            "factor_area": more.by_spalling,
            "factor_min": more.by_strength,
            "Ash_over_s_bc": more.amount,
            "Ash": [leg / u.area for leg in more.legs],
            "s_ok": bars.spacing <= more.spacing,
        }
        if not groups:
            values["cage_ok"] = None
    if one := given.get("frame"):
        found = frame_beam(
            None,
            u.edition,
            (h, given["d"] * L, given["ln"] * L),
            (fc, fy),
            one["db"] * L,
            (one["Mpr1"] * M, one["Mpr2"] * M, one["Vg"] * F),
        )
        values |= {
            "bw_min": found.width / L,
            "rho_min": found.least_ratio,
            "rho_max": found.largest_ratio,
            "hoop_length": found.hoop_length / L,
            "s_hoops": found.hoops / L,
            "s_elsewhere": found.elsewhere / L,
            "Ve": found.shear / F,
        }
    return values


def aci_wall_pier(given, u):
    L, walls = u.length, u.edition.walls
    kind = pier_kind((given["bw"] * L, given["lw"] * L, given["hw"] * L))
    alternative = kind.endswith("alternative")
    return {
        "hw_lw": given["hw"] / given["lw"],
        "lw_bw": given["lw"] / given["bw"],
        "class": kind,
        "hoop_spacing_max": float(walls.pier_hoops) / L if alternative else None,
        "hoop_extension": float(walls.pier_beyond) / L if alternative else None,
    }


def aci_strip(given, u):
    L, F, M, line = u.length, u.force, u.moment, u.line
    h, width = given["h"] * L, given["width"] * L
    E = float(concrete_modulus(given["fc"] * u.stress, u.edition.modulus))
    gross = width * h**3 / 12
    # Densities are kN/m³ and kip/ft³; the weight is per length of height.
    density = given["unit_weight"] * (1e-6 if u is SI else KIP / (12 * 25.4) ** 3)
    curtains = given["curtains"]
    steel = curtains["As_total"] * u.area * (curtains["distance"] * L) ** 2
    if curtains["number"] == 1:
        steel = 0.0
    stiffness = {"uncracked": 0.70, "cracked": 0.35}[given["stiffness"]] * E * gross
    parapet = given.get("parapet") or {"height": 0.0, "w": 0.0}
    strip = Strip(
        tuple(
            StripStorey(
                one["lc"] * L,
                one["w"] * line,
                tuple(StripLoad(p["D"] * F, p["L"] * F, p["e"] * L) for p in one["loads"]),
            )
            for one in given["storeys"]
        ),
        density * h * width,
        parapet["height"] * L,
        parapet["w"] * line,
    )
    factors = np.array([[c["D"], c["L"], c["W"]] for c in given["combinations"]])
    found = strip_forces(strip, factors)
    values = {
        "Ec": E / u.stress,
        "Ig": gross / L**4,
        "EI_analysis": stiffness / (1e9 if u is SI else KIP * L**2),
        "weight": strip.weight / line,
        "Ise": steel / L**4,
        "r": h / math.sqrt(12) / L,
        "combinations": {},
    }
    of = WallStiffness(E, gross, 200_000 if u is SI else 29_000 * u.stress, steel, given["EI"])
    for c, combination in enumerate(given["combinations"]):
        storeys = []
        for forces in found:
            place, zero = forces.largest_place[c], forces.zero_shear[c]
            at = 0.0 if given["axial_for_magnifier"] == "base" else place
            one = magnified_wall(
                None,
                u.edition,
                (h, forces.height),
                of,
                (
                    float(forces.axial(at)[c]),
                    float(forces.dead(at)[c]),
                    float(forces.moment(place)[c]),
                ),
            )
            storeys.append(strip_values(forces, c, place, zero, one, stiffness, u))
        values["combinations"][combination["name"]] = {
            "storeys": storeys,
            "Mt": found[-1].top[c] / M,
            "M_floor_below": found[0].top[c] / M,
            "M_floor_above": found[-1].bottom[c] / M,
        }
    return values


def strip_values(forces, c, place, zero, one, stiffness, u):
    L, F, M = u.length, u.force, u.moment
    between = not math.isnan(zero)
    return {
        "M_bottom": forces.bottom[c] / M,
        "M_top": forces.top[c] / M,
        "stations": [
            {
                "x": x / L,
                "N": forces.axial(x)[c] / F,
                "V": forces.shear(x)[c] / F,
                "M": forces.moment(x)[c] / M,
                "deflection": forces.deflection(x, stiffness)[c] / L,
            }
            for x in np.linspace(0, forces.height, 5)
        ],
        "x_zero_shear": zero / L if between else None,
        "M_zero_shear": forces.moment(zero)[c] / M if between else None,
        "x_max": place / L,
        "M_max": forces.moment(place)[c] / M,
        "N_at_max": forces.axial(place)[c] / F,
        "Pu": one.axial / F,
        "slenderness": one.slenderness,
        "limit": one.limit,
        "slender": one.state != "short",
        "beta_dns": one.sustained,
        "EI_eff": one.stiffness and one.stiffness / (1e9 if u is SI else KIP * L**2),
        "Pc": one.critical and one.critical / F,
        "buckling_ratio": one.buckling,
        "M2_min": one.least and one.least / M,
        "M2_min_governs": one.least_governs,
        "state": one.state,
        "Cm": 1.0,
        "delta": one.magnifier,
        "Mc": one.moment and one.moment / M,
        "second_order_ratio": one.growth,
        "within_1_4": one.within,
    }


def aci_slender(given, u):
    L, S, F, M = u.length, u.stress, u.force, u.moment
    E = float(concrete_modulus(given["fc"] * S, u.edition.modulus))
    found = slender_wall(
        None,
        u.edition,
        tuple(given[name] * L for name in ("h", "d", "width", "lc")),
        (
            *(given["fc"] * S, given["lambda"], E, given["fy"] * S),
            200_000 if u is SI else 29_000 * S,
        ),
        given["As"] * u.area,
        (given["Pu"] * F, given["Mua"] * M),
        (given["Ps"] * F, given["Msa"] * M),
    )
    return {
        "Ec": found.modulus / S,
        "n": found.modular,
        "Ase": found.steel / u.area,
        "a": found.block / L,
        "c": found.depth / L,
        "Icr": found.cracked / L**4,
        "eps_t": found.strain,
        "tension_controlled": found.tension_controlled,
        "phi": found.phi,
        "Mn": found.strength / M,
        "phi_Mn": found.design / M,
        "Ig": found.gross / L**4,
        "fr": found.rupture / S,
        "Mcr": found.cracking / M,
        "phi_Mn_above_Mcr": found.above_cracking,
        "Pu_limit": found.axial_limit / F,
        "Pu_ok": found.light,
        "P_delta_ratio": found.axial_effect,
        "state": "ok" if found.moment is not None else "unstable",
        "Mu": found.moment and found.moment / M,
        "Delta_u": found.deflection and found.deflection / L,
        "utilisation": found.ratio,
        "Delta_cr": found.cracking_deflection / L,
        "Delta_n": found.strength_deflection / L,
        "Ma": found.service_moment and found.service_moment / M,
        "Delta_s": found.service_deflection and found.service_deflection / L,
        "service_branch": "uncracked" if found.uncracked_in_service else "cracked",
        "Delta_limit": found.deflection_limit / L,
        "deflection_ok": found.stiff,
    }


def aci_simplified(given, u):
    L, F, M = u.length, u.force, u.moment
    size = tuple(given[name] * L for name in ("h", "width", "lc"))
    found = simplified_wall(
        None,
        size,
        given["fc"] * u.stress,
        given["restraint"],
        (given["Pu"] * F, given["Mu"] * M),
    )
    walls, unsupported = u.edition.walls, min(given["unsupported_length"], given["lc"]) * L
    least = least_thickness("bearing", unsupported, walls.least_thickness, walls.least_basement)
    return {
        "Ag": size[0] * size[1] / u.area,
        "k": found.factor,
        "eccentricity": found.eccentricity / L,
        "middle_third": found.inside,
        "bracket": found.bracket,
        "applicable": found.applicable,
        "Pn": found.strength / F,
        "phi_Pn": found.design / F,
        "utilisation": found.ratio,
        "h_min": float(least) / L,
    }


def aci_concentrated_load(given, u):
    L, F = u.length, u.force
    loads = [
        ConcentratedLoad(one["x"] * L, one["bearing"] * L, one["P"] * F) for one in given["loads"]
    ]
    edges = given["edges"][0] * L, given["edges"][1] * L
    both = {
        name: effective_lengths(
            None, loads, edges, given["h"] * L, given["lc"] * L, slender=slender
        )
        for name, slender in (("effective", False), ("slender_mid", True))
    }
    return {
        "loads": [
            {
                name: {
                    "uncut": spread[number].uncut / L,
                    "from": spread[number].start / L,
                    "to": spread[number].end / L,
                    "length": spread[number].length / L,
                    "load_per_length": spread[number].per_length / u.line,
                }
                for name, spread in both.items()
            }
            for number in range(len(loads))
        ]
    }


# ---- EN 1992-1-1 and EN 1998-1 -------------------------------------------------------------------


def en_minimum(given, annex):
    bars = VerticalBars(
        *(given["As_v"], given["phi_v"], given["cover"], given["mesh"]),
        *(given["vertical_outermost"], given["at_laps"]),
    )
    found = wall_bars_en(None, (given["h"], given["lw"]), bars)
    horizontal = found.least_horizontal * given["h"] * 1000
    return {
        "Ac": found.area,
        "is_wall": is_wall(given["lw"], given["h"]),
        "rho_v": found.ratio,
        "As_v_min": found.least,
        "As_v_max": found.largest,
        "half_per_face": found.least / 2,
        "v_ok": found.least <= given["As_v"] <= found.largest,
        "s_v_max": found.vertical_spacing,
        "As_h_min_ratio": found.least_horizontal,
        "As_h_min_per_m": horizontal,
        "s_h_max": found.horizontal_spacing,
        "h_ok": given["As_h_per_m"] >= horizontal,
        "links_9_5_3": found.linked,
        "s_links_max": found.link_spacing,
        "phi_links_min": found.link_size,
        "links_per_m2": found.links_per_area,
    }


def en_shear(given, annex):
    found = wall_shear_en(
        None,
        annex,
        (given["bw"], given["lw"], given["d"]),
        (given["fck"], given["fywk"]),
        (given["Asl"], given["Asw_s"]),
        (np.array(given["NEd"] * 1e3), np.array(given["VEd"] * 1e3)),
        (OPTIONS[given["nu1"]], OPTIONS[given["alpha_cw"]]),
    )
    return {
        "fcd": found.design_strength,
        "z": found.arm,
        "sigma_cp_raw": found.mean_stress,
        "sigma_cp": found.axial_stress,
        "k": found.size_factor,
        "rho_l": found.tension_ratio,
        "v1": found.bar_stress,
        "vmin": found.least_stress,
        "VRd_c": found.concrete / 1e3,
        "shear_bars_needed": bool(found.needs_bars),
        "fywd": found.link_strength,
        "nu1": found.strut_factor,
        "alpha_cw": found.chord_factor,
        "VRd_max_45": found.steepest / 1e3,
        "crushing": bool(found.crushing),
        "cot_limit": found.flattest,
        "cot": found.strut,
        "VRd_s": found.links / 1e3,
        "VRd_max": found.struts / 1e3,
        "VRd": found.resistance / 1e3,
        "utilisation": found.ratio,
        "Asw_s_required": found.required,
        "delta_Ftd": found.tension / 1e3,
    }


def en_joint(given, annex):
    found = joint_shear(
        None,
        annex,
        (given["bw"], given["lw"]),
        (given["fck"], given["fyk"]),
        given["surface"],
        (given["As"], math.radians(given["alpha"])),
        (np.array(given["NEd"] * 1e3), np.array(given["VEd"] * 1e3)),
        given["beta"],
    )
    uncapped = found.of_cohesion + found.of_friction + found.of_steel
    return {
        "fcd": found.design_strength,
        "fctd": found.tensile,
        "fyd": found.yield_strength,
        "z": found.arm,
        "vEdi": found.stress,
        "sigma_n_raw": found.normal_raw,
        "sigma_n": found.normal,
        "c": found.cohesion,
        "mu": found.friction,
        "rho": found.ratio_across,
        "cohesion": found.of_cohesion,
        "friction": found.of_friction,
        "steel": found.of_steel,
        "nu": found.strut_factor,
        "cap": found.largest,
        "cap_governs": bool(uncapped > found.largest),
        "vRdi": found.resistance,
        "utilisation": found.ratio,
    }


def en_plain_wall(given, annex):
    found = plain_wall(
        None,
        (given["h"], given["lw"], given["b"], given["width"]),
        (given["fck"], ALPHA_PLAIN[annex.name], annex.gamma_c),
        given["support"],
        (given["NEd"] * 1e3, given["e0"]),
        monolithic=given["monolithic"],
    )
    return {
        "beta": found.factor,
        "l0": found.length,
        "lambda": found.slenderness,
        "lambda_ok": found.stocky,
        "h_ok": found.thick,
        "fcd_pl": found.strength,
        "ei": found.imperfection,
        "e_tot": found.eccentricity,
        "Phi_formula": found.by_formula,
        "Phi_cap": found.largest,
        "Phi": found.buckling,
        "NRd": found.resistance / 1e3,
        "NRd_section": found.of_section / 1e3,
        "utilisation": given["NEd"] * 1e3 / found.resistance if found.resistance else None,
    }


def en_boundary_element(given, annex):
    one = given["element"]
    found = ductile_wall(
        None,
        (given["bw"], given["lw"], given["hw"], given["hs"]),
        (
            *(annex.alpha_cc * given["fck"] / annex.gamma_c, given["fyk"] / annex.gamma_s),
            *(given["fywk"] / annex.gamma_s, 200_000.0),
        ),
        given["rho_v"],
        given["NEd"] * 1e3,
        WallSeismic(
            given["ductility"],
            given["storeys"],
            given["q0"],
            (given["MEd"] * 1e6, given["MRd"] * 1e6),
            *(given["T1"], given["TC"], given["steel_class"], given["q_reduced"]),
        ),
        WallElement(
            *(one["bc"], one["bo"], one["ho"], one["bi"], one["s"], one["omega_wd"], one["dbL"])
        ),
    )
    return {
        "fcd": annex.alpha_cc * given["fck"] / annex.gamma_c,
        "fyd": given["fyk"] / annex.gamma_s,
        "nu_d": found.axial,
        "nu_limit": found.largest_axial,
        "nu_ok": found.axial <= found.largest_axial,
        "hcr": found.height,
        "bwo_min": found.web,
        "q0_used": found.behaviour,
        "mu_phi": found.ductility,
        "eps_syd": found.yield_strain,
        "omega_v": found.vertical,
        "xu": found.depth,
        "alpha_omega_required": found.required,
        "alpha_n": found.of_bars,
        "alpha_s": found.of_spacing,
        "alpha": found.effect,
        "omega_min": found.least_mechanical,
        "omega_required": found.required_mechanical,
        "alpha_omega": found.confinement,
        "omega_ok": found.confined,
        "hoop_volume_ratio_required": found.volume_ratio,
        "eps_cu2c": found.strain,
        "lc_formula": found.by_strain,
        "lc_min": found.least_length,
        "lc": found.length,
        "b_min": found.width,
        "b_ok": given["bw"] >= found.width,
        "s_max": found.spacing,
        "held_max": found.held,
        "rho_boundary_min": found.least_boundary,
        "en1992_links_suffice": found.light,
    }


def en_shear_envelope(given, annex):
    found = shear_envelope(
        None,
        given["ductility"],
        (given["lw"], given["hw"]),
        given["q"],
        (given["MEd"] * 1e6, given["MRd"] * 1e6),
        (given["Se_TC"], given["Se_T1"]),
        np.array(given["V"]) * [1.0, 1e3],
        np.array(given["heights"]),
        dual=given["dual"],
    )
    values = {
        "hw_lw": found.aspect,
        "slender": found.slender,
        "term_strength": found.strength,
        "term_spectrum": found.spectrum,
        "epsilon_raw": found.raw,
        "epsilon": found.factor,
        "V_base": found.base / 1e3,
        "envelope": [
            {"height": height, "V_analysis": before / 1e3, "VEd": shear / 1e3}
            for height, before, shear in zip(
                found.heights, found.analysed, found.shear, strict=True
            )
        ],
        "V_third": found.third and found.third / 1e3,
        "V_top": found.top and found.top / 1e3,
    }
    if given["ductility"] == "DCH":
        aspect = float(shear_aspect(given["MEd"] * 1e6, found.base, given["lw"]))
        needed = web_bars(
            *(found.base, given["VRd_c"] * 1e3, given["fyk"] / annex.gamma_s, given["bwo"]),
            *(aspect, given["lw"]),
        )
        values |= {
            "alpha_s": aspect,
            "web_rule": "6.2.3" if aspect >= 2 else "5.5.3.4.3",
            "rho_h_required": float(needed),
        }
    return values


def en_coupling_beam(given, annex):
    f_ctk = low_tensile_strength(mean_tensile_strength(given["fck"]))
    f_ctd = float(design_tensile_strength(f_ctk, annex.gamma_c))
    found = coupled_beam(
        None,
        (given["bw"], given["h"], given["d"], given["l"]),
        (f_ctd, given["fyk"] / annex.gamma_s),
        (given["Asi"], math.radians(given["alpha"])),
        given["VEd"] * 1e3,
    )
    return {
        "fctd": f_ctd,
        "V_limit": found.limit / 1e3,
        "l_h": found.aspect,
        "as_beam": found.as_beam,
        "VRd_diagonals": found.resistance / 1e3,
        "utilisation": found.ratio,
        "Asi_required": found.required,
        "cage_min": found.cage,
    }


# ---- required steel, both codes ------------------------------------------------------------------


def wall_of(given):
    """The legs and the places of the bars as the case lays them out."""
    length, t, cover = given["length"], given["thickness"], given["cover"]
    if given["shape"] == "rectangle":
        legs = Legs((Leg(0, 0, 0, length, t),))
    else:
        tf, flange = given["flange_thickness"], given["flange"]
        low, high = tf / 2, length - tf / 2
        legs = Legs(
            (
                Leg(t / 2, low, flange, low, tf),
                Leg(t / 2, high, flange, high, tf),
                Leg(t / 2, low, t / 2, high, t),
            )
        )
    points = []
    for number, leg in enumerate(legs.legs):
        (along,) = curtain_places(legs, number, cover, given["spacing"], nearest)
        for place in along:
            for side in (-1, 1):
                aside = side * (leg.thickness / 2 - cover) * leg.normal
                points.append(leg.start + place * leg.direction + aside)
    return legs, np.array(points)


def required_steel(case):
    given = case["input"]
    if case["code"] == "ACI 318-19":
        code = code_aci(UnitSystem.SI, replace(SI_EDITION, largest_squash_yield=math.inf))
    else:
        code = code_en(UnitSystem.SI, Annex("of the case", **given["options"]))
    legs, points = wall_of(given)
    outline = legs.outline()
    steel = ReinforcingSteel("steel", given["fy"], 200_000.0)
    concrete = Concrete("concrete", given["strength"])
    demand = np.array([[given["N"] * 1e3, given["Mx"] * 1e6, given["My"] * 1e6]])

    def ratio_with(rho):
        area = np.full(len(points), rho * outline.area / len(points))
        bars = Bars(points[:, 0], points[:, 1], area, np.sqrt(4 * area / math.pi))
        section = Section(outline, bars, Ties(METRIC_SIZES["D10"], 200.0), given["cover"])
        strength = code.strength.of(CrossSection(section, concrete, steel))
        return float(proportional(strength, demand).ratio[0])

    found = required_ratio(ratio_with)
    rho = found.ratio
    return {
        "Ag": outline.area,
        "bars": len(points),
        "utilisation_at_0.0025": found.ratios[0],
        "utilisation_at_0.04": found.ratios[-1],
        "adequate_above": not found.gaps,
        "rho": rho,
        "governed_by": "not enough at 0.04"
        if rho is None
        else ("minimum" if rho <= 0.0025 else "ray"),
        "As": None if rho is None else rho * outline.area,
        "utilisation": None if rho is None else ratio_with(rho),
    }


ACI = {
    "minimum": aci_minimum,
    "shear": aci_shear,
    "special shear": aci_special_shear,
    "boundary displacement": aci_boundary_displacement,
    "boundary stress": aci_boundary_stress,
    "no boundary element": aci_no_boundary_element,
    "effective flange": aci_effective_flange,
    "coupling beam": aci_coupling_beam,
    "wall pier": aci_wall_pier,
    "strip": aci_strip,
    "slender": aci_slender,
    "simplified": aci_simplified,
    "concentrated load": aci_concentrated_load,
}
EN = {
    "minimum": en_minimum,
    "shear": en_shear,
    "joint": en_joint,
    "plain wall": en_plain_wall,
    "boundary element": en_boundary_element,
    "shear envelope": en_shear_envelope,
    "coupling beam": en_coupling_beam,
}


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["case"])
def test_walls_meet_the_reference(case):
    topic = case["topic"]
    if topic == "required steel":
        found, tolerance = required_steel(case), OF_STEEL
    elif case["code"] == "ACI 318-19":
        found, tolerance = ACI[topic](case["input"], units_of(case)), TOLERANCE
    else:
        found, tolerance = EN[topic](case["input"], ANNEXES[case["annex"]]), TOLERANCE
    compare(found, case["expected"], case["case"], tolerance)
