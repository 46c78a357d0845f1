"""Combinations of actions: AS/NZS 1170.0, 4.2.2 and 4.3."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fexro.core.codes.loading import LoadStandard, register_loads
from fexro.core.codes.options import flag, number
from fexro.core.loads.cases import Case, Combined, Factors, distinct, earthquakes, of_nature, signed

__all__ = ["OptionsAS", "combinations"]

# ψs, ψl, ψc, ψE: Table 4.1.
PSI = {
    "general": (0.7, 0.4, 0.4, 0.3),
    "storage": (1.0, 0.6, 0.6, 0.6),
    "roof": (0.7, 0.0, 0.0, 0.0),
}
SHORT, LONG, COMBINED, EARTHQUAKE = range(4)


@dataclass(frozen=True)
class OptionsAS:
    """What may be chosen in combining.

    Attributes:
        orthogonal: share of the other direction beside an earthquake; 0 if not asked for.
        service: whether the combinations for serviceability are made.
    """

    orthogonal: float = number("Other direction", 0.0, 0.0, 1.0)
    service: bool = flag("Service combinations", default=False)


def combinations(cases: Sequence[Case], options: OptionsAS) -> list[Combined]:
    """Return the combinations of actions: AS/NZS 1170.0, 4.2.2(a) to (g), 4.3."""
    return list(distinct(_all(cases, options)))


def _all(cases: Sequence[Case], options: OptionsAS) -> Iterator[Combined]:
    dead, live = of_nature(cases, "permanent"), of_nature(cases, "imposed", "roof")
    yield Combined("1.35G", _all_of(dead, 1.35))
    if live:
        yield Combined("1.2G + 1.5Q", _all_of(dead, 1.2) | _all_of(live, 1.5))
        lasting = _shares(live, LONG, 1.5)
        yield Combined("1.2G + 1.5ψl Q", _all_of(dead, 1.2) | lasting)
    beside = _shares(live, COMBINED)
    for wind in signed(of_nature(cases, "wind")):
        yield Combined("1.2G + Wu + ψc Q", _all_of(dead, 1.2) | wind | beside)
        yield Combined("0.9G + Wu", _all_of(dead, 0.9) | wind)
    for quake in earthquakes(of_nature(cases, "earthquake"), options.orthogonal):
        factors = _all_of(dead, 1.0) | quake | _shares(live, EARTHQUAKE)
        yield Combined("G + Eu + ψE Q", factors, "earthquake")
    snow = of_nature(cases, "snow", "rain")
    if snow:
        yield Combined("1.2G + Su + ψc Q", _all_of(dead, 1.2) | _all_of(snow, 1.0) | beside)
    if options.service:
        for name, place in (("G + ψs Q", SHORT), ("G + ψl Q", LONG)):
            yield Combined(name, _all_of(dead, 1.0) | _shares(live, place), "service")


def _all_of(cases: Sequence[Case], factor: float) -> Factors:
    return {case.name: factor for case in cases}


def _shares(live: Sequence[Case], place: int, factor: float = 1.0) -> Factors:
    return {
        case.name: factor
        * PSI.get(case.category, PSI["roof" if case.nature == "roof" else "general"])[place]
        for case in live
    }


register_loads(LoadStandard("AS/NZS 1170.0", OptionsAS, combinations, tuple(PSI)))
