"""Load cases, and combinations as factors over them."""

from __future__ import annotations

from typing import Annotated, Literal, NoReturn

from pydantic import AfterValidator, FailFast, Field

from fexro.project.column import LiftKey, Member
from fexro.project.records import Name, Number, Record, Text

__all__ = ["Combination", "Factors", "LoadCase"]

Nature = Literal[
    "permanent", "imposed", "roof", "snow", "wind", "earthquake", "accidental", "notional"
]
Factor = Annotated[Number, Field(ge=-100, le=100)]
MOST_CASES = 200


class Factors(dict[str, float]):
    """Factors by load case; they do not change."""

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(frozenset(self.items()))

    def _refuse(self, *_: object, **__: object) -> NoReturn:
        raise TypeError("factors do not change")

    __setitem__ = __delitem__ = __ior__ = _refuse
    clear = pop = popitem = setdefault = update = _refuse


def _few(factors: dict[str, float]) -> Factors:
    if len(factors) > MOST_CASES:
        raise ValueError(f"factors of at most {MOST_CASES} load cases")
    return Factors(factors)


class LoadCase(Record):
    """What acts together in an analysis.

    Attributes:
        name: of the case.
        nature: what it is.
        sway: the direction in which it makes the building sway, if any.
        sustained: the share of it that lasts.
    """

    name: Name
    nature: Nature
    sway: Literal["x", "y"] | None = None
    sustained: Annotated[Number, Field(ge=0, le=1)] = 0.0


class Combination(Record):
    """A load combination.

    Attributes:
        name: of the combination.
        expression: its factors as people write them; a note where forces are given factored.
        factors: by load case; without any, its forces are given factored.
        not_for: the members that it does not apply to.
    """

    name: Name
    expression: Annotated[Text, Field(max_length=200)] = ""
    factors: Annotated[dict[Name, Factor], AfterValidator(_few)] = Field(default_factory=Factors)
    not_for: Annotated[tuple[Member, ...], FailFast()] = ()

    def applies(self, key: LiftKey) -> bool:
        """Tell whether the combination applies to a lift."""
        return not any(member.covers(key) for member in self.not_for)
