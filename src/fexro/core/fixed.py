"""Dictionaries that do not change, so that facts and files can be told apart by what is in them."""

from __future__ import annotations

from typing import NoReturn, TypeVar

__all__ = ["FixedDict"]

V = TypeVar("V")


class FixedDict(dict[str, V]):
    """A dictionary by name that does not change."""

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(frozenset(self.items()))

    def __reduce__(self) -> tuple[type, tuple[dict[str, V]]]:
        # It is made at once where it is sent to another process, not filled item by item.
        return type(self), (dict(self),)

    def _refuse(self, *_: object, **__: object) -> NoReturn:
        raise TypeError("it does not change")

    __setitem__ = __delitem__ = __ior__ = _refuse
    clear = pop = popitem = setdefault = update = _refuse
