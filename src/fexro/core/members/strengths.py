"""Strengths of sections, kept while they are in use."""

from __future__ import annotations

from functools import lru_cache

from fexro.core.codes import StrengthTopic
from fexro.core.facts import CrossSection
from fexro.core.strength.surface import Strength

__all__ = ["strength_of"]


# A strength keeps its mesh, about a megabyte: as many as a bench with its other bars looks at.
@lru_cache(maxsize=64)
def strength_of(topic: StrengthTopic, section: CrossSection) -> Strength:
    """Return the strength of a section by a code's topic, computed once while it is in use."""
    return topic.of(section)
