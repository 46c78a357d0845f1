"""The general method: nonlinear second-order analysis of a lift along its height.

Curvatures follow from the moments by the laws of section and bars, deflections from the curvatures
by Newmark's fourth-order rule, and moments from the deflections; all are found together by Newton's
method. A lift bows by w where w'' = -κ; compression times w adds to the moment that bows it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import ConvergenceError
from fexro.core.strength.body import Body
from fexro.core.strength.equilibrium import plane_resultants

__all__ = ["GeneralLift", "GeneralResult", "LoadStep", "load_path", "solve_step"]

NODES = 33  # along the height
ITERATIONS, TOLERANCE = 16, 1e-7
LARGEST_STRAIN, LOST_STRAIN = 0.002, 0.05  # of one step; beyond which there is no equilibrium
DIFFERENCE = 1e-7  # of strain
FARTHEST = 20.0  # load factor up to which is looked
LEAST_FACTOR = 1e-2  # that is looked for, where nothing is carried
PRECISION = 1e-3  # of the load factor at collapse
FIRST_STEP, GROWTH = 1 / 16, 1.6  # of what is expected; from one step to the next
# A state is the next on the path if it is no further from where that leads than a share of the
# step, or than a small strain.
ASTRAY, SMALL_STRAIN = 0.5, 1.5e-4
STILL_STIFF = 0.25  # of the stiffness at first, with which a lift does not lose its stability


@dataclass(frozen=True, eq=False)
class GeneralLift:
    """A lift under forces, for the general method; index 0 is about x, 1 about y.

    Attributes:
        body: regions and bars under the laws that give curvatures.
        length: between the ends, about x and about y, mm.
        axial: compression, N.
        places: shares of the height from the foot, (P,).
        first: first-order moments there about x and y, N·mm, (2, P).
        imperfection: bow at mid-height about x and y, mm; half a sine wave.
        springs: of the ends against rotation beyond that of first order, N·mm, (2, 2): for each
            axis those at the foot and at the top.
        softening: share of the stiffness that counts.
    """

    body: Body
    length: tuple[float, float]
    axial: float
    places: FloatArray
    first: FloatArray
    imperfection: tuple[float, float] = (0.0, 0.0)
    springs: tuple[tuple[float, float], tuple[float, float]] = ((0.0, 0.0), (0.0, 0.0))
    softening: float = 1.0


@dataclass(frozen=True, eq=False)
class LoadStep:
    """A lift in equilibrium under a share of its forces.

    Attributes:
        factor: the share.
        forces: N, Mx, My at the nodes from the foot, (NODES, 3).
        deflection: bow about x and about y, without the imperfection, mm, (2, NODES).
        planes: strain at the centre and curvatures about x and y, (NODES, 3).
    """

    factor: float
    forces: FloatArray
    deflection: FloatArray
    planes: FloatArray

    @property
    def largest_deflection(self) -> float:
        """The largest bow in any direction, mm."""
        return float(np.hypot(*self.deflection).max())


@dataclass(frozen=True, eq=False)
class GeneralResult:
    """What the general method finds.

    Attributes:
        load_factor: share of the forces that the lift carries.
        by: what ends it: `section` or `stability`; `not reached` where neither does.
        steps: states up to there, by their factors.
        at_load: the state under the forces themselves; nothing where it does not carry them.
    """

    load_factor: float
    by: str
    steps: tuple[LoadStep, ...]
    at_load: LoadStep | None

    @property
    def ratio(self) -> float:
        """Utilisation: the forces over those at which the lift fails."""
        return 1 / self.load_factor


@lru_cache(maxsize=8)
def _bowing(nodes: int) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return what gives bow and end rotations for curvatures of a lift of length 1.

    Newmark's rule: w(i-1) - 2 w(i) + w(i+1) = -h² / 12 (κ(i-1) + 10 κ(i) + κ(i+1)).
    """
    h = 1 / (nodes - 1)
    inner = nodes - 2
    second = -2 * np.eye(inner) + np.eye(inner, k=1) + np.eye(inner, k=-1)
    rule = np.zeros((inner, nodes))
    for i in range(inner):
        rule[i, i : i + 3] = np.array([1.0, 10.0, 1.0]) * -(h**2) / 12
    bow = np.zeros((nodes, nodes))
    bow[1:-1] = np.linalg.solve(second, rule)
    foot = bow[1] / h
    foot[:3] += np.array([7.0, 6.0, -1.0]) * h / 24
    return bow, foot, foot[::-1].copy()


class _Model:
    """A lift at the nodes, its unknowns the scaled strain planes of all nodes."""

    def __init__(self, lift: GeneralLift, nodes: int) -> None:
        self.lift, self.nodes = lift, nodes
        self.scale = np.array([1.0, 2 / lift.body.size, 2 / lift.body.size])
        self.shares = np.linspace(0.0, 1.0, nodes)
        bow, foot, top = _bowing(nodes)
        self.bow = [bow * length**2 / lift.softening for length in lift.length]
        self.rotation = [
            (foot * length / lift.softening, top * length / lift.softening)
            for length in lift.length
        ]
        self.first = np.stack([np.interp(self.shares, lift.places, row) for row in lift.first])
        sine = np.sin(np.pi * self.shares)
        self.imperfection = np.stack([e * sine for e in lift.imperfection])

    def forces(
        self, planes: FloatArray, factor: float, turned: FloatArray | None
    ) -> tuple[FloatArray, FloatArray]:
        """Return N, Mx, My to be met at the nodes and how they change with curvatures.

        Args:
            planes: strain planes of the nodes, (n, 3).
            factor: share of the forces.
            turned: rotations of the ends at first order, (2, 2); nothing to find those.
        """
        lift, n = self.lift, self.nodes
        target = np.zeros((n, 3))
        target[:, 0] = factor * lift.axial
        change = np.zeros((2, n, n))
        for axis in (0, 1):
            target[:, 1 + axis] = factor * self.first[axis]
            if turned is None:
                continue
            curvature = planes[:, 1 + axis]
            bow = self.bow[axis]
            axial = factor * lift.axial
            target[:, 1 + axis] += axial * (bow @ curvature + self.imperfection[axis])
            change[axis] = axial * bow
            ends = zip(self.rotation[axis], lift.springs[axis], strict=True)
            for end, (rotation, spring) in enumerate(ends):
                if not spring:
                    continue
                weight = self.shares if end else 1 - self.shares
                more = rotation @ curvature - turned[axis, end]
                target[:, 1 + axis] -= spring * more * weight
                change[axis] -= spring * np.outer(weight, rotation)
        return target, change

    def solve(
        self, factor: float, start: FloatArray, turned: FloatArray | None
    ) -> FloatArray | None:
        """Return the strain planes of the nodes in equilibrium, or nothing where there is none."""
        scale = self.scale
        unknown: FloatArray = start / scale
        size = max(
            abs(factor * self.lift.axial),
            float(np.abs(factor * self.first).max()) * 2 / self.lift.body.size,
            1.0,
        )
        for _ in range(ITERATIONS):
            planes = unknown * scale
            target, change = self.forces(planes, factor, turned)
            met = plane_resultants(self.lift.body, planes)
            wrong = (met - target) * scale
            if float(np.abs(wrong).max()) < TOLERANCE * size:
                found: FloatArray = planes
                return found
            step = self._step(unknown, met, wrong, change)
            if step is None:
                return None
            step *= min(1.0, LARGEST_STRAIN / max(float(np.abs(step).max()), 1e-300))
            unknown = unknown + step
            if float(np.abs(unknown).max()) > LOST_STRAIN:
                return None
        return None

    def _tangent(self, unknown: FloatArray, met: FloatArray) -> FloatArray:
        """Return the tangent stiffness of the sections, (n, 3, 3): forces by unknowns."""
        trial = (unknown[:, None] + np.eye(3) * DIFFERENCE) * self.scale
        found = plane_resultants(self.lift.body, trial.reshape(-1, 3)).reshape(-1, 3, 3)
        tangent: FloatArray = (found - met[:, None]) / DIFFERENCE * self.scale
        turned: FloatArray = tangent.transpose(0, 2, 1).copy()
        return turned

    def _whole(self, tangent: FloatArray, change: FloatArray) -> FloatArray:
        """Return the stiffness of the lift, (3 n, 3 n): sections less what the bow adds."""
        n, nodes = self.nodes, np.arange(self.nodes)
        whole = np.zeros((n, 3, n, 3))
        whole[nodes, :, nodes, :] = tangent
        for axis in (1, 2):
            whole[:, axis, :, axis] -= change[axis - 1] * self.scale[axis] ** 2
        return whole.reshape(3 * n, 3 * n)

    def _step(
        self, unknown: FloatArray, met: FloatArray, wrong: FloatArray, change: FloatArray
    ) -> FloatArray | None:
        tangent = self._tangent(unknown, met)
        # A trace of stiffness keeps what has wholly cracked from being singular.
        trace = 1e-7 * np.einsum("nii->n", tangent)
        tangent[:, range(3), range(3)] += np.maximum(trace, 1e-3)[:, None]
        try:
            step = np.linalg.solve(self._whole(tangent, change), -wrong.reshape(-1))
        except np.linalg.LinAlgError:
            return None
        found: FloatArray = np.reshape(step, (-1, 3))
        return found if np.isfinite(found).all() else None

    def stiffness(self, planes: FloatArray, factor: float) -> float:
        """Return the least stiffness of a state in any direction, of the scaled unknowns."""
        turned = None if factor == 0 else np.zeros((2, 2))
        _, change = self.forces(planes, factor, turned)
        met = plane_resultants(self.lift.body, planes)
        whole = self._whole(self._tangent(planes / self.scale, met), change)
        return float(np.abs(np.linalg.eigvals(whole)).min())

    def stable(self, planes: FloatArray, factor: float, turned: FloatArray) -> bool:
        """Tell whether a state resists a disturbance: no direction of it has lost its stiffness."""
        _, change = self.forces(planes, factor, turned)
        met = plane_resultants(self.lift.body, planes)
        whole = self._whole(self._tangent(planes / self.scale, met), change)
        sign, _ = np.linalg.slogdet(whole)
        return bool(sign > 0)


def solve_step(
    lift: GeneralLift, factor: float, start: FloatArray | None = None, nodes: int = NODES
) -> LoadStep | None:
    """Return a lift in equilibrium under a share of its forces, or nothing where there is none.

    Args:
        lift: the lift.
        factor: the share.
        start: strain planes to begin with, (nodes, 3).
        nodes: along the height.
    """
    model = _Model(lift, nodes)
    nothing = np.zeros((nodes, 3))
    first = None if start is None else model.solve(factor, start, None)
    if first is None:
        first = model.solve(factor, nothing, None)
    if first is None:
        return None
    turned = np.array(
        [[end @ first[:, 1 + axis] for end in model.rotation[axis]] for axis in (0, 1)]
    )
    planes = model.solve(factor, first if start is None else start, turned)
    if planes is None or not model.stable(planes, factor, turned):
        return None
    target, _ = model.forces(planes, factor, turned)
    deflection = np.stack([model.bow[axis] @ planes[:, 1 + axis] for axis in (0, 1)])
    return LoadStep(factor, target, deflection, planes)


def load_path(
    lift: GeneralLift,
    utilisation: Callable[[FloatArray], FloatArray],
    expected: float = 1.0,
    nodes: int = NODES,
) -> GeneralResult:
    """Return the states of a lift under growing forces, up to its failure.

    The path begins without forces and is followed in steps small enough to stay on it: beyond its
    peak there is other equilibrium, which no lift reaches that is loaded. A section fails where its
    utilisation reaches 1, the lift where the load grows no more.

    Args:
        lift: the lift.
        utilisation: gives those of a section under N, Mx, My, (R, 3).
        expected: a load factor near which it fails, by which the steps are chosen.
        nodes: along the height.

    Raises:
        ConvergenceError: where no state is found although the lift is still stiff.
    """
    path = _Path(lift, utilisation, nodes)
    path.follow(FIRST_STEP * expected)
    at_load = None
    if path.low >= 1:
        nearest = max((one for one in path.steps if one.factor <= 1), key=lambda one: one.factor)
        at_load = path.state(1.0, nearest)
    return GeneralResult(path.low, path.by, tuple(path.steps), at_load)


class _Path:
    """The states under growing forces that were found, in their order, and what ends them."""

    def __init__(
        self, lift: GeneralLift, utilisation: Callable[[FloatArray], FloatArray], nodes: int
    ) -> None:
        self._lift, self._utilisation, self._nodes = lift, utilisation, nodes
        self._model = _Model(lift, nodes)
        self.steps: list[LoadStep] = []
        self.by = "not reached"

    @property
    def low(self) -> float:
        """The largest load factor that is carried."""
        return self.steps[-1].factor if self.steps else 0.0

    def follow(self, step: float) -> None:
        """Find states from the first on, until the lift fails or 20 times its forces are carried.

        Raises:
            ConvergenceError: where no state is found although the lift is still stiff.
        """
        used = 0.0
        while self.low < FARTHEST:
            factor = self.low + step
            found = self.state(factor, self.steps[-1] if self.steps else None)
            if found is None:
                step /= 2
                if step >= PRECISION * (self.low or LEAST_FACTOR):
                    continue
                self._end(factor)
                return
            more = float(self._utilisation(found.forces).max())
            if more > 1:
                if step <= PRECISION * factor:
                    self.by = "section"
                    return
                # Towards where the secant reaches 1, within what is left of the step.
                share = (1 - used) / (more - used)
                step *= min(max(share, 0.1), 0.9)
                continue
            self.steps.append(found)
            left = (1 - more) / max(more - used, 1e-12) * step
            used, step = more, min(GROWTH * step, max(left, PRECISION * factor / 2))

    def state(self, factor: float, known: LoadStep | None) -> LoadStep | None:
        """Return the next state on the path, or nothing where what is found is not its next."""
        if known is None:
            return solve_step(self._lift, factor, None, self._nodes)
        at = self.steps.index(known)
        slope = known.planes / known.factor
        if at:
            before = self.steps[at - 1]
            slope = (known.planes - before.planes) / (known.factor - before.factor)
        predicted = known.planes + slope * (factor - known.factor)
        found = solve_step(self._lift, factor, predicted, self._nodes)
        if found is None:
            return None
        scale = self._model.scale
        gone = float(np.abs((found.planes - known.planes) / scale).max())
        missed = float(np.abs((found.planes - predicted) / scale).max())
        return found if missed <= max(ASTRAY * gone, SMALL_STRAIN) else None

    def _end(self, factor: float) -> None:
        """Tell that the lift loses its stability, if it does.

        Raises:
            ConvergenceError: if it is nearly as stiff as without forces.
        """
        if not self.steps:
            raise ConvergenceError(f"no equilibrium was found under {factor:.3g} of the forces")
        first, last = self.steps[0], self.steps[-1]
        begun, left = (self._model.stiffness(one.planes, one.factor) for one in (first, last))
        if left > STILL_STIFF * begun:
            raise ConvergenceError(
                f"no equilibrium was found beyond {last.factor:.3g} of the forces, where the lift"
                f" still has {left / begun:.0%} of its stiffness"
            )
        self.by = "stability"
