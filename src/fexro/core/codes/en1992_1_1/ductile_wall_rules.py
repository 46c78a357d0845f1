"""Checks of ductile walls: EN 1998-1, 5.4.2.4, 5.4.3.4, 5.5.2.4 and 5.5.3.4."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, partial

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.section_strength import strength_of
from fexro.core.codes.en1998_1.columns import DuctilityClass, axial_ratio
from fexro.core.codes.en1998_1.options import SeismicOptions
from fexro.core.codes.en1998_1.wall_shear import SLENDER, dual_shear, shear_envelope, spectrum_share
from fexro.core.codes.en1998_1.walls import (
    LARGEST_AXIAL,
    LEAST_BOUNDARY,
    LOW_STOREYS,
    DuctileWall,
    WallElement,
    WallSeismic,
    critical_height,
    ductile_wall,
    flange_limit,
    least_flange,
    least_flange_width,
    least_web,
    neutral_axis,
    vertical_web,
)
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import limit_finding, noted, with_earthquake
from fexro.core.codes.wall_checks import (
    LegShears,
    axis_of,
    base_moments,
    leg_name,
    panel_of,
    worst_by_name,
)
from fexro.core.codes.wall_sides import WallSide, sides_of
from fexro.core.facts import ColumnFacts, CrossSection, WallPanel
from fexro.core.findings import Finding, State, length, number
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.curtains import EndBars
from fexro.core.section.leg_forces import leg_shears
from fexro.core.strength.uniaxial import governing_moment

__all__ = ["DuctilePanel", "design_shears", "ductile_wall_checks", "write_design_shear"]

share = partial(Term, dimension=Dimension.SHARE)
CLASSES: dict[str, DuctilityClass] = {"medium": "DCM", "high": "DCH"}


@lru_cache(maxsize=1024)
def _moment(
    annex: Annex,
    cross: CrossSection,
    axis: int,
    axial: tuple[float, ...],
    moments: tuple[float, ...],
    *,
    strongest: bool,
) -> tuple[int, float]:
    """Return of which of moments about an axis MRd is the largest or least multiple, and MRd."""
    given = np.array(axial), np.array(moments)
    return governing_moment(strength_of(annex, cross), axis, *given, strongest=strongest)


def _at_base(annex: Annex, facts: ColumnFacts, context: Context, leg: int) -> tuple[float, float]:
    """Return MEd and MRd at the base where MRd/MEd is largest, N·mm."""
    axis = axis_of(panel_of(facts), leg)
    return base_moments(facts, context.actions, axis, partial(_moment, annex, strongest=True))


# Shear, joints and webs ask for those of one panel in turn.
@lru_cache(maxsize=4)
def design_shears(annex: Annex, facts: ColumnFacts, context: Context) -> LegShears:
    """Return the design shears of the legs of a panel: amplified where an earthquake acts."""
    shears, panel = LegShears.of(facts, context.actions), panel_of(facts)
    if facts.ductility == "low":
        return shears
    base = _base_shears(facts, context)
    factor = np.array(
        [
            _amplified(None, annex, facts, context, leg) if sheared or base is not None else 1.0
            for leg, sheared in enumerate(shears.sheared)
        ]
    )
    seismic = shears.seismic[:, None]
    found = shears.amplified(np.where(seismic, factor, 1.0))
    if base is None:
        return found
    least = dual_shear(base * factor, panel.height - panel.above, panel.height)
    return found.at_least(np.where(seismic & _slender_legs(facts), least, 0.0))


def _slender_legs(facts: ColumnFacts) -> BoolArray:
    panel = panel_of(facts)
    slender: BoolArray = panel.height / np.array(panel.lengths) > SLENDER
    return slender


def _base_shears(facts: ColumnFacts, context: Context) -> FloatArray | None:
    """Return the shears of the analysis at the base in each demand, (D, L), of dual systems."""
    panel, actions = panel_of(facts), context.actions
    options = options_of(SeismicOptions, facts.options, others=True)
    if options.dual == "no" or panel.critical is None:
        return None
    rows = [panel.critical.rows.get(name, -1) for name in actions.combinations]
    forces = np.concatenate([panel.critical.forces, np.zeros((1, 6))])[rows]
    shears, _ = leg_shears(panel.legs, facts.section.outline.centroid, forces[:, 1:4])
    return np.repeat(np.abs(shears), len(actions.stations), axis=0)


def write_design_shear(
    record: Derivation, annex: Annex, facts: ColumnFacts, context: Context, leg: int, row: int
) -> None:
    """Write how the design shear of a leg follows, in a demand with earthquake."""
    if facts.ductility == "low":
        return
    factor = _amplified(record, annex, facts, context, leg)
    record.given("epsilon", factor, Dimension.RATIO, "factor of the shear with earthquake")
    base, panel = _base_shears(facts, context), panel_of(facts)
    if base is not None and _slender_legs(facts)[leg]:
        amplified = factor * float(base[row, leg])
        record.given("V_base", amplified, Dimension.FORCE, "at the base, amplified")
        dual_shear.into(record, amplified, panel.height - panel.above, panel.height)


def _amplified(
    record: Derivation | None, annex: Annex, facts: ColumnFacts, context: Context, leg: int
) -> float:
    options = options_of(SeismicOptions, facts.options, others=True)
    panel = panel_of(facts)
    M_Ed, M_Rd = _at_base(annex, facts, context, leg)
    if record is not None:
        record.note(with_earthquake(context.actions))
        record.note(
            "Se(TC)/Se(T1) is T1/TC beyond the plateau of the spectrum, T1²/(TC TD) beyond TD."
        )
    spectrum = (spectrum_share(options.T1, options.TC, options.TD), 1.0)
    found = shear_envelope(
        record,
        CLASSES[facts.ductility],
        (panel.lengths[leg], panel.height),
        options.q,
        (M_Ed, M_Rd),
        spectrum,
        np.array([[0.0, 1.0], [panel.height, 1.0]]),
        np.array([0.0]),
        dual=False,
    )
    return found.factor


def ductile_wall_checks(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check a wall of medium or high ductility and its boundary elements."""
    if facts.ductility == "low" or not len(context.actions.combinations):
        return []
    wall = DuctilePanel(annex, facts, context)
    found = _axial_and_thickness(wall)
    for side in sides_of(facts):
        if len(wall.panel.legs.legs) > 1 and not np.abs(wall.rows[:, side.moments]).max() > 0:
            # Nothing bends it along there.
            continue
        if side.flanges:
            found += _flange(wall, side)
        elif not side.ends:
            found.append(_no_ends(wall, side))
        for end in side.ends:
            found += _boundary(wall, side, end)
    return worst_by_name(found)


@dataclass(frozen=True, eq=False)
class DuctilePanel:
    """A panel of a ductile wall."""

    annex: Annex
    facts: ColumnFacts
    context: Context

    @property
    def panel(self) -> WallPanel:
        """What it has as a panel."""
        return panel_of(self.facts)

    @property
    def ductility(self) -> DuctilityClass:
        """Its class."""
        return CLASSES[self.facts.ductility]

    @property
    def clause(self) -> str:
        """The clause of its class."""
        return "5.4.3.4" if self.ductility == "DCM" else "5.5.3.4"

    @property
    def rows(self) -> FloatArray:
        """Forces with earthquake, (D, 6)."""
        return self.context.actions.in_earthquake.reshape(-1, 6)

    @cached_property
    def axial(self) -> float:
        """The largest axial force with earthquake, N."""
        return float(self.rows[:, 0].max(initial=0.0))

    @property
    def strengths(self) -> tuple[float, float]:
        """fcd and fyd, MPa."""
        annex, concrete = self.annex, self.facts.concrete.strength
        f_cd = materials.concrete_design_strength(concrete, annex.alpha_cc, annex.gamma_c)
        return float(f_cd), self.facts.steel.yield_strength / annex.gamma_s

    @property
    def options(self) -> SeismicOptions:
        """What is chosen for earthquakes."""
        return options_of(SeismicOptions, self.facts.options, others=True)

    def is_above_critical(self, length: float, storeys: int = 0) -> bool:
        """Tell whether it is above the critical region of a wall of a length, or storeys more."""
        panel, height = self.panel, self.facts.height
        limit = height * (1 if panel.storeys <= LOW_STOREYS else 2)
        critical = float(critical_height(length, panel.height, limit)) + storeys * height
        return panel.height - panel.above >= critical - 1e-6

    def vertical(self, side: WallSide, width: float) -> float:
        """Return the bars of all webs along a side's axis over a width that is compressed."""
        web = self.panel.web
        if web is None:
            return 0.0
        return len(side.webs) * web.curtains * web.area / (web.spacing * width)

    def seismic(self, side: WallSide) -> WallSeismic:
        """Return what is asked of it, bent along the axis of a side."""
        panel, options = self.panel, self.options
        nearest = partial(_moment, self.annex, strongest=False)
        M_Ed, M_Rd = base_moments(self.facts, self.context.actions, side.axis, nearest, 0.0)
        return WallSeismic(
            self.ductility,
            panel.storeys,
            options.q0,
            (M_Ed, max(M_Rd, M_Ed)),
            options.T1,
            options.TC,
            "B" if options.steel_class == "B" else "C",
        )

    def given(self, record: Derivation, width: float, told: str) -> None:
        """Write what is compressed towards a side of a wall of several legs."""
        record.note(with_earthquake(self.context.actions))
        if len(self.panel.legs.legs) > 1:
            record.note(
                "Axial force and vertical bars of the webs are referred to the width that is"
                " compressed (5.4.3.4.2(5)(a))."
            )
            record.given("b_c", width, Dimension.LENGTH, told)


def _axial_and_thickness(wall: DuctilePanel) -> list[Finding]:
    """Check the axial force of a panel and the thickness of its legs."""
    facts, (f_cd, _) = wall.facts, wall.strengths
    area, limit = facts.section.outline.area, LARGEST_AXIAL[wall.ductility]
    thinnest = min(wall.panel.legs.legs, key=lambda leg: leg.thickness)

    def axial() -> Derivation:
        record = Derivation()
        record.note(with_earthquake(wall.context.actions))
        axial_ratio.into(record, wall.axial, area, f_cd)
        return record

    def thickness() -> Derivation:
        record = Derivation()
        least_web.into(record, facts.height)
        return record

    return [
        limit_finding(
            *("Axial force in an earthquake", "axial", f"{wall.clause}.1(2)"),
            number(float(axial_ratio(wall.axial, area, f_cd))),
            number(limit),
            "νd is {found}; {limit} allowed.",
            axial,
        ),
        limit_finding(
            *("Thickness of ductile walls", "thickness", "5.4.1.2.3(1)"),
            length(thinnest.thickness),
            length(float(least_web(facts.height))),
            "Thickness {found}; {limit} required.",
            thickness,
            at_least=True,
        ),
    ]


def _no_ends(wall: DuctilePanel, side: WallSide) -> Finding:
    told = f"there are no bars at the ends at {side.name}: boundary elements are required."
    return Finding(
        *("Boundary elements", "boundary", "5.4.3.4.2", State.EXCEEDED, math.nan),
        "none",
        told,
        derive=noted("The call-out has no bars in each end."),
    )


def _flange(wall: DuctilePanel, side: WallSide) -> list[Finding]:
    """Check a flange that is compressed (5.4.3.4.2(5), (7)); webs that end free there are not."""
    if wall.is_above_critical(side.extent):
        return []
    facts, panel, (f_cd, f_yd) = wall.facts, wall.panel, wall.strengths
    flange = min(side.flanges, key=lambda leg: (leg.thickness, leg.run))
    whole = panel.legs.lengths[panel.legs.legs.index(flange)]
    limit = 2 * float(flange_limit(panel.above)) + sum(leg.thickness for leg in side.webs)
    width = min(whole, limit)
    core = width - 2 * facts.section.cover
    vertical = wall.vertical(side, width)

    def of(record: Derivation | None) -> tuple[float, float, float]:
        nu_d = axial_ratio.into(record, wall.axial, width * side.extent, f_cd)
        omega_v = vertical_web.into(record, vertical, f_yd, f_cd)
        x_u = neutral_axis.into(record, nu_d, omega_v, side.extent, width, core)
        least = least_flange.into(record, facts.clear_height)
        return float(x_u), float(least), float(least_flange_width.into(record, facts.clear_height))

    x_u, thick, wide = of(None)

    def derive() -> Derivation:
        record = Derivation()
        wall.given(record, width, "of the flange, as far as it is effective")
        record.given("b_f", flange.thickness, Dimension.LENGTH, "thickness of the flange")
        record.given("l_f", whole, Dimension.LENGTH, "width of the flange")
        of(record)
        return record

    name = f"Flange at {side.name}"
    if side.ends or flange.thickness < thick or whole < wide or x_u > flange.thickness:
        reason = (
            "beside it legs end free"
            if side.ends
            else "the neutral axis lies {depth} deep, beyond the flange"
            if x_u > flange.thickness
            else "the flange is too small to do without confinement"
        )
        return [
            Finding(
                *(name, "boundary", "5.4.3.4.2(5), (7)", State.NOT_CHECKED, math.nan),
                "xu {depth}",
                f"confinement at {side.name}, where a leg runs across, is not checked: {reason}.",
                {"depth": length(x_u)},
                derive=derive,
            )
        ]
    return [
        Finding(
            *(name, "boundary", "5.4.3.4.2(7)", State.SATISFIED, math.nan),
            "needs no confinement",
            "",
            derive=derive,
        )
    ]


def _boundary(wall: DuctilePanel, side: WallSide, end: EndBars) -> list[Finding]:
    """Check the boundary element of a free end of a leg."""
    if wall.is_above_critical(side.extent):
        return _above_critical(wall, side, end)
    facts, panel = wall.facts, wall.panel
    thickness = panel.legs.legs[end.leg].thickness
    found, derive = _built(None, wall, side, end), partial(_derive_built, wall, side, end)

    name = leg_name(panel, end.leg)
    finding = partial(limit_finding, derive=derive)
    checks = [
        finding(
            *("Length of boundary elements", "boundary", f"{wall.clause}.2(6)"),
            length(end.length + facts.section.cover),
            length(found.length),
            f"Boundary elements{name} are {{found}} long; {{limit}} required.",
            at_least=True,
        ),
        finding(
            *("Width of boundary elements", "boundary", "5.4.3.4.2(10)"),
            length(thickness),
            length(found.width),
            f"Boundary elements{name} are {{found}} wide; {{limit}} required.",
            at_least=True,
        ),
        _bars_of_end(wall, end, "Bars of boundary elements"),
    ]
    if found.light:
        checks.append(
            Finding(
                *("Boundary elements", "boundary", "5.4.3.4.2(12)", State.SATISFIED, math.nan),
                "links to EN 1992-1-1 do",
                "",
                derive=derive,
            )
        )
        return checks
    hoops = panel.hoops
    if hoops is None:
        checks.append(
            Finding(
                *("Hoops of boundary elements", "boundary hoops", "5.4.3.4.2(4)"),
                State.EXCEEDED,
                math.nan,
                "none; ωwd {needed}",
                f"Boundary elements{name} have no hoops; ωwd {{needed}} is required.",
                {"needed": number(found.required_mechanical)},
                derive=derive,
            )
        )
        return checks
    checks += [
        finding(
            *("Confinement of boundary elements", "boundary hoops", "5.4.3.4.2(4)"),
            number(found.mechanical),
            number(found.required_mechanical),
            f"ωwd of boundary elements{name} is {{found}}; {{limit}} required.",
            at_least=True,
        ),
        finding(
            *("Hoop spacing of boundary elements", "boundary hoops", "5.4.3.4.2(9)"),
            length(hoops.spacing),
            length(found.spacing),
            f"Hoops of boundary elements{name} at {{found}}; {{limit}} allowed.",
        ),
        finding(
            *("Held bars of boundary elements", "boundary", "5.4.3.4.2(9)"),
            length(max(end.apart, thickness - 2 * facts.section.cover)),
            length(found.held),
            f"Held bars of boundary elements{name} are {{found}} apart; {{limit}} allowed.",
        ),
    ]
    return checks


def _bars_of_end(
    wall: DuctilePanel, end: EndBars, name: str, clause: str = "5.4.3.4.2(8)"
) -> Finding:
    """Check the bars of an end against its concrete (5.4.3.4.2(8), (11))."""
    panel, zone = wall.panel, end.length + wall.facts.section.cover
    thickness, area = panel.legs.legs[end.leg].thickness, 2 * end.pairs * end.area

    def derive() -> Derivation:
        record = Derivation()
        record.given("A_s", area, Dimension.AREA, f"of {2 * end.pairs} bars")
        record.given("b_w", thickness, Dimension.LENGTH, "thickness of the leg")
        record.given("l_c", zone, Dimension.LENGTH, "as the end is built")
        record.given("rho", area / (thickness * zone), Dimension.RATIO, "bars over concrete")
        return record

    return limit_finding(
        *(name, "boundary", clause),
        share(area / (thickness * zone)),
        share(LEAST_BOUNDARY),
        f"{name}{leg_name(panel, end.leg)} are {{found}} of their concrete; {{limit}} required.",
        derive,
        at_least=True,
    )


def _above_critical(wall: DuctilePanel, side: WallSide, end: EndBars) -> list[Finding]:
    """Check an end above the critical region (5.4.3.4.2(11), 5.5.3.4.5)."""
    # Asked for where the concrete is strained by more than 0.002; it is not asked where that is.
    found = [_bars_of_end(wall, end, "Bars of ends above the critical region", "5.4.3.4.2(11)")]
    if found[0].state is State.EXCEEDED:
        message = f"{found[0].message} It is asked for where strains exceed 0.002."
        found = [replace(found[0], state=State.ATTENTION, message=message)]
    if wall.ductility == "DCM" or wall.is_above_critical(side.extent, 1):
        return found
    panel = wall.panel
    built = _built(None, wall, side, end)
    half = built.required_mechanical / 2

    def derive() -> Derivation:
        record = _derive_built(wall, side, end)
        record.note("One storey above the critical region half of the confinement is kept.")
        record.given("omega_wd", half, Dimension.RATIO, "required here")
        return record

    return [
        *found,
        limit_finding(
            *("Confinement above the critical region", "boundary hoops", "5.5.3.4.5"),
            number(built.mechanical if panel.hoops is not None else 0.0),
            number(half),
            f"ωwd of the ends{leg_name(panel, end.leg)} is {{found}} in the storey above the"
            " critical region; {limit} required.",
            derive,
            at_least=True,
        ),
    ]


def _derive_built(wall: DuctilePanel, side: WallSide, end: EndBars) -> Derivation:
    record = Derivation()
    wall.given(record, side.free_width, f"of the legs that end at {side.name}")
    _built(record, wall, side, end)
    return record


def _built(
    record: Derivation | None, wall: DuctilePanel, side: WallSide, end: EndBars
) -> DuctileWall:
    """Return a boundary element as it is built; all that ends free at its side is compressed."""
    facts, panel, section = wall.facts, wall.panel, wall.facts.section
    thickness = panel.legs.legs[end.leg].thickness
    hoops, width = panel.hoops or section.ties, side.free_width
    f_cd, f_yd = wall.strengths
    f_ywd = facts.transverse_steel.yield_strength / wall.annex.gamma_s
    across = thickness - 2 * section.cover - hoops.size.diameter
    along = end.length - section.cover
    ties = 2 * (across + along) + max(end.pairs - 2, 0) * across
    volume = ties * hoops.size.area / (across * along * hoops.spacing)
    faces = across - hoops.size.diameter - end.diameter
    held = (end.apart,) * (2 * (end.pairs - 1)) + (faces, faces)
    given = (
        (thickness, side.extent, panel.height, facts.height),
        (f_cd, f_yd, f_ywd, facts.steel.modulus),
        wall.vertical(side, width),
        wall.axial * thickness / width,
        wall.seismic(side),
    )
    element = WallElement(
        thickness, across, along, held, hoops.spacing, volume * f_ywd / f_cd, end.diameter
    )
    asked = ductile_wall(None, *given, element).required_mechanical
    if asked >= element.mechanical:
        return ductile_wall(record, *given, element)
    # Hoops beyond what is asked for do not make the boundary longer.
    if record is not None:
        told = "of the hoops; counted as far as it is asked for"
        record.given("omega_wd", element.mechanical, Dimension.RATIO, told)
    found = ductile_wall(record, *given, replace(element, mechanical=asked))
    return replace(found, mechanical=element.mechanical)
