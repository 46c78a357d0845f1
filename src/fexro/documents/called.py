"""What lifts are called on drawings and in tables."""

from __future__ import annotations

from fexro.core.quantities import Dimension, unit_of
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.shapes import shape_of

__all__ = ["member_called", "shape_called"]


def shape_called(project: Project, key: LiftKey) -> str:
    """Return the shape of a lift as it is called, in the unit of lengths that people see."""
    size = unit_of(Dimension.LENGTH, project.basis.system).size
    label = shape_of(project.by_key[key].section.shape).label(lambda value: f"{value / size:.4g}")
    return label.replace("⌀", "Ø")


def member_called(project: Project, key: LiftKey) -> str:
    """Return a member with what it is, such as `Column C1 · L3`."""
    return f"{project.mark_by_name[key.mark].kind.capitalize()} {key}"
