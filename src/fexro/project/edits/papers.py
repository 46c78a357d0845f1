"""Edits of what stands on sheets."""

from __future__ import annotations

import base64
from typing import Any

from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.project.papers import Papers, PutCheck, PutPicture, Revision
from fexro.project.project import Project

__all__ = ["add_revision", "put_check", "put_picture", "set_logo", "set_papers", "take_out"]

ALLOWED = {
    "stock": "lengths from 1000 to 30000 mm, such as 6000, 12000",
    "logo": "a PNG or SVG of no more than 300 kB",
}


def set_papers(project: Project, **fields: Any) -> Project:
    """Return the project with other facts on its sheets.

    Raises:
        InputError: for a value that is not allowed.
    """
    try:
        papers = Papers.model_validate({**dict(project.papers), **fields})
    except ValidationError:
        name, value = next(iter(fields.items()))
        allowed = ALLOWED.get(name, "text of no more than 60 letters")
        raise InputError(name.replace("_", " "), f"{str(value)[:60]}", allowed) from None
    return project.changed(papers=papers)


def set_logo(project: Project, content: bytes) -> Project:
    """Return the project with a logo, PNG or SVG; without content it has none.

    Raises:
        InputError: for a picture of another kind, or one that is too large.
    """
    try:
        return set_papers(project, logo=base64.b64encode(content).decode())
    except InputError:
        found = f"{len(content) // 1000} kB that begin with {content[:8]!r}"
        raise InputError("logo", found, ALLOWED["logo"]) from None


def put_picture(project: Project, picture: PutPicture) -> Project:
    """Return the project with a picture put into its calculation.

    Raises:
        InputError: for one that is there already.
    """
    if picture in project.papers.pictures:
        raise InputError("picture", f"{picture.part} of {picture.key}", "one that is not there yet")
    return set_papers(project, pictures=(*project.papers.pictures, picture))


def put_check(project: Project, check: PutCheck) -> Project:
    """Return the project with the numbers of a check put into its calculation.

    Raises:
        InputError: for one that is there already.
    """
    if check in project.papers.checks:
        raise InputError("check", f"{check.check} of {check.key}", "one that is not there yet")
    return set_papers(project, checks=(*project.papers.checks, check))


def take_out(project: Project, put: PutPicture | PutCheck) -> Project:
    """Return the project without one of the pictures or checks put into its calculation."""
    papers = project.papers
    pictures = tuple(one for one in papers.pictures if one != put)
    checks = tuple(one for one in papers.checks if one != put)
    kept = {"pictures": pictures, "checks": checks}
    return project.changed(papers=papers.model_copy(update=kept))


def add_revision(project: Project, name: str, told: str, date: str, by: str) -> Project:
    """Return the project in another revision, which is listed with what is other than before.

    Raises:
        InputError: for a name that there is already, or a value that is not allowed.
    """
    papers = project.papers
    if name in {one.name for one in papers.revisions}:
        raise InputError("revision", f"“{name}”, which is listed", "a new one")
    try:
        one = Revision(name=name, date=date, by=by, told=told)
    except ValidationError:
        raise InputError("revision", f"“{name}”", "a letter or a name, and short texts") from None
    return set_papers(project, revisions=(*papers.revisions, one)).changed(revision=name)
