"""Checks of a lift by what they are about, for the panel that shows them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from fexro.core.findings import TOPICS, Finding, State

__all__ = ["CheckGroup", "grouped"]

ASSUMED = "Assumed"


@dataclass(frozen=True, eq=False)
class CheckGroup:
    """Checks about one thing, worst first.

    Attributes:
        title: what they are about.
        checks: at least one.
    """

    title: str
    checks: tuple[Finding, ...]

    @property
    def state(self) -> State:
        """The worst state."""
        return max(check.state for check in self.checks)

    @property
    def quiet(self) -> bool:
        """Whether nothing of it asks for a person's eye."""
        return self.title == ASSUMED or self.state is State.SATISFIED

    @property
    def largest(self) -> Finding:
        """The check of the worst state with the largest ratio."""
        return max(
            self.checks,
            key=lambda check: (check.state, -math.inf if math.isnan(check.ratio) else check.ratio),
        )

    @property
    def counted(self) -> str:
        """How many there are of each state, worst first."""
        if self.title == ASSUMED:
            return f"{len(self.checks)} assumed or not checked"
        states = [check.state for check in self.checks]
        counts = [(state, states.count(state)) for state in sorted(set(states), reverse=True)]
        return ", ".join(f"{count} {state.word}" for state, count in counts)


def grouped(checks: Sequence[Finding]) -> list[CheckGroup]:
    """Return checks by what they are about: what is worst first, what is assumed last."""
    found: dict[str, list[Finding]] = {}
    for check in checks:
        title = ASSUMED if check.assumption else check.topic.capitalize()
        found.setdefault(title, []).append(check)
    order = [topic.capitalize() for topic in TOPICS]
    groups = [CheckGroup(title, tuple(some)) for title, some in found.items()]
    return sorted(
        groups,
        key=lambda group: (
            (1, 0, 0)
            if group.title == ASSUMED
            else (0, -int(group.state), order.index(group.title))
        ),
    )
