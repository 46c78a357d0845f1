"""Between which floors a lift is held, how its ends are, and what frames in there."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from fexro.core.codes.slenderness import SectionAbout
from fexro.core.facts import (
    BeamMoments,
    CrossSection,
    End,
    EndKind,
    FramingMember,
    LiftAbove,
    LiftDirection,
)
from fexro.core.section.bars import parse_ties
from fexro.core.section.beams import beam_section
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.shapes import Shape
from fexro.project.bars import OwnBar, sizes_by_name
from fexro.project.basis import ConcreteGrade, SteelGrade
from fexro.project.column import Axis, LiftKey
from fexro.project.cross_section import cross_section_of
from fexro.project.framing import FramingBeam
from fexro.project.section import section_of
from fexro.project.shapes import shape_of
from fexro.project.values import Direction, EndCondition, Values
from fexro.project.wall_members import beams_of

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = [
    "Held",
    "beam_moments",
    "direction_of",
    "directions_of",
    "held_between",
    "held_height",
    "key_above",
    "lift_above",
    "plan_axis",
]

AXES: tuple[Axis, Axis] = ("x", "y")


@dataclass(frozen=True)
class Held:
    """The floors that hold a lift in a direction of its section.

    Attributes:
        top, bottom: places among the storeys, of those at whose top and foot the floors are.
        height: between them, m.
    """

    top: int
    bottom: int
    height: float


def held_between(project: Project, key: LiftKey, axis: Axis) -> Held:
    """Return between which floors a lift is held in a direction of its section.

    A floor at which the lift below passes unsupported in that direction holds neither.
    """
    place = project.storey_place
    here = place[key.storey]
    height = project.storeys[here].height
    if key.mark not in project.passing:
        return Held(here, here, height)
    storeys = project.storeys

    def passes(at: int) -> bool:
        lift = project.record_by_key.get(LiftKey(key.mark, storeys[at].name))
        return lift is not None and axis in lift.unsupported

    def present(at: int) -> bool:
        return LiftKey(key.mark, storeys[at].name) in project.record_by_key

    above = here
    while above > 0 and passes(above) and present(above - 1):
        above -= 1
        height += storeys[above].height
    below = here
    while below + 1 < len(storeys) and present(below + 1) and passes(below + 1):
        below += 1
        height += storeys[below].height
    return Held(above, below, height)


def held_height(project: Project, key: LiftKey, axis: Axis) -> float:
    """Return the height between the floors that hold a lift in a direction of its section, m."""
    return held_between(project, key, axis).height


def plan_axis(project: Project, key: LiftKey, bending: int) -> int:
    """Return the direction of the plan in which a lift bends about x (0) or y (1): 0 is x, 1 is y.

    A section that is turned in plan bends in the direction it is nearest to.
    """
    turned = round(project.mark_by_name[key.mark].angle / 90) % 2 == 1
    return bending if turned else 1 - bending


def directions_of(
    project: Project, key: LiftKey, values: Values | None = None
) -> tuple[LiftDirection, LiftDirection]:
    """Return a lift where it bends about x and about y, by its values or those in their place."""
    values = values or project.by_key[key].values
    if project.mark_by_name[key.mark].kind != "column":
        return _braced(project, key, values)
    about_x, about_y = (
        direction_of(project, key, (values.x, values.y)[plan_axis(project, key, bending)], bending)
        for bending in (0, 1)
    )
    return about_x, about_y


def _braced(project: Project, key: LiftKey, values: Values) -> tuple[LiftDirection, LiftDirection]:
    """Return a member of a wall where it bends about x and about y: held by the floors it meets."""
    height = 1e3 * project.storey_by_name[key.storey].height
    if key in beams_of(project):
        _, beam = beams_of(project)[key]
        height = 1e3 * (beam.end - beam.start)

    def direction(plan: int) -> LiftDirection:
        given = (values.x, values.y)[plan]
        held = End("pinned", by="held by the floors")
        return LiftDirection(
            storey=height,
            clear=given.clear,
            plan=plan,
            top=held,
            bottom=held,
            factor=1.0 if given.factor is None else given.factor,
            sway="braced",
            walls=True,
            sway_moments=given.sway_moments,
            lasting=given.lasting,
            ductility="low" if given.frame == "moment frame" else given.ductility,
        )

    return direction(plan_axis(project, key, 0)), direction(plan_axis(project, key, 1))


def direction_of(project: Project, key: LiftKey, values: Direction, bending: int) -> LiftDirection:
    """Return a lift where it bends about x (0) or y (1).

    Args:
        project: the project.
        key: of the lift.
        values: of the direction of the plan in which it bends.
        bending: about which axis of the section.
    """
    plan = plan_axis(project, key, bending)
    held = held_between(project, key, AXES[1 - bending])
    overhead = _beams(project, LiftKey(key.mark, project.storeys[held.top].name), plan)
    underfoot: tuple[FramingBeam, ...] = ()
    below = above = None
    if held.bottom + 1 < len(project.storeys):
        below = LiftKey(key.mark, project.storeys[held.bottom + 1].name)
        underfoot = _beams(project, below, plan)
    if held.top > 0:
        above = LiftKey(key.mark, project.storeys[held.top - 1].name)
    top = _end(project, key, values.top, above, overhead, bending)
    if values.bottom.kind == "framing" and (below is None or below not in project.by_key):
        bottom = _foot(values.base, planted=below is not None)
    else:
        bottom = _end(project, key, values.bottom, below, underfoot, bending)
    clear = values.clear
    deepest = max((beam.depth for beam in overhead), default=None)
    if clear is None and deepest is not None:
        clear = max(1e3 * held.height - deepest, MIN_CLEAR)
    return LiftDirection(
        storey=1e3 * held.height,
        clear=clear,
        plan=plan,
        top=top,
        bottom=bottom,
        factor=values.factor,
        factor_sway=values.factor_sway,
        sway=values.sway,
        walls=values.frame != "moment frame",
        sway_moments=values.sway_moments,
        lasting=values.lasting,
        alpha_cr=values.alpha_cr,
        members=values.members,
        moment_shape=values.moment_shape,
        moment_factor=values.moment_factor,
        ductility="low" if values.frame == "walls" else values.ductility,
    )


def key_above(project: Project, key: LiftKey) -> LiftKey | None:
    """Return the key of the lift that stands on a lift, if there is one."""
    place = project.storey_place[key.storey]
    above = LiftKey(key.mark, project.storeys[place - 1].name) if place else None
    return above if above in project.by_key else None


def lift_above(project: Project, key: LiftKey) -> LiftAbove | None:
    """Return the lift that stands on a lift, if there is one."""
    above = key_above(project, key)
    if above is None:
        return None
    lift = project.by_key[above]
    return LiftAbove(cross_section_of(project, lift), lift.values.laps)


MIN_CLEAR = 100.0  # mm, where beams are deeper than the storey is high


def _foot(base: EndCondition, *, planted: bool) -> End:
    kind: EndKind = "fixed" if base.kind == "framing" else base.kind
    value = base.value if kind == "partial" else None
    what = "planted on a floor, taken as" if planted else "foundation,"
    return End(kind, value, by=f"{what} {kind}", planted=planted)


def _beams(project: Project, key: LiftKey, plan: int) -> tuple[FramingBeam, ...]:
    """Return the beams at the floor above a lift that run in a direction of the plan."""
    return tuple(beam for beam in project.beams_by_key.get(key, ()) if beam.axis == AXES[plan])


def _end(
    project: Project,
    key: LiftKey,
    condition: EndCondition,
    beyond: LiftKey | None,
    beams: tuple[FramingBeam, ...],
    bending: int,
) -> End:
    if condition.kind != "framing":
        value = condition.value if condition.kind == "partial" else None
        return End(condition.kind, value, by=condition.kind)
    column = None
    if beyond is not None and beyond in project.by_key:
        column = _column(project, beyond, bending)
    members = tuple(_member(project, key, beam) for beam in beams)
    return End("framing", column=column, beams=members)


@lru_cache(maxsize=1024)
def _second_moment(shape: Shape, axis: int) -> float:
    return shape.outline().inertia[axis]


def _column(project: Project, key: LiftKey, bending: int) -> FramingMember:
    lift = project.by_key[key]
    height = held_between(project, key, AXES[1 - bending]).height
    steel = None
    if lift.section.profiles:
        about = SectionAbout(section_of(lift.section, project.basis.bars.own), bending)
        steel = about.steel_stiffness
    direction = (lift.values.x, lift.values.y)[plan_axis(project, key, bending)]
    return FramingMember(
        _second_moment(shape_of(lift.section.shape), bending),
        1e3 * height,
        project.concrete_by_name[lift.concrete].material(),
        "column",
        steel=steel,
        # What it resists counts at the joints of ductile frames only.
        cross_section=None if direction.ductility == "low" else cross_section_of(project, lift),
    )


def beam_moments(project: Project, key: LiftKey, beam: FramingBeam) -> BeamMoments | None:
    """Return what a beam resists next to the column at the top of a lift, if it is known.

    Raises:
        InputError: for bars that have no place.
    """
    if beam.top is None or beam.bottom is None:
        return None
    section = None
    if isinstance(beam.top, str) or isinstance(beam.bottom, str):
        lift = project.by_key[key]
        section = _beam_section(
            (beam.width, beam.depth),
            (beam.top, beam.bottom),
            lift.section.cover,
            lift.section.ties,
            project.concrete_by_name[beam.concrete or lift.concrete],
            project.steel_by_name[lift.steel],
            project.basis.bars.own,
        )
    hogging, sagging = (
        None if isinstance(value, str) else 1e6 * value for value in (beam.top, beam.bottom)
    )
    return BeamMoments(section, hogging, sagging)


@lru_cache(maxsize=1024)
def _beam_section(
    sizes: tuple[float, float],
    layers: tuple[str | float, str | float],
    cover: float,
    ties: str,
    concrete: ConcreteGrade,
    steel: SteelGrade,
    own: tuple[OwnBar, ...],
) -> CrossSection:
    named = sizes_by_name(own)
    top, bottom = (
        parse_call_out(text, where, named) if isinstance(text, str) else ()
        for where, text in zip(("top", "bottom"), layers, strict=True)
    )
    section = beam_section(*sizes, top, bottom, cover, parse_ties(ties, "ties", named))
    return CrossSection(section, concrete.material(), steel.material())


def _side(project: Project, key: LiftKey, beam: FramingBeam) -> int:
    """Return on which side by the axis of the section that it runs along a beam is, -1 or 1."""
    angle = round(project.mark_by_name[key.mark].angle / 90) % 4
    plan = {"+x": 0, "+y": 1, "-x": 2, "-y": 3}[beam.side]
    # Turned back by the section's angle: 0 is its x, 1 its y.
    return 1 if (plan - angle) % 4 < 2 else -1


def _member(project: Project, key: LiftKey, beam: FramingBeam) -> FramingMember:
    concrete = beam.concrete or project.by_key[key].concrete
    return FramingMember(
        beam.width * beam.depth**3 / 12,
        1e3 * beam.span,
        project.concrete_by_name[concrete].material(),
        beam.kind,
        beam.cracked,
        beam.far_end,
        side=_side(project, key, beam),
        moments=beam_moments(project, key, beam),
    )
