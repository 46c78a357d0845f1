"""A lift by the general method beside the simplified one."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fexro.core.errors import ConvergenceError
from fexro.core.findings import Finding, state_of_ratio
from fexro.core.members.elevation import elevation_of
from fexro.core.members.general import GeneralLift, GeneralResult, load_path
from fexro.core.members.lift import LiftResult, by_severity
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.second_order import GeneralBasis
from fexro.core.strength.utilisation import proportional

__all__ = ["GeneralCheck", "decided", "general_check", "general_lift"]

NAME = "Second-order bending, general method"


@dataclass(frozen=True, eq=False)
class GeneralCheck:
    """A combination by both methods.

    Attributes:
        combination: its name.
        simplified: utilisation by the simplified method.
        found: by the general one.
        basis: on what that is based.
    """

    combination: str
    simplified: float
    found: GeneralResult
    basis: GeneralBasis

    @property
    def ratio(self) -> float:
        """Utilisation by the general method."""
        return self.found.ratio

    @property
    def cost(self) -> float:
        """How much more the simplified method asks for, as a share."""
        return self.simplified / self.ratio - 1


def general_lift(result: LiftResult, combination: int) -> tuple[GeneralLift, GeneralBasis]:
    """Return a lift in a combination as the general method takes it, and on what that is based.

    End moments have the growth of what comes with sway; along the lift its ends do not move.
    """
    lift, prepared = result.lift, result.prepared
    basis = lift.code.stability.general_basis(lift.facts, prepared.second_order, combination)
    about = elevation_of(prepared, combination)
    cross, strength = lift.facts.cross_section, lift.strength
    body = lift.code.strength.working_body(cross, strength, basis.creep)
    signs = [np.sign(axis.swayed[np.abs(axis.swayed).argmax()]) or 1.0 for axis in about]
    bow_x, bow_y = (float(s * e) for s, e in zip(signs, basis.imperfection, strict=True))
    return (
        GeneralLift(
            body=body,
            length=(about[0].direction.length, about[1].direction.length),
            axial=float(lift.actions.forces[combination, :, 0].max()),
            places=about[0].places,
            first=np.stack([axis.swayed for axis in about]),
            imperfection=(bow_x, bow_y),
            springs=basis.restraint,
            softening=basis.softening,
        ),
        basis,
    )


def general_check(result: LiftResult, combination: int) -> GeneralCheck:
    """Return a combination of a lift by the general method beside the simplified one."""
    lift, basis = general_lift(result, combination)
    simplified = float(result.proportional.ratio[result.demand_index(combination)])
    strength = result.lift.strength
    found = load_path(
        lift,
        lambda rows: proportional(strength, rows).ratio,
        1 / max(simplified, 0.05),
    )
    return GeneralCheck(result.combinations[combination], simplified, found, basis)


def decided(result: LiftResult) -> LiftResult:
    """Return the checks of a lift, the general method in place of what the simplified exceeds.

    Combinations that the simplified method satisfies stay as they are.
    """
    forces = result.solved
    lead = next((finding for finding in result.findings if finding.leads), None)
    if forces is None or lead is None or forces.ratio <= 1:
        return result
    ratios = result.proportional.ratio.reshape(len(result.combinations), -1).max(axis=1)
    over = [int(i) for i in np.flatnonzero(ratios > 1)]
    checks, failed = [], {}
    kept = ratios.copy()  # by the simplified method, where the general one does not answer
    for combination in over:
        try:
            checks.append(general_check(result, combination))
        except ConvergenceError as error:
            failed[result.combinations[combination]] = str(error)
            continue
        kept[combination] = 0.0
    if not checks:
        return result
    worst = max(checks, key=lambda check: check.ratio)
    rest = float(kept.max(initial=0.0))
    ratio = max(rest, worst.ratio)
    name = worst.combination if rest <= worst.ratio else result.combinations[int(kept.argmax())]

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Nonlinear second-order analysis: {worst.basis.said}.")
        for combination, why in failed.items():
            record.note(f"{combination} stays as the simplified method has it: {why}.")
        rows = [
            (c.combination, c.simplified, c.ratio, c.found.load_factor, c.found.by) for c in checks
        ]
        columns = (
            ("combination", None),
            *(("simplified", Dimension.RATIO), ("general", Dimension.RATIO)),
            *(("load factor", Dimension.RATIO), ("ends by", None)),
        )
        record.table("Combinations that exceed by the simplified method", columns, rows)
        return record

    finding = Finding(
        NAME,
        lead.short,
        worst.basis.clause,
        state_of_ratio(ratio),
        ratio,
        "{combination}; {simplified} by the simplified method",
        "{ratio} by the general method in {combination}.",
        {
            "combination": name,
            "simplified": f"{forces.ratio:.2f}",
            "ratio": f"{ratio:.2f}",
        },
        name,
        leads=True,
        derive=derive,
    )
    others = [finding if one is lead else one for one in result.findings]
    return replace(result, findings=by_severity(others, result.lift.facts), decided=ratio)
