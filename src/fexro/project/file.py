"""The project file: read whole or refused, written all or not at all."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from fexro.core.errors import FexroError, InputError
from fexro.project.bearing import with_strip_forces
from fexro.project.container import MAGIC, Contents, pack, unpack
from fexro.project.forces import Forces
from fexro.project.forces_data import forces_head, forces_rows, read_forces
from fexro.project.json_text import json_text, parse_json
from fexro.project.migrations import migrated
from fexro.project.project import FORCES, FORMAT, VERSION, Project
from fexro.project.refusals import refusal
from fexro.project.resolve import verify
from fexro.project.storage import FileState, read_file, replace_file

__all__ = [
    "JSON_SUFFIX",
    "SUFFIX",
    "load_project",
    "parse_project",
    "project_bytes",
    "project_of",
    "project_schema",
    "project_text",
    "read_project",
    "write_project",
]

SUFFIX, JSON_SUFFIX = ".fexro", ".fexro.json"
BYTE_ORDER_MARK = b"\xef\xbb\xbf"


def read_project(path: Path) -> Project:
    """Read a project file, a container or JSON, of this version or an earlier one.

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
    return parse_project(content, path.name), state


def parse_project(content: bytes, name: str) -> Project:
    """Read a project from the bytes of a file called `name`; see `read_project`."""
    content = content.removeprefix(BYTE_ORDER_MARK)
    if content.startswith(MAGIC):
        contents = unpack(content, name)
    elif content.lstrip(b" \t\r\n").startswith(b"{"):
        contents = Contents(parse_json(content, name), {})
    else:
        found = _glimpse(content)
        raise InputError(name, found, "a Fexro project, a container or a JSON object")
    return project_of(contents, name)


def project_of(contents: Contents, name: str) -> Project:
    """Return the project that a document and its arrays describe; see `read_project`."""
    data = _present_version(contents.document, name)
    try:
        forces = {
            field: read_forces(data[field], contents.arrays.get(field), field)
            for field in FORCES
            if field in data
        }
        project = _validated({k: v for k, v in data.items() if k not in FORCES}, name)
        project = project.changed(**forces)
        verify(project)
        # Forces of strips follow from what acts on them: those of the file do not count.
        project = with_strip_forces(project)
    except InputError as error:
        if error.where.startswith(f"{name}: "):
            raise
        raise InputError(f"{name}: {error.where}", error.found, error.allowed) from error
    return project


def _present_version(data: Any, name: str) -> dict[str, Any]:
    """Return the data of a document of any version as the present one has them."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        found = data.get("format") if isinstance(data, dict) else type(data).__name__
        raise InputError(f"{name}: format", f"“{found}”", f"“{FORMAT}”")
    if "version" not in data:
        raise InputError(f"{name}: version", "nothing", "a value; it is required")
    version = data["version"]
    if type(version) is not int or version < 1:
        raise InputError(f"{name}: version", json.dumps(version)[:80], f"1 to {VERSION}")
    if version > VERSION:
        found = f"{version}, written by a newer Fexro"
        raise InputError(f"{name}: version", found, f"up to {VERSION}")
    return migrated(data)


def _validated(data: dict[str, Any], name: str) -> Project:
    try:
        return Project.model_validate(data)
    except ValidationError:
        raise refusal(data, name) from None


def write_project(project: Project, path: Path, known: FileState | None = None) -> FileState:
    """Write a project file and return its state; the old one stays until the new one is complete.

    A name that ends in `.json` makes it JSON, any other a container.

    Args:
        project: the project.
        path: the file.
        known: the state of the file when it was read or written last.

    Raises:
        ChangedOutsideError: if the file is no longer what is known.
        FexroError: if it cannot be written.
    """
    as_json = path.name.endswith(".json")
    content = project_text(project).encode() if as_json else project_bytes(project)
    return replace_file(path, content, known)


def project_text(project: Project) -> str:
    """Return a project as the text of a JSON file."""
    return json_text(_document(project) | {f: forces_rows(v) for f, v in _forces(project).items()})


def project_bytes(project: Project) -> bytes:
    """Return a project as the bytes of a container."""
    heads = {field: forces_head(forces) for field, forces in _forces(project).items()}
    arrays = {field: forces.values for field, forces in _forces(project).items()}
    return pack(Contents(_document(project) | heads, arrays))


def _forces(project: Project) -> dict[str, Forces]:
    """Return the forces that a file holds; former ones only where there was a taking."""
    found = {field: getattr(project, field) for field in FORCES}
    return {f: v for f, v in found.items() if v.members or not f.startswith("former")}


def _document(project: Project) -> dict[str, Any]:
    return project.model_dump(mode="json")


_ROWS = {
    "type": "object",
    "description": "N, Vx, Vy, T, Mx, My at the top and at the bottom of lifts, kN and kN·m",
    "properties": {
        "columns": {"type": "array", "items": {"type": "string"}},
        "members": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {
                    "mark": {"type": "string"},
                    "storey": {"type": "string"},
                    "rows": {
                        "type": "object",
                        "additionalProperties": {
                            "type": "array",
                            "minItems": 2,
                            "maxItems": 2,
                            "items": {
                                "type": "array",
                                "minItems": 6,
                                "maxItems": 6,
                                "items": {"type": "number"},
                            },
                        },
                    },
                },
                "required": ["mark", "storey", "rows"],
                "additionalProperties": False,
            },
        },
    },
    "required": ["columns", "members"],
    "additionalProperties": False,
}


def project_schema() -> dict[str, Any]:
    """Return the JSON Schema of the project as one JSON file."""
    schema = Project.model_json_schema()
    described = {
        "case_forces": {**_ROWS, "title": "Forces under the load cases"},
        "factored_forces": {**_ROWS, "title": "Forces of combinations that are given factored"},
        "former_case_forces": {**_ROWS, "title": "Case forces before the last taking"},
        "former_factored_forces": {**_ROWS, "title": "Factored forces before the last taking"},
    }
    schema["properties"] |= described
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}


def _glimpse(head: bytes) -> str:
    try:
        text = head[:24].decode("utf-8").strip()
        printable = text.isprintable()
    except UnicodeDecodeError:
        printable = False
    if not head.strip():
        return "an empty file"
    return f"text beginning “{text}”" if printable else "binary data"
