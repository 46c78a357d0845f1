"""What stands on the sheets of every new project of a user, kept in a file of theirs."""

from __future__ import annotations

import json
from pathlib import Path

from platformdirs import user_config_path
from pydantic import ValidationError

from fexro.core.errors import FexroError
from fexro.project.papers import Papers
from fexro.project.project import Project

__all__ = ["TEMPLATE", "keep_template", "with_template"]

TEMPLATE = user_config_path("fexro") / "sheets.json"
KEPT = ("author", "checker", "logo", "text_paper", "drawing_paper", "stock")


def keep_template(papers: Papers, path: Path | None = None) -> None:
    """Keep what stands on the sheets of a project for new ones.

    Raises:
        FexroError: if the file cannot be written.
    """
    path = TEMPLATE if path is None else path
    fields = papers.model_dump(mode="json", include=set(KEPT))
    part = path.with_name(f".{path.name}.writing")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        part.write_text(json.dumps(fields, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
        part.replace(path)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error


def with_template(project: Project, path: Path | None = None) -> Project:
    """Return a project with what is kept for new ones; what cannot be read is left out."""
    path = TEMPLATE if path is None else path
    try:
        fields = json.loads(path.read_text(encoding="utf-8"))
        papers = Papers.model_validate({**dict(project.papers), **{k: fields[k] for k in KEPT}})
    except (OSError, ValueError, KeyError, TypeError, ValidationError):
        return project
    return project.changed(papers=papers)
