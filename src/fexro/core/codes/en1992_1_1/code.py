"""EN 1992-1-1 put together: strength of a section, limits of its bars, their explanation."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np

from fexro.core.codes import (
    ENDS,
    Check,
    Column,
    Demand,
    Demands,
    KeyPoint,
    State,
    Vocabulary,
)
from fexro.core.codes.calculation import (
    Capacity,
    largest_component,
    write_bars,
    write_demand,
    write_direction,
)
from fexro.core.codes.detailing import (
    bar_count_check,
    clear_spacing_check,
    slenderness_reminder,
)
from fexro.core.codes.en1992_1_1 import materials, reinforcement
from fexro.core.codes.en1992_1_1 import strength as rules
from fexro.core.codes.en1992_1_1.annex import RECOMMENDED, UK, Annex
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, format_length, format_quantity
from fexro.core.section.outline import FloatArray
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.laws import ElasticPlastic, parabola_rectangle
from fexro.core.strength.slices import moments_at
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.surface import Points, Strength

__all__ = ["EN_RECOMMENDED", "EN_UK", "CodeEN"]

CONCRETE_RANGE = (12.0, 90.0)  # MPa, 3.1.2(2)
STEEL_RANGE = (400.0, 600.0)  # MPa, 3.2.2(3)
FLAT = 1e3  # of the section's size: a depth of the neutral axis from which strains are uniform


@dataclass(frozen=True)
class CodeEN:
    """The code with one annex."""

    annex: Annex

    @property
    def name(self) -> str:
        """Name and annex."""
        return f"EN 1992-1-1 ({self.annex.name})"

    @property
    def vocabulary(self) -> Vocabulary:
        """Its words."""
        return Vocabulary("NEd", "MEdx", "MEdy", "fck", "fyk", "links")

    def strength(self, column: Column) -> Strength:
        """Return the strength of a section (6.1)."""
        bars, outline = column.section.bars, column.section.outline
        f_cd, f_yd = self._design_strengths(column)
        planes, exponent = _planes(column), float(materials.law_exponent(column.concrete.strength))
        concrete = parabola_rectangle(f_cd, planes.peak, exponent)
        steel = ElasticPlastic(column.steel.modulus, f_yd)
        body = Body(
            [Region(outline, concrete)],
            [BarSet(bars.x, bars.y, bars.area, steel, concrete)],
            outline.centroid,
        )
        area = bars.total_area
        squashed = min(f_yd, column.steel.modulus * planes.peak)
        largest = f_cd * (outline.area - area) + squashed * area
        return Strength(body, planes, np.ones_like, largest, -f_yd * area, largest)

    def strength_clause(self) -> str:
        """Return the clauses behind section strength."""
        return "6.1"

    def working_body(self, column: Column, strength: Strength) -> Body:
        """Return the section under its design laws (3.1.7, 3.2.7)."""
        return strength.body

    def key_points(self, column: Column) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram: the pivots and bar strains."""
        yield_strain = self._design_strengths(column)[1] / column.steel.modulus
        strains = (
            ("zero tension, εs = 0 at the extreme bar", 0.0),
            ("half yield, σs = 0.5 fyd", -yield_strain / 2),
            ("balanced, εs = fyd/Es", -yield_strain),
        )
        return (
            KeyPoint("x = h: the pivot passes from εcu2 at the edge to εc2 inside", _full_depth),
            *(KeyPoint(name, partial(_fraction_of_strain, strain)) for name, strain in strains),
        )

    def design_demands(self, column: Column, analysed: FloatArray) -> Demands:
        """Return both ends as analysed and, in compression, with e0 about one axis at a time.

        Where the analysed moment is less than e0 asks for, e0 may lie on either side; where a
        reflection of the section makes both sides alike, one is enough.
        """
        found, places = [analysed], list(ENDS)
        for place, axis, sense in self._least_eccentric(column):
            eccentric = analysed.copy()
            e_0 = float(rules.least_eccentricity(_height(column, axis)))
            least = rules.least_moment(np.maximum(analysed[..., 0], 0.0), e_0)
            moment = analysed[..., 1 + axis]
            # Alike on both sides, it lies where the analysed moment is.
            side = np.where(moment < 0, -1.0, 1.0) if sense == 0 else sense
            eccentric[..., 1 + axis] = np.where(np.abs(moment) < least, side * least, moment)
            found.append(eccentric)
            places += [f"{end}, {place}" for end in ENDS]
        first_order = np.concatenate([analysed] * len(found), axis=1)
        return Demands(np.concatenate(found, axis=1), tuple(places), first_order)

    def _least_eccentric(self, column: Column) -> list[tuple[str, int, int]]:
        """Return how e0 acts: its name, the axis it acts about, and its sense, 0 for either."""
        found = []
        for axis, alike in enumerate(_reflections(self, column)):
            name = f"e0 {'xy'[axis]}"
            senses = ((name, 0),) if alike else ((f"{name} +", 1), (f"{name} −", -1))
            found += [(place, axis, sense) for place, sense in senses]
        return found

    def limits(self, column: Column, demands: FloatArray) -> list[Check]:
        """Return the checks of detailing (8.2, 9.5.2), of materials, and assumptions."""
        section = column.section
        corners = len(section.outline.rings[0])
        least = reinforcement.LEAST_BARS_ROUND if section.round else corners

        def least_spacing(diameter: FloatArray, record: Derivation | None) -> FloatArray:
            least: FloatArray = reinforcement.least_clear_spacing.into(
                record,
                self.annex.spacing_factor,
                diameter,
                column.aggregate,
                self.annex.spacing_margin,
            )
            return least

        return [
            self._bar_area(column, demands),
            self._bar_diameter(column),
            bar_count_check(column, least, "9.5.2(4)", "one in each corner, 4 in a circle"),
            clear_spacing_check(column, "8.2(2)", least_spacing),
            *_material_limits(column),
            slenderness_reminder("5.8", "Imperfections, second-order effects and creep are"),
        ]

    def _bar_area(self, column: Column, demands: FloatArray) -> Check:
        area, outline = column.section.bars.total_area, column.section.outline.area
        axial = float(demands[:, 0].max(initial=0.0))

        def calculate(record: Derivation | None = None) -> tuple[float, float]:
            f_yd = materials.steel_design_strength.into(
                record, column.steel.yield_strength, self.annex.gamma_s
            )
            least = reinforcement.least_reinforcement.into(
                record, self.annex.axial_share, axial, f_yd, self.annex.area_share, outline
            )
            largest = reinforcement.largest_reinforcement.into(
                record, self.annex.largest_ratio, outline
            )
            return float(least), float(largest)

        def derive() -> Derivation:
            record = Derivation()
            calculate(record)
            record.given("A_s", area, Dimension.AREA, "all bars; at laps twice the largest")
            return record

        least, largest = calculate()
        unit = partial(format_quantity, dimension=Dimension.AREA, system=column.units)
        inside = least <= area <= largest
        ratio = area / largest if area >= least else least / area
        detail = f"{unit(area)} of {unit(least)} to {unit(largest)}"
        message = f"Reinforcement {unit(area)}; {unit(least)} to {unit(largest)} allowed."
        state = State.SATISFIED if inside else State.EXCEEDED
        return Check(
            "Bar area", "bar area", state, ratio, "9.5.2(2)–(3)", detail, message, derive=derive
        )

    def _bar_diameter(self, column: Column) -> Check:
        smallest, least = float(column.section.bars.diameter.min()), self.annex.least_diameter
        unit = partial(format_length, system=column.units)
        large_enough = smallest >= least
        return Check(
            "Bar diameter",
            "bar size",
            State.SATISFIED if large_enough else State.EXCEEDED,
            least / smallest,
            "9.5.2(1)",
            f"{unit(smallest)} {'≥' if large_enough else '<'} {unit(least)}",
            f"Bars of {unit(smallest)}; at least {unit(least)} required.",
            derive=_given(("phi", smallest, "smallest bar"), ("phi_min", least, "of the annex")),
        )

    def companions(
        self, column: Column, strength: Strength, demand: FloatArray, combination: str
    ) -> list[Check]:
        """Return the simplified biaxial expression (5.8.9(4)) for comparison."""
        axial, moment_x, moment_y = (float(value) for value in demand)
        if not (moment_x and moment_y) or axial >= strength.max_axial or axial < 0:
            return []
        units = [
            np.array([math.copysign(1.0, moment_x), 0.0]),
            np.array([0.0, math.copysign(1.0, moment_y)]),
        ]
        capacity_x, capacity_y = moments_at(strength, np.array([axial, axial]), units)
        if not (capacity_x > 0 and capacity_y > 0):
            return []

        def calculate(record: Derivation | None = None) -> float:
            f_cd, f_yd = self._design_strengths(column, record)
            section = column.section
            resistance = rules.axial_resistance.into(
                record, section.outline.area, f_cd, section.bars.total_area, f_yd
            )
            n = rules.axial_share.into(record, axial, resistance)
            if section.round:
                a = 2.0
                if record is not None:
                    record.given("a", a, Dimension.RATIO, "round section")
            else:
                a = rules.biaxial_exponent.into(record, n)
            return float(
                rules.biaxial_ratio.into(
                    record, abs(moment_x), capacity_x, abs(moment_y), capacity_y, a
                )
            )

        def derive() -> Derivation:
            record = Derivation()
            write_demand(record, ("N_Ed", "M_Edx", "M_Edy"), demand)
            record.given("M_Rdx", float(capacity_x), Dimension.MOMENT, "about x alone at NEd")
            record.given("M_Rdy", float(capacity_y), Dimension.MOMENT, "about y alone at NEd")
            calculate(record)
            record.note("Shown beside the exact result, which is the check.")
            return record

        ratio = calculate()
        return [
            Check(
                "Simplified biaxial expression",
                "simplified",
                State.SATISFIED,
                ratio,
                "5.8.9(4)",
                f"{combination}, for comparison only",
                "",
                derive=derive,
            )
        ]

    def explain_strength(
        self, column: Column, strength: Strength, demand: Demand, point: Points, capped: bool
    ) -> Derivation:
        """Write the calculation of the utilisation of a demand from the surface point behind it."""
        record = Derivation()
        self._explain_demand(record, column, demand)
        _, f_yd = self._design_strengths(column, record)
        capacity = Capacity(SectionState(strength.body, StrainPlane.behind(point)))
        if capacity.tension:
            record.note("Pure tension: every bar yields, no concrete resists.")
            largest_tension = rules.tension_resistance.into(
                record, f_yd, column.section.bars.total_area
            )
            rules.tension_utilisation.into(record, float(demand.values[0]), largest_tension)
            return record
        resisting = self._explain_plane(record, column, capacity)
        largest = largest_component(demand.values, strength.mesh.scale)
        force = float(demand.values[largest])
        if largest == 0:
            rules.axial_utilisation.into(record, force, resisting[0])
        else:
            axis = "xy"[largest - 1]
            record.note(f"The ray is compared in the moment about {axis}.")
            compared = rules.moment_utilisation.named(M_Ed=f"M_Ed{axis}", M_R=f"M_R{axis}")
            compared.into(record, force, resisting[largest])
        return record

    def _explain_demand(self, record: Derivation, column: Column, demand: Demand) -> None:
        """Write the demand, and how e0 made it from the analysed forces where it did."""
        acting = {place: (axis, sense) for place, axis, sense in self._least_eccentric(column)}
        _, _, place = demand.place.partition(", ")
        if place not in acting:
            write_demand(record, ("N_Ed", "M_Edx", "M_Edy"), demand.values)
            return
        axial = float(demand.values[0])
        record.given("N_Ed", axial, Dimension.FORCE, "demand")
        for axis, name in enumerate("xy"):
            analysed, used = (
                float(forces[1 + axis]) for forces in (demand.first_order, demand.values)
            )
            if axis != acting[place][0]:
                record.given(f"M_Ed{name}", used, Dimension.MOMENT, "demand, as analysed")
                continue
            record.given(f"M_0Ed{name}", analysed, Dimension.MOMENT, "as analysed")
            if axial <= 0:
                record.note("Without compression e0 adds nothing.")
            else:
                e_0 = rules.least_eccentricity.named(e_0=f"e_0{name}").into(
                    record, _height(column, axis)
                )
                rules.least_moment.named(M_e0=f"M_e0{name}", e_0=f"e_0{name}").into(
                    record, axial, float(e_0)
                )
            raised = used != analysed
            source = (
                f"demand: e0 about {name} towards {'+' if used > 0 else '−'}, more than as analysed"
                if raised
                else "demand: as analysed, which is no less"
            )
            record.given(f"M_Ed{name}", used, Dimension.MOMENT, source)

    def _explain_plane(
        self, record: Derivation, column: Column, capacity: Capacity
    ) -> tuple[float, float, float]:
        """Write the strain plane and what it resists; return N, Mx, My."""
        strength, state = column.concrete.strength, capacity.state
        materials.peak_strain.into(record, strength)
        materials.limit_strain.into(record, strength)
        materials.law_exponent.into(record, strength)
        write_direction(record, state)
        record.given("epsilon_top", state.extremes[1], Dimension.STRAIN, "extreme fibre")
        depth = state.neutral_axis_depth
        if depth is not None and abs(depth) < FLAT * state.body.size:
            record.given("x", depth, Dimension.LENGTH, "depth of the neutral axis")
            strains = "ε = ε_top (1 − d / x)"
        else:
            record.note("The strain is uniform.")
            strains = "ε = ε_top"
        record.given(
            "N_c", capacity.concrete, Dimension.FORCE, "parabola–rectangle over the section"
        )
        write_bars(record, state, ("sigma_s", "sigma_c"), f"{strains}, σ_s = E_s ε up to f_yd")
        axial, moment_x, moment_y = capacity.bars
        record.given("F_s_sum", axial, Dimension.FORCE, "sum over the bars")
        resisting = [rules.resisting_axial.into(record, capacity.concrete, axial)]
        for axis, across, arm, moment in (
            ("x", "y", capacity.arm_y, moment_x),
            ("y", "x", capacity.arm_x, moment_y),
        ):
            names = {"e_c": f"e_c{across}", "M_s_sum": f"M_s{axis}_sum", "M_R": f"M_R{axis}"}
            record.given(
                names["e_c"], arm, Dimension.LENGTH, f"concrete from the centroid in {across}"
            )
            record.given(
                names["M_s_sum"], moment, Dimension.MOMENT, f"sum of F·{across} over the bars"
            )
            resisting.append(
                rules.resisting_moment.named(**names).into(record, capacity.concrete, arm, moment)
            )
        total, about_x, about_y = resisting
        return float(total), float(about_x), float(about_y)

    def _design_strengths(
        self, column: Column, record: Derivation | None = None
    ) -> tuple[float, float]:
        annex = self.annex
        f_cd = materials.concrete_design_strength.into(
            record, column.concrete.strength, annex.alpha_cc, annex.gamma_c
        )
        f_yd = materials.steel_design_strength.into(
            record, column.steel.yield_strength, annex.gamma_s
        )
        return float(f_cd), float(f_yd)


def _height(column: Column, axis: int) -> float:
    """Return the depth of a section for bending about x (0) or y (1), mm."""
    x0, y0, x1, y1 = column.section.outline.bounds
    return (y1 - y0, x1 - x0)[axis]


@lru_cache(maxsize=4096)
def _reflections(code: CodeEN, column: Column) -> tuple[bool, bool]:
    """Tell whether a section is its own image when moments about x, and about y, change sign."""
    figure = code.strength(column).body.figure
    return figure.alike(1.0, True), figure.alike(-1.0, True)


def _planes(column: Column) -> rules.LimitPlanesEN:
    strength = column.concrete.strength
    return rules.LimitPlanesEN(
        float(materials.peak_strain(strength)), float(materials.limit_strain(strength))
    )


def _fraction_of_strain(strain: float, strength: Strength, angle: FloatArray) -> FloatArray:
    planes, turned = strength.limit, strength.body.turn(angle)
    assert isinstance(planes, rules.LimitPlanesEN)
    depth, height = turned.highest - turned.lowest_bar, turned.highest - turned.lowest
    return planes.fraction(np.full_like(depth, strain), depth, height)


def _full_depth(_: Strength, angle: FloatArray) -> FloatArray:
    return np.full_like(angle, rules.FULL_DEPTH)


def _material_limits(column: Column) -> list[Check]:
    """Return a check for each material outside the range of the code."""
    unit = partial(format_quantity, dimension=Dimension.STRESS, system=column.units)
    f_ck, f_yk = column.concrete.strength, column.steel.yield_strength
    found = []
    for name, short, symbol, value, (least, largest), clause in (
        ("Concrete strength", "concrete", "fck", f_ck, CONCRETE_RANGE, "3.1.2(2)"),
        ("Steel strength", "steel", "fyk", f_yk, STEEL_RANGE, "3.2.2(3)"),
    ):
        if not least <= value <= largest:
            ratio = value / largest if value > largest else least / value
            detail = f"{unit(value)} of {unit(least)} to {unit(largest)}"
            message = f"{symbol} {unit(value)}; {unit(least)} to {unit(largest)} allowed."
            found.append(Check(name, short, State.EXCEEDED, ratio, clause, detail, message))
    return found


def _given(*lines: tuple[str, float, str]) -> Callable[[], Derivation]:
    def derive() -> Derivation:
        record = Derivation()
        for symbol, value, source in lines:
            record.given(symbol, value, Dimension.LENGTH, source)
        return record

    return derive


EN_RECOMMENDED = CodeEN(RECOMMENDED)
EN_UK = CodeEN(UK)
