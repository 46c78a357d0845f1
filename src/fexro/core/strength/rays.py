"""Where rays from inside meet the strength surface, exactly.

A ray is first led to where a mesh of the surface has it; the crossing is then refined in the two
parameters of the surface (direction of the compressed side, place in the family of limit planes) by
Newton's method, whose slopes are corrected from step to step. Where bars enter a block, the surface
is a stack of sheets with steps and overlaps between them: a sheet is followed with the concrete
that bars displace held as it is on one side, and of the sheets that a ray may meet the nearer
counts. Where Newton's method does not settle, the neighbourhood is subdivided around the ray until
it is smaller than any digit shown.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, fields, replace
from functools import lru_cache

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.strength.alike import Alike
from fexro.core.strength.body import Held
from fexro.core.strength.laws import SideArray
from fexro.core.strength.starts import (
    TRIANGLES,
    Rays,
    Starts,
    curved,
    encloses_origin,
    frame,
    joined,
    nearest_on_mesh,
    newton_step,
    through_mesh,
    towards,
    weights,
)
from fexro.core.strength.surface import Solvable, Strength

__all__ = [
    "Aimed",
    "Crossings",
    "aim",
    "crossings_about",
    "crossings_near",
    "crossings_of",
    "crossings_on_mesh",
    "first_crossings",
]

TOLERANCE, REST = 5e-9, 5e-8  # of the surface's size beside a ray, and of the way along it
ABOUT = 1e-4, 1e-3  # the same where about is enough: what is left is taken as the slope has it
FEW_RAYS = 40  # for which slopes are found anew in every step
STEPS, ROUNDS = 7, 5  # in each round a ray follows one sheet
FAR = 3  # cells of the mesh from the start
WORTH_KEEPING = 0.8  # share of rays still open from which the others are taken along
DIFFERENCE = 1e-5  # of a cell of the mesh
# Times the share that a bar's concrete has in the largest force, and times the spread of the bars'
# strains: what lies nearer to a step than that is beside it.
BESIDE, LEAST_SPREAD, ROWS = 4.0, 1e-4, 3
TOGETHER = 128  # rays beside rows of bars whose sheets are foreseen together
# Of a row of bars, for rays from the origin and for others, which run aside a sheet more nearly.
BESIDE_ROW, BESIDE_ROW_ASIDE = 1.5, 4.0
FORESIGHT = 0.5  # share of a foreseen change of strain by which it may be wrong
BEND = 5e-4  # radians from a level edge
FEW = 3  # bars beside steps that are also put across one by one
SUBDIVISIONS, ZOOMS = 40, 4
SUBGRID = 7
# Rays refined together, so that their arrays stay in the processor's cache; fewer where each has a
# section of its own.
MANY, FEWER = 5000, 2500


@dataclass(frozen=True, eq=False)
class Crossings:
    """The first crossing of each ray, (R,).

    Attributes:
        distance: distance along the ray as a multiple of its direction; infinite without crossing.
        angle: direction of the compressed side there, radians.
        fraction: place in the family of limit planes there.
        count: number of crossings found along the ray.
    """

    distance: FloatArray
    angle: FloatArray
    fraction: FloatArray
    count: IntArray


_CROSSING = tuple(field.name for field in fields(Crossings))


def first_crossings(strength: Strength, origin: FloatArray, direction: FloatArray) -> Crossings:
    """Find where rays first meet the design surface.

    Args:
        strength: the section's strength.
        origin: starting points N, Mx, My, (R, 3), N and N·mm.
        direction: directions, (R, 3), not zero.

    Returns:
        The first crossing of each ray; the cap of the axial force is not part of the surface here.
    """
    parts = [
        _first_crossings(strength, origin[start : start + MANY], direction[start : start + MANY])
        for start in range(0, max(len(direction), 1), MANY)
    ]
    return Crossings(*(np.concatenate([getattr(x, name) for x in parts]) for name in _CROSSING))


def crossings_on_mesh(strength: Strength, origin: FloatArray, direction: FloatArray) -> FloatArray:
    """Return about how far along rays they meet the surface, (R,), for the same arguments.

    It is where they pass through its mesh; infinite without crossing.
    """
    mesh = strength.mesh
    rays, length = frame(strength, origin / mesh.scale, direction / mesh.scale)
    return nearest_on_mesh(mesh, rays) / length


def crossings_near(
    strength: Strength, origin: FloatArray, direction: FloatArray, about: Crossings
) -> Crossings:
    """Return the crossings of rays that lie about places of the surface, for the same arguments.

    The distance is infinite where none is found from there.
    """
    mesh = strength.mesh
    rays, length = frame(strength, origin / mesh.scale, direction / mesh.scale)
    count = len(length)
    place = np.stack([about.angle, about.fraction])
    reach = np.repeat([[2 * np.pi / len(mesh.angle)], [mesh.fraction[1]]], count, axis=1)
    found = _Found(count)
    _settle(rays, Starts(np.arange(count), place, reach), found)
    angle, fraction = found.place
    return Crossings(found.distance / length, angle, fraction, found.count)


@dataclass(frozen=True, eq=False)
class Aimed:
    """Rays from the origin and points of the surfaces about where they meet them.

    Attributes:
        strength: that of the section of each ray, in the order of the sections.
        direction: N, Mx, My, (R, 3).
        rays: the same in the scale of the meshes.
        length: of the directions in that scale, (R,).
        starts: the places of the points.
        located: how far the points are to both sides of the rays, and along them, in that scale,
            (3, R).
    """

    strength: Alike
    direction: FloatArray
    rays: Rays
    length: FloatArray
    starts: Starts
    located: FloatArray

    @property
    def distance(self) -> FloatArray:
        """Return how far the points are from the origin, in the scale of the meshes, (R,)."""
        distance: FloatArray = np.sqrt((self.located**2).sum(axis=0))
        return distance

    @property
    def aside(self) -> FloatArray:
        """Return the angles of the points from the rays, radians, (R,)."""
        aside: FloatArray = np.arctan2(np.hypot(*self.located[:2]), self.located[2])
        return aside

    def take(self, index: IntArray) -> Aimed:
        """Return some of them."""
        starts = self.starts.take(index)
        return Aimed(
            self.strength.take(index),
            self.direction[index],
            self.rays.take(index),
            self.length[index],
            replace(starts, ray=np.arange(len(index))),
            self.located[:, index],
        )

    def come_nearer(self, index: IntArray) -> None:
        """Lead the points of some rays nearer to them by a step along the surface."""
        for some in np.split(index, range(FEWER, len(index), FEWER)):
            rays, starts = self.rays.take(some), self.starts.take(some)
            assert starts.slope is not None
            here = self.located[:, some]
            change, _ = newton_step(here, starts.slope)
            moved = starts.place + change * starts.reach
            moved[1] = np.clip(moved[1], 0.0, 1.0)
            change = (moved - starts.place) / starts.reach
            there = _locate(rays, moved, None)
            assert self.starts.slope is not None
            self.starts.slope[..., some] = _corrected(starts.slope, change, there - here)
            nearer = _spread(there) < _spread(here)
            better = some[nearer]
            self.starts.place[:, better] = moved[:, nearer]
            self.located[:, better] = there[:, nearer]


def aim(strength: Alike, direction: FloatArray) -> Aimed:
    """Find points of the surfaces about where rays from the origin meet them.

    Args:
        strength: that of the section of each ray, in the order of the sections.
        direction: N, Mx, My, (R, 3), not zero.
    """
    parts = [
        _aim(strength.take(part), direction[part])
        for part in np.split(np.arange(len(direction)), range(FEWER, len(direction), FEWER))
    ]
    if len(parts) == 1:
        return parts[0]
    return Aimed(
        strength,
        direction,
        Rays(
            strength,
            np.concatenate([part.rays.origin for part in parts], axis=-1),
            np.concatenate([part.rays.axes for part in parts], axis=-1),
        ),
        np.concatenate([part.length for part in parts]),
        joined([part.starts for part in parts]),
        np.concatenate([part.located for part in parts], axis=-1),
    )


def _aim(strength: Alike, direction: FloatArray) -> Aimed:
    rays, length = frame(strength, np.zeros_like(direction), direction / strength.scale.T)
    starts = strength.towards(rays)
    return Aimed(strength, direction, rays, length, starts, _locate(rays, starts.place, None))


def _spread(located: FloatArray) -> FloatArray:
    """Return tangents of the angles of points from rays, (H,); infinite for those behind."""
    ahead = located[2] > 0
    found: FloatArray = np.where(
        ahead, np.hypot(located[0], located[1]) / np.where(ahead, located[2], 1.0), np.inf
    )
    return found


def _corrected(slope: FloatArray, change: FloatArray, found: FloatArray) -> FloatArray:
    """Return slopes (3, 2, R) with the least change that explains what a step has found.

    The step is `change` (2, R), what it has found (3, R). It is Broyden's correction.
    """
    surprise = found - np.einsum("ijr,jr->ir", slope, change)
    along = change / np.maximum(change[0] ** 2 + change[1] ** 2, 1e-30)
    corrected: FloatArray = slope + surprise[:, None] * along
    return corrected


def crossings_of(aimed: Aimed) -> Crossings:
    """Find where rays from the origin meet the design surfaces of sections of one make."""
    strength, direction = aimed.strength, aimed.direction
    found = _Found(len(direction))
    arrived = _settle(aimed.rays, aimed.starts, found)
    angle, fraction = found.place
    crossings = Crossings(found.distance / aimed.length, angle, fraction, found.count)
    # The few that do not arrive from there are followed in their section by itself.
    lost = np.flatnonzero(~arrived)
    for section in sorted(set(strength.section[lost].tolist())):
        some = lost[strength.section[lost] == section]
        single = strength.sections.each[section]
        again = first_crossings(single, np.zeros((len(some), 3)), direction[some])
        for name in _CROSSING:
            getattr(crossings, name)[some] = getattr(again, name)
    return crossings


def crossings_about(aimed: Aimed) -> Crossings:
    """Return about where rays from the origin meet the sheets of the surface that lie near.

    Where bars beside a step make sheets overlap, it is not asked which is the nearest.
    """
    strain = _strains_at(aimed.strength, aimed.starts.place)
    sides = aimed.strength.body.sides(strain)
    met, there = _newton(aimed.rays, aimed.starts, sides, within=ABOUT)
    if not (met > 0).all():
        return crossings_of(aimed)
    angle, fraction = there.place
    return Crossings(met / aimed.length, angle, fraction, np.ones(len(met), dtype=np.intp))


def _first_crossings(strength: Strength, origin: FloatArray, direction: FloatArray) -> Crossings:
    mesh = strength.mesh
    rays, length = frame(strength, origin / mesh.scale, direction / mesh.scale)
    found = _Found(len(length))
    if origin.any():
        starts = through_mesh(mesh, rays, np.arange(len(length)))
        near = curved(mesh, rays, starts)
        _close_in(rays, starts.take(~_settle(rays, near, found)), found)
    else:
        # From the origin a ray crosses once, near the corner of the mesh that lies in its direction
        # best; the few that do not arrive from there are followed through all cells.
        arrived = _settle(rays, towards(mesh, rays), found)
        if not arrived.all():
            lost = through_mesh(mesh, rays, np.flatnonzero(~arrived))
            _close_in(rays, lost, found)
    missed = np.flatnonzero(np.isinf(found.distance))
    if len(missed):
        # A ray through an end of the family, where all directions meet, runs along edges of the
        # mesh; turned by less than any digit shown it passes through a triangle.
        rays = rays.nudged()
        _close_in(rays, through_mesh(mesh, rays, missed), found)
    angle, fraction = found.place
    return Crossings(found.distance / length, angle, fraction, found.count)


class _Found:
    """The nearest crossings found so far of rays (R,): distance, place (2, R) and how many."""

    def __init__(self, rays: int) -> None:
        self.distance = np.full(rays, np.inf)
        self.place = np.zeros((2, rays))
        self.count = np.zeros(rays, dtype=np.intp)

    def add(self, ray: IntArray, met: FloatArray, where: FloatArray) -> None:
        """Count crossings (H,) for their rays and keep the nearest; not a number is none."""
        found = np.flatnonzero(met > 0)
        np.add.at(self.count, ray[found], 1)
        # Of several crossings of a ray the nearest is written last.
        found = found[np.argsort(-met[found], kind="stable")]
        found = found[met[found] < self.distance[ray[found]]]
        self.distance[ray[found]], self.place[:, ray[found]] = met[found], where[:, found]


def _close_in(rays: Rays, starts: Starts, found: _Found) -> None:
    """Refine crossings with fresh slopes, then from ever nearer, then by subdivision alone."""
    lost = starts
    if len(lost.ray):
        lost = lost.take(~_settle(rays, lost, found))
    # Where the surface bends sharply, Newton's method starts again from nearby.
    if len(lost.ray):
        _, nearby = _subdivide(rays, lost, ZOOMS)
        lost = nearby.take(~_settle(rays, nearby, found))
    if len(lost.ray):
        met, nearby = _subdivide(rays, lost, SUBDIVISIONS)
        found.add(nearby.ray, met, nearby.place)


def _settle(rays: Rays, starts: Starts, found: _Found) -> BoolArray:
    """Refine the crossings of starts (H,), keep the nearest of each ray, tell which were found."""
    met, where = _nearest_sheet(rays.take(starts.ray), starts)
    found.add(starts.ray, met, where)
    return met > 0


def _nearest_sheet(rays: Rays, starts: Starts) -> tuple[FloatArray, FloatArray]:
    """Return the way along rays to the nearest sheet of the surface near starts, and the place.

    A crossing counts if the bars lie where they are held; if they do not, the sheet on which they
    lie there is tried next. Beside a step the sheets across it are tried too, for there the sheets
    may overlap. Where no crossing counts, the ray passes between two sheets, and the nearer of
    their continuations is taken: the side that is safe.

    Returns:
        Distances (H,), not a number where lost, and places (2, H).
    """
    on_sheets, between = _Found(len(starts.ray)), _Found(len(starts.ray))
    strain = _strains_at(rays.strength, starts.place)
    beside, across = _across_steps(rays.strength, strain)
    index = np.concatenate([np.arange(len(starts.ray)), beside])
    tried = starts.take(index)
    sides = np.concatenate([rays.strength.body.sides(strain), across], axis=-1)
    known, mirrored = np.empty(0, dtype=np.intp), np.zeros(len(index), dtype=bool)
    for _ in range(ROUNDS):
        trying = rays.take(index)
        met, there = _newton(trying, tried, sides)
        lost = np.flatnonzero(~(met > 0) & np.isfinite(on_sheets.distance[index]))
        if len(lost) and len(index) > FEW_RAYS:
            # Once more with slopes found anew in every step; rays without a sheet go on anyway.
            again = replace(tried.take(lost), slope=None)
            met[lost], found = _newton(trying.take(lost), again, sides[..., lost], anew=True)
            assert there.slope is not None
            assert found.slope is not None
            there.place[:, lost], there.slope[..., lost] = found.place, found.slope
        arrived = met > 0
        known = np.sort(np.concatenate([known, _keys(index, sides, mirrored)[arrived]]))
        strain = _strains_at(trying.strength, there.place)
        now = trying.strength.body.sides(strain)
        counts = arrived & (now == sides).all(axis=(0, 1))
        true = np.flatnonzero(counts)
        on_sheets.add(index[true], met[true], there.place[:, true])
        false = np.flatnonzero(~counts & (arrived | np.isinf(on_sheets.distance[index])))
        between.add(index[false], met[false], there.place[:, false])
        met_by = trying.take(true)
        beside, across = _across_steps(met_by.strength, strain[..., true])
        parted, parts, slopes = _through_rows(met_by, there.take(true), strain[..., true])
        level, other = _across_level(met_by.strength, there.place[0, true])
        following = np.concatenate([false, true[beside], true[parted], true[level]])
        sides = np.concatenate([now[..., false], across, parts, now[..., true[level]]], axis=-1)
        at_level = np.arange(len(following)) >= len(following) - len(level)
        mirrored = mirrored[following] | at_level
        new = np.flatnonzero(~_among(_keys(index[following], sides, mirrored), known))
        if not len(new):
            break
        tried = there.take(following)
        assert tried.slope is not None
        after = len(false) + len(beside)
        tried.slope[..., after : after + len(parted)] = slopes
        tried.place[0, at_level] = other
        tried, index = tried.take(new), index[following[new]]
        sides, mirrored = sides[..., new], mirrored[new]
        if not arrived[following[new]].all():
            # Rays that did not arrive go on from where they are, with slopes found anew.
            tried = replace(tried, slope=None)
    else:
        # What is still on its way from sheet to sheet is not between two of them.
        between.distance[index] = np.inf
    found = np.isfinite(on_sheets.distance)
    nearest = np.where(found, on_sheets.distance, between.distance)
    nearest[np.isinf(nearest)] = np.nan
    return nearest, np.where(found, on_sheets.place, between.place)


def _keys(index: IntArray, sides: SideArray, mirrored: BoolArray) -> IntArray:
    """Return numbers (H,) that tell sheets of rays apart by the sides (B, 1, H) of their bars."""
    keys: IntArray = _bar_numbers(len(sides)) @ sides[:, 0].astype(np.intp) + (index << 48)
    return np.where(mirrored, ~keys, keys)


def _among(keys: IntArray, known: IntArray) -> BoolArray:
    """Tell which keys are among known ones, which are sorted."""
    if not len(known):
        return np.zeros(len(keys), dtype=bool)
    place = np.minimum(np.searchsorted(known, keys), len(known) - 1)
    among: BoolArray = known[place] == keys
    return among


@lru_cache(maxsize=8)
def _bar_numbers(count: int) -> IntArray:
    """Return numbers for bars, (B,), of which hardly two sets have one sum."""
    numbers = random.Random(0)
    return np.array([numbers.getrandbits(40) for _ in range(count)], dtype=np.intp)


def _across_steps(strength: Solvable, strain: FloatArray) -> tuple[IntArray, SideArray]:
    """Return which bars' strains (B, 1, H) are beside steps, and the sides (B, 1, …) across.

    With all bars that are beside a step across it, and, where they are few, with each by itself.
    """
    body = strength.body
    index, below, above = _beside_steps(strength, strain, 1, BESIDE)
    here = body.take(index).sides(strain[..., index])
    across = below + above - here
    bars = (below != above).sum(axis=0)
    bar, ray = np.nonzero((across != here)[:, 0] & (bars > 1) & (bars <= FEW))
    single = here[..., ray]
    single[bar, 0, np.arange(len(ray))] = across[bar, 0, ray]
    return np.concatenate([index, index[ray]]), np.concatenate([across, single], axis=-1)


def _beside_steps(
    strength: Solvable, strain: FloatArray, together: int, reach: float
) -> tuple[IntArray, SideArray, SideArray]:
    """Return which strains (B, 1, H) have bars beside steps, and sides (B, 1, …) below and above.

    Below and above differ for the bars that are beside a step. How near that is depends on how many
    they are: `together` is the number taken first, `reach` how many times the move of one each is
    taken for.
    """
    body = strength.body
    index = np.arange(strain.shape[-1])
    if not len(strain):
        none = body.sides(strain)[..., :0]
        return index[:0], none, none
    # The concrete of a bar moves the strain plane by about its share in the resultant, and that of
    # a row of bars by as much more.
    share = reach * body.largest_step / strength.scale[0]
    beside = share * np.maximum(np.ptp(strain, axis=0), LEAST_SPREAD)
    bars = np.full_like(beside, together)
    for _ in range(ROWS):
        below, above = body.sides(strain - bars * beside), body.sides(strain + bars * beside)
        bars = (below != above).sum(axis=0)
        some = np.flatnonzero(bars[0])
        body = body.take(some)
        index, strain, bars, beside = index[some], strain[..., some], bars[:, some], beside[:, some]
        below, above = below[..., some], above[..., some]
    return index, below, above


def _through_rows(
    rays: Rays, here: Starts, strain: FloatArray
) -> tuple[IntArray, SideArray, FloatArray]:
    """Return sheets on which a neutral axis a little aslant parts a row of bars beside a step.

    Where many bars lie beside a step, the bars from one end of the row up to any of them may be
    across. Which of these sheets a ray meets, and nearer than here, is foreseen from the slope;
    only those are tried.

    Args:
        rays: the rays, (H,).
        here: where they meet a sheet, (H,).
        strain: strains of the bars there, (B, 1, H).

    Returns:
        Which of the rays, (R,), the sides of the bars, (B, 1, R), and slopes here, (3, 2, R).
    """
    reach = BESIDE_ROW_ASIDE if rays.origin.any() else BESIDE_ROW
    index, below, above = _beside_steps(rays.strength, strain, len(strain), reach)
    many = np.flatnonzero((below != above).sum(axis=0)[0] > FEW)
    found = [(index[:0], below[..., :0], np.empty((3, 2, 0)))]
    if rays.strength.body.steps_alone and len(many):
        for some in np.split(many, range(TOGETHER, len(many), TOGETHER)):
            at = index[some]
            ray, sides, slope = _foreseen(
                rays.take(at),
                here.take(at),
                strain[..., at],
                (below[..., some], above[..., some]),
            )
            found.append((at[ray], sides, slope[..., ray]))
    ray, sides, slope = (np.concatenate(parts, axis=-1) for parts in zip(*found, strict=True))
    return ray, sides, slope


def _foreseen(
    rays: Rays,
    here: Starts,
    strain: FloatArray,
    around: tuple[SideArray, SideArray],
) -> tuple[IntArray, SideArray, FloatArray]:
    """Return rays (R,) and sides (B, 1, R) of sheets foreseen to be met nearer than here.

    And how the places of all rays to the surface change over their reach here, (3, 2, H).
    """
    strength, (below, above) = rays.strength, around
    body = strength.body
    rows = below[:, 0] != above[:, 0]
    now = body.sides(strain)
    # The order of the bars along the neutral axis; those of no row come last.
    x, y = body.bar_places
    along = y * np.cos(here.place[0]) - x * np.sin(here.place[0])
    order = np.where(rows, along, np.inf).argsort(axis=0).argsort(axis=0)
    count = rows.sum(axis=0)
    # From either end, any number of them across: (B, H, P).
    number = np.arange(int(count.max(initial=0)) + 1)
    first = (order[..., None] < number) & rows[..., None]
    last = (order[..., None] >= count[:, None] - number) & rows[..., None]
    passed = np.concatenate([first, last], axis=-1)
    sides = np.where(passed, above[:, 0, :, None], below[:, 0, :, None]).astype(np.int8)
    sides = np.where(rows[..., None], sides, now[:, 0, :, None])
    known = np.concatenate([number <= count[:, None]] * 2, axis=-1)
    # What the displaced concrete of the others changes, as the ray sees it.
    bars, _, patterns = sides.shape
    each = np.repeat(np.arange(len(here.ray)), patterns)
    held = body.take(each).hold(sides.reshape(bars, 1, -1)).steady
    base = body.hold(now).steady
    assert held is not None
    assert base is not None
    factor = strength.factor(strain.min(axis=0))[0]
    change = (base[:, 0, :, None] - held.reshape(3, -1, patterns)) * factor[:, None]
    change = np.einsum("ijr,jrp->irp", rays.axes, change / strength.scale[..., None])
    # A slope corrected from step to step is too rough to foresee by.
    _, slope = _with_slope(rays, here.place, here.reach, body.hold(now))
    det = slope[0, 0] * slope[1, 1] - slope[0, 1] * slope[1, 0]
    det = np.where(np.abs(det) > 1e-16, det, np.inf)[:, None]
    turn = (change[1] * slope[0, 1, :, None] - change[0] * slope[1, 1, :, None]) / det
    deepen = (change[0] * slope[1, 0, :, None] - change[1] * slope[0, 0, :, None]) / det
    further = change[2] + slope[2, 0, :, None] * turn + slope[2, 1, :, None] * deepen
    # Where the bars come to lie then, and on which side of their steps.
    moved = _strain_slopes(strength, here, strain)
    shift = moved[0][..., None] * turn + moved[1][..., None] * deepen
    slack = FORESIGHT * np.abs(shift) + 1e-9
    there = strain[:, 0, :, None] + shift
    fits = (body.sides(there - slack) <= sides) & (sides <= body.sides(there + slack))
    kept = known & (further < 0) & fits.all(axis=0) & (sides != now[:, 0, :, None]).any(axis=0)
    ray, pattern = np.nonzero(kept)
    return ray, sides[:, None, ray, pattern], slope


def _strain_slopes(
    strength: Solvable, here: Starts, strain: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return how strains of the bars, (B, H), change over the reach in direction and in depth."""
    found = []
    for axis in (0, 1):
        step = np.zeros_like(here.place)
        step[axis] = DIFFERENCE * here.reach[axis]
        step[1] *= np.where(here.place[1] > 0.5, -1.0, 1.0)
        change = _strains_at(strength, here.place + step) - strain
        found.append(change[:, 0] * (here.reach[axis] / step[axis]))
    return found[0], found[1]


def _across_level(strength: Solvable, angle: FloatArray) -> tuple[IntArray, FloatArray]:
    """Return which angles (H,) are beside one where an edge is level, and those across it.

    The surface is bent there, and may be folded by next to nothing.
    """
    ring = strength.body.level_directions
    if not len(ring):
        return np.empty(0, dtype=np.intp), angle[:0]
    # Of bodies solved together one may have fewer: what is missing is as far away as can be.
    ring = np.where(np.isfinite(ring), ring, angle + np.pi)
    aside = (angle - ring + np.pi) % (2 * np.pi) - np.pi
    nearest = np.take_along_axis(aside, np.abs(aside).argmin(axis=0)[None], axis=0)[0]
    index = np.flatnonzero(np.abs(nearest) < BEND)
    return index, (angle - 2 * nearest)[index]


def _strains_at(strength: Solvable, place: FloatArray) -> FloatArray:
    """Return strains of the bars, (B, 1, H), at places (2, H); of none where no law has steps."""
    if not strength.body.stepped:
        return np.empty((0, 1, place.shape[1]))
    return strength.bar_strains(strength.body.turn(place[None, 0]), place[1])


def _newton(
    rays: Rays,
    starts: Starts,
    sides: SideArray,
    *,
    anew: bool = False,
    within: tuple[float, float] = (TOLERANCE, REST),
) -> tuple[FloatArray, Starts]:
    """Return the way along rays to the surface near starts, (H,), and the place with its slope.

    Not a number where a ray does not arrive; the place is then the last. Each step corrects the
    slope of the one before; for few rays, whose time is not in the arithmetic, or where that is
    asked for, it is found anew. It ends `within` so much beside the ray and on the way along it.
    """
    count = len(starts.ray)
    found, where, slopes = np.full(count, np.nan), starts.place.copy(), np.zeros((3, 2, count))
    start, reach, place, slope = starts.place, starts.reach, starts.place, starts.slope
    held = rays.strength.body.hold(sides) if len(sides) else None
    index, open_ = np.arange(count), np.ones(count, dtype=bool)
    change, before = np.zeros((2, count)), np.zeros((3, count))
    for step in range(STEPS):
        few = anew or len(index) <= FEW_RAYS
        if slope is None or few:
            located, slope = _with_slope(rays, place, reach, held)
        else:
            located = _locate(rays, place, held)
        if step and not few:
            slope = _corrected(slope, change, located - before)
        change, regular = newton_step(located, slope)
        # What is left aside is taken along the ray as the slope has it, which is only about right.
        rest = slope[2, 0] * change[0] + slope[2, 1] * change[1]
        done = open_ & (np.maximum(np.abs(located[0]), np.abs(located[1])) < within[0])
        done &= np.abs(rest) < within[1] * np.abs(located[2])
        moved = place + change * reach
        np.maximum(np.minimum(moved[1], 1.0, out=moved[1]), 0.0, out=moved[1])
        near = (np.abs(moved - start) < FAR * reach).all(axis=0)
        ended = open_ & (done | ~regular | ~near | (step == STEPS - 1))
        if ended.any():
            found[index[done]] = (located[2] + rest)[done]
            where[:, index[ended]], slopes[..., index[ended]] = place[:, ended], slope[..., ended]
        open_ = open_ & ~ended
        left = np.count_nonzero(open_)
        if not left:
            break
        change, place, before = (moved - place) / reach, moved, located
        if left < WORTH_KEEPING * len(open_):
            on = np.flatnonzero(open_)
            index, open_, slope, rays = index[on], open_[on], slope[..., on], rays.take(on)
            before, change, place, start, reach = (
                values[:, on] for values in (before, change, place, start, reach)
            )
            held = None if held is None else held.part(slice(None), on)
    found[~(found > 0)] = np.nan
    return found, Starts(starts.ray, where, starts.reach, slopes)


def _locate(rays: Rays, place: FloatArray, held: Held | None) -> FloatArray:
    """Return where surface points of places (2, H) lie to rays, (3, H)."""
    strength = rays.strength
    turned = strength.body.turn(place[None, 0])
    return rays.locate(strength.design_in_row(turned, place[1], held) / strength.scale)


def _with_slope(
    rays: Rays, place: FloatArray, reach: FloatArray, held: Held | None
) -> tuple[FloatArray, FloatArray]:
    """Return the same, and how that changes over `reach`, (3, 2, H), by differences."""
    count = place.shape[1]
    step = DIFFERENCE * reach
    # Differences are taken towards the inside of the family, which ends at 0 and 1.
    step[1] *= np.where(place[1] > 0.5, -1.0, 1.0)
    aside = np.stack([np.zeros_like(step), step * [[1], [0]], step * [[0], [1]]], axis=1)
    every = np.tile(np.arange(count), 3)
    held = None if held is None else held.part(slice(None), every)
    places = (place[:, None] + aside).reshape(2, -1)
    located = _locate(rays.take(every), places, held).reshape(3, 3, count)
    here, there = located[:, 0], located[:, 1:]
    return here, (there - here[:, None]) * (reach / step)


def _subdivide(rays: Rays, starts: Starts, times: int) -> tuple[FloatArray, Starts]:
    """Close in on the crossings of starts (H,) by subdividing their neighbourhoods.

    Returns:
        The way along the rays, (H,), not a number where there is no crossing, and starts nearby.
    """
    rays = rays.take(starts.ray)
    strength = rays.strength.take(np.repeat(np.arange(len(starts.ray)), SUBGRID**2))
    centre, half = starts.place.copy(), starts.reach.copy()
    count = centre.shape[1]
    grid = np.linspace(-1.0, 1.0, SUBGRID)
    aside, ahead = (grid.ravel() for grid in np.meshgrid(grid, grid, indexing="ij"))
    cells = np.arange(SUBGRID - 1)
    row = np.repeat(cells, SUBGRID - 1)[:, None, None] + TRIANGLES[..., 0]
    column = np.tile(cells, SUBGRID - 1)[:, None, None] + TRIANGLES[..., 1]
    corner = (row * SUBGRID + column).reshape(-1, 3)
    result, place, every = np.full(count, np.nan), centre.copy(), np.arange(count)
    for _ in range(times):
        angles = centre[0, :, None] + half[0, :, None] * aside
        fractions = np.clip(centre[1, :, None] + half[1, :, None] * ahead, 0.0, 1.0)
        turned = strength.body.turn(angles.reshape(1, -1))
        scaled = strength.design_in_row(turned, fractions.ravel(), None) / strength.scale
        triangles = rays.locate(scaled.reshape(3, *angles.shape))[:, :, corner]
        met = (weights(triangles) * triangles[2]).sum(axis=-1)
        met = np.where(encloses_origin(triangles) & (met > 0), met, np.inf)
        best = met.argmin(axis=1)
        hit = np.isfinite(met[every, best])
        cell, corners = corner[best], triangles[2, every, best]
        # The capacity is that of the weaker corner: at a jump the side that is safe.
        result[hit] = corners.min(axis=-1)[hit]
        for axis, values in enumerate((angles, fractions)):
            place[axis, hit] = values[every[:, None], cell].mean(axis=1)[hit]
        centre[:, hit] = place[:, hit]
        # The ray may leave the chord for a neighbouring cell: keep one more on each side.
        half = np.where(hit, half * 0.5, half * 1.7)
        settled = np.ptp(corners, axis=1) < 1e-10 * np.abs(corners).max(axis=1)
        if ((settled & hit) | (half[0] < 1e-7)).all():
            break
    return result, Starts(starts.ray, place, half)
