"""What leaves the office: what stands on its sheets, what was issued, and the marks of bars."""

from __future__ import annotations

import base64
import binascii
from typing import Annotated, Literal, Self, get_args

from pydantic import FailFast, Field, model_validator

from fexro.project.column import LiftKey
from fexro.project.records import Name, Number, Record, Text

__all__ = [
    "DRAWING_PAPERS",
    "BarMark",
    "DrawingPaper",
    "IssuedBar",
    "IssuedSheet",
    "Papers",
    "PicturePart",
    "PutCheck",
    "PutPicture",
    "Revision",
    "TextPaper",
]

Short = Annotated[Text, Field(max_length=60)]
Digest = Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
Stock = Annotated[Number, Field(ge=1000, le=30_000, description="mm")]
TextPaper = Literal["a4", "letter"]
PicturePart = Literal["N–M", "Mx–My", "surface", "stresses", "moments", "elevation"]
DrawingPaper = Literal[
    "A4", "A3", "A2", "A1", "A0", "ANSI A", "ANSI B", "ANSI C", "ANSI D", "ANSI E"
]
DRAWING_PAPERS: tuple[DrawingPaper, ...] = get_args(DrawingPaper)
LARGEST_LOGO = 300_000  # bytes


class Revision(Record):
    """A revision: its letter, when and by whom it was made, and what is other than before."""

    name: Name
    date: Short = ""
    by: Short = ""
    told: Annotated[Text, Field(max_length=200)] = ""


class BarMark(Record):
    """What a bar mark is of, kept from the first issue on.

    Attributes:
        mark: the number.
        size, grade, shape: as they are called.
        dimensions: letters with lengths, mm.
        cut: length as it is scheduled, mm.
        told: what the sketch has beside its dimensions.
        revision: with which it came.
    """

    mark: Name
    size: Name
    grade: Name
    shape: Name
    dimensions: Annotated[tuple[tuple[Name, Number], ...], Field(max_length=30)]
    cut: Annotated[Number, Field(gt=0, le=1e6, description="mm")]
    told: Annotated[Text, Field(max_length=80)] = ""
    revision: Short = ""


class OfLift(Record):
    """Facts of a lift."""

    mark: Name
    storey: Name

    @property
    def key(self) -> LiftKey:
        """The lift."""
        return LiftKey(self.mark, self.storey)


class IssuedBar(OfLift):
    """Bars of a lift as they were issued, and since which revision they are so."""

    bar: Name
    number: Annotated[int, Field(ge=1, le=1_000_000)]
    revision: Short = ""


class IssuedSheet(Record):
    """A document as it was issued.

    Attributes:
        name: of the document.
        digest: SHA-256 of what it says, hexadecimal.
        revision, date: with which it was issued.
    """

    name: Annotated[Text, Field(min_length=1, max_length=120)]
    digest: Digest
    revision: Short = ""
    date: Short = ""


class PutPicture(OfLift):
    """A picture that was put into the calculation of a lift; it is painted anew whenever it is set.

    Attributes:
        part: which picture.
        combination: that it is of; that which governs where there is none, or not this one.
        angle: of the plane of a diagram, degrees from Mx towards My.
        axial: of a diagram of moments, kN.
    """

    part: PicturePart
    combination: Name | None = None
    angle: Annotated[Number, Field(ge=-720, le=720, description="degrees")] | None = None
    axial: Annotated[Number, Field(ge=-1e8, le=1e8, description="kN")] | None = None


class PutCheck(OfLift):
    """A check that was put into the calculation of a lift with its numbers, as they are then.

    Attributes:
        check: its name.
    """

    check: Annotated[Text, Field(min_length=1, max_length=200)]


class Papers(Record):
    """What stands on the sheets of a project, and what was issued.

    Attributes:
        number: of the project.
        author, checker, date: as they stand on every sheet.
        logo: a picture, PNG or SVG, in Base64.
        text_paper, drawing_paper: sizes.
        stock: lengths that bars are delivered in, mm.
        revisions: from the first to the last.
        pictures: that were put into the calculation, beside those that every lift has.
        checks: whose numbers were put into the calculation.
        marks: of bars that were issued.
        bars: of lifts as they were issued.
        issued: documents as they were issued last.
    """

    number: Short = ""
    author: Short = ""
    checker: Short = ""
    date: Short = ""
    logo: Annotated[str, Field(max_length=LARGEST_LOGO * 4 // 3 + 4)] = ""
    text_paper: TextPaper = "a4"
    drawing_paper: DrawingPaper = "A2"
    stock: Annotated[tuple[Stock, ...], Field(min_length=1, max_length=12)] = (12_000.0,)
    revisions: Annotated[tuple[Revision, ...], FailFast(), Field(max_length=100)] = ()
    pictures: Annotated[tuple[PutPicture, ...], FailFast(), Field(max_length=500)] = ()
    checks: Annotated[tuple[PutCheck, ...], FailFast(), Field(max_length=2000)] = ()
    marks: Annotated[tuple[BarMark, ...], FailFast(), Field(max_length=20_000)] = ()
    bars: Annotated[tuple[IssuedBar, ...], FailFast(), Field(max_length=200_000)] = ()
    issued: Annotated[tuple[IssuedSheet, ...], FailFast(), Field(max_length=5_000)] = ()

    @model_validator(mode="after")
    def _readable(self) -> Self:
        try:
            content = base64.b64decode(self.logo, validate=True)
        except binascii.Error:
            raise ValueError("a logo in Base64") from None
        if content and not (content.startswith(b"\x89PNG") or b"<svg" in content[:2000]):
            raise ValueError("a logo that is PNG or SVG")
        return self

    @property
    def picture(self) -> bytes:
        """The logo; nothing where there is none."""
        return base64.b64decode(self.logo)
