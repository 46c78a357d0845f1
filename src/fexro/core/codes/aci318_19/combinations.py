"""Load combinations: ACI 318-19, 5.3, with the loads of ASCE 7-16 or 7-22."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fexro.core.codes.loading import LoadStandard, register_loads
from fexro.core.codes.options import choice, flag, number
from fexro.core.loads.cases import Case, Combined, Factors, distinct, earthquakes, of_nature, signed

__all__ = ["OptionsACI", "combinations"]

# Factors on snow as companion, as principal load and beside earthquake; a load of another edition
# of the load standard is of another level.
SNOW = {"ASCE 7-16": (0.5, 1.6, 0.2), "ASCE 7-22": (0.3, 1.0, 0.15)}
ROOF = (0.5, 1.6, 0.0)


@dataclass(frozen=True)
class OptionsACI:
    """What may be chosen in combining.

    Attributes:
        loads: edition of the load standard that snow comes from.
        live_factor: on live load as a companion, 5.3.3.
        wind_level: whether wind is of strength or of service level, 5.3.5.
        SDS: design spectral acceleration, of which the vertical earthquake is 0.2 of the dead load.
        rho: redundancy factor.
        overstrength: takes the place of the redundancy factor; 0 if it is not asked for.
        orthogonal: share of the other direction beside an earthquake; 0 if not asked for.
        variable_absent: whether companions are also left out.
        extraordinary: whether accidental cases and fire are combined, ASCE 7 2.5.
        service: whether combinations for deflection and cracking are made too.
    """

    loads: str = choice("Loads to", "ASCE 7-16", "ASCE 7-22")
    live_factor: float = number("Companion live", 1.0, 0.5, 1.0)
    wind_level: str = choice("Wind level", "strength", "service")
    SDS: float = number("SDS", 0.0, 0.0, 5.0)
    rho: float = number("Redundancy ρ", 1.0, 1.0, 1.3)
    overstrength: float = number("Overstrength Ω0", 0.0, 0.0, 4.0)
    orthogonal: float = number("Other direction", 0.0, 0.0, 1.0)
    variable_absent: str = choice("Companions", "never", "each")
    extraordinary: bool = flag("Extraordinary events", default=False)
    service: bool = flag("Service combinations", default=False)


def combinations(cases: Sequence[Case], options: OptionsACI) -> list[Combined]:
    """Return the combinations of load cases: ACI 318-19, 5.3.1; ASCE 7 2.3.6, 2.5, CC.1."""
    return list(distinct(_all(cases, options)))


def _all(cases: Sequence[Case], options: OptionsACI) -> Iterator[Combined]:
    dead = _together(cases, 1.0, "permanent")
    live = _together(cases, 1.0, "imposed")
    companion = {
        case.name: options.live_factor if case.half_allowed else 1.0
        for case in of_nature(cases, "imposed")
    }
    snow = SNOW[options.loads]
    # Each of the roof loads in its turn, with its factors.
    roofs = [
        (_together(cases, 1.0, nature), factors)
        for nature, factors in (("roof", ROOF), ("snow", snow), ("rain", ROOF))
        if of_nature(cases, nature)  # type: ignore[arg-type]
    ]
    beside = [_times(roof, level[0]) for roof, level in roofs] or [{}]
    each = options.variable_absent == "each"
    service_wind = options.wind_level == "service"
    winds = signed(of_nature(cases, "wind"), 1.6 if service_wind else 1.0)
    yield Combined("U1", _times(dead, 1.4))
    if live or roofs:
        for companion_roof in [*beside, {}] if each and live else beside:
            yield Combined("U2", _times(dead, 1.2) | _times(live, 1.6) | companion_roof)
    for roof, level in roofs:
        others = [companion] if live else []
        others += [_times(wind, 0.5) for wind in winds]
        if each or not others:
            others.append({})
        for other in others:
            yield Combined("U3", _times(dead, 1.2) | _times(roof, level[1]) | other)
    lives = [companion, {}] if each else [companion]
    for wind in winds:
        for some in lives:
            for companion_roof in [*beside, {}] if each else beside:
                yield Combined("U4", _times(dead, 1.2) | wind | some | companion_roof)
        yield Combined("U6", _times(dead, 0.9) | wind)
    vertical = 0.2 * options.SDS
    fallen = _together(cases, snow[2], "snow")
    quakes = of_nature(cases, "earthquake")
    scale = options.overstrength or options.rho
    for quake in earthquakes(quakes, options.orthogonal, scale):
        for some in lives:
            for drifted in [fallen, {}] if each else [fallen]:
                factors = _times(dead, 1.2 + vertical) | quake | some | drifted
                yield Combined("U5", factors, "earthquake")
        yield Combined("U7", _times(dead, 0.9 - vertical) | quake, "earthquake")
    if options.extraordinary:
        for event in signed(of_nature(cases, "accidental")) or [{}]:
            for share in (1.2, 0.9):
                factors = _times(dead, share) | event | _times(live, 0.5) | fallen
                yield Combined("ASCE 7 2.5", factors, "accidental")
    if options.service:
        yield from _service(cases, dead, live, service_wind=service_wind)


def _service(
    cases: Sequence[Case], dead: Factors, live: Factors, *, service_wind: bool
) -> Iterator[Combined]:
    yield Combined("D + L", dead | live, "service")
    yield Combined("D + 0.5S", dead | _together(cases, 0.5, "snow"), "service")
    yield Combined("D + 0.5L", dead | _times(live, 0.5), "service")
    if service_wind:  # wind of strength level is no wind of service
        for wind in signed(of_nature(cases, "wind")):
            yield Combined("D + 0.5L + Wa", dead | _times(live, 0.5) | wind, "service")


def _together(cases: Sequence[Case], factor: float, nature: str) -> Factors:
    return {case.name: factor for case in cases if case.nature == nature}


def _times(factors: Factors, by: float) -> Factors:
    return {name: value * by for name, value in factors.items()}


register_loads(LoadStandard("ACI 318-19", OptionsACI, combinations))
