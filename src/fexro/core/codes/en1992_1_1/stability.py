"""From analysed forces to demands: EN 1992-1-1, 6.1(4); of 5.8 nothing is here yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.actions import Actions, Demand, Demands
from fexro.core.codes import Context, Stiffness
from fexro.core.codes.calculation import write_demand
from fexro.core.codes.detailing import not_yet_considered
from fexro.core.codes.en1992_1_1 import strength as rules
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.facts import ColumnFacts, CrossSection, StoreyFacts
from fexro.core.findings import Finding
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension

__all__ = ["StabilityEN", "slenderness"]


@dataclass(frozen=True)
class StabilityEN:
    """Demands are the forces as analysed, no less eccentric than 6.1(4) asks."""

    strength: StrengthEN

    @property
    def couples_storey(self) -> bool:
        """Whether the demands depend on the storey: not without second-order effects."""
        return False

    def stiffness(self, facts: ColumnFacts) -> Stiffness | None:
        """Return nothing: no second-order effect is computed."""
        return None

    def demands(self, facts: ColumnFacts, storey: StoreyFacts, actions: Actions) -> Demands:
        """Return both ends as analysed and, in compression, with e0 about one axis at a time.

        Where the analysed moment is less than e0 asks for, e0 may lie on either side; where a
        reflection of the section makes both sides alike, one is enough.
        """
        analysed = actions.axial_bending
        found, places = [analysed], list(actions.stations)
        for place, axis, sense in self._least_eccentric(facts.cross_section):
            eccentric = analysed.copy()
            e_0 = float(rules.least_eccentricity(_height(facts.cross_section, axis)))
            least = rules.least_moment(np.maximum(analysed[..., 0], 0.0), e_0)
            moment = analysed[..., 1 + axis]
            # Alike on both sides, it lies where the analysed moment is.
            side = np.where(moment < 0, -1.0, 1.0) if sense == 0 else sense
            eccentric[..., 1 + axis] = np.where(np.abs(moment) < least, side * least, moment)
            found.append(eccentric)
            places += [f"{end}, {place}" for end in actions.stations]
        first_order = np.concatenate([analysed] * len(found), axis=1)
        return Demands(np.concatenate(found, axis=1), tuple(places), first_order)

    def _least_eccentric(self, cross: CrossSection) -> list[tuple[str, int, int]]:
        """Return how e0 acts: its name, the axis it acts about, and its sense, 0 for either."""
        found = []
        for axis, alike in enumerate(_reflections(self.strength, cross)):
            name = f"e0 {'xy'[axis]}"
            senses = ((name, 0),) if alike else ((f"{name} +", 1), (f"{name} −", -1))
            found += [(place, axis, sense) for place, sense in senses]
        return found

    def explain(self, record: Derivation, facts: ColumnFacts, demand: Demand) -> None:
        """Write the demand, and how e0 made it from the analysed forces where it did."""
        acting = {
            place: (axis, sense)
            for place, axis, sense in self._least_eccentric(facts.cross_section)
        }
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
                    record, _height(facts.cross_section, axis)
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


def slenderness(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Return the note that slenderness is not yet considered (5.8)."""
    return [not_yet_considered("5.8", "Imperfections, second-order effects and creep are")]


def _height(cross: CrossSection, axis: int) -> float:
    """Return the depth of a section for bending about x (0) or y (1), mm."""
    x0, y0, x1, y1 = cross.section.outline.bounds
    return (y1 - y0, x1 - x0)[axis]


@lru_cache(maxsize=4096)
def _reflections(strength: StrengthEN, cross: CrossSection) -> tuple[bool, bool]:
    """Tell whether a section is its own image when moments about x, and about y, change sign."""
    figure = strength.of(cross).body.figure
    return figure.alike(1.0, True), figure.alike(-1.0, True)
