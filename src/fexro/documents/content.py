"""What a document says, part after part, whatever it is written as."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem, format_number

__all__ = [
    "Block",
    "Calculation",
    "Cell",
    "Contents",
    "Document",
    "Facts",
    "Figure",
    "Heading",
    "NewPage",
    "Numeric",
    "Paragraph",
    "Sheet",
    "Sketch",
    "Table",
    "words_of",
]


@dataclass(frozen=True)
class Numeric:
    """A number in a table, with the decimals that it is read with."""

    value: float
    decimals: int = 0


@dataclass(frozen=True)
class Sketch:
    """A line through points in a table, drawn as large as there is room."""

    line: tuple[tuple[float, float], ...]


Cell = str | Numeric | Sketch


def words_of(cell: Cell) -> str:
    """Return a cell as it is read; a sketch has no words."""
    match cell:
        case Numeric(value=value, decimals=decimals):
            return format_number(value, decimals)
        case Sketch():
            return ""
    return cell


@dataclass(frozen=True)
class Heading:
    """A heading; of level 1 begin chapters, and pages; of level 0 is the title.

    Attributes:
        running: what stands at the head of the pages from there on; nothing where it stays.
    """

    text: str
    level: int = 1
    running: str | None = None


@dataclass(frozen=True)
class Paragraph:
    """Sentences; quiet ones are set smaller, strong ones bold."""

    text: str
    tone: str = ""


@dataclass(frozen=True)
class Facts:
    """Names with their values, two columns of text."""

    rows: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Table:
    """A table under headings.

    Attributes:
        heads: with units.
        rows: as many cells each as there are headings.
        title: above it; on a sheet of its own in a workbook.
        words: columns of words, which begin at the left.
    """

    heads: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    title: str = ""
    words: frozenset[int] = frozenset({0})


@dataclass(frozen=True, eq=False)
class Calculation:
    """A derivation, line after line.

    Attributes:
        heading: what is calculated, with clause and result.
        record: its lines.
        system: the units people see.
    """

    heading: str
    record: Derivation
    system: UnitSystem


@dataclass(frozen=True)
class Figure:
    """A picture as SVG.

    Attributes:
        svg: the picture.
        caption: below it.
        width: share of the width of the text.
    """

    svg: bytes
    caption: str
    width: float = 1.0


@dataclass(frozen=True)
class NewPage:
    """A new page begins."""


@dataclass(frozen=True)
class Contents:
    """A list of the headings down to a level, with their pages, under a heading of its own."""

    depth: int = 2


Block = Heading | Paragraph | Facts | Table | Calculation | Figure | NewPage | Contents


@dataclass(frozen=True)
class Sheet:
    """What stands on every page.

    Attributes:
        project: its name.
        number: of the project.
        author, checker, date, revision: who, when, which.
        code: that is checked to.
        logo: a picture as SVG or PNG, where there is one.
        paper: name of the size.
        landscape: whether it lies.
    """

    project: str
    number: str = ""
    author: str = ""
    checker: str = ""
    date: str = ""
    revision: str = ""
    code: str = ""
    logo: bytes = b""
    paper: str = "a4"
    landscape: bool = False

    @property
    def told(self) -> tuple[tuple[str, str], ...]:
        """What is known of it, by name."""
        rows = (
            ("Project", self.project),
            ("Number", self.number),
            ("Revision", self.revision),
            ("Date", self.date),
            ("By", self.author),
            ("Checked", self.checker),
            ("Design code", self.code),
        )
        return tuple(row for row in rows if row[1])


@dataclass(frozen=True, eq=False)
class Document:
    """A document: its title, what stands on every page, and its parts."""

    title: str
    sheet: Sheet
    blocks: Sequence[Block]
