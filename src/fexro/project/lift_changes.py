"""Single changes of a lift that an engineer would try, from the least on."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from fexro.core.section.bars import parse_ties
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel
from fexro.project.project import Project
from fexro.project.sizing import rules_of
from fexro.project.values import EndCondition

__all__ = ["LiftChange", "concretes", "savings", "strengthenings"]

STEP = 50.0  # mm, by which sections grow
STEPS = 6
LEAST_SIZE = 200.0  # mm, below which they do not become smaller
NEARER = 10.0  # mm, by which cover is made less
LEAST_COVER = 30.0  # mm, below which it is not
AXES = (("x",), ("y",), ("x", "y"))
SIZES = ("width", "depth", "diameter", "across")
FIXED = EndCondition(kind="fixed")


@dataclass(frozen=True, eq=False)
class LiftChange:
    """A single change of a lift.

    Attributes:
        kind: what is changed: `bars`, `ties`, `size`, `concrete`, `turned`, `bracing`, `restraint`,
            `cover`.
        label: what is done.
        of: the lift with the change, of the lift without.
    """

    kind: str
    label: str
    of: Callable[[LiftModel], LiftModel]


def strengthenings(project: Project, key: LiftKey) -> Iterator[Iterator[LiftChange]]:
    """Yield series of what may settle a lift, each from the least on; bars are sized, not tried."""
    model = project.by_key[key]
    yield _ties(project, key, closer=True)
    yield concretes(project, model, stronger=True)
    yield from _sizes(model, STEP)
    yield _turned(model)
    yield (change for axes in AXES for change in _bracing(model, axes))
    yield (change for axes in AXES for change in _restraint(model, axes))
    yield _cover(model)


def savings(project: Project, key: LiftKey) -> Iterator[Iterator[LiftChange]]:
    """Yield series of what may be left out of a lift, each from the least on."""
    model = project.by_key[key]
    yield _ties(project, key, closer=False)
    yield concretes(project, model, stronger=False)
    yield from _sizes(model, -STEP)


def _ties(project: Project, key: LiftKey, closer: bool) -> Iterator[LiftChange]:
    """Yield closer or wider ties, from the next spacing on; closer ones are so all along."""
    ties = parse_ties(
        project.by_key[key].section.ties, "ties", sizes_by_name(project.basis.bars.own)
    )
    if ties.spiral:
        return
    for spacing in sorted(rules_of(project, key).spacings, reverse=closer):
        if spacing == ties.spacing or (spacing < ties.spacing) != closer:
            continue
        other = replace(ties, spacing=spacing)
        called = str(replace(other, end=None, lap=None) if closer else other)

        def change(one: LiftModel, called: str = called) -> LiftModel:
            section = one.section.model_copy(update={"ties": called})
            return one.model_copy(update={"section": section})

        yield LiftChange("ties", f"ties {called}", change)


def concretes(project: Project, model: LiftModel, stronger: bool) -> Iterator[LiftChange]:
    """Yield stronger or weaker concretes of the project, from the next on."""
    present = project.concrete_by_name[model.concrete].strength
    others = sorted(project.concretes, key=lambda one: one.strength, reverse=not stronger)
    for grade in others:
        if grade.strength == present or (grade.strength > present) != stronger:
            continue

        def change(one: LiftModel, name: str = grade.name) -> LiftModel:
            return one.with_values(concrete=name)

        yield LiftChange("concrete", f"concrete {grade.name}", change)


def _sizes(model: LiftModel, by: float) -> Iterator[Iterator[LiftChange]]:
    """Yield series of larger or smaller sections: one size at a time, both of a square."""
    shape = model.section.shape
    names = [name for name in SIZES if hasattr(shape, name)]
    sides = [getattr(shape, name) for name in ("width", "depth") if hasattr(shape, name)]
    square = len(sides) == 2 and sides[0] == sides[1]
    groups: Sequence[tuple[str, ...]] = [tuple(names)] if square else [(name,) for name in names]
    for some in groups:
        yield _resized(model, some, by)


def _resized(model: LiftModel, names: tuple[str, ...], by: float) -> Iterator[LiftChange]:
    for number in range(1, STEPS + 1):
        shape = model.section.shape
        sizes = {name: getattr(shape, name) + number * by for name in names}
        if min(sizes.values()) < LEAST_SIZE:
            return
        told = " × ".join(f"{size:g}" for size in sizes.values())

        def change(one: LiftModel, sizes: dict[str, float] = sizes) -> LiftModel:
            other = one.section.shape.model_copy(update=sizes)
            section = one.section.model_copy(update={"shape": other})
            return one.model_copy(update={"section": section})

        yield LiftChange("size", f"{' and '.join(names)} {told} mm", change)


def _turned(model: LiftModel) -> Iterator[LiftChange]:
    shape = model.section.shape
    sides = {"width": getattr(shape, "depth", 0.0), "depth": getattr(shape, "width", 0.0)}
    if shape.kind != "rectangle" or sides["width"] == sides["depth"] or model.section.placed:
        return

    def change(one: LiftModel) -> LiftModel:
        turned = one.section.shape.model_copy(update=sides)
        section = one.section.model_copy(update={"shape": turned})
        return one.model_copy(update={"section": section})

    yield LiftChange("turned", "turned by 90°", change)


def _bracing(model: LiftModel, axes: tuple[str, ...]) -> Iterator[LiftChange]:
    directions = {axis: getattr(model.values, axis) for axis in axes}
    if all(one.sway != "braced" for one in directions.values()):
        braced = {
            axis: one.model_copy(update={"sway": "braced"}) for axis, one in directions.items()
        }
        yield _along(LiftChange("bracing", "braced", lambda one: one.with_values(**braced)), axes)


def _restraint(model: LiftModel, axes: tuple[str, ...]) -> Iterator[LiftChange]:
    """Yield ends fixed against rotation: one, then both; with a chosen factor they do not count."""
    directions = {axis: getattr(model.values, axis) for axis in axes}
    if any(one.factor is not None for one in directions.values()):
        return
    ends = ("bottom", "top")
    loose = [
        end for end in ends if all(getattr(one, end).kind != "fixed" for one in directions.values())
    ]
    for some in [*((end,) for end in loose), *([tuple(loose)] if len(loose) > 1 else [])]:
        held = dict.fromkeys(some, FIXED)
        fixed = {axis: one.model_copy(update=held) for axis, one in directions.items()}

        def change(one: LiftModel, fixed: dict[str, object] = fixed) -> LiftModel:
            return one.with_values(**fixed)

        told = f"{' and '.join(some)} fixed against rotation"
        yield _along(LiftChange("restraint", told, change), axes)


def _along(change: LiftChange, axes: tuple[str, ...]) -> LiftChange:
    return replace(change, label=f"{change.label} along {' and '.join(axes)}")


def _cover(model: LiftModel) -> Iterator[LiftChange]:
    cover = model.section.cover - NEARER
    if cover >= LEAST_COVER:
        told = f"cover {cover:g} mm in place of {model.section.cover:g}"
        yield LiftChange("cover", told, lambda one: one.with_values(cover=cover))
