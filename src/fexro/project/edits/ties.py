"""Edits of the ties inside a section; from then on they are placed by hand."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence

from fexro.core.errors import InputError
from fexro.core.section.ties import HeldRule, InnerTie, arrange
from fexro.project.bars import OwnBar
from fexro.project.section import PlacedTies, SectionModel, section_of

__all__ = ["present_ties", "remove_tie", "tie_bars", "ties_by_rule", "untie_bars"]

MOST = 200  # ties inside a section


def present_ties(
    section: SectionModel, rule: HeldRule, own: Sequence[OwnBar] = ()
) -> tuple[InnerTie, ...]:
    """Return the ties inside the outer one, by the bars that each goes round."""
    return arrange(section_of(section, tuple(own)), rule).inner


def tie_bars(
    section: SectionModel, chosen: Collection[int], rule: HeldRule, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with a tie more: across two bars, or round several in their order.

    Raises:
        InputError: for fewer than two bars, or a tie that is there.
    """
    if len(chosen) < 2:
        raise InputError("ties", f"{len(chosen)} bars chosen", "two bars or more to be tied")
    bars = section_of(section, tuple(own)).bars
    numbers = sorted(chosen)
    x, y = bars.x[numbers].mean(), bars.y[numbers].mean()
    tie = tuple(numbers)
    if len(numbers) > 2:
        tie = tuple(sorted(numbers, key=lambda i: math.atan2(bars.y[i] - y, bars.x[i] - x)))
    ties = present_ties(section, rule, own)
    if any(set(tie) == set(one) for one in ties):
        raise InputError("ties", "a tie about these bars", "one that is not there")
    return _with(section, (*ties, tie), len(bars))


def untie_bars(
    section: SectionModel, chosen: Collection[int], rule: HeldRule, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section without the ties that go round no others than the chosen bars, or one.

    Raises:
        InputError: where no tie does.
    """
    ties, wanted = present_ties(section, rule, own), set(chosen)
    left = tuple(tie for tie in ties if not set(tie) <= wanted)
    if len(left) == len(ties) and len(wanted) == 1:
        left = tuple(tie for tie in ties if not wanted & set(tie))
    if len(left) == len(ties):
        raise InputError("ties", "no tie about the chosen bars", "bars that a tie goes round")
    return _with(section, left, len(section_of(section, tuple(own)).bars))


def remove_tie(
    section: SectionModel, number: int, rule: HeldRule, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section without one of its inner ties, by number from 0."""
    ties = present_ties(section, rule, own)
    left = (*ties[:number], *ties[number + 1 :])
    return _with(section, left, len(section_of(section, tuple(own)).bars))


def ties_by_rule(section: SectionModel) -> SectionModel:
    """Return a section whose inner ties are those that the code's rule asks for."""
    return section.model_copy(update={"inner_ties": None})


def _with(section: SectionModel, ties: tuple[InnerTie, ...], bars: int) -> SectionModel:
    if len(ties) > MOST:
        raise InputError("ties", f"{len(ties)} ties", f"at most {MOST}")
    return section.model_copy(update={"inner_ties": PlacedTies(bars=bars, ties=ties)})
