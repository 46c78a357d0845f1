"""Single changes of members of walls that an engineer would try, from the least on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from fexro.core.section.bars import STANDARDS, BarSize, parse_ties
from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel
from fexro.project.lift_changes import LiftChange, concretes
from fexro.project.project import Project
from fexro.project.section import DiagonalBars
from fexro.project.shapes import LegsShape
from fexro.project.sizing import rules_of

__all__ = ["sizes_offered", "wall_savings", "wall_strengthenings"]

THICKER, THICKEST = 25.0, 6  # mm by which walls grow, and how often
GROUPS = (4, 6, 8)  # bars of a diagonal group
CLOSEST = 75.0  # mm between hoops of diagonals


def wall_strengthenings(project: Project, key: LiftKey) -> Iterator[Iterator[LiftChange]]:
    """Yield series of what may settle a member of a wall, each from the least on."""
    model, kind = project.by_key[key], project.mark_by_name[key.mark].kind
    yield _spaced(project, key, "ties", closer=True)
    yield _larger(project, key, "ties")
    if kind == "coupling beam":
        yield _diagonals(project, model)
    if kind == "wall panel":
        yield _spaced(project, key, "hoops", closer=True)
        yield _larger(project, key, "hoops")
    if kind != "coupling beam":
        yield _web_bars(project, key, more=True)
    yield _end_bars(project, model)
    yield concretes(project, model, stronger=True)
    if kind == "wall panel":
        yield _thicker(model, THICKER)


def wall_savings(project: Project, key: LiftKey) -> Iterator[Iterator[LiftChange]]:
    """Yield series of what may be left out of a member of a wall, each from the least on."""
    model = project.by_key[key]
    yield _spaced(project, key, "ties", closer=False)
    if project.mark_by_name[key.mark].kind != "coupling beam":
        yield _web_bars(project, key, more=False)
    yield concretes(project, model, stronger=False)


def _with(field: str, value: object, kind: str, label: str) -> LiftChange:
    def change(one: LiftModel) -> LiftModel:
        return one.model_copy(update={"section": one.section.model_copy(update={field: value})})

    return LiftChange(kind, label, change)


WORDS = {"ties": "horizontal bars", "hoops": "hoops of the ends"}


def _word(project: Project, key: LiftKey, field: str) -> str:
    if field == "ties" and project.mark_by_name[key.mark].kind == "coupling beam":
        return "hoops"
    return WORDS[field]


def _spaced(project: Project, key: LiftKey, field: str, closer: bool) -> Iterator[LiftChange]:
    """Yield closer or wider ties or hoops, from the next spacing on."""
    text = getattr(project.by_key[key].section, field)
    if text is None:
        return
    ties = parse_ties(text, field, sizes_by_name(project.basis.bars.own))
    for spacing in sorted(rules_of(project, key).spacings, reverse=closer):
        if spacing != ties.spacing and (spacing < ties.spacing) == closer:
            called = str(replace(ties, spacing=spacing, end=None, lap=None))
            yield _with(field, called, "ties", f"{_word(project, key, field)} {called}")


def sizes_offered(project: Project, like: str) -> list[BarSize]:
    """Return the sizes on offer of the standard that a size is of, from the smallest."""
    own = sizes_by_name(project.basis.bars.own)
    standard = next((sizes for sizes in STANDARDS.values() if like in sizes), own)
    offered = {*project.basis.bars.main, *project.basis.bars.ties}
    found = [size for name, size in standard.items() if name in offered]
    return sorted(found, key=lambda size: size.diameter)


def _larger(project: Project, key: LiftKey, field: str) -> Iterator[LiftChange]:
    """Yield ties or hoops of larger sizes."""
    text = getattr(project.by_key[key].section, field)
    if text is None:
        return
    ties = parse_ties(text, field, sizes_by_name(project.basis.bars.own))
    for size in sizes_offered(project, ties.size.name):
        if size.diameter > ties.size.diameter:
            called = str(replace(ties, size=size))
            yield _with(field, called, "ties", f"{_word(project, key, field)} {called}")


def _web_bars(project: Project, key: LiftKey, *, more: bool) -> Iterator[LiftChange]:
    """Yield other bars of the curtains: sizes and spacings on offer by their area."""
    model = project.by_key[key]
    own = sizes_by_name(project.basis.bars.own)
    if model.section.placed:
        return
    groups = parse_call_out(model.section.bars, "bars", own)
    web = next((group for group in groups if group.spacing is not None), None)
    if web is None or web.spacing is None:
        return
    present = web.size.area / web.spacing
    options = [
        (size.area / spacing, size, spacing)
        for size in sizes_offered(project, web.size.name)
        for spacing in rules_of(project, key).spacings
    ]
    wanted = [one for one in options if (one[0] > present * 1.001) == more]
    wanted = [one for one in wanted if abs(one[0] / present - 1) > 1e-3]
    for _, size, spacing in sorted(wanted, key=lambda one: (one[0], -one[2]), reverse=not more):
        other = tuple(
            replace(one, size=size, spacing=spacing) if one is web else one for one in groups
        )
        called = format_call_out(other)
        yield _with("bars", called, "bars", called)


def _end_bars(project: Project, model: LiftModel) -> Iterator[LiftChange]:
    """Yield larger bars where they are counted: in the ends of walls, at the faces of beams."""
    if model.section.placed:
        return
    groups = parse_call_out(model.section.bars, "bars", sizes_by_name(project.basis.bars.own))
    counted = [group for group in groups if group.spacing is None]
    if not counted:
        return
    largest = max(counted, key=lambda group: group.size.diameter)
    for size in sizes_offered(project, largest.size.name):
        if size.diameter <= largest.size.diameter:
            continue
        other = tuple(
            replace(one, size=size) if one.size == largest.size and one.spacing is None else one
            for one in groups
        )
        called = format_call_out(other)
        yield _with("bars", called, "bars", called)


def _diagonals(project: Project, model: LiftModel) -> Iterator[LiftChange]:
    """Yield diagonal bars, the whole section confined, from the smallest on.

    They take the place of bars between the corners at the top and bottom.
    """
    own = sizes_by_name(project.basis.bars.own)
    bars = model.section.bars
    if not model.section.placed:
        groups = parse_call_out(bars, "bars", own)
        bars = format_call_out(tuple(one for one in groups if one.place not in ("top", "bottom")))
    ties = parse_ties(model.section.ties, "ties", own)
    for count in GROUPS:
        for size in sizes_offered(project, ties.size.name):
            if size.diameter < 1.5 * ties.size.diameter:
                continue
            hoops = str(replace(ties, spacing=CLOSEST, end=None, lap=None))
            group = DiagonalBars(bars=f"{count} {size.name}", confined="section", hoops=hoops)
            label = f"diagonals {group.bars}, section confined by {hoops}"
            if bars != model.section.bars:
                label += f", bars {bars}"

            def change(one: LiftModel, group: DiagonalBars = group) -> LiftModel:
                update = {"diagonals": group, "bars": bars}
                return one.model_copy(update={"section": one.section.model_copy(update=update)})

            yield LiftChange("diagonals", label, change)


def _thicker(model: LiftModel, by: float) -> Iterator[LiftChange]:
    """Yield thicker panels, all legs alike."""
    shape = model.section.shape
    if not isinstance(shape, LegsShape):
        return
    for number in range(1, THICKEST + 1):
        legs = tuple(
            leg.model_copy(update={"thickness": leg.thickness + number * by}) for leg in shape.legs
        )
        told = ", ".join(dict.fromkeys(f"{leg.thickness:g}" for leg in legs))
        thicker = shape.model_copy(update={"legs": legs})
        yield _with("shape", thicker, "size", f"thickness {told} mm")
