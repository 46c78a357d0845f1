"""Edits of the sections that a project keeps, and of the lifts that share them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from fexro.core.errors import InputError
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import with_groups, with_records
from fexro.project.edits.storeys import free_name
from fexro.project.edits.verified import named, verified
from fexro.project.library import NamedSection, section_fields
from fexro.project.project import Project

__all__ = [
    "add_sections",
    "change_section",
    "keep_section",
    "remove_section",
    "rename_section",
    "use_section",
    "users_of_section",
]


def users_of_section(project: Project, name: str) -> tuple[LiftKey, ...]:
    """Return the lifts that share a section."""
    return tuple(key for key, record in project.record_by_key.items() if record.named == name)


def keep_section(project: Project, key: LiftKey, name: str = "") -> Project:
    """Return the project with the section of a lift kept under a name; the lift shares it.

    Raises:
        InputError: for a name that is taken.
    """
    taken = [section.name for section in project.sections]
    name = named("section", name) if name else free_name("S", taken)
    if name in taken:
        raise InputError("section", f"“{name}”, which there is", "a name that is not taken")
    record = project.record_by_key[key]
    kept = NamedSection(name=name, **section_fields(record))
    changed = project.changed(sections=(*project.sections, kept))
    return with_records(changed, {key: record.model_copy(update={"named": name})})


def use_section(project: Project, keys: Iterable[LiftKey], name: str) -> Project:
    """Return the project with lifts sharing a section that it keeps.

    Raises:
        InputError: where it cannot be built in one of them; none is taken.
    """
    fields = section_fields(_kept(project, name))
    records = {
        key: project.record_by_key[key].model_copy(update={**fields, "named": name}) for key in keys
    }
    return with_records(project, with_groups(project, records))


def change_section(project: Project, name: str, like: LiftKey) -> Project:
    """Return the project with a kept section made that of a lift, and with it all who share it.

    Raises:
        InputError: where it cannot be built in one of them; none is taken.
    """
    kept, record = _kept(project, name), project.record_by_key[like]
    other = NamedSection(name=name, **section_fields(record))
    sections = tuple(other if section is kept else section for section in project.sections)
    users = dict.fromkeys((*users_of_section(project, name), like))
    # Who shares it changes first: until then it is what they have.
    fields = {**section_fields(record), "named": name}
    records = {key: project.record_by_key[key].model_copy(update=fields) for key in users}
    changed = project.changed(sections=sections)
    return with_records(changed, with_groups(changed, records))


def rename_section(project: Project, name: str, to: str) -> Project:
    """Return the project with another name for a kept section.

    Raises:
        InputError: for a name that is taken.
    """
    kept, to = _kept(project, name), named("section", to)
    if to != name and to in [section.name for section in project.sections]:
        raise InputError("section", f"“{to}”, which there is", "a name that is not taken")
    other = kept.model_copy(update={"name": to})
    sections = tuple(other if section is kept else section for section in project.sections)
    records = {
        key: project.record_by_key[key].model_copy(update={"named": to})
        for key in users_of_section(project, name)
    }
    return with_records(project.changed(sections=sections), records)


def remove_section(project: Project, name: str) -> Project:
    """Return the project without a kept section; lifts that share it keep it as their own."""
    kept = _kept(project, name)
    records = {
        key: project.record_by_key[key].model_copy(update={"named": None})
        for key in users_of_section(project, name)
    }
    sections = tuple(section for section in project.sections if section is not kept)
    return with_records(project, records).changed(sections=sections)


def add_sections(project: Project, sections: Sequence[NamedSection]) -> Project:
    """Return the project with more kept sections; those whose names are taken get others.

    What it keeps already, alike in name and all else, is not kept twice.

    Raises:
        InputError: for one of a concrete or a bar size that the project has not.
    """
    kept = list(project.sections)
    for section in sections:
        if section in kept:
            continue
        taken = [one.name for one in kept]
        if section.name in taken:
            section = section.model_copy(update={"name": free_name(f"{section.name} ", taken, 2)})
        kept.append(section)
    return verified(project.changed(sections=tuple(kept)))


def _kept(project: Project, name: str) -> NamedSection:
    for section in project.sections:
        if section.name == name:
            return section
    raise InputError("section", f"“{name}”", "a section that the project keeps")
