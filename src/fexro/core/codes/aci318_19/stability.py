"""From analysed forces to demands: ACI 318-19, 6.2.5 and 6.6.4, of which none is here yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fexro.core.actions import Actions, Demand, Demands
from fexro.core.codes import Context, Stiffness
from fexro.core.codes.calculation import write_demand
from fexro.core.codes.detailing import not_yet_considered
from fexro.core.facts import ColumnFacts, StoreyFacts
from fexro.core.findings import Finding
from fexro.core.provisions import Derivation

__all__ = ["StabilityACI", "slenderness"]


@dataclass(frozen=True)
class StabilityACI:
    """Demands are the forces as analysed."""

    @property
    def couples_storey(self) -> bool:
        """Whether the demands depend on the storey: not without second-order effects."""
        return False

    def stiffness(self, facts: ColumnFacts) -> Stiffness | None:
        """Return nothing: no second-order effect is computed."""
        return None

    def demands(self, facts: ColumnFacts, storey: StoreyFacts, actions: Actions) -> Demands:
        """Return the demands to be met: both ends as analysed."""
        forces = actions.axial_bending
        return Demands(forces, actions.stations, forces)

    def explain(self, record: Derivation, facts: ColumnFacts, demand: Demand) -> None:
        """Write the demand."""
        write_demand(record, ("P_u", "M_ux", "M_uy"), demand.values)


def slenderness(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Return the note that slenderness is not yet considered (6.2.5)."""
    return [not_yet_considered("6.2.5", "Their growth by slenderness and by sway is")]
