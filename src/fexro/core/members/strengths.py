"""Strengths of sections, kept while they are in use."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import lru_cache

from fexro.core.codes import StrengthTopic
from fexro.core.facts import CrossSection
from fexro.core.strength.surface import Strength

__all__ = ["resisting", "strength_of"]


def resisting(topic: StrengthTopic, cross: CrossSection) -> Hashable:
    """Return what the strength of a section depends on: not how far apart its ties are."""
    section = cross.section
    zones = tuple(section.zones.items())
    return topic, topic.make(cross), section.outline, section.bars, section.steel, zones


@dataclass(frozen=True)
class _Asked:
    """A section of which the strength is asked, equal to others that resist alike."""

    resisting: Hashable
    topic: StrengthTopic = field(compare=False)
    cross: CrossSection = field(compare=False)


def strength_of(topic: StrengthTopic, section: CrossSection) -> Strength:
    """Return the strength of a section by a code's topic, computed once while it is in use."""
    return _strength(_Asked(resisting(topic, section), topic, section))


# A strength that is drawn keeps its mesh, about a megabyte; those of candidates are not drawn.
@lru_cache(maxsize=256)
def _strength(asked: _Asked) -> Strength:
    return asked.topic.of(asked.cross)
