"""Call-outs of bars: how many of which size, and where; such as `4 D28 corners + 3 D20 along x`."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from fexro.core.errors import InputError
from fexro.core.section.bars import MAX_BARS, SIZE, BarSize, bar_length, bar_size, in_inches

__all__ = ["PLACES", "BarGroup", "canonical", "format_call_out", "parse_call_out", "short_call_out"]

LARGEST_BUNDLE = 4
# Where bars may be asked for, and what else each is called.
PLACES: Mapping[str, tuple[str, ...]] = {
    "corners": ("corner", "in corners", "in the corners"),
    "each face": ("ef", "on each face", "every face"),
    "along x": ("x faces", "each x face"),
    "along y": ("y faces", "each y face"),
    "top": ("top face",),
    "bottom": ("bottom face",),
    "left": ("left face",),
    "right": ("right face",),
    "around": ("evenly", "spaced around", "around the perimeter"),
    "ring": ("on a ring", "outer ring"),
    "inner ring": ("second ring",),
    "inner face": ("at the void",),
    "second layer": ("layer 2", "2nd layer"),
    "each end": ("ends", "end zones", "in each end"),
    "centre": ("center", "central", "in the middle"),
}
SPACED = ("each face", "along x", "along y", "top", "bottom", "left", "right", "around", "centre")
EXAMPLES = "a call-out such as 8 D25, 4 D28 + 6 D20, 8 #8 or 4 D32 corners + 3 D25 along x"


@dataclass(frozen=True)
class BarGroup:
    """Bars of one size that are placed alike.

    Attributes:
        count: of them, or of their bundles, at each place; 0 where their spacing is given.
        size: of each.
        place: where they are, one of `PLACES`; empty where the layout finds their places.
        bundle: how many are in contact.
        spacing: at most from one to the next, mm.
        length: of the end zones of a wall, mm; nothing where the layout finds it.
    """

    count: int
    size: BarSize
    place: str = ""
    bundle: int = 1
    spacing: float | None = None
    length: float | None = None

    @property
    def total(self) -> int:
        """How many bars there are at each place."""
        return self.count * self.bundle


_PLACE = "|".join(
    re.escape(word)
    for word in sorted(
        {name for place, others in PLACES.items() for name in (place, *others)}, key=len
    )[::-1]
)
_GROUP = re.compile(
    rf"\s*(?:(?P<count>[0-9]{{1,4}})\s*(?:(?:bundles?\s+of\s*|[x×]\s*)(?P<bundle>[0-9])(?=[\sx×])"
    rf"|[x×-])?\s*)?(?P<size>{SIZE})\s*(?:@\s*(?P<spacing>[0-9][^a-z]*(?:mm|cm|in|ft|m)?))?"
    rf"\s*(?P<place>{_PLACE})?(?:\s+(?:in|/)\s*(?P<length>[0-9].*?))?\s*",
    re.IGNORECASE,
)
_NO_SIZES: Mapping[str, BarSize] = {}


def parse_call_out(
    text: str, where: str = "bars", own: Mapping[str, BarSize] = _NO_SIZES
) -> tuple[BarGroup, ...]:
    """Read a call-out such as `8 D25`, `4 D28 + 6 D20` or `D12@200 each face + 8 D20 each end`.

    Args:
        text: the call-out.
        where: name of the input, for the refusal.
        own: sizes that no standard has, by name in capitals.

    Raises:
        InputError: if it is not understood, names no size on offer, or asks for more than 400 bars.
    """
    groups = [_group(part, text, where, own) for part in text.split("+")]
    total = sum(group.total for group in groups)
    if total > MAX_BARS or any(group.count == 0 and group.spacing is None for group in groups):
        raise InputError(where, f"{total} bars", f"1 to {MAX_BARS} bars")
    return tuple(groups)


def _group(part: str, text: str, where: str, own: Mapping[str, BarSize]) -> BarGroup:
    match = _GROUP.fullmatch(part)
    if match is None or (match["count"] is None) is (match["spacing"] is None):
        raise InputError(where, f"“{text}”", EXAMPLES)
    size = bar_size(match["size"].replace(" ", ""), where, own)
    named = (match["place"] or "").lower()
    place = next((name for name, more in PLACES.items() if named in (name, *more)), "")
    bundle = int(match["bundle"] or 1)
    if not 1 <= bundle <= LARGEST_BUNDLE:
        raise InputError(where, f"bundles of {bundle}", f"bundles of 2 to {LARGEST_BUNDLE} bars")
    inches = in_inches(size.name)
    spacing, length = (
        None if match[name] is None else bar_length(match[name], f"{where}, {told}", inches=inches)
        for name, told in (("spacing", "spacing"), ("length", "end zone"))
    )
    if spacing is not None and place not in SPACED:
        raise InputError(where, f"“{part.strip()}”", "a spacing on faces, as D12@200 each face")
    if spacing is not None and not 20 <= spacing <= 1000:
        raise InputError(where, f"a spacing of {spacing:g} mm", "20 to 1000 mm")
    if length is not None and place != "each end":
        raise InputError(
            where, f"“{part.strip()}”", "a length of end zones, as 8 D20 each end in 400"
        )
    return BarGroup(int(match["count"] or 0), size, place, bundle, spacing, length)


def format_call_out(groups: tuple[BarGroup, ...]) -> str:
    """Write groups of bars as a call-out."""
    return " + ".join(map(_written, groups))


def canonical(text: str, where: str = "bars", own: Mapping[str, BarSize] = _NO_SIZES) -> str:
    """Return a call-out as the trade writes it; see `parse_call_out`."""
    return format_call_out(parse_call_out(text, where, own))


_SHORT = {
    "corners": "c",
    "each face": "EF",
    "along x": "∥x",
    "along y": "∥y",
    "bottom": "bot",
    "inner ring": "inner",
    "inner face": "IF",
    "second layer": "2nd",
    "each end": "EE",
}


def short_call_out(text: str) -> list[str]:
    """Return the groups of a written call-out as short as a schedule has them."""
    found = []
    for part in text.split(" + "):
        short = re.sub(r"(\d+) bundles of (\d)", r"\1×\2", part)
        for place, word in _SHORT.items():
            short = short.replace(f" {place}", f" {word}")
        found.append(re.sub(r" in [\d.]+(in)?$", "", short))
    return found


def _written(group: BarGroup) -> str:
    inches = in_inches(group.size.name)

    def length(value: float) -> str:
        return f"{value / 25.4:g}in" if inches else f"{value:g}"

    if group.spacing is not None:
        text = f"{group.size.name}@{length(group.spacing)}"
    elif group.bundle > 1:
        text = f"{group.count} bundles of {group.bundle} {group.size.name}"
    else:
        text = f"{group.count} {group.size.name}"
    if group.place:
        text += f" {group.place}"
    return text if group.length is None else f"{text} in {length(group.length)}"
