"""What is wrong with a project file, told by its places."""

from __future__ import annotations

import itertools
import json
import reprlib
from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import BaseModel, ValidationError

from fexro.core.errors import InputError
from fexro.project.basis import ConcreteGrade, SteelGrade
from fexro.project.cases import Combination, LoadCase
from fexro.project.column import Group, LiftRecord, Mark
from fexro.project.framing import FramingBeam
from fexro.project.library import NamedSection
from fexro.project.lift_loads import LiftLoad, SpanForces
from fexro.project.mapping import ForcesMapping
from fexro.project.project import Project
from fexro.project.storey import GridLine, Storey
from fexro.project.takings import Taking

__all__ = ["refusal"]

MOST_PROBLEMS, SHOWN_PROBLEMS = 20, 4
LISTS: dict[str, type[BaseModel]] = {
    "concretes": ConcreteGrade,
    "steels": SteelGrade,
    "storeys": Storey,
    "cases": LoadCase,
    "combinations": Combination,
    "marks": Mark,
    "groups": Group,
    "sections": NamedSection,
    "grid": GridLine,
    "mappings": ForcesMapping,
    "takings": Taking,
    "lift_loads": LiftLoad,
    "beams": FramingBeam,
    "span_forces": SpanForces,
}

_Place = tuple[str | int, ...]


def refusal(data: Mapping[str, Any], name: str) -> InputError:
    """Return the refusal of a file called `name` whose content is no project.

    Its first problems are told, at most twenty are looked for.
    """
    problems = list(itertools.islice(_problems(data), MOST_PROBLEMS))
    told = [_explain(problem, place, data) for place, problem in problems[:SHOWN_PROBLEMS]]
    where, found, allowed = told[0]
    more = "".join(f"; also {w}: found {f}, allowed: {a}" for w, f, a in told[1:])
    if len(problems) > SHOWN_PROBLEMS:
        rest = len(problems) - SHOWN_PROBLEMS
        more += f"; and {rest} more" + (" or above" if len(problems) == MOST_PROBLEMS else "")
    return InputError(f"{name}: {where}", found, allowed + more)


def _problems(data: Mapping[str, Any]) -> Iterator[tuple[_Place, Any]]:
    """Yield problems of validation with their place, list item by list item.

    What the lists hold is validated piece by piece, so that a file that is wrong throughout costs
    no more than its first problems.
    """
    lists = {name: data[name] for name in LISTS if isinstance(data.get(name), list)}
    yield from _problems_of(Project, {**data, **{name: [] for name in lists}}, ())
    for name, items in lists.items():
        for i, item in enumerate(items):
            if name == "marks" and isinstance(item, dict) and isinstance(item.get("lifts"), list):
                yield from _problems_of(Mark, {**item, "lifts": []}, (name, i))
                for j, lift in enumerate(item["lifts"]):
                    yield from _problems_of(LiftRecord, lift, (name, i, "lifts", j))
            else:
                yield from _problems_of(LISTS[name], item, (name, i))


def _problems_of(model: type[BaseModel], data: Any, place: _Place) -> Iterator[tuple[_Place, Any]]:
    try:
        model.model_validate(data)
    except ValidationError as error:
        for problem in error.errors(include_url=False):
            yield place, problem


def _explain(problem: Any, place: _Place, data: Any) -> tuple[str, str, str]:
    """Return where, found and allowed of one problem of validation."""
    steps: list[str | int] = []
    here = data
    for step in (*place, *problem["loc"]):
        # A chosen variant adds its name to the path although the file has no such level.
        if isinstance(here, dict) and step not in here and here.get("kind") == step:
            continue
        steps.append(step)
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            here = {}
    path = "".join(f"[{s}]" if isinstance(s, int) else f".{_seen(s)}" for s in steps).lstrip(".")
    kind = problem["type"]
    if kind == "missing":
        return path, "nothing", "a value; it is required"
    if kind == "extra_forbidden":
        return path, "an unknown field", "only the fields of the documented format"
    return path or "file", _short(problem["input"]), _allowed(problem)


def _seen(name: object) -> str:
    """Return a name of a file with nothing in it that cannot be seen."""
    text = str(name)
    return text if text.isprintable() else ascii(text)[1:-1]


def _allowed(problem: Any) -> str:
    """Return what is allowed in place of a value that failed validation."""
    allowed = {
        "greater_than": "more than {gt:.10g}",
        "greater_than_equal": "{ge:.10g} or more",
        "less_than": "less than {lt:.10g}",
        "less_than_equal": "{le:.10g} or less",
        "literal_error": "{expected}",
        "union_tag_invalid": "kind {expected_tags}",
        "string_too_short": "at least {min_length} characters",
        "string_too_long": "at most {max_length} characters",
        "too_short": "at least {min_length} entries",
        "too_long": "at most {max_length} entries",
        "finite_number": "a finite number",
        "float_type": "a number",
        "float_parsing": "a number",
        "string_type": "text",
        "list_type": "a list",
        "tuple_type": "a list",
        "dict_type": "an object",
        "mapping_type": "an object",
        "model_type": "an object",
        "model_attributes_type": "an object",
        "value_error": "{error}",
        "string_pattern_mismatch": "text of the form {pattern}",
    }.get(problem["type"])
    return allowed.format(**problem.get("ctx", {})) if allowed else problem["msg"].lower()


def _short(value: Any) -> str:
    """Write a value as the file would have it, cut short."""
    if isinstance(value, str):
        return f"“{value[:200]}”"
    if value is None or isinstance(value, bool | int | float):
        return json.dumps(value)
    return reprlib.repr(value)
