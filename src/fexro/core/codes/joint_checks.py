"""Columns against beams at a joint, as codes put it alike."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial

import numpy as np

from fexro.core.actions import Actions
from fexro.core.codes.transverse_checks import with_earthquake
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding, State, number
from fexro.core.joints import Joint, JointVerdict, Settling, settling_of
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension

__all__ = ["Senses", "explain_joint", "joint_findings", "joint_table", "settled_by"]

# A joint in both senses of sway; nothing where it is not known.
Senses = Sequence[JointVerdict] | None


def joint_findings(
    clause: str, senses: Iterable[Senses], explain: Callable[[JointVerdict], Derivation]
) -> list[Finding]:
    """Return the checks of the columns against the beams at the joint above a lift.

    Args:
        clause: of the code.
        senses: the joint along x and y; empty where it is not asked for.
        explain: writes the calculation of one sense.
    """
    found = []
    for axis, joints in enumerate(senses):
        if joints is None:
            found.append(_not_checked(clause, axis))
        elif joints:
            worst = min(joints, key=lambda one: one.joint.ratio)
            found.append(_finding(worst, partial(explain, worst)))
    return found


def settled_by(
    cross: CrossSection,
    axis: int,
    required: float,
    joints: Callable[[CrossSection], Sequence[Joint] | None],
) -> Callable[[], Settling]:
    """Return what finds the bars or the depth of a lift that settle the joint above it.

    Args:
        cross: the section of the lift.
        axis: along which it is made deeper, x (0) or y (1).
        required: ratio of the moments of columns to those of beams.
        joints: the joint with another section of the lift, known as it is with this one.
    """

    def enough(other: CrossSection) -> bool:
        found = joints(other)
        assert found is not None
        return all(one.ratio >= required for one in found)

    return partial(settling_of, cross, axis, enough)


def explain_joint(
    actions: Actions, verdict: JointVerdict, kind: str, rule: Callable[[Derivation], object]
) -> Derivation:
    """Return the calculation at a joint.

    Args:
        actions: on the lift.
        verdict: what the code asks.
        kind: of the moments.
        rule: writes the ratio by the code.
    """
    record = Derivation()
    record.note(with_earthquake(actions))
    joint_table(record, verdict.joint, kind)
    rule(record)
    _notes(record, verdict)
    return record


def _finding(verdict: JointVerdict, derive: Callable[[], Derivation]) -> Finding:
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


def _not_checked(clause: str, axis: int) -> Finding:
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


def _notes(record: Derivation, verdict: JointVerdict) -> None:
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
