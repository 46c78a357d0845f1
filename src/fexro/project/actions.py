"""What acts on a lift: factors times cases, and forces given factored, at ends and between."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS, Actions, Profile
from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.loads.between import distributed, eccentric, point
from fexro.project.column import Axis, LiftKey
from fexro.project.combining import Combining
from fexro.project.held import held_between
from fexro.project.project import Project

__all__ = ["actions_of", "cases_along"]

# From kN and kN·m to N and N·mm.
_INTERNAL = np.array([1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
_EVEN = np.linspace(0.0, 1.0, 129)  # places between the ends that are looked at
N, VX, VY, _, MX, MY = range(6)
TOP, BOTTOM = range(2)
LARGER = 1e-6  # share by which a moment between the ends is larger than at both
BETWEEN = {MX: "between, Mx", MY: "between, My"}


def actions_of(project: Project, key: LiftKey) -> Actions:
    """Return the factored forces on a lift, N and N·mm; of ductile frames with those beside it."""
    found = _actions_of(project, key)
    values = project.by_key[key].values
    if values.x.ductility == values.y.ductility == "low":
        return found
    place = project.storey_place[key.storey]
    return replace(
        found,
        above=_axial_beside(project, key.mark, place - 1, BOTTOM),
        below=_axial_beside(project, key.mark, place + 1, TOP),
    )


def _axial_beside(project: Project, mark: str, place: int, end: int) -> tuple[float, float] | None:
    """Return the least and the largest axial force at an end of a lift in an earthquake, N."""
    if not 0 <= place < len(project.storeys):
        return None
    key, plan = LiftKey(mark, project.storeys[place].name), project.combining
    if key not in project.by_key:
        return None
    ends, known = _cases_at_ends(project, key)
    given, _ = project.factored_forces.of_member(key)
    axial = 1e3 * _combined(plan, ends, known, given)[:, end, N]
    has = ~np.isnan(axial)
    if (plan.seismic & has).any():
        has &= plan.seismic
    return (float(axial[has].min()), float(axial[has].max())) if has.any() else None


def _actions_of(project: Project, key: LiftKey) -> Actions:
    """Return the factored forces on a lift, N and N·mm.

    A combination with factors is the sum of its cases; it lacks forces where a case that it counts
    has none for the lift. One without factors has the forces that are given for it. Where loads act
    between the ends, or moments are given there, the places of the largest Mx and of the largest My
    of each combination are stations too, if they are larger than at both ends in any.
    """
    plan = project.combining
    ends, known = _cases_at_ends(project, key)
    given, _ = project.factored_forces.of_member(key)
    values = _combined(plan, ends, known, given)
    told = _told_sway(plan, given)
    if told is not None:
        values = values + told.sum(axis=0)
    applies = np.ones(len(plan.names), dtype=bool)
    for i, combination in plan.limited:
        applies[i] = combination.applies(key)
    has = applies & ~np.isnan(values[:, 0, 0])
    missing = tuple(plan.names[i] for i in np.flatnonzero(applies & ~has))
    names = plan.names if has.all() else tuple(plan.names[i] for i in np.flatnonzero(has))
    factors = plan.factors[has]
    seismic = plan.seismic[has] if plan.seismic[has].any() else None
    summed = bool(plan.made.any() and plan.made[has].all())
    sustained = sway = lasting = quake = None
    if summed:
        lasting = np.einsum("skf,k->sf", np.nan_to_num(ends), plan.sustained) * _INTERNAL
    if key not in project.lifts_between:
        if summed:
            sustained, sway = _parts(plan, factors, ends)
            quake = _of_earthquake(plan, factors, ends)
        if told is not None and not plan.made.any():
            sway = told[:, has] * _INTERNAL
        forces = values[has] * _INTERNAL
        beyond = _beyond(project, key, names)
        return Actions(
            *(names, forces, missing, ENDS, sustained, sway, lasting),
            beyond=beyond,
            seismic=seismic,
            earthquake=quake,
        )
    places, cases, factored = cases_along(project, key, ends, given)
    along = _combined(plan, cases, known, factored)
    told = _told_sway(plan, factored)
    if told is not None:
        along = along + told.sum(axis=0)
    along = along[has] * _INTERNAL
    picked, stations = _stations(along)
    forces = np.take_along_axis(along, picked[..., None], axis=1)
    if summed:
        sustained, sway = _parts(plan, factors, cases)
        quake = _of_earthquake(plan, factors, cases)
        if quake is not None:
            quake = np.take_along_axis(quake, picked[..., None], axis=1)
        sustained = np.take_along_axis(sustained, picked[..., None], axis=1)
        sway = np.take_along_axis(sway, picked[None, ..., None], axis=2)
    elif told is not None and not plan.made.any():
        sway = np.take_along_axis(told[:, has] * _INTERNAL, picked[None, ..., None], axis=2)
    between = Profile(places, along)
    return Actions(
        *(names, forces, missing, stations, sustained, sway, lasting, between),
        seismic=seismic,
        earthquake=quake,
    )


def _told_sway(plan: Combining, given: FloatArray) -> FloatArray | None:
    """Return what comes with sway in x and y as it is given, kN and kN·m, (2, C, S, 6)."""
    if not (plan.sway_parts >= 0).any():
        return None
    places = given.shape[0]
    found = np.zeros((2, len(plan.names), places, len(COMPONENTS)))
    for axis, columns in enumerate(plan.sway_parts):
        known = columns >= 0
        found[axis, known] = given[:, columns[known]].transpose(1, 0, 2)
    return found


def _beyond(project: Project, key: LiftKey, names: tuple[str, ...]) -> FloatArray | None:
    """Return the largest moments, with sign, of lifts that are one length with a lift, (2, C).

    Not numbers about an axis about which the lift is a length of its own; nothing where it is so
    about both.
    """
    if key.mark not in project.passing:
        return None
    found = np.full((2, len(names)), np.nan)
    across: tuple[Axis, Axis] = ("y", "x")
    for bending, axis in enumerate(across):
        held = held_between(project, key, axis)
        if held.top == held.bottom:
            continue
        every = []
        for storey in project.storeys[held.top : held.bottom + 1]:
            ends, known = _cases_at_ends(project, LiftKey(key.mark, storey.name))
            given, _ = project.factored_forces.of_member(LiftKey(key.mark, storey.name))
            values = _combined(project.combining, ends, known, given)
            places = [project.combining.names.index(name) for name in names]
            every.append(np.nan_to_num(values[places, :, MX + bending]))
        moments = np.concatenate(every, axis=1)
        at = np.abs(moments).argmax(axis=1)
        found[bending] = np.take_along_axis(moments, at[:, None], axis=1)[:, 0] * _INTERNAL[MX]
    return None if np.isnan(found).all() else found


def _combined(
    plan: Combining, cases: FloatArray, known: BoolArray, given: FloatArray
) -> FloatArray:
    """Return forces of each combination at S places, (C, S, 6), kN and kN·m; NaN where unknown.

    Args:
        plan: how combinations are made.
        cases: forces of the cases, (S, K, 6).
        known: which cases have forces, (K,).
        given: forces that are given factored, (S, G, 6).
    """
    values = np.full((len(plan.names), cases.shape[0], len(COMPONENTS)), np.nan)
    factored = plan.given >= 0
    values[factored] = given[:, plan.given[factored]].transpose(1, 0, 2)
    if plan.made.any():
        factors = plan.factors[plan.made]
        lacking = plan.lacking[plan.made] | (factors[:, ~known] != 0).any(axis=1)
        values[plan.made] = np.where(lacking[:, None, None], np.nan, _sum(factors, cases))
    return values


def _sum(factors: FloatArray, cases: FloatArray) -> FloatArray:
    """Return factors (C, K) times case forces (S, K, 6), as (C, S, 6); what is not known is 0."""
    places, count, components = cases.shape
    rows = _known(cases).transpose(1, 0, 2).reshape(count, places * components)
    # As a product of matrices it is done by the library of linear algebra.
    return (_known(factors) @ rows).reshape(-1, places, components)


def _known(values: FloatArray) -> FloatArray:
    """Return values with 0 where they are not known."""
    known: FloatArray = np.where(np.isnan(values), 0.0, values)
    return known


def _parts(
    plan: Combining, factors: FloatArray, cases: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return the lasting part, (C, S, 6), and what comes with sway, (2, C, S, 6)."""
    sustained = _sum(factors * plan.sustained, cases) * _INTERNAL
    sway = np.stack([_sum(factors * share, cases) * _INTERNAL for share in plan.sway])
    return sustained, sway


def _of_earthquake(plan: Combining, factors: FloatArray, cases: FloatArray) -> FloatArray | None:
    """Return the part of earthquake, (C, S, 6); nothing where no case is of earthquake."""
    if not plan.earthquake.any():
        return None
    part: FloatArray = _sum(factors * plan.earthquake, cases) * _INTERNAL
    return part


def _cases_at_ends(project: Project, key: LiftKey) -> tuple[FloatArray, BoolArray]:
    """Return the forces of the cases at both ends, (2, K, 6), and which are known, (K,)."""
    cases, known = project.case_forces.of_member(key)
    shares = project.floor_shares.get(key)
    if shares is not None:
        cases = cases * shares[:, None]
    weight = project.weights.get(key)
    # Its own weight alone is no analysis of a lift.
    if weight is not None and known.any():
        column, top, own = weight
        cases, known = cases.copy(), known.copy()
        if not known[column]:
            cases[:, column], known[column] = 0.0, True
        cases[:, column, N] += [top, top + own]
    return cases, known


def cases_along(
    project: Project, key: LiftKey, ends: FloatArray, given: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return places and the forces there of cases, (P, K, 6), and of those given, (P, G, 6).

    Args:
        project: the project.
        key: of a lift.
        ends: forces of the cases at top and bottom, (2, K, 6).
        given: forces given factored at top and bottom, (2, G, 6).
    """
    loads = [load for load in project.lift_loads if load.key == key]
    spans = [span for span in project.span_forces if span.key == key]
    special = [load.at for load in loads if load.kind == "point"] + [span.at for span in spans]
    places = np.unique([*_EVEN, *special])
    columns = {name: i for i, name in enumerate(project.case_forces.columns)}
    cases, factored = (_straight(forces, places) for forces in (ends, given))
    for forces, names in ((cases, columns), (factored, None)):
        known = names or {name: i for i, name in enumerate(project.factored_forces.columns)}
        for name in {span.name for span in spans} & known.keys():
            mine = sorted((s for s in spans if s.name == name), key=lambda span: span.at)
            for component, field in enumerate(COMPONENTS):
                column = forces[:, known[name], component]
                told = [(s.at, v) for s in mine if (v := getattr(s, field)) is not None]
                xs = [0.0, *(at for at, _ in told), 1.0]
                ys = [column[0], *(value for _, value in told), column[-1]]
                forces[:, known[name], component] = np.interp(places, xs, ys)
    height = project.storey_by_name[key.storey].height
    for load in loads:
        if load.case not in columns:
            continue
        at = cases[:, columns[load.case]]
        if load.kind == "axial":
            at[:, N] += load.value
            top = load.end == "top"
            at[:, MX] += eccentric(load.value, 1e-3 * load.ey, places, at_top=top)
            at[:, MY] += eccentric(load.value, 1e-3 * load.ex, places, at_top=top)
            turn = (1 if top else -1) * 1e-3 * load.value / height
            at[:, VX] += turn * load.ex
            at[:, VY] += turn * load.ey
            continue
        moment, shear = (
            distributed(load.value, height, places)
            if load.kind == "distributed"
            else point(load.value, load.at, height, places)
        )
        along = (MY, VX) if load.axis == "x" else (MX, VY)
        at[:, along[0]] += moment
        at[:, along[1]] += shear
    return places, cases, factored


def _straight(ends: FloatArray, places: FloatArray) -> FloatArray:
    """Return forces of both ends straight between them, (P, K, 6)."""
    top, bottom = ends
    share = places[:, None, None]
    straight: FloatArray = bottom + share * (top - bottom)
    return straight


def _stations(along: FloatArray) -> tuple[IntArray, tuple[str, ...]]:
    """Return which places of each combination are stations, (C, S), and what they are called."""
    count, last = along.shape[0], along.shape[1] - 1
    picked = [np.full(count, last), np.zeros(count, dtype=int)]
    names: list[str] = list(ENDS)
    for component, name in BETWEEN.items():
        size = np.abs(along[..., component])
        at = size.argmax(axis=1) if count else np.zeros(0, dtype=int)
        ends = np.maximum(size[:, 0], size[:, -1])
        if count and (size.max(axis=1) > ends * (1 + LARGER) + LARGER).any():
            picked.append(at)
            names.append(name)
    return np.stack(picked, axis=1), tuple(names)
