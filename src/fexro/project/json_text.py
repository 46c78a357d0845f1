"""JSON as the project's files have it: each key once, rows of numbers on one line."""

from __future__ import annotations

import json
from typing import Any

from fexro.core.errors import InputError

__all__ = ["json_text", "parse_json"]


def json_text(value: Any) -> str:
    """Write a value as JSON; rows of numbers read better, and compare better, on one line."""
    return _written(value, "\n") + "\n"


def _written(value: Any, line: str) -> str:
    inner = line + " "
    match value:
        case dict() if value:
            members = (
                f"{json.dumps(k, ensure_ascii=False)}: {_written(v, inner)}"
                for k, v in value.items()
            )
            return f"{{{inner}{f',{inner}'.join(members)}{line}}}"
        case list() if value and not all(isinstance(item, int | float) for item in value):
            return f"[{inner}{f',{inner}'.join(_written(item, inner) for item in value)}{line}]"
    return json.dumps(value, ensure_ascii=False)


class _Repeated(dict[str, Any]):
    """An object of JSON in which a key stands twice."""

    key = ""


def parse_json(content: bytes, name: str) -> Any:
    """Return the value of a JSON text in which no key stands twice.

    Args:
        content: the text.
        name: of the file, for the refusal.

    Raises:
        InputError: if it is not such a text.
    """
    repeated: list[_Repeated] = []

    def take(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) == len(pairs):
            return found
        marked = _Repeated(found)
        seen: set[str] = set()
        marked.key = next(key for key, _ in pairs if key in seen or seen.add(key))  # type: ignore[func-returns-value]
        repeated.append(marked)
        return marked

    try:
        data = json.loads(content.decode("utf-8"), object_pairs_hook=take)
    except RecursionError:
        raise InputError(name, "brackets nested too deep", "a Fexro project") from None
    except ValueError as error:
        raise InputError(name, f"text that is not JSON ({error})", "a JSON object") from error
    if repeated:
        place = f"{_path_to(repeated[-1], data)}.{repeated[-1].key}".lstrip(".")
        raise InputError(f"{name}: {place}", "the same key twice", "each key once")
    return data


def _path_to(sought: _Repeated, data: Any) -> str:
    """Return the path to an object inside the data, which is known to hold it."""
    waiting: list[tuple[str, Any]] = [("", data)]
    while waiting:
        path, value = waiting.pop()
        if value is sought:
            return path
        if isinstance(value, dict):
            waiting += [(f"{path}.{key}", item) for key, item in value.items()]
        elif isinstance(value, list):
            waiting += [(f"{path}[{i}]", item) for i, item in enumerate(value)]
    return ""
