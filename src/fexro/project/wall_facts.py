"""Panels and coupling beams as the core computes with them. N, mm."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.actions import Actions
from fexro.core.facts import (
    ColumnFacts,
    CouplingBeam,
    CriticalSection,
    CrossSection,
    DiagonalGroup,
    PanelBeside,
    WallPanel,
)
from fexro.core.section.bars import Bars, Ties, parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.curtains import EndBars, WebBars, bars_of_legs
from fexro.core.section.section import Section
from fexro.core.section.shapes import Legs
from fexro.project.bars import OwnBar, sizes_by_name
from fexro.project.column import LiftKey, LiftModel
from fexro.project.cross_section import cross_section_of
from fexro.project.section import DiagonalBars, SectionModel
from fexro.project.shapes import LegsShape, shape_of
from fexro.project.wall_layout import BeamPlace, PanelPlace
from fexro.project.wall_members import beams_of, layout_in, panels_of
from fexro.project.walls import Wall

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = ["of_wall"]

CAGE = (0.5, 0.2)  # of the width of a beam: least cage along it and across (18.10.7.4(c))
NEAR = 1e-6  # m
ROOM = 40.0  # mm between the layers of a group at least

Members = tuple[CrossSection, WallPanel | None, CouplingBeam | None]


def of_wall(
    project: Project,
    key: LiftKey,
    model: LiftModel,
    section: CrossSection,
    actions_at: Callable[[Project, LiftKey], Actions],
    facts_of: Callable[[Project, LiftKey], ColumnFacts],
) -> Members:
    """Return the section of a lift, with what it has as a panel or as a coupling beam.

    Args:
        project: the project.
        key: of the lift.
        model: the lift, or what is put in its place.
        section: of it.
        actions_at: the forces on a lift of the project.
        facts_of: what a lift of the project is.
    """
    place = panels_of(project).get(key)
    if place is not None and isinstance(model.section.shape, LegsShape):
        return section, _panel(project, key, model, place, actions_at, facts_of), None
    beam = beams_of(project).get(key)
    if beam is None:
        return section, None, None
    span, piers = 1e3 * (beam[1].end - beam[1].start), _piers(project, *beam)
    if model.section.diagonals is None:
        return section, None, CouplingBeam(span, None, piers)
    group = _group(section.section, model.section.diagonals, span, project.basis.bars.own)
    return _with_group(section, group), None, CouplingBeam(span, group, piers)


def _piers(project: Project, wall: Wall, beam: BeamPlace) -> tuple[float, float] | None:
    """Return the lengths of the piers on both sides of a beam, mm."""
    beside = [
        stretch
        for panel in layout_in(project, wall).panels
        if panel.storey == beam.storey
        for stretch in panel.stretches
        if stretch.line == beam.line
    ]
    left = next((s.end - s.start for s in beside if abs(s.end - beam.start) < NEAR), None)
    right = next((s.end - s.start for s in beside if abs(s.start - beam.end) < NEAR), None)
    return None if left is None or right is None else (1e3 * left, 1e3 * right)


def _panel(
    project: Project,
    key: LiftKey,
    model: LiftModel,
    place: tuple[Wall, PanelPlace],
    actions_at: Callable[[Project, LiftKey], Actions],
    facts_of: Callable[[Project, LiftKey], ColumnFacts],
) -> WallPanel:
    wall, panel = place
    legs = shape_of(model.section.shape)
    assert isinstance(legs, Legs)
    through = [project.storey_by_name[name] for name in wall.storeys]
    at = wall.storeys.index(key.storey)
    heights = [1e3 * storey.height for storey in through]
    web, ends, hoops = _bars(model.section, project.basis.bars.own)
    lengths = []
    for number, stretch in enumerate(panel.stretches):
        beyond = legs.lengths[number] - legs.legs[number].run
        lengths.append(1e3 * wall.lines[stretch.line].length + max(beyond, 0.0))
    mark = project.mark_by_name[key.mark]
    base = LiftKey(key.mark, mark.lifts[-1].storey)
    critical = None
    ductile = not model.values.x.ductility == model.values.y.ductility == "low"
    if ductile and base != key:
        actions = actions_at(project, base)
        foot = actions.stations.index("bottom")
        cross = cross_section_of(project, project.by_key[base])
        critical = CriticalSection(cross, actions.forces[:, foot], tuple(actions.combinations))
    others = [
        LiftKey(one.mark, one.storey)
        for one in layout_in(project, wall).panels
        if one.storey == key.storey and one.mark != key.mark
    ]

    def beside() -> tuple[PanelBeside, ...]:
        return tuple(
            PanelBeside(other.mark, facts_of(project, other), actions_at(project, other))
            for other in others
        )

    return WallPanel(
        legs=legs,
        lengths=tuple(lengths),
        clear=tuple(1e3 * stretch.clear for stretch in panel.stretches),
        height=sum(heights),
        above=sum(heights[: at + 1]),
        storeys=wall.storeys.index(base.storey) + 1,
        web=web,
        ends=ends,
        hoops=hoops,
        critical=critical,
        continuous=len(mark.lifts) == len(wall.storeys),
        find_beside=beside if ductile and others else None,
    )


@lru_cache(maxsize=4096)
def _bars(
    section: SectionModel, own: tuple[OwnBar, ...]
) -> tuple[WebBars | None, tuple[EndBars, ...], Ties | None]:
    """Return the bars of curtains and ends, and the hoops around these."""
    sizes = sizes_by_name(own)
    hoops = None if section.hoops is None else parse_ties(section.hoops, "hoops", sizes)
    if section.placed:
        return None, (), hoops
    ties = parse_ties(section.ties, "ties", sizes)
    groups = parse_call_out(section.bars, "bars", sizes)
    legs = shape_of(section.shape)
    assert isinstance(legs, Legs)
    web, ends = bars_of_legs(legs, section.cover + ties.size.diameter, groups, "bars")
    return web, ends, hoops


@lru_cache(maxsize=1024)
def _group(
    section: Section, model: DiagonalBars, span: float, own: tuple[OwnBar, ...]
) -> DiagonalGroup:
    sizes = sizes_by_name(own)
    (bars,) = parse_call_out(model.bars, "diagonals", sizes)[:1]
    hoops = parse_ties(model.hoops, "hoops of the diagonals", sizes)
    x0, y0, x1, y1 = section.outline.bounds
    width, depth = x1 - x0, y1 - y0
    layers = 2 * bars.size.diameter + ROOM
    cage = layers, layers
    if model.confined == "groups":
        layers += 2 * hoops.size.diameter
        cage = max(CAGE[0] * width, layers), max(CAGE[1] * width, layers)
    inset = section.cover + section.ties.size.diameter
    reach = depth / 2 - inset - cage[1] / 2
    return DiagonalGroup(
        bars.total,
        bars.size.diameter,
        bars.size.area,
        math.atan2(2 * reach, span),
        model.confined,
        hoops,
        cage,
    )


@lru_cache(maxsize=1024)
def _with_group(cross: CrossSection, group: DiagonalGroup) -> CrossSection:
    """Return a section with what the diagonals resist along the beam at its ends."""
    section, bars = cross.section, cross.section.bars
    _, y0, _, y1 = section.outline.bounds
    x = section.outline.centroid[0]
    inset = section.cover + section.ties.size.diameter + group.cage[1] / 2
    around = group.hoops.size.diameter if group.confined == "groups" else 0.0
    aside = max(group.cage[0] / 2 - around - group.diameter / 2, 0.0)
    # Half of each group on each side of its cage; at an end one group is above, the other below.
    count = group.layers
    size = group.count / (2 * count)
    layer = max(group.cage[1] / 2 - around - group.diameter / 2, 0.0)
    layers = np.linspace(-layer, layer, count) if count > 1 else np.zeros(1)
    places = [
        (x + side * aside, level + offset)
        for level in (y1 - inset, y0 + inset)
        for side in (-1, 1)
        for offset in layers
    ]
    xs, ys = np.array(places).T
    area = np.full(len(places), size * group.area * math.cos(group.angle))
    more = Bars(
        np.concatenate([bars.x, xs]),
        np.concatenate([bars.y, ys]),
        np.concatenate([bars.area, area]),
        np.concatenate([bars.diameter, np.full(len(places), group.diameter)]),
        None,
    )
    return replace(cross, section=replace(section, bars=more, by_hand=True))
