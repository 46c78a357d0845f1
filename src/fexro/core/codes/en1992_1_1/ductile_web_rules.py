"""Checks of the webs of walls of high ductility: EN 1998-1, 5.5.3.4.2 to 5.5.3.4.5."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.codes import Context
from fexro.core.codes.detailing import not_yet_checked
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.ductile_wall_rules import (
    DuctilePanel,
    design_shears,
    write_design_shear,
)
from fexro.core.codes.en1992_1_1.section_strength import strength_of
from fexro.core.codes.en1992_1_1.shear import link_resistance
from fexro.core.codes.en1992_1_1.wall_rules import WallOptions, leg_shear
from fexro.core.codes.en1992_1_1.wall_shear import wall_arm
from fexro.core.codes.en1998_1.wall_shear import (
    BY_SHEAR,
    SLENDER,
    balancing_bars,
    critical_struts,
    dowels,
    joint_friction,
    joint_strength,
    shear_aspect,
    sliding_resistance,
    web_bars,
    web_resistance,
)
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import SMALLEST, limit_finding, noted
from fexro.core.codes.wall_checks import (
    LegShears,
    bars_by_leg,
    leg_name,
    legs_alike,
    panel_of,
    worst_of_legs,
    write_leg,
)
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, force, length, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.strength.uniaxial import DepthCurve, depth_curve

__all__ = ["joint_sliding", "web_detailing", "web_shear"]

LEAST_RATIO = 0.002  # 5.5.3.4.5
LEAST_SIZE, LARGEST_SIZE = 8.0, 8  # mm; of the thickness its share
LARGEST_SPACING, SPACING_BARS = 250.0, 25  # mm; diameters
ROUGH, SMOOTH = 0.7, 0.6  # friction of joints under reversals (5.5.3.4.4(2))
share = partial(Term, dimension=Dimension.SHARE)


@dataclass(frozen=True, eq=False)
class _Web:
    """The webs of a panel of high ductility."""

    wall: DuctilePanel

    @cached_property
    def shears(self) -> LegShears:
        """Shears of its legs, as analysed."""
        return LegShears.of(self.wall.facts, self.wall.context.actions)

    @cached_property
    def design(self) -> LegShears:
        """Shears of its legs, amplified where an earthquake acts."""
        wall = self.wall
        return design_shears(wall.annex, wall.facts, wall.context)

    @cached_property
    def rows(self) -> IntArray:
        """Which demands are of an earthquake."""
        return np.flatnonzero(self.shears.seismic)

    def write(self, record: Derivation, leg: int, row: int) -> None:
        """Write the design shear of a leg in a demand."""
        wall = self.wall
        write_leg(record, self.shears, leg, row)
        write_design_shear(record, wall.annex, wall.facts, wall.context, leg, row)

    def vertical(self, leg: int) -> float:
        """Return the ratio of the vertical bars of the web of a leg."""
        panel = self.wall.panel
        one, web = panel.legs.legs[leg], panel.web
        if web is None:
            return float(bars_by_leg(self.wall.facts)[leg]) / (one.thickness * panel.lengths[leg])
        return web.curtains * web.area / (web.spacing * one.thickness)

    def horizontal(self, leg: int) -> float:
        """Return the ratio of the horizontal bars of a leg."""
        panel, ties = self.wall.panel, self.wall.facts.section.ties
        return panel.curtains * ties.size.area / (ties.spacing * panel.legs.legs[leg].thickness)

    def aspects(self, leg: int) -> FloatArray:
        """Return αs of a leg, the largest in the storey for each demand, (D,).

        It is the panel's moment over the shear of all legs that run alike, and its length.
        """
        panel = self.wall.panel
        axis = panel.legs.legs[leg].axis
        along = [n for n, one in enumerate(panel.legs.legs) if one.axis == axis]
        total = self.design.shears[:, along].sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            found = shear_aspect(self.design.moments(leg), total, panel.legs.lengths[leg])
        # Where nothing shears, any aspect does.
        found = np.where(total > SMALLEST, found, BY_SHEAR)
        ends = len(self.wall.context.actions.stations)
        return np.repeat(found.reshape(-1, ends).max(axis=1), ends)


def web_shear(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check struts and bars of webs under the design shear (5.5.3.4.2, 5.5.3.4.3)."""
    if facts.ductility != "high":
        return []
    web = _Web(DuctilePanel(annex, facts, context))
    if web.shears.none_given or not len(web.rows):
        return []
    sheared = np.flatnonzero(web.design.shears[web.rows].max(axis=0) > SMALLEST)
    return worst_of_legs([_shear_of_leg(web, int(leg)) for leg in sheared])


def _shear_of_leg(web: _Web, leg: int) -> list[Finding]:
    wall, design = web.wall, web.design
    panel = wall.panel
    one, along = panel.legs.legs[leg], panel.legs.lengths[leg]
    critical = not wall.is_above_critical(along)
    aspects = web.aspects(leg)
    rho_h, rho_v = web.horizontal(leg), web.vertical(leg)
    f_yd_v = wall.strengths[1]

    def of(record: Derivation | None, row: int | None = None) -> tuple[FloatArray, ...]:
        base = leg_shear(record, wall.annex, design, leg, row)
        aspect = aspects if row is None else aspects[row]
        axial, shear = design.of_leg(leg, row)
        f_ywd, z = base.link_strength, base.arm
        struts = critical_struts.into(record, base.steepest) if critical else base.steepest
        # Concrete in tension resists nothing in the critical region.
        concrete = np.where((axial < 0) & critical, 0.0, base.concrete)
        by_links = record if row is not None and aspect >= BY_SHEAR else None
        by_shear = record if by_links is None else None
        # Without moment no bars do.
        asked_for = by_shear if row is not None and aspect > 0 else None
        links = link_resistance.into(by_links, rho_h * one.thickness, 1.0, z, f_ywd, 1.0)
        if by_shear is not None:
            told = "largest moment over shear and length in the storey"
            by_shear.given("alpha_s", float(aspect), Dimension.RATIO, told)
        size = one.thickness, aspect, along
        bars = web_resistance.into(by_shear, concrete, rho_h, f_ywd, *size)
        with np.errstate(divide="ignore", invalid="ignore"):
            asked = np.nan_to_num(
                web_bars.into(asked_for, shear, concrete, f_ywd, *size), posinf=np.inf
            )
        balance = balancing_bars.into(asked_for, asked, f_ywd, axial, one.thickness, z, f_yd_v)
        balance = np.where(aspect < BY_SHEAR, balance, 0.0)
        return np.asarray(struts), np.where(aspect < BY_SHEAR, bars, links), np.asarray(balance)

    struts, bars, balance = of(None)
    shear, rows = design.shears[:, leg], web.rows
    name, where = leg_name(panel, leg), " in the critical region" if critical else ""

    def derive(row: int) -> Derivation:
        record = Derivation()
        web.write(record, leg, row)
        of(record, row)
        return record

    found = []
    for title, clause, told, resisted in (
        ("Struts of the web", "5.5.3.4.2", f"the struts of the web{name}{where} resist", struts),
        ("Horizontal bars of the web", "5.5.3.4.3", f"the horizontal bars{name} resist", bars),
    ):
        with np.errstate(divide="ignore", invalid="ignore"):
            ratios = np.where(resisted > 0, shear / resisted, np.inf)[rows]
        row = int(rows[ratios.argmax()])
        call = f"{title}{name}", "shear", f"EN 1998-1, {clause}"
        found.append(_resisted(call, design, (shear, resisted, row), told, partial(derive, row)))
    deciding = balance if balance[rows].any() else shear
    row = int(rows[deciding[rows].argmax()])
    found.append(
        limit_finding(
            *(f"Vertical bars against shear{name}", "vertical bars", "EN 1998-1, 5.5.3.4.3(3)"),
            share(rho_v),
            share(float(balance[row])),
            f"Vertical bars of the web{name} are {{found}} of it; {{limit}} balance its shear.",
            partial(derive, row),
            at_least=True,
        )
    )
    return found


def web_detailing(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check the bars of webs: ratios, grids, sizes and spacing (5.5.3.4.5)."""
    if facts.ductility != "high":
        return []
    web = _Web(DuctilePanel(annex, facts, context))
    return worst_of_legs([_detailing_of_leg(web, leg) for leg, _ in legs_alike(web.wall.panel)])


def _detailing_of_leg(web: _Web, leg: int) -> list[Finding]:
    panel, section = web.wall.panel, web.wall.facts.section
    name, thickness = leg_name(panel, leg), panel.legs.legs[leg].thickness
    ties, bars = section.ties, panel.web
    sizes = [ties.size.diameter] if bars is None else [ties.size.diameter, bars.diameter]
    spacings = [(ties.spacing, ties.size.diameter)]
    if bars is not None:
        spacings.append((bars.spacing, bars.diameter))
    spacing, diameter = max(
        spacings, key=lambda one: one[0] / min(LARGEST_SPACING, SPACING_BARS * one[1])
    )
    ratio = min(web.horizontal(leg), web.vertical(leg))
    finding = partial(limit_finding, clause="EN 1998-1, 5.5.3.4.5")

    def derive() -> Derivation:
        record = Derivation()
        record.given("rho_h", web.horizontal(leg), Dimension.RATIO, "horizontal bars of the web")
        record.given("rho_v", web.vertical(leg), Dimension.RATIO, "vertical bars of the web")
        record.given("b_wo", thickness, Dimension.LENGTH, "thickness of the web")
        record.note(
            "Webs of high ductility: ratios of 0.002 both ways, in two grids; bars of 8 mm up to"
            " an eighth of the thickness, at 250 mm or 25 diameters at most."
        )
        return record

    return [
        finding(
            name=f"Bars of the web{name}",
            short="horizontal bars",
            found=share(ratio),
            limit=share(LEAST_RATIO),
            message=f"Bars of the web{name} are {{found}} of it; {{limit}} required both ways.",
            derive=derive,
            at_least=True,
        ),
        Finding(
            *(f"Grids of the web{name}", "curtains", "EN 1998-1, 5.5.3.4.5"),
            State.SATISFIED if panel.curtains >= 2 else State.EXCEEDED,
            math.nan,
            f"{panel.curtains}",
            f"The web{name} has one curtain of bars; two grids are required.",
            derive=derive,
        ),
        finding(
            name=f"Least bar of the web{name}",
            short="bar sizes",
            found=length(min(sizes)),
            limit=length(LEAST_SIZE),
            message=f"Bars of the web{name} from {{found}}; {{limit}} required.",
            derive=derive,
            at_least=True,
        ),
        finding(
            name=f"Largest bar of the web{name}",
            short="bar sizes",
            found=length(max(sizes)),
            limit=length(thickness / LARGEST_SIZE),
            message=f"Bars of the web{name} up to {{found}}; {{limit}} allowed.",
            derive=derive,
        ),
        finding(
            name=f"Grid of the web{name}",
            short="spacing",
            found=length(spacing),
            limit=length(min(LARGEST_SPACING, SPACING_BARS * diameter)),
            message=f"Bars of the web{name} at {{found}}; {{limit}} allowed.",
            derive=derive,
        ),
    ]


@lru_cache(maxsize=256)
def _depths(annex: Annex, cross: CrossSection, sense: int) -> DepthCurve:
    return depth_curve(strength_of(annex, cross), sense)


def joint_sliding(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check sliding at the joint at the foot of a straight wall (5.5.3.4.4)."""
    if facts.ductility != "high":
        return []
    web = _Web(DuctilePanel(annex, facts, context))
    wall, panel = web.wall, panel_of(facts)
    what = "sliding under earthquake (EN 1998-1, 5.5.3.4.4)"
    if wall.is_above_critical(min(panel.legs.lengths)):
        return []
    if len(panel.legs.legs) > 1 or panel.web is None:
        return not_yet_checked(what, facts, context)
    (leg,) = panel.legs.legs
    along = panel.legs.lengths[0]
    if panel.height / along <= SLENDER:
        return [
            Finding(
                *("Sliding under earthquake", "joint", "EN 1998-1, 5.5.3.4.4(3)"),
                State.NOT_CHECKED,
                math.nan,
                "inclined bars",
                "squat walls need inclined bars across their joints, which are not among theirs.",
                derive=noted("The height of the wall is up to twice its length."),
            )
        ]
    if web.shears.none_given or not len(web.rows):
        return []
    options = options_of(WallOptions, facts.options, others=True)
    mu = ROUGH if options.wall_joint in ("rough", "indented") else SMOOTH
    (f_cd, f_yd), f_ck = wall.strengths, facts.cross_section.weakest.strength
    area = web.vertical(0) * leg.thickness * (along - sum(end.length for end in panel.ends))
    axial = web.design.axial[:, 0]
    moments = web.design.rows[:, 5 if leg.axis == 0 else 4]
    senses = 2 * (1 - leg.axis) + (moments < 0)
    depth = np.zeros(len(axial))
    for sense in np.unique(senses):
        some = senses == sense
        depth[some] = _depths(annex, facts.cross_section, int(sense)).at(axial[some])
    xi = np.clip(depth / along, 0.0, 1.0)

    def of(record: Derivation | None, row: int | slice) -> FloatArray:
        z = wall_arm.into(record, along)
        dowel = dowels.into(record, area, f_cd, f_yd)
        eta = joint_strength.into(record, f_ck)
        friction = joint_friction.into(
            record,
            mu_f=mu,
            A_sj=area,
            f_yd=f_yd,
            N_Ed=axial[row],
            xi=xi[row],
            M_Ed=np.abs(moments[row]),
            z=z,
            eta=eta,
            f_cd=f_cd,
            l_w=along,
            b_wo=leg.thickness,
        )
        return np.asarray(sliding_resistance.into(record, dowel, friction))

    resisted, shear = of(None, slice(None)), web.design.shears[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        ratios = np.where(resisted > 0, shear / resisted, np.inf)[web.rows]
    row = int(web.rows[ratios.argmax()])

    def derive() -> Derivation:
        record = Derivation()
        web.write(record, 0, row)
        record.given("A_sj", area, Dimension.AREA, "vertical bars of the web between its ends")
        record.given("mu_f", mu, Dimension.RATIO, f"of a {options.wall_joint} joint")
        record.given("xi", float(xi[row]), Dimension.RATIO, "depth of the neutral axis over lw")
        record.given("M_Ed", abs(float(moments[row])), Dimension.MOMENT, "with it")
        of(record, row)
        return record

    call = "Sliding under earthquake", "joint", "EN 1998-1, 5.5.3.4.4"
    return [_resisted(call, web.design, (shear, resisted, row), "the joint resists", derive)]


def _resisted(
    call: tuple[str, str, str],
    shears: LegShears,
    demand: tuple[FloatArray, FloatArray, int],
    told: str,
    derive: Callable[[], Derivation],
) -> Finding:
    """Return the check of a shear against what resists it.

    Args:
        call: name, in short, and clause.
        shears: of the panel.
        demand: shears and resistances of all demands, (D,), N, and which governs.
        told: what resists.
        derive: writes the calculation.
    """
    acting, resisted, row = demand
    found, strength = float(acting[row]), float(resisted[row])
    ratio = found / strength if strength > 0 else math.inf
    combination, place = shears.place(row)
    return Finding(
        *(*call, state_of_ratio(ratio), ratio),
        "{found} of {strength}",
        f"Shear {{found}} at the {place} in {{combination}}; {told} {{strength}}.",
        {"found": force(found), "strength": force(strength), "combination": combination},
        combination=combination,
        resists=True,
        derive=derive,
    )
