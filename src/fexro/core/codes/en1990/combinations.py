"""Combinations of actions: EN 1990, 6.4.3 and 6.5.3, with the recommended values or the UK's."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fexro.core.codes.loading import LoadStandard, register_loads
from fexro.core.codes.options import choice, flag, number
from fexro.core.loads.cases import (
    Case,
    Combined,
    Factors,
    Use,
    distinct,
    earthquakes,
    of_nature,
    signed,
)

__all__ = ["OptionsEN", "combination_values", "combinations"]

# ψ0, ψ1, ψ2: Table A1.1, and where the UK's differ.
PSI = {
    "A": (0.7, 0.5, 0.3),
    "B": (0.7, 0.5, 0.3),
    "C": (0.7, 0.7, 0.6),
    "D": (0.7, 0.7, 0.6),
    "E": (1.0, 0.9, 0.8),
    "F": (0.7, 0.7, 0.6),
    "G": (0.7, 0.5, 0.3),
    "H": (0.0, 0.0, 0.0),
    "snow": (0.5, 0.2, 0.0),
    "snow over 1000 m": (0.7, 0.5, 0.2),
    "wind": (0.6, 0.2, 0.0),
    "temperature": (0.6, 0.5, 0.0),
}
PSI_UK = PSI | {"H": (0.7, 0.0, 0.0), "wind": (0.5, 0.2, 0.0)}
# γG unfavourable and favourable, γQ: Tables A1.2(A), (B), (C).
PARTIAL = {"B": (1.35, 1.0, 1.5), "A": (1.10, 0.90, 1.5), "C": (1.0, 1.0, 1.3)}
XI = {"recommended": 0.85, "UK": 0.925}


@dataclass(frozen=True)
class OptionsEN:
    """What may be chosen in combining.

    Attributes:
        annex: whose combination values and reduction ξ.
        expression: 6.10, or 6.10a and 6.10b.
        set: of partial factors: B for strength, A for equilibrium, C for the ground.
        KFI: factor of the consequence class, on unfavourable actions.
        favourable_permanent: whether permanent actions are taken as favourable too.
        imposed: whether each category is an action or all of them are one.
        variable_absent: which variable actions may be absent.
        roof_alone: whether imposed load on roofs never comes with snow or wind, EN 1991-1-1 3.3.2.
        accidental_leading: the value of the leading variable action beside an accident.
        orthogonal: share of the other direction beside an earthquake; 0 if not asked for.
        fire: whether the combinations for fire, without another accident, are made.
        service: whether the combinations for serviceability are made.
    """

    annex: str = choice("Annex", "recommended", "UK")
    expression: str = choice("Expression", "6.10", "6.10a/b")
    set: str = choice("Set of factors", "B", "A", "C")
    KFI: float = number("KFI", 1.0, 0.9, 1.1)
    favourable_permanent: bool = flag("G also favourable", default=True)
    imposed: str = choice("Imposed loads", "by category", "one action")
    variable_absent: str = choice("Absent actions", "lateral", "never", "each")
    roof_alone: bool = flag("Roof load alone", default=False)
    accidental_leading: str = choice("Leads in accidents", "by annex", "psi1", "psi2")
    orthogonal: float = number("Other direction", 0.0, 0.0, 1.0)
    fire: bool = flag("Fire", default=False)
    service: bool = flag("Service combinations", default=False)

    @property
    def psi(self) -> dict[str, tuple[float, float, float]]:
        """ψ0, ψ1, ψ2 by category."""
        return PSI_UK if self.annex == "UK" else PSI

    @property
    def leads_in_accidents(self) -> bool:
        """Whether the leading variable action beside an accident takes ψ1."""
        if self.accidental_leading == "by annex":
            return self.annex == "UK"
        return self.accidental_leading == "psi1"


@dataclass(frozen=True)
class _Action:
    """Variable cases that act together.

    Attributes:
        kind: their nature.
        signs: by case, its sign.
        psi: by case, its combination values.
    """

    kind: str
    signs: Factors
    psi: dict[str, tuple[float, float, float]]

    def times(self, factor: float) -> Factors:
        return {name: factor * sign for name, sign in self.signs.items()}

    def accompanying(self, factor: float, place: int) -> Factors:
        return {n: factor * self.psi[n][place] * sign for n, sign in self.signs.items()}


def combination_values(case: Case, options: OptionsEN) -> tuple[float, float, float]:
    """Return ψ0, ψ1, ψ2 of a variable case: EN 1990 Table A1.1."""
    if case.nature in ("wind", "temperature"):
        return options.psi[case.nature]
    default = {"roof": "H", "snow": "snow", "rain": "snow"}.get(case.nature, "B")
    return options.psi.get(case.category, options.psi[default])


def combinations(cases: Sequence[Case], options: OptionsEN) -> list[Combined]:
    """Return the combinations of actions: 6.10 or 6.10a and b, 6.11b, 6.12b, 6.14b to 6.16b."""
    return list(distinct(_all(cases, options)))


def _all(cases: Sequence[Case], options: OptionsEN) -> Iterator[Combined]:
    dead = of_nature(cases, "permanent")
    sets = list(_sets(cases, options))
    for actions in sets:
        yield from _persistent(dead, actions, options)
    permanent = {case.name: 1.0 for case in dead}
    events = signed(of_nature(cases, "accidental")) + ([{}] if options.fire else [])
    for event, actions in itertools.product(events, sets):
        equation = "6.11b" if event else "fire, 6.11b"
        leaders = actions if options.leads_in_accidents else ()
        for leader in leaders or (None,):
            factors = permanent | event | _led(actions, leader, 1, 2)
            yield Combined(equation, factors, "accidental")
    quakes = earthquakes(of_nature(cases, "earthquake"), options.orthogonal)
    for quake, actions in itertools.product(quakes, sets):
        factors = permanent | quake | _led(actions, None, 1, 2)
        yield Combined("6.12b", factors, "earthquake")
    if options.service:
        for actions in sets:
            yield from _service(permanent, actions)


def _persistent(
    dead: Sequence[Case], actions: Sequence[_Action], options: OptionsEN
) -> Iterator[Combined]:
    upper, lower, variable = PARTIAL[options.set]
    upper, variable = upper * options.KFI, variable * options.KFI
    pair = options.expression == "6.10a/b"
    if pair:
        for permanent in _permanent(dead, upper, lower, options):
            all_accompany = _merged(action.accompanying(variable, 0) for action in actions)
            yield Combined("6.10a", permanent | all_accompany)
    equation, reduced = ("6.10b", upper * XI[options.annex]) if pair else ("6.10", upper)
    for leader in actions or (None,):
        for permanent in _permanent(dead, reduced, lower, options):
            factors = permanent | _led(actions, leader, None, 0, variable)
            yield Combined(equation, factors)


def _service(permanent: Factors, actions: Sequence[_Action]) -> Iterator[Combined]:
    service: Use = "service"
    for leader in actions or (None,):
        yield Combined("6.14b", permanent | _led(actions, leader, None, 0), service)
        yield Combined("6.15b", permanent | _led(actions, leader, 1, 2), service)
    yield Combined("6.16b", permanent | _led(actions, None, 1, 2), service)


def _led(
    actions: Sequence[_Action],
    leader: _Action | None,
    leading: int | None,
    others: int,
    factor: float = 1.0,
) -> Factors:
    """Return variable actions with a leading one.

    Args:
        actions: that are present.
        leader: the leading one, if any.
        leading: which of ψ0, ψ1, ψ2 it takes; none if it takes its whole value.
        others: which the others take.
        factor: of all.
    """
    return _merged(
        (action.times(factor) if leading is None else action.accompanying(factor, leading))
        if action is leader
        else action.accompanying(factor, others)
        for action in actions
    )


def _permanent(
    dead: Sequence[Case], upper: float, lower: float, options: OptionsEN
) -> Iterator[Factors]:
    """Yield permanent actions, each source unfavourable or favourable as a whole."""
    sources = list(dict.fromkeys(case.source for case in dead))
    choices = (upper, lower) if options.favourable_permanent else (upper,)
    for chosen in itertools.product(choices, repeat=len(sources)):
        factor = dict(zip(sources, chosen, strict=True))
        yield {case.name: factor[case.source] for case in dead}


def _sets(cases: Sequence[Case], options: OptionsEN) -> Iterator[tuple[_Action, ...]]:
    """Yield the variable actions that are present together."""
    steady, lateral = _actions(cases, options), _lateral(cases, options)
    if options.variable_absent == "each":
        kept = [[action, None] for action in steady]
    else:
        kept = [[action] for action in steady]
    absent = options.variable_absent != "never"
    swinging = [[*choices, None] if absent else list(choices) for choices in lateral]
    for chosen in itertools.product(*kept, *swinging):
        actions = tuple(action for action in chosen if action is not None)
        kinds = {action.kind for action in actions}
        if options.roof_alone and "roof" in kinds and kinds & {"snow", "wind"}:
            yield tuple(action for action in actions if action.kind != "roof")
            yield tuple(action for action in actions if action.kind not in ("snow", "wind"))
        else:
            yield actions


def _actions(cases: Sequence[Case], options: OptionsEN) -> list[_Action]:
    """Return the actions that gravity brings."""
    groups: dict[tuple[str, str], list[Case]] = {}
    for case in of_nature(cases, "imposed", "roof", "snow", "rain"):
        by_category = case.nature == "imposed" and options.imposed == "by category"
        groups.setdefault((case.nature, case.category if by_category else ""), []).append(case)
    return [
        _Action(
            nature,
            {case.name: 1.0 for case in group},
            {case.name: combination_values(case, options) for case in group},
        )
        for (nature, _), group in groups.items()
    ]


def _lateral(cases: Sequence[Case], options: OptionsEN) -> list[list[_Action]]:
    """Return wind and temperature, each the choices of which one acts at a time."""
    found = []
    for nature in ("wind", "temperature"):
        known = [case for case in cases if case.nature == nature]
        if known:
            values = {case.name: combination_values(case, options) for case in known}
            found.append([_Action(nature, signs, values) for signs in signed(known)])
    return found


def _merged(parts: Iterator[Factors] | Sequence[Factors]) -> Factors:
    return {name: value for part in parts for name, value in part.items()}


register_loads(
    LoadStandard("EN 1990", OptionsEN, combinations, ("B", "A", "C", "D", "E", "F", "G", "H"))
)
