"""The chapter on what was assumed, and on defaults that nobody has touched."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import assumptions_of
from fexro.documents.content import Block, Heading, Paragraph, Table
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.values import Direction, Values

__all__ = ["assumed_blocks", "untouched"]

# Values of a basis that have a default, with what they are called.
NAMES = {
    "laps": "Laps",
    "lap_length": "Length of laps",
    "tie_steel": "Steel of ties",
    "age": "Age",
    "knowledge": "Knowledge of an existing column",
    "x": "Direction x",
    "y": "Direction y",
}
DIRECTION = {
    "frame": "frame",
    "ductility": "ductility",
    "sway": "sway",
    "sway_moments": "moments that come with sway",
    "clear": "clear height",
    "top": "upper ends",
    "bottom": "lower ends",
    "base": "feet of stacks",
    "lasting": "lasting share",
    "members": "columns that share an imperfection",
}


def assumed_blocks(project: Project, results: Mapping[LiftKey, LiftResult]) -> Iterator[Block]:
    """Yield the chapter on assumptions and untouched defaults."""
    yield Heading("Assumptions", running="assumptions")
    sentences = assumptions_of(results, project.basis.system)
    if sentences:
        yield Table(
            ("Assumed",), tuple((one,) for one in sentences), "Made for the reader", frozenset({0})
        )
    else:
        yield Paragraph("No assumption was made.")
    rows = tuple(untouched(project))
    told = "Defaults that nobody has changed"
    yield Table(("Value", "Default"), rows, told, frozenset({0, 1}))


def untouched(project: Project) -> Iterator[tuple[str, str]]:
    """Yield the values of the project that are still their defaults, as they are read."""
    values = project.basis.values
    for name, called in NAMES.items():
        present, default = getattr(values, name), _default(Values, name)
        if isinstance(present, Direction):
            for part, of in DIRECTION.items():
                if getattr(present, part) == _default(Direction, part):
                    yield f"{called}, {of}", _word(getattr(present, part))
        elif present == default:
            yield called, _word(present)


def _default(kind: type, name: str) -> object:
    return kind.model_fields[name].get_default(call_default_factory=True)  # type: ignore[attr-defined]


def _word(value: object) -> str:
    if value is None:
        return "by rule"
    kind = getattr(value, "kind", None)
    return str(kind if kind is not None else value)
