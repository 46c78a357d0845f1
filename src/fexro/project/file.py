"""The project file: one JSON document, refused where wrong, written all or not at all."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from fexro.core.errors import FexroError, InputError
from fexro.project.model import FORMAT, VERSION, Project
from fexro.project.refusals import refusal
from fexro.project.resolve import verify
from fexro.project.storage import FileState, read_file, replace_file

__all__ = [
    "SUFFIX",
    "load_project",
    "parse_project",
    "project_schema",
    "project_text",
    "read_project",
    "write_project",
]

SUFFIX = ".fexro.json"
BYTE_ORDER_MARK = b"\xef\xbb\xbf"


def read_project(path: Path) -> Project:
    """Read a project file.

    Raises:
        FexroError: if it cannot be read, or is not a project that can be trusted; the message names
            the place inside the file, what was found and what is allowed.
    """
    return load_project(path)[0]


def load_project(path: Path) -> tuple[Project, FileState]:
    """Read a project file and return it with the state of the file; see `read_project`."""
    try:
        content, state = read_file(path)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    content = content.removeprefix(BYTE_ORDER_MARK)
    if not content.lstrip(b" \t\r\n").startswith(b"{"):
        raise InputError(path.name, _glimpse(content), "a Fexro project, a JSON object")
    return parse_project(content, path.name), state


def parse_project(content: bytes, name: str) -> Project:
    """Read a project from the bytes of a file called `name`; see `read_project`."""
    data = _parse_json(content, name)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        found = data.get("format") if isinstance(data, dict) else type(data).__name__
        raise InputError(f"{name}: format", f"“{found}”", f"“{FORMAT}”")
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise InputError(
            f"{name}: version", f"{version}, written by a newer Fexro", f"up to {VERSION}"
        )
    if version is not None and type(version) is not int:
        raise InputError(f"{name}: version", json.dumps(version)[:80], f"{VERSION}")
    try:
        project = Project.model_validate(data)
    except ValidationError:
        raise refusal(data, name) from None
    try:
        verify(project)
    except InputError as error:
        raise InputError(f"{name}: {error.where}", error.found, error.allowed) from error
    return project


def write_project(project: Project, path: Path, known: FileState | None = None) -> FileState:
    """Write a project file and return its state; the old one stays until the new one is complete.

    Args:
        project: the project.
        path: the file.
        known: the state of the file when it was read or written last.

    Raises:
        ChangedOutsideError: if the file is no longer what is known.
        FexroError: if it cannot be written.
    """
    return replace_file(path, project_text(project).encode(), known)


def project_text(project: Project) -> str:
    """Return the text of a project's file."""
    return _written(project.model_dump(mode="json"), "\n") + "\n"


def _written(value: Any, line: str) -> str:
    """Write a value as JSON; rows of numbers read better, and compare better, on one line."""
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
    return _text(value)


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


class _Repeated(dict[str, Any]):
    """An object of JSON in which a key stands twice."""

    key = ""


def _parse_json(content: bytes, name: str) -> Any:
    """Return the value of a JSON text in which no key stands twice.

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


def project_schema() -> dict[str, Any]:
    """Return the JSON Schema of the project file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **Project.model_json_schema(),
    }


def _glimpse(head: bytes) -> str:
    try:
        text = head[:24].decode("utf-8")
        printable = text.isprintable()
    except UnicodeDecodeError:
        printable = False
    if not head.strip():
        return "an empty file"
    return f"text beginning “{text}”" if printable else "binary data"
