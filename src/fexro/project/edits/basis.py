"""Edits of what a project rests on: code, units, values, materials, bar sizes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from fexro.core.errors import InputError
from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.edits.verified import verified
from fexro.project.project import Project
from fexro.project.records import Text, Title
from fexro.project.shapes import Composed, Shape, concretes_in
from fexro.project.values import OwnValues, Values

__all__ = [
    "add_material",
    "remove_material",
    "rename_project",
    "replace_basis",
    "replace_material",
    "users_of_material",
]


def replace_basis(project: Project, basis: Basis) -> Project:
    """Return the project on another basis.

    Raises:
        InputError: if it names what is not on offer, or a section cannot be built on it.
    """
    return verified(project.changed(basis=basis))


def rename_project(
    project: Project, *, name: str | None = None, revision: str | None = None
) -> Project:
    """Return the project under another name, or of another revision.

    Raises:
        InputError: if it cannot be seen or is too long.
    """
    found = {"name": name, "revision": revision}
    taken: dict[str, str] = {}
    for field, text in found.items():
        if text is not None:
            try:
                taken[field] = _TITLES[field].validate_python(text)
            except ValidationError:
                most = 120 if field == "name" else 40
                raise InputError(field, f"“{text}”", f"up to {most} characters") from None
    return project.changed(**taken)


_TITLES: dict[str, TypeAdapter[str]] = {
    "name": TypeAdapter(Title),
    "revision": TypeAdapter(Annotated[Text, Field(max_length=40)]),
}


def add_material(project: Project, grade: ConcreteGrade | SteelGrade) -> Project:
    """Return the project with one more concrete or steel.

    Raises:
        InputError: if its name is taken.
    """
    if isinstance(grade, ConcreteGrade):
        return verified(project.changed(concretes=(*project.concretes, grade)))
    return verified(project.changed(steels=(*project.steels, grade)))


def replace_material(project: Project, name: str, grade: ConcreteGrade | SteelGrade) -> Project:
    """Return the project with another concrete or steel in the place of one of its kind.

    What used that one goes on to the other.

    Raises:
        InputError: if its name is taken.
    """
    if isinstance(grade, ConcreteGrade):
        concretes = tuple(grade if c.name == name else c for c in project.concretes)
        changed, kind = project.changed(concretes=concretes), "concrete"
    else:
        steels = tuple(grade if s.name == name else s for s in project.steels)
        changed, kind = project.changed(steels=steels), "steel"
    return verified(_renamed(changed, kind, name, grade.name))


def remove_material(project: Project, kind: str, name: str) -> Project:
    """Return the project without a `concrete` or a `steel`.

    Raises:
        InputError: if it is used; says by whom.
    """
    users = users_of_material(project, kind, name)
    if users:
        more = f" and {len(users) - 4} more" if len(users) > 4 else ""
        found = f"“{name}”, used by {', '.join(users[:4])}{more}"
        raise InputError(kind, found, f"a {kind} that nothing uses")
    if kind == "concrete":
        return project.changed(concretes=tuple(c for c in project.concretes if c.name != name))
    return project.changed(steels=tuple(s for s in project.steels if s.name != name))


def users_of_material(project: Project, kind: str, name: str) -> list[str]:
    """Return who uses a `concrete` or a `steel`: the project, storeys, marks, lifts."""
    found = ["the project"] if getattr(project.basis.values, kind) == name else []
    found += [f"storey {s.name}" for s in project.storeys if getattr(s.own, kind) == name]
    found += [f"mark {m.name}" for m in project.marks if getattr(m.own, kind) == name]
    found += [
        str(k)
        for k, r in project.record_by_key.items()
        if getattr(r.own, kind) == name or (kind == "concrete" and name in concretes_in(r.shape))
    ]
    if kind == "concrete":
        kept = (s for s in project.sections if name in concretes_in(s.shape))
        found += [f"section {section.name}" for section in kept]
    return found


def _renamed(project: Project, kind: str, old: str, new: str) -> Project:
    """Return the project with a material's new name wherever the old one stood."""
    if old == new:
        return project

    def own(values: OwnValues) -> OwnValues:
        if getattr(values, kind) != old:
            return values
        return values.model_copy(update={kind: new})

    values = project.basis.values
    if getattr(values, kind) == old:
        values = values.model_copy(update={kind: new})
    changed = _with_own(project, values, own)
    return _with_parts(changed, old, new) if kind == "concrete" else changed


def _with_parts(project: Project, old: str, new: str) -> Project:
    """Return the project with a concrete's new name in the parts of sections."""

    def renamed(shape: Shape) -> Shape:
        if old not in concretes_in(shape):
            return shape
        assert isinstance(shape, Composed)
        parts = tuple(
            part.model_copy(update={"concrete": new}) if part.concrete == old else part
            for part in shape.parts
        )
        return Composed(parts=parts)

    marks = tuple(
        mark.model_copy(
            update={
                "lifts": tuple(
                    lift.model_copy(update={"shape": shape})
                    if (shape := renamed(lift.shape)) is not lift.shape
                    else lift
                    for lift in mark.lifts
                )
            }
        )
        for mark in project.marks
    )
    sections = tuple(
        section.model_copy(update={"shape": renamed(section.shape)}) for section in project.sections
    )
    return project.changed(marks=marks, sections=sections)


def _with_own(project: Project, values: Values, own: Callable[[OwnValues], OwnValues]) -> Project:
    return project.changed(
        basis=project.basis.model_copy(update={"values": values}),
        storeys=tuple(s.model_copy(update={"own": own(s.own)}) for s in project.storeys),
        marks=tuple(
            mark.model_copy(
                update={
                    "own": own(mark.own),
                    "lifts": tuple(
                        lift.model_copy(update={"own": own(lift.own)})
                        if own(lift.own) is not lift.own
                        else lift
                        for lift in mark.lifts
                    ),
                }
            )
            for mark in project.marks
        ),
    )
