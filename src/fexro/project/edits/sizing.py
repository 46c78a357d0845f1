"""Edits of the rules by which bars are proposed."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from fexro.core.errors import InputError
from fexro.project.column import LiftKey
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.lifts import with_records
from fexro.project.project import Project
from fexro.project.sizing_rules import OwnSizing, SizingRules

__all__ = ["set_own_sizing", "set_sizing"]


def set_sizing(project: Project, **fields: Any) -> Project:
    """Return the project with other rules by which bars are proposed.

    Raises:
        InputError: for a value that is not allowed.
    """
    try:
        rules = SizingRules.model_validate({**dict(project.basis.sizing), **fields})
    except ValueError:
        name, value = next(iter(fields.items()))
        raise InputError(name.replace("_", " "), f"{value}", "a value within its limits") from None
    return replace_basis(project, project.basis.model_copy(update={"sizing": rules}))


def set_own_sizing(project: Project, keys: Iterable[LiftKey], own: OwnSizing | None) -> Project:
    """Return the project with lifts that have rules of their own, or none."""
    records = {key: project.record_by_key[key].model_copy(update={"sizing": own}) for key in keys}
    return with_records(project, records)
