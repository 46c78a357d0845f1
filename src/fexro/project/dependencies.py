"""Which lifts are other facts after an edit: worked out from the project before and after."""

from __future__ import annotations

import numpy as np

from fexro.project.column import LiftKey, LiftModel
from fexro.project.held import directions_of, lift_above
from fexro.project.project import Project
from fexro.project.resolve import storey_facts
from fexro.project.shapes import concretes_in
from fexro.project.wall_members import panels_of

__all__ = ["affected"]


def affected(before: Project, after: Project) -> frozenset[LiftKey]:
    """Return the lifts whose facts, forces or code are not what they were.

    Lifts that are only before are left out: nothing is found of them any more.
    """
    if _rules(before) != _rules(after):
        return frozenset(after.by_key)
    facts = _by_facts(before, after)
    across, axial = _by_loads(before, after)
    forces = (
        before.case_forces.changed(after.case_forces)
        | before.factored_forces.changed(after.factored_forces)
        | _by_combinations(before, after)
        | _by_floors(before, after)
        | axial
    )
    found = facts | forces | across | _ductile_beside(after, forces)
    found = (found | _of_walls(before, after, found)) & after.by_key.keys()
    gone = before.by_key.keys() - after.by_key.keys()
    shared = _shared(before, after, {key.storey for key in facts | gone}, drifts=False)
    shared |= _shared(before, after, {key.storey for key in forces | gone}, drifts=True)
    return frozenset(found) | {key for key in after.by_key if key.storey in shared}


def _rules(project: Project) -> tuple[object, ...]:
    """What all lifts are checked by; what they inherit is among their facts."""
    basis = project.basis
    return (
        *(basis.code, basis.annex, basis.units, basis.bars.own),
        *(basis.bracing_x, basis.bracing_y),
    )


def _by_facts(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts that are others, rest on other materials, or are held in another way."""
    same = all(
        getattr(before, field) is getattr(after, field)
        for field in ("concretes", "steels", "storeys")
    )
    angles = [[(mark.name, mark.angle) for mark in p.marks] for p in (before, after)]
    # Where no floor was or is passed, a lift is held by its own floors and those beside it.
    if same and not before.passing and not after.passing and angles[0] == angles[1]:
        found = {
            key
            for key, lift in after.by_key.items()
            if lift is not (former := before.by_key.get(key)) and lift != former
        }
        return found | _beside(before, after, found) | _by_beams(before, after)
    return {key for key in after.by_key if _facts(before, key) != _facts(after, key)}


def _beside(before: Project, after: Project, changed: set[LiftKey]) -> set[LiftKey]:
    """Return the lifts above and below those whose stiffness is another, or that come and go.

    Below a lift it counts where its bars stand, too.
    """
    gone = before.by_key.keys() - after.by_key.keys()
    names = [storey.name for storey in after.storeys]
    found = set()
    for key in changed | gone:
        place = after.storey_place.get(key.storey)
        if place is None:
            continue
        known = key in before.by_key and key in after.by_key
        sides = []
        if not known or _bars(before, key) != _bars(after, key):
            sides.append(place + 1)
        if not known or _stiff(before, key) != _stiff(after, key):
            sides += [place - 1, place + 1]
        found |= {LiftKey(key.mark, names[side]) for side in sides if 0 <= side < len(names)}
    return found & after.by_key.keys()


def _bars(project: Project, key: LiftKey) -> tuple[object, ...]:
    lift = project.by_key[key]
    return lift.section, lift.values.laps


def _ductile_beside(after: Project, changed: set[LiftKey]) -> set[LiftKey]:
    """Return the lifts of ductile frames above and below those with other forces."""
    names = [storey.name for storey in after.storeys]
    found = set()
    for key in changed:
        place = after.storey_place.get(key.storey)
        if place is None:
            continue
        for other in names[max(place - 1, 0) : place + 2]:
            lift = after.by_key.get(LiftKey(key.mark, other))
            if lift is not None and _ductile(lift):
                found.add(LiftKey(key.mark, other))
    return found


def _of_walls(before: Project, after: Project, changed: set[LiftKey]) -> set[LiftKey]:
    """Return the members of walls that are others, or whose critical section is another.

    The shear of ductile walls goes by what the section at their base resists, and its forces; the
    panels of a storey share it.
    """
    found: set[LiftKey] = set()
    if before.walls is not after.walls:
        former = {wall.name: wall for wall in before.walls}
        others = {wall.name for wall in after.walls if former.get(wall.name) != wall}
        found |= {key for key in after.by_key if after.mark_by_name[key.mark].wall in others}
    if before.bearing_walls is not after.bearing_walls:
        strips = set(before.bearing_walls) ^ set(after.bearing_walls)
        names = {wall.name for wall in strips}
        found |= {key for key in after.by_key if key.mark in names}
    storeys: set[tuple[str | None, str]] = set()
    for key in changed:
        mark = after.mark_by_name.get(key.mark)
        if mark is None or mark.kind != "wall panel":
            continue
        storeys.add((mark.wall, key.storey))
        if mark.lifts[-1].storey != key.storey:
            continue
        above = [LiftKey(mark.name, lift.storey) for lift in mark.lifts]
        found |= {one for one in above if _ductile(after.by_key[one])}
        storeys |= {(mark.wall, lift.storey) for lift in mark.lifts}
    if not storeys:
        return found
    for key in panels_of(after):
        beside = after.mark_by_name[key.mark].wall, key.storey
        if beside in storeys and _ductile(after.by_key[key]):
            found.add(key)
    return found


def _ductile(lift: LiftModel) -> bool:
    """Tell whether a lift is of a frame of more than low ductility in any direction."""
    return not lift.values.x.ductility == lift.values.y.ductility == "low"


def _stiff(project: Project, key: LiftKey) -> tuple[object, ...]:
    lift = project.by_key[key]
    if _ductile(lift):
        # The joints above and below are of what it resists, too.
        return lift.section, lift.values
    return lift.section.shape, lift.section.profiles, lift.concrete


def _by_beams(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts that beams frame into which are others."""
    if before.beams is after.beams:
        return set()
    names = [storey.name for storey in after.storeys]
    found = set()
    for beam in set(before.beams) ^ set(after.beams):
        place = after.storey_place.get(beam.storey)
        if place is not None:
            found |= {LiftKey(beam.mark, name) for name in names[max(place - 1, 0) : place + 1]}
    return found


def _facts(project: Project, key: LiftKey) -> tuple[object, ...]:
    lift = project.by_key.get(key)
    if lift is None:
        return ()
    storey = project.storey_by_name[key.storey]
    return (
        lift,
        project.concrete_by_name[lift.concrete],
        *(project.concrete_by_name[name] for name in concretes_in(lift.section.shape)),
        project.steel_by_name[lift.steel],
        project.steel_by_name.get(lift.values.tie_steel or ""),
        *(storey.drift_x, storey.drift_y, storey.other_axial, storey.height),
        *directions_of(project, key),
        lift_above(project, key),
    )


def _by_loads(before: Project, after: Project) -> tuple[set[LiftKey], set[LiftKey]]:
    """Return the lifts with other loads or moments across them, and with other axial loads."""
    across: set[LiftKey] = set()
    axial: set[LiftKey] = set()
    if before.lift_loads is not after.lift_loads:
        for load in set(before.lift_loads) ^ set(after.lift_loads):
            (axial if load.kind == "axial" else across).add(load.key)
    if before.span_forces is not after.span_forces:
        across |= {span.key for span in set(before.span_forces) ^ set(after.span_forces)}
    old, new = before.weights, after.weights
    axial |= {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}
    return across, axial


def _by_floors(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts of which another share of a load case stays."""
    old, new = before.floor_shares, after.floor_shares
    return {
        key
        for key in old.keys() | new.keys()
        if key not in old or key not in new or not np.array_equal(old[key], new[key])
    }


def _by_combinations(before: Project, after: Project) -> set[LiftKey]:
    if before.combinations is after.combinations and before.cases is after.cases:
        return set()
    old, new = ({c.name: c for c in p.combinations} for p in (before, after))
    if before.cases != after.cases or list(old) != list(new):
        return set(after.by_key)
    found: set[LiftKey] = set()
    for name, combination in new.items():
        former = old[name]
        if former is combination or former == combination:
            continue
        if (former.factors, former.for_strength) != (
            combination.factors,
            combination.for_strength,
        ):
            found |= {k for k in after.by_key if former.applies(k) or combination.applies(k)}
        else:
            found |= {k for k in after.by_key if former.applies(k) != combination.applies(k)}
    return found


def _shared(before: Project, after: Project, storeys: set[str], *, drifts: bool) -> set[str]:
    """Return those of some storeys in which what a lift is, or carries, counts for the others.

    Args:
        before, after: the project.
        storeys: names.
        drifts: whether it is enough that the drift is known, by which the loads decide.
    """
    return {
        storey
        for storey in storeys
        for project in (before, after)
        if storey in project.storey_place and _sways(project, storey, drifts=drifts)
    }


def _sways(project: Project, storey: str, *, drifts: bool) -> bool:
    """Tell whether the lifts of a storey take part in its sway, or may do by its drift."""
    code, model = project.basis.design_code, project.storey_by_name[storey]
    lifts = [lift for key, lift in project.by_key.items() if key.storey == storey]
    facts = storey_facts(project, code, storey)
    for plan, axis in enumerate(("x", "y")):
        if drifts and getattr(model, f"drift_{axis}") is not None:
            return True
        if not code.stability.couples_storey:
            continue
        for direction in {getattr(lift.values, axis) for lift in lifts}:
            walls = direction.frame != "moment frame"
            if direction.sway == "sway" or (
                direction.sway == "by rule"
                and not code.stability.storey_direction(facts, plan, walls).braced
            ):
                return True
    return False
