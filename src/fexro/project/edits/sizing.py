"""Edits of the rules by which bars are proposed."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from fexro.core.errors import InputError
from fexro.project.column import LiftKey
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.lifts import with_records
from fexro.project.project import Project
from fexro.project.sizing import bar_rules
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


def set_own_sizing(project: Project, keys: Iterable[LiftKey], **fields: Any) -> Project:
    """Return the project with rules of some lifts that differ from its own; nothing inherits.

    Raises:
        InputError: for a value that is not allowed, and for sizes that there are not.
    """
    for name, value in fields.items():
        try:
            OwnSizing.model_validate({name: value})
        except ValueError:
            limits = "a value within its limits"
            raise InputError(name.replace("_", " "), f"{value}", limits) from None
    records = {}
    for key in keys:
        record = project.record_by_key[key]
        given = {} if record.sizing is None else record.sizing.given
        kept = {name: value for name, value in {**given, **fields}.items() if value is not None}
        own = OwnSizing.model_validate(kept) if kept else None
        records[key] = record.model_copy(update={"sizing": own})
    changed = with_records(project, records)
    for key in records:
        bar_rules(changed, key)
    return changed
