"""Combinations of loads: BS 8110-1, 2.4.3 and Table 2.1."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fexro.core.codes.loading import LoadStandard, register_loads
from fexro.core.codes.options import choice, flag
from fexro.core.loads.cases import Case, Combined, Factors, distinct, of_nature, signed

__all__ = ["OptionsBS", "combinations"]


@dataclass(frozen=True)
class OptionsBS:
    """What may be chosen in combining.

    Attributes:
        favourable_permanent: whether dead load that relieves is taken beside imposed load.
        variable_absent: whether imposed load is also left out.
        service: whether the combinations for serviceability are made.
    """

    favourable_permanent: bool = flag("Dead also relieves", default=True)
    variable_absent: str = choice("Imposed load absent", "never", "each")
    service: bool = flag("Service combinations", default=False)


def combinations(cases: Sequence[Case], options: OptionsBS) -> list[Combined]:
    """Return the combinations of loads: BS 8110-1, Table 2.1; 3.1.4.2 for notional loads."""
    return list(distinct(_all(cases, options)))


def _all(cases: Sequence[Case], options: OptionsBS) -> Iterator[Combined]:
    dead = {case.name: 1.0 for case in of_nature(cases, "permanent")}
    imposed = {case.name: 1.0 for case in of_nature(cases, "imposed", "roof", "snow", "rain")}
    # Without imposed load the dead load still acts alone.
    absent = options.variable_absent == "each" or not imposed
    for share in (1.4, 1.0) if options.favourable_permanent else (1.4,):
        for live in ([imposed] if imposed else []) + ([{}] if absent else []):
            yield Combined("1", _times(dead, share) | _times(live, 1.6))
    winds = of_nature(cases, "wind")
    # A notional load is one of the ultimate limit state already.
    laterals = [(_times(one, 1.4), _times(one, 1.2)) for one in signed(winds)]
    laterals += [(one, one) for one in signed(of_nature(cases, "notional"))]
    for alone, with_live in laterals:
        for share in (1.4, 1.0):
            yield Combined("2", _times(dead, share) | alone)
        if imposed:
            yield Combined("3", _times(dead, 1.2) | _times(imposed, 1.2) | with_live)
    if options.service:
        yield Combined("1.0Gk + 1.0Qk", dead | imposed, "service")
        for wind in signed(winds):
            yield Combined("1.0Gk + 1.0Qk + 1.0Wk", dead | imposed | wind, "service")


def _times(factors: Factors, by: float) -> Factors:
    return {name: value * by for name, value in factors.items()}


register_loads(LoadStandard("BS 8110", OptionsBS, combinations))
