"""The load standards on offer: how they combine load cases, each registered by its package."""

from __future__ import annotations

import importlib
import importlib.util
import pkgutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, get_type_hints

import fexro.core.codes
from fexro.core.codes.options import options_of
from fexro.core.errors import InputError
from fexro.core.loads.cases import Case, Combined
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation

__all__ = [
    "LiveLoadRule",
    "LoadStandard",
    "live_load_rules",
    "load_standard",
    "load_standards",
    "register_loads",
    "register_reduction",
]


@dataclass(frozen=True)
class LoadStandard:
    """A standard by which load cases are combined.

    Attributes:
        key: what it is called in a file, and its name.
        options: frozen dataclass of its options, made by the functions of `options`.
        combine: makes the combinations of cases under options.
        categories: of what is imposed; the first is taken where none is named.
    """

    key: str
    options: type[Any]
    combine: Callable[[Sequence[Case], Any], Sequence[Combined]]
    categories: tuple[str, ...] = ()

    def option_values(self, given: dict[str, Any]) -> Any:
        """Return its options with those that are given in place of their defaults.

        Raises:
            InputError: for one that it has not, or a value that is not allowed.
        """
        return options_of(self.options, given)

    def option_kinds(self) -> dict[str, Any]:
        """Return the type of each option by name."""
        return get_type_hints(self.options)


_standards: dict[str, LoadStandard] = {}


def register_loads(standard: LoadStandard) -> None:
    """Put a standard on offer."""
    _standards[standard.key] = standard


def _import_all(topic: str) -> None:
    """Import the modules of a topic, which register what they offer."""
    package = fexro.core.codes
    for module in pkgutil.iter_modules(package.__path__, f"{package.__name__}."):
        if module.ispkg and importlib.util.find_spec(f"{module.name}.{topic}") is not None:
            importlib.import_module(f"{module.name}.{topic}")


@lru_cache(maxsize=1)
def load_standards() -> tuple[LoadStandard, ...]:
    """Return all standards, by name."""
    _import_all("combinations")
    return tuple(_standards[key] for key in sorted(_standards))


def load_standard(key: str) -> LoadStandard:
    """Return a standard by name.

    Raises:
        InputError: if there is none of that name.
    """
    known = {standard.key: standard for standard in load_standards()}
    if key not in known:
        raise InputError("standard", f"“{key}”", f"one of {', '.join(known)}")
    return known[key]


@dataclass(frozen=True)
class LiveLoadRule:
    """A rule by which imposed load is reduced with the floors that a column carries.

    Attributes:
        key: what it is called in a file, and its name.
        categories: of use that it tells apart; the first is taken where none is named.
        factor: gives the share that stays and writes how it follows.
        by_area: whether it asks for the tributary area.
        by_load: whether it asks for the unreduced load.
    """

    key: str
    categories: tuple[str, ...]
    factor: Callable[[Derivation | None, Floors], float]
    by_area: bool = False
    by_load: bool = False


_reductions: dict[str, LiveLoadRule] = {}


def register_reduction(rule: LiveLoadRule) -> None:
    """Put a rule of reduction on offer."""
    _reductions[rule.key] = rule


@lru_cache(maxsize=1)
def live_load_rules() -> dict[str, LiveLoadRule]:
    """Return all rules of reduction by name."""
    _import_all("live_load")
    return {key: _reductions[key] for key in sorted(_reductions)}
