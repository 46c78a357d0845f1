"""Sums over stacks and storeys by which a wrong factor or a missed storey is seen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.arrays import FloatArray
from fexro.project.project import Project

__all__ = ["StoreySums", "odd_storeys", "storey_sums"]

ODD = 0.5  # share by which what a storey adds differs from those beside it
LEAST = 1.0  # kN


@dataclass(frozen=True, eq=False)
class StoreySums:
    """Axial forces of all marks, storey by storey.

    Attributes:
        storeys: from the highest to the lowest, (S,).
        names: of cases, or of combinations given factored, (C,).
        axial: sum of N at the top of the lifts of each storey, kN, (S, C).
        added: what each storey adds to the one above it, (S, C).
        lifts: how many lifts have forces there, (S, C).
    """

    storeys: tuple[str, ...]
    names: tuple[str, ...]
    axial: FloatArray
    added: FloatArray
    lifts: FloatArray


def storey_sums(project: Project) -> StoreySums:
    """Return the axial forces summed over all marks for each storey and case or combination."""
    storeys = tuple(storey.name for storey in project.storeys)
    place = {name: i for i, name in enumerate(storeys)}
    parts = []
    counts = []
    names: list[str] = []
    for forces in (project.case_forces, project.factored_forces):
        row = np.array([place[key.storey] for key in forces.members], dtype=np.intp)
        axial = forces.values[:, ENDS.index("top"), :, 0]
        total = np.zeros((len(storeys), len(forces.columns)))
        count = np.zeros_like(total)
        np.add.at(total, row, np.nan_to_num(axial))
        np.add.at(count, row, ~np.isnan(axial))
        parts.append(total)
        counts.append(count)
        names += forces.columns
    axial = np.concatenate(parts, axis=1)
    added = np.diff(axial, axis=0, prepend=0.0)
    return StoreySums(storeys, tuple(names), axial, added, np.concatenate(counts, axis=1))


def odd_storeys(sums: StoreySums) -> list[tuple[str, str]]:
    """Return storeys and cases in which what is added is unlike that of the storeys beside.

    The highest storey, a roof, and the lowest are compared with nothing.
    """
    found = []
    for i in range(1, len(sums.storeys) - 1):
        for c, name in enumerate(sums.names):
            here, others = sums.added[i, c], sums.added[1:, c]
            usual = float(np.median(others))
            if abs(here - usual) > max(ODD * abs(usual), LEAST) and usual > LEAST:
                found.append((sums.storeys[i], name))
    return found
