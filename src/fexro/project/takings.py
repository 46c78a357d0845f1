"""Takings: forces brought in from a table, each a revision."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from fexro.project.records import Name, Record, Text

__all__ = ["Taking"]

Count = Annotated[int, Field(ge=0)]


class Taking(Record):
    """What is known of a taking.

    Attributes:
        number: from 1.
        date: when it was taken, ISO 8601.
        file: name of the table.
        checksum: SHA-256 of the table, hexadecimal.
        mapping: by which it was read.
        rows: that held forces of members.
        members, names: how many lifts, and how many cases or combinations, have forces by it.
        left_out: rows of members or cases that the project has not.
        complaints: doubtful things that were told when it was taken.
    """

    number: Annotated[int, Field(ge=1)]
    date: Annotated[Text, Field(max_length=40)]
    file: Annotated[Text, Field(max_length=255)]
    checksum: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    mapping: Name
    rows: Count
    members: Count
    names: Count
    left_out: Count = 0
    complaints: Annotated[
        tuple[Annotated[Text, Field(max_length=400)], ...], Field(max_length=100)
    ] = ()
