"""Columns against beams at a joint, as codes put it alike."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from fexro.core.findings import Finding, State, number
from fexro.core.joints import Joint, JointVerdict
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension

__all__ = ["joint_finding", "joint_not_checked", "joint_notes", "joint_table"]


def joint_finding(verdict: JointVerdict, derive: Callable[[], Derivation]) -> Finding:
    """Return the check of the columns against the beams at the joint above a lift.

    Args:
        verdict: what the code asks, of the worse sense of sway.
        derive: writes the calculation.
    """
    joint = verdict.joint
    ratio = verdict.required / joint.ratio
    state = State.SATISFIED if verdict.met else State.EXCEEDED
    sign = "≥" if joint.ratio >= verdict.required else "<"
    return Finding(
        *(f"Strong column along {'xy'[joint.axis]}", "weak column", verdict.clause, state),
        np.nan if verdict.exempt else ratio,
        "need not be" if verdict.exempt else f"{{found}} {sign} {{limit}}",
        f"At the joint above the columns resist {{found}} of the beams with sway to {joint.name};"
        " {limit} required.",
        {"found": number(joint.ratio), "limit": number(verdict.required)},
        derive=derive,
    )


def joint_not_checked(clause: str, axis: int) -> Finding:
    """Return that columns are not checked against beams along x (0) or y (1)."""

    def derive() -> Derivation:
        record = Derivation()
        record.note(
            "What the beams at the floor above resist is not known; their bars, or their moments,"
            " are given with the beams framing in."
        )
        return record

    along = "xy"[axis]
    return Finding(
        *(f"Strong column along {along}", "joint", clause, State.ATTENTION, np.nan),
        "not checked",
        f"strong column – weak beam along {along} ({clause}) is not checked: beams are not known.",
        assumption=True,
        derive=derive,
    )


def joint_table(record: Derivation, joint: Joint, kind: str) -> None:
    """Write the moments at a joint."""
    where = "above" if joint.end == "top" else "below"
    rows: list[tuple[str, float]] = [
        (name, moment)
        for name, moment in zip(("this lift", f"the lift {where}"), joint.columns, strict=False)
    ]
    axis = "xy"[joint.axis]
    for side, moment in zip(joint.sides, joint.beams, strict=True):
        bending = "sagging" if side == joint.sense else "hogging"
        rows.append((f"beam {'+' if side > 0 else '−'}{axis}, {bending}", moment))
    columns: list[tuple[str, Dimension | None]] = [("member", None), ("M", Dimension.MOMENT)]
    title = f"Joint {where}, sway to {joint.name}: {kind} moments, the least over the axial forces"
    record.table(title, columns, rows)


def joint_notes(record: Derivation, verdict: JointVerdict) -> None:
    """Write whether it is enough, and what would raise it."""
    asked = Term(verdict.required, Dimension.RATIO)
    if verdict.exempt:
        record.note(f"{verdict.exempt} It need not be {{asked}}.", asked=asked)
        return
    record.note("{asked} required.", asked=asked)
    if verdict.met:
        return
    settling = verdict.settle()
    if settling.bar_area is not None:
        area = Term(settling.bar_area, Dimension.AREA)
        record.note("With {area} of bars in this lift, placed as they are, it is met.", area=area)
    if settling.depth is not None:
        depth = Term(settling.depth, Dimension.LENGTH)
        along = "xy"[verdict.joint.axis]
        record.note(f"With this lift {{depth}} deep along {along} it is met.", depth=depth)
    if settling.bar_area is settling.depth is None:
        record.note("Neither four times the bars nor three times the depth of this lift settle it.")
