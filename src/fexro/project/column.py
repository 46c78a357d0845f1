"""Column stacks and their lifts."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from pydantic import FailFast

from fexro.project.records import Name, Record
from fexro.project.section import SectionModel

__all__ = ["LiftKey", "LiftModel", "Mark", "Member"]


class LiftKey(NamedTuple):
    """Names one lift."""

    mark: str
    storey: str

    def __str__(self) -> str:
        return f"{self.mark} · {self.storey}"


class Member(Record):
    """A column stack, or one lift of it."""

    mark: Name
    storey: Name | None = None

    def covers(self, key: LiftKey) -> bool:
        """Tell whether a lift is meant."""
        return self.mark == key.mark and self.storey in (None, key.storey)

    def __str__(self) -> str:
        return self.mark if self.storey is None else f"{self.mark} · {self.storey}"


class LiftModel(Record):
    """A column between two floors."""

    storey: Name
    section: SectionModel
    concrete: Name
    steel: Name


class Mark(Record):
    """A column stack: its mark and its lifts."""

    name: Name
    lifts: Annotated[tuple[LiftModel, ...], FailFast()]
