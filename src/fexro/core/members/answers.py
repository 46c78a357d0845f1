"""What was found of demands on sections, kept for when nothing of it has changed."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable
from hashlib import blake2b
from threading import Lock
from typing import NamedTuple

from fexro.core.members.lift import PreparedLift
from fexro.core.members.strengths import resisting
from fexro.core.strength.governing import Governing

__all__ = ["Answer", "Answers"]


class Answer(NamedTuple):
    """Which demand of a lift governs, and which of the forces as analysed."""

    found: Governing | None
    first: Governing | None


class Answers:
    """The last answers, by what resists and the demands.

    Args:
        most: how many are kept.
    """

    def __init__(self, most: int) -> None:
        self._most, self._lock = most, Lock()
        self._known: OrderedDict[Hashable, Answer] = OrderedDict()

    def of(self, prepared: PreparedLift) -> Answer | None:
        """Return what is known of a lift; nothing if it was not asked."""
        with self._lock:
            key = _key(prepared)
            if key in self._known:
                self._known.move_to_end(key)
            return self._known.get(key)

    def keep(self, prepared: PreparedLift, answer: Answer) -> None:
        """Keep what was found of a lift."""
        with self._lock:
            self._known[_key(prepared)] = answer
            if len(self._known) > self._most:
                self._known.popitem(last=False)


def _key(prepared: PreparedLift) -> Hashable:
    lift = prepared.lift
    rows = [prepared.demands.rows]
    if prepared.grows:
        rows.append(lift.actions.axial_bending)
    digest = blake2b(digest_size=16)
    for values in rows:
        digest.update(repr(values.shape).encode())
        digest.update(values.tobytes())
    return resisting(lift.code.strength, lift.facts.cross_section), digest.digest()
