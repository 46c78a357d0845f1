"""The project file: one JSON document, refused where wrong, written all or not at all."""

from __future__ import annotations

import json
import os
import re
import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import pydantic_core
from pydantic import ValidationError

from fexro.core.errors import FexroError, InputError
from fexro.project.model import FORMAT, VERSION, Project
from fexro.project.resolve import verify

__all__ = ["SUFFIX", "parse_project", "project_schema", "read_project", "write_project"]

SUFFIX = ".fexro.json"
LARGEST_FILE = 256 * 1024**2
SHOWN_ERRORS = 4


def read_project(path: Path) -> Project:
    """Read a project file.

    Raises:
        FexroError: if it cannot be read, or is not a project that can be trusted; the message names
            the place inside the file, what was found and what is allowed.
    """
    try:
        with path.open("rb") as file:
            head = file.read(4096)
            if not head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{"):
                raise InputError(path.name, _glimpse(head), "a Fexro project, a JSON object")
            size = os.fstat(file.fileno()).st_size
            if size > LARGEST_FILE:
                found = f"{size / 1024**2:.0f} MB"
                raise InputError(path.name, found, f"at most {LARGEST_FILE // 1024**2} MB")
            content = head + file.read()
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    return parse_project(content.removeprefix(b"\xef\xbb\xbf"), path.name)


def parse_project(content: bytes, name: str) -> Project:
    """Read a project from the bytes of a file called `name`; see `read_project`."""
    try:
        data = pydantic_core.from_json(content)
    except ValueError as error:
        raise InputError(name, f"text that is not JSON ({error})", "a JSON object") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        found = data.get("format") if isinstance(data, dict) else type(data).__name__
        raise InputError(f"{name}: format", _short(found), f"“{FORMAT}”")
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise InputError(
            f"{name}: version", f"{version}, written by a newer Fexro", f"up to {VERSION}"
        )
    try:
        project = Project.model_validate(data)
    except ValidationError as error:
        raise _refusal(error, data, name) from None
    try:
        verify(project)
    except InputError as error:
        raise InputError(f"{name}: {error.where}", error.found, error.allowed) from error
    return project


def write_project(project: Project, path: Path) -> None:
    """Write a project file; the old one stays until the new one is complete.

    Raises:
        FexroError: if it cannot be written.
    """
    content = _to_json(project)
    try:
        descriptor, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
        try:
            with os.fdopen(descriptor, "w", encoding="utf-8") as file:
                file.write(content)
                file.flush()
                os.fsync(file.fileno())
            if path.exists():
                os.chmod(temporary, path.stat().st_mode & 0o777)
            else:
                mask = os.umask(0)
                os.umask(mask)
                os.chmod(temporary, 0o666 & ~mask)
            os.replace(temporary, path)
        except BaseException:
            Path(temporary).unlink(missing_ok=True)
            raise
    except OSError as error:
        raise FexroError(f"{path} could not be written: {error.strerror or error}.") from error


def project_schema() -> dict[str, Any]:
    """Return the JSON Schema of the project file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **Project.model_json_schema(),
    }


def _to_json(project: Project) -> str:
    text = json.dumps(project.model_dump(mode="json"), indent=1, ensure_ascii=False)
    # Rows of numbers read better, and compare better between versions, on one line.
    return (
        re.sub(r"\[\s+([-\d.eE+,\s]+?)\s+\]", lambda m: f"[{' '.join(m[1].split())}]", text) + "\n"
    )


def _refusal(error: ValidationError, data: Mapping[str, Any], name: str) -> InputError:
    problems = error.errors(include_url=False)
    refusals = [_explain(problem, data) for problem in problems[:SHOWN_ERRORS]]
    where, found, allowed = refusals[0]
    more = "".join(f"; also {w}: found {f}, allowed: {a}" for w, f, a in refusals[1:])
    if len(problems) > SHOWN_ERRORS:
        more += f"; and {len(problems) - SHOWN_ERRORS} more"
    return InputError(f"{name}: {where}", found, allowed + more)


def _explain(problem: Any, data: Mapping[str, Any]) -> tuple[str, str, str]:
    """Return where, found and allowed of one problem of validation."""
    steps, place = [], data
    for step in problem["loc"]:
        # A chosen variant adds its name to the path although the file has no such level.
        if isinstance(place, dict) and step not in place and place.get("kind") == step:
            continue
        steps.append(step)
        try:
            place = place[step]
        except (KeyError, IndexError, TypeError):
            place = {}
    path = "".join(f"[{s}]" if isinstance(s, int) else f".{s}" for s in steps).lstrip(".")
    kind, context = problem["type"], problem.get("ctx", {})
    if kind == "missing":
        return path, "nothing", "a value; it is required"
    if kind == "extra_forbidden":
        return path, "an unknown field", "only the fields of the documented format"
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
        "value_error": "{error}",
    }.get(kind)
    text = allowed.format(**context) if allowed else problem["msg"].lower()
    return path or "file", _short(problem["input"]), text


def _short(value: Any) -> str:
    text = f"“{value}”" if isinstance(value, str) else repr(value)
    return text if len(text) <= 60 else text[:57] + "…"


def _glimpse(head: bytes) -> str:
    try:
        text = head[:24].decode("utf-8")
        printable = text.isprintable()
    except UnicodeDecodeError:
        printable = False
    if not head.strip():
        return "an empty file"
    return f"text beginning “{text}”" if printable else "binary data"
