"""Load cases as the rules of combination see them, and the combinations that they make."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

__all__ = [
    "Case",
    "Combined",
    "Factors",
    "Nature",
    "Use",
    "distinct",
    "earthquakes",
    "of_nature",
    "signed",
]

Nature = Literal[
    "permanent",
    "imposed",
    "roof",
    "snow",
    "rain",
    "wind",
    "temperature",
    "earthquake",
    "accidental",
    "notional",
]
Use = Literal["strength", "earthquake", "accidental", "service", "sway part"]
Factors = dict[str, float]
SAME = 1e-9


@dataclass(frozen=True)
class Case:
    """A load case.

    Attributes:
        name: of the case.
        nature: what acts.
        direction: of wind, earthquake or notional load in plan.
        both_signs: whether it acts in the opposite direction too.
        category: of what is imposed, in the words of the load standard; the standard's own default
            where there is none.
        source: of a permanent load; each source is favourable or not as a whole.
        half_allowed: whether a standard may halve it as a companion.
    """

    name: str
    nature: Nature
    direction: Literal["x", "y"] | None = None
    both_signs: bool = False
    category: str = ""
    source: str = ""
    half_allowed: bool = True


@dataclass(frozen=True)
class Combined:
    """A combination as a rule makes it.

    Attributes:
        equation: the expression of the standard that it comes from.
        factors: by load case; none is 0.
        use: what it is for.
    """

    equation: str
    factors: Mapping[str, float]
    use: Use = "strength"


def of_nature(cases: Iterable[Case], *natures: Nature) -> list[Case]:
    """Return the cases of some natures, in their order."""
    return [case for case in cases if case.nature in natures]


def signed(cases: Iterable[Case], factor: float = 1.0) -> list[Factors]:
    """Return each case on its own with each of its signs."""
    return [
        {case.name: sign * factor}
        for case in cases
        for sign in ((1.0, -1.0) if case.both_signs else (1.0,))
    ]


def earthquakes(
    cases: Sequence[Case], orthogonal: float | None, factor: float = 1.0
) -> list[Factors]:
    """Return what acts of earthquakes at one time.

    Args:
        cases: those of earthquake.
        orthogonal: the share of one direction beside the whole of the other, both ways round; each
            case on its own if there is none.
        factor: of them all.
    """
    if not orthogonal:
        return signed(cases, factor)
    return [
        main | beside
        for case in cases
        for main in signed([case], factor)
        for other in cases
        if other.direction != case.direction
        for beside in signed([other], factor * orthogonal)
    ]


def distinct(combinations: Iterable[Combined]) -> Iterator[Combined]:
    """Yield combinations without factors of 0, each set of factors once.

    For service a set stands again, as it is for another use.
    """
    seen = set()
    for one in combinations:
        factors = {name: value for name, value in one.factors.items() if abs(value) > SAME}
        rounded = frozenset((name, round(value, 9)) for name, value in factors.items())
        key = rounded, one.use == "service"
        if factors and key not in seen:
            seen.add(key)
            yield Combined(one.equation, factors, one.use)
