"""Forces of members as one array. Forces in kN, moments in kN·m."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.arrays import BoolArray, FloatArray
from fexro.project.column import LiftKey

__all__ = ["ROW", "Forces"]

ROW = (len(ENDS), len(COMPONENTS))


@dataclass(frozen=True, eq=False)
class Forces:
    """Forces at both ends of members under load cases or combinations.

    Attributes:
        members: the lifts, (M,).
        columns: names of the cases or combinations, (C,).
        values: N, Vx, Vy, T, Mx, My at top and bottom, (M, 2, C, 6); not numbers where none are
            known. The array is not written into: what changes it makes another.
    """

    members: tuple[LiftKey, ...] = ()
    columns: tuple[str, ...] = ()
    values: FloatArray = field(default_factory=lambda: np.empty((0, len(ENDS), 0, len(COMPONENTS))))

    def __post_init__(self) -> None:
        self.values.setflags(write=False)

    def __eq__(self, other: object) -> bool:
        return self is other or (
            isinstance(other, Forces)
            and (self.members, self.columns) == (other.members, other.columns)
            and np.array_equal(self.values, other.values, equal_nan=True)
        )

    __hash__ = None  # type: ignore[assignment]

    @classmethod
    def of(
        cls,
        columns: Sequence[str],
        rows: Mapping[LiftKey, Mapping[str, Iterable[Iterable[float]]]],
    ) -> Forces:
        """Return forces from rows by member and name: six numbers at each of both ends."""
        place = {name: i for i, name in enumerate(columns)}
        values = np.full((len(rows), len(ENDS), len(columns), len(COMPONENTS)), np.nan)
        for i, known in enumerate(rows.values()):
            if known:
                found = np.array(list(known.values()), dtype=float).reshape(-1, *ROW)
                values[i][:, [place[name] for name in known]] = found.transpose(1, 0, 2)
        return cls(tuple(rows), tuple(columns), values)

    @cached_property
    def place(self) -> Mapping[LiftKey, int]:
        """Where each member is."""
        return {key: i for i, key in enumerate(self.members)}

    @cached_property
    def known(self) -> BoolArray:
        """Which members have forces in which columns, (M, C)."""
        known: BoolArray = ~np.isnan(self.values[:, 0, :, 0])
        return known

    def row(self, key: LiftKey, column: str) -> FloatArray | None:
        """Return the forces of a member in a column, (2, 6), if they are known."""
        if key not in self.place or column not in self.columns:
            return None
        row: FloatArray = self.values[self.place[key], :, self.columns.index(column)]
        return None if np.isnan(row).any() else row

    def of_member(self, key: LiftKey) -> tuple[FloatArray, BoolArray]:
        """Return the forces of a member, (2, C, 6), and which columns are known, (C,)."""
        i = self.place.get(key)
        if i is None:
            shape = (len(ENDS), len(self.columns), len(COMPONENTS))
            return np.full(shape, np.nan), np.zeros(len(self.columns), dtype=bool)
        return self.values[i], self.known[i]

    def changed(self, other: Forces) -> set[LiftKey]:
        """Return the members whose forces are others there, or are only in one of both."""
        if self is other:
            return set()
        apart = set(self.members) ^ set(other.members)
        if self.columns != other.columns:
            return apart | set(self.members)
        common = [key for key in self.members if key in other.place]
        mine = self.values[[self.place[key] for key in common]]
        theirs = other.values[[other.place[key] for key in common]]
        same = (mine == theirs) | (np.isnan(mine) & np.isnan(theirs))
        differ = ~same.all(axis=(1, 2, 3))
        return apart | {common[i] for i in np.flatnonzero(differ)}

    def without(self, gone: Collection[LiftKey]) -> Forces:
        """Return the forces without those of some members."""
        kept = [i for i, key in enumerate(self.members) if key not in gone]
        if len(kept) == len(self.members):
            return self
        return Forces(tuple(self.members[i] for i in kept), self.columns, self.values[kept])

    def renamed(self, key: Callable[[LiftKey], LiftKey]) -> Forces:
        """Return the forces with members called otherwise."""
        members = tuple(map(key, self.members))
        return self if members == self.members else Forces(members, self.columns, self.values)

    def with_columns(self, name: Callable[[str], str | None]) -> Forces:
        """Return the forces with columns called otherwise; those called nothing are left out."""
        called = [name(column) for column in self.columns]
        kept = [i for i, new in enumerate(called) if new is not None]
        columns = tuple(new for new in called if new is not None)
        if columns == self.columns:
            return self
        return Forces(self.members, columns, self.values[:, :, kept])

    def joined(self, other: Forces) -> Forces:
        """Return the forces with those of another array, which count where both have some."""
        members = tuple(dict.fromkeys([*self.members, *other.members]))
        columns = tuple(dict.fromkeys([*self.columns, *other.columns]))
        values = np.full((len(members), len(ENDS), len(columns), len(COMPONENTS)), np.nan)
        row = {key: i for i, key in enumerate(members)}
        column = {name: i for i, name in enumerate(columns)}
        for forces in (self, other):
            known = np.nonzero(forces.known)
            rows = np.array([row[key] for key in forces.members], dtype=np.intp)[known[0]]
            at = np.array([column[name] for name in forces.columns], dtype=np.intp)[known[1]]
            values[rows, :, at] = forces.values[known[0], :, known[1]]
        return Forces(members, columns, values)

    def with_rows(self, rows: Mapping[LiftKey, Mapping[str, Iterable[Iterable[float]]]]) -> Forces:
        """Return the forces with those of some members replaced as a whole."""
        new = Forces.of(self.columns, rows)
        members = tuple(dict.fromkeys([*self.members, *new.members]))
        values = np.full((len(members), *self.values.shape[1:]), np.nan)
        values[: len(self.members)] = self.values
        place = {key: i for i, key in enumerate(members)}
        values[[place[key] for key in new.members]] = new.values
        return Forces(members, self.columns, values)
