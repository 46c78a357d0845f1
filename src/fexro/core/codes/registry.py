"""The design codes on offer: each package of a code registers itself here."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import fexro.core.codes
from fexro.core.codes import DesignCode
from fexro.core.errors import InputError
from fexro.core.quantities import UnitSystem

__all__ = ["Offer", "codes_on_offer", "design_code", "register"]


@dataclass(frozen=True)
class Offer:
    """A design code on offer.

    Attributes:
        key: what it is called in a file, and its name.
        annexes: the choices of its nationally determined data; the first is the default.
        make: makes the code in a system of units with an annex.
    """

    key: str
    annexes: tuple[str, ...]
    make: Callable[[UnitSystem, str], DesignCode]

    def title(self, annex: str) -> str:
        """Return the code with an annex as a choice is read."""
        return f"{self.key}, {annex} annex" if len(self.annexes) > 1 else self.key


_offers: dict[str, Offer] = {}


def register(offer: Offer) -> None:
    """Put a code on offer."""
    _offers[offer.key] = offer


@lru_cache(maxsize=1)
def codes_on_offer() -> tuple[Offer, ...]:
    """Return all codes, by name."""
    package = fexro.core.codes
    for module in pkgutil.iter_modules(package.__path__, f"{package.__name__}."):
        if module.ispkg:
            importlib.import_module(module.name)
    return tuple(_offers[key] for key in sorted(_offers))


@lru_cache(maxsize=64)
def design_code(key: str, units: UnitSystem, annex: str) -> DesignCode:
    """Return a code in the edition of a system of units, with an annex.

    Raises:
        InputError: if there is no such code, or it has no such annex.
    """
    offers = {offer.key: offer for offer in codes_on_offer()}
    if key not in offers:
        raise InputError("code", f"“{key}”", f"one of {', '.join(offers)}")
    offer = offers[key]
    if annex not in offer.annexes:
        raise InputError("annex", f"“{annex}”", f"one of {', '.join(offer.annexes)} for {key}")
    return offer.make(units, annex)
