"""Lines of walls and storeys of openings as they are typed and shown."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, unit_of
from fexro.desktop.lengths import FOOT, read_metres
from fexro.project.walls import WallLine

__all__ = ["parse_lines", "parse_storeys", "written_lines", "written_storeys"]

EXAMPLE = "places in plan and a thickness, such as 0 0, 5 0, 5 4 / 300"


def parse_lines(text: str, system: UnitSystem, thickness: float) -> list[WallLine]:
    """Read lines such as `0 0, 5 0, 5 4 / 300; 2 0, 2 4 / 200`: m or ft, and mm or in.

    Args:
        text: chains of places, each with a thickness, apart by semicolons.
        system: units.
        thickness: where none is typed, mm.

    Raises:
        InputError: if they are not understood.
    """
    lines: list[WallLine] = []
    for chain in (part for part in text.replace("\n", ";").split(";") if part.strip()):
        places, _, thick = chain.partition("/")
        if thick.strip():
            thickness = parse_quantity(thick.strip(), Dimension.LENGTH, system, "thickness")
        points = []
        for entry in (part for part in places.split(",") if part.strip()):
            parts = entry.split()
            if len(parts) != 2:
                raise InputError("lines of the wall", f"“{entry.strip()}”", EXAMPLE)
            points.append(tuple(read_metres(part, system, "lines of the wall") for part in parts))
        if len(points) < 2:
            raise InputError("lines of the wall", f"“{chain.strip()}”", EXAMPLE)
        for (x1, y1), (x2, y2) in itertools.pairwise(points):
            try:
                lines.append(WallLine(x1=x1, y1=y1, x2=x2, y2=y2, thickness=thickness))
            except ValueError:
                found = f"{thickness:g} mm"
                raise InputError("thickness of the wall", found, "50 to 5 000 mm") from None
    if not lines:
        raise InputError("lines of the wall", "nothing", EXAMPLE)
    return lines


def written_lines(lines: Sequence[WallLine], system: UnitSystem) -> str:
    """Return lines as they are typed: those that go on from one another as one chain."""
    size = 1.0 if system is UnitSystem.SI else FOOT
    unit = unit_of(Dimension.LENGTH, system).size

    def place(x: float, y: float) -> str:
        return f"{round(x / size, 4):g} {round(y / size, 4):g}"

    chains: list[list[str]] = []
    ends: list[tuple[tuple[float, float], float]] = []
    for line in lines:
        start = line.x1, line.y1
        if not ends or ends[-1] != (start, line.thickness):
            chains.append([place(*start)])
            ends.append((start, line.thickness))
        chains[-1].append(place(line.x2, line.y2))
        ends[-1] = (line.x2, line.y2), line.thickness
    return "; ".join(
        f"{', '.join(points)} / {thickness / unit:g}"
        for points, (_, thickness) in zip(chains, ends, strict=True)
    )


def parse_storeys(text: str, offered: Sequence[str]) -> list[str]:
    """Read storeys such as `all`, `L1`, `L1 to L4` or `L1, Roof`.

    Args:
        text: as typed.
        offered: names of storeys, from the highest.

    Raises:
        InputError: for one that is not offered.
    """
    plain = text.strip()
    if plain.casefold() in ("", "all"):
        return list(offered)
    if plain in offered:
        return [plain]
    found: list[str] = []
    for part in (one.strip() for one in plain.split(",")):
        ends = [end.strip() for end in re.split(r"\s+to\s+|\s*[–…]\s*", part)]
        for end in ends:
            if end not in offered:
                allowed = f"all, or of {', '.join(offered[:12])}"
                raise InputError("storeys", f"“{end}”", allowed)
        first, last = sorted(offered.index(end) for end in (ends[0], ends[-1]))
        found += offered[first : last + 1]
    return list(dict.fromkeys(found))


def written_storeys(names: Sequence[str], offered: Sequence[str]) -> str:
    """Return storeys as they are typed."""
    if set(names) == set(offered) and len(offered) > 1:
        return "all"
    places = sorted(offered.index(name) for name in names)
    parts, start = [], 0
    for i in range(1, len(places) + 1):
        if i == len(places) or places[i] != places[i - 1] + 1:
            low, high = offered[places[i - 1]], offered[places[start]]
            parts.append(low if low == high else f"{low} to {high}")
            start = i
    return ", ".join(parts[::-1])
