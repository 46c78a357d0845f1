"""The walls of the demo: a coupled core, a straight wall with an opening, a bearing wall.

The core's two channels and the straight wall resist along y. A share of the overturning goes
through the coupling beams as a pair of axial forces in the channels; what is left bends both alike.
Forces follow from the storey shears by statics.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from fexro.project.bearing_walls import BearingWall, FloorLoad, WallWind
from fexro.project.column import LiftKey, LiftRecord
from fexro.project.edits.bearing import with_bearing_wall
from fexro.project.edits.lifts import with_records
from fexro.project.edits.walls import add_opening, add_wall
from fexro.project.forces import Forces
from fexro.project.project import Project
from fexro.project.section import DiagonalBars
from fexro.project.shapes import shape_of
from fexro.project.storey import Storey
from fexro.project.values import OwnDirection, OwnValues
from fexro.project.walls import Opening, WallLine

__all__ = ["CORE", "PIERS", "Loads", "wall_rows", "with_walls"]

CORE, STRAIGHT, BEARING = "K1", "W1", "P1"
# The core: 5 m along x, 7 m along y, doors 1.5 m wide in both walls along y.
X0, X1, Y0, Y1 = 9.5, 14.5, 0.5, 7.5
CORE_LINES = (
    WallLine(x1=X0, y1=Y0, x2=X1, y2=Y0, thickness=300),
    WallLine(x1=X1, y1=Y0, x2=X1, y2=Y1, thickness=300),
    WallLine(x1=X1, y1=Y1, x2=X0, y2=Y1, thickness=300),
    WallLine(x1=X0, y1=Y1, x2=X0, y2=Y0, thickness=300),
)
DOOR = {"at": 2.75, "width": 1.5, "height": 3.2}
ROOF_DOOR = {"at": 2.75, "width": 1.5, "height": 2.6}
WALL_LINE = WallLine(x1=20.0, y1=8.5, x2=20.0, y2=13.5, thickness=300)
WINDOW = Opening(storey="L2", line=0, at=2.0, width=1.0, height=2.2)
PIERS = ("K1.1", "K1.2")
CORE_SHARE, WALL_SHARE = 0.62, 0.28  # of the shear along y
COUPLED = 0.5  # of the overturning of the core that the beams carry
CORE_AREA, WALL_AREA = 9.0, 9.0  # m² of each floor, on each channel and on the straight wall

# From the roof down.
CORE_BARS = (
    *("D12@200 each face + 4 D16 each end",) * 3,
    *("D16@200 each face + 8 D20 each end",) * 3,
)
WALL_BARS = (
    *("D12@200 each face + 4 D20 each end",) * 3,
    *("D16@200 each face + 8 D25 each end in 450",) * 3,
)
BEAM_BARS = "4 D20 corners + 1 D16 top + 1 D16 bottom + 4 D10 left + 4 D10 right"
# One beam has hoops that its probable moments ask more of.
WEAK_BEAM = ("K1.B1", "L3")
SPECIAL = OwnDirection(frame="walls", sway="braced", ductility="high")
OWN = OwnValues(cover=30.0, x=SPECIAL, y=SPECIAL)


@dataclass(frozen=True)
class Loads:
    """What reaches the walls: kN/m² and storey shears from the roof down, kN.

    Attributes:
        roof, floor, live, snow: of area.
        wind, quake: shears along y.
    """

    roof: float
    floor: float
    live: float
    snow: float
    wind: tuple[float, ...]
    quake: tuple[float, ...]


BASE = 5  # place of the lowest storey


def with_walls(project: Project) -> Project:
    """Return the demo with its walls, without the forces on them."""
    project = add_wall(project, CORE_LINES, CORE)
    doors = [
        Opening(storey=storey.name, line=line, **(ROOF_DOOR if i == 0 else DOOR))
        for i, storey in enumerate(project.storeys)
        for line in (1, 3)
    ]
    project = add_opening(project, CORE, doors)
    project = add_wall(project, (WALL_LINE,), STRAIGHT)
    project = add_opening(project, STRAIGHT, [WINDOW])
    marks = tuple(
        mark.model_copy(update={"own": OWN}) if mark.wall is not None else mark
        for mark in project.marks
    )
    project = project.changed(marks=marks)
    place = {storey.name: i for i, storey in enumerate(project.storeys)}
    records: dict[LiftKey, LiftRecord] = {}
    for mark in project.marks:
        for lift in mark.lifts if mark.wall else ():
            records[LiftKey(mark.name, lift.storey)] = _reinforced(
                mark.name, lift, place[lift.storey]
            )
    project = with_records(project, records)
    return with_bearing_wall(project, _bearing())


def _reinforced(mark: str, lift: LiftRecord, i: int) -> LiftRecord:
    low = i >= 3
    if ".B" in mark:
        update: dict[str, object] = {"bars": BEAM_BARS, "ties": "D14@80"}
        if mark.startswith(STRAIGHT):
            update = {"bars": "4 D16 corners + 4 D12 left + 4 D12 right", "ties": "D12@75"}
            update["diagonals"] = DiagonalBars(bars="4 D20", confined="section", hoops="D12@75")
        elif (mark, lift.storey) == WEAK_BEAM:
            update["ties"] = "D12@90"
    elif mark.startswith(CORE):
        update = {"bars": CORE_BARS[i], "ties": "D12@200" if low else "D10@200"}
        update["hoops"] = "D12@100" if low else "D10@100"
    else:
        update = {"bars": WALL_BARS[i], "ties": "D12@200" if low else "D10@200"}
        update["hoops"] = "D12@90" if low else "D10@120"
    if ".B" not in mark and i == BASE:
        # Where the wall yields, bars are coupled.
        update["own"] = lift.own.model_copy(update={"laps": "none"})
    return lift.model_copy(update=update)


def _bearing() -> BearingWall:
    return BearingWall(
        name=BEARING,
        storeys=("Roof",),
        length=6.0,
        thickness=180.0,
        place=(4.0, 12.0),
        floors=(
            FloorLoad(storey="Roof", case="D", value=24.0, eccentricity=45.0),
            FloorLoad(storey="Roof", case="D", value=60.0, spacing=2400.0, bearing=250.0),
            FloorLoad(storey="Roof", case="S", value=6.0, eccentricity=45.0),
        ),
        winds=(WallWind(case="Wy", wall=1.1, parapet=1.6),),
        parapet=1.1,
        self_weight="D",
    )


def wall_rows(project: Project, loads: Loads, shares: Mapping[str, float]) -> Forces:
    """Return the forces on the walls under the load cases, kN and kN·m.

    Args:
        project: the demo with its walls.
        loads: what reaches them.
        shares: by which cases are others than in the first run.
    """
    rows: dict[LiftKey, dict[str, list[list[float]]]] = {}
    storeys = project.storeys
    arm = _arm(project)
    for mark in project.marks:
        if mark.wall is None:
            continue
        for lift in mark.lifts:
            key = LiftKey(mark.name, lift.storey)
            i = project.storey_place[lift.storey]
            if mark.kind == "coupling beam":
                found = _beam_rows(mark.name, storeys, i, loads, arm)
            elif mark.name in PIERS:
                area = shape_of(lift.shape).outline().area / 1e6
                found = _pier_rows(mark.name, storeys, i, loads, arm, area)
            else:
                area = shape_of(lift.shape).outline().area / 1e6
                found = _wall_rows(mark.name, storeys, i, loads, area)
            rows[key] = {
                case: [[round(shares.get(case, 1.0) * v, 1) + 0.0 for v in end] for end in ends]
                for case, ends in found.items()
            }
    return Forces.of(project.case_forces.columns, rows)


Ends = list[list[float]]


def _arm(project: Project) -> float:
    """Return the distance between the centroids of the channels, m."""
    ys = []
    for name in PIERS:
        shape = shape_of(project.mark_by_name[name].lifts[-1].shape)
        ys.append(shape.outline().centroid[1] / 1e3)
    return abs(ys[1] - ys[0])


def _gravity(
    storeys: tuple[Storey, ...], i: int, loads: Loads, floor: float, area: float
) -> dict[str, Ends]:
    """Return the axial forces of a stack that carries an area of each floor."""
    height = sum(storey.height for storey in storeys[: i + 1])
    weight = 25.0 * area
    dead = floor * (loads.roof + loads.floor * i) + weight * (height - storeys[i].height)
    live, snow = floor * loads.live * i, floor * loads.snow
    return {
        "D": [_row(dead), _row(dead + weight * storeys[i].height)],
        "L": [_row(live), _row(live)],
        "S": [_row(snow), _row(snow)],
    }


def _row(N: float, V: float = 0.0, M: float = 0.0) -> list[float]:
    """Return N, Vx, Vy, T, Mx, My of an axial force, a shear along y and a moment about x."""
    return [N, 0.0, V, 0.0, M, 0.0]


def _overturning(storeys: tuple[Storey, ...], shears: tuple[float, ...], i: int) -> float:
    """Return the overturning at the foot of a storey, kN·m."""
    return sum(v * s.height for v, s in zip(shears[: i + 1], storeys, strict=False))


def _pier_rows(
    mark: str, storeys: tuple[Storey, ...], i: int, loads: Loads, arm: float, area: float
) -> dict[str, Ends]:
    rows = _gravity(storeys, i, loads, CORE_AREA, area)
    side = -1.0 if mark == PIERS[0] else 1.0
    for case, shears in (("Wy", loads.wind), ("Ey", loads.quake)):
        shear = CORE_SHARE * shears[i] / 2
        moment = CORE_SHARE * _overturning(storeys, shears, i)
        axial = side * moment * COUPLED / arm
        below = moment * (1 - COUPLED) / 2
        # Between the beams, which turn it back, the moment follows the shear.
        above = below - shear * storeys[i].height
        rows[case] = [_row(axial, shear, -above), _row(axial, shear, -below)]
    return {**rows, "Wx": [_row(0.0)] * 2, "Ex": [_row(0.0)] * 2}


def _beam_rows(
    mark: str, storeys: tuple[Storey, ...], i: int, loads: Loads, arm: float
) -> dict[str, Ends]:
    """Return the forces of a coupling beam: its left end is the foot, its right end the top."""
    if mark.startswith(STRAIGHT):
        span, share, beams = WINDOW.width, WALL_SHARE * 0.6, 1
    else:
        span, share, beams = DOOR["width"], CORE_SHARE * COUPLED, 2
    rows: dict[str, Ends] = {}
    for case, load in (("D", 12.0), ("L", 8.0), ("S", 0.0 if i else 3.0)):
        shear, moment = load * span / 2, load * span**2 / 12
        rows[case] = [_row(0.0, shear, -moment), _row(0.0, -shear, -moment)]
    for case, shears in (("Wy", loads.wind), ("Ey", loads.quake)):
        shear = share * shears[i] * storeys[i].height / arm / beams
        bent = shear * span / 2
        rows[case] = [_row(0.0, shear, bent), _row(0.0, shear, -bent)]
    return {**rows, "Wx": [_row(0.0)] * 2, "Ex": [_row(0.0)] * 2}


def _wall_rows(
    mark: str, storeys: tuple[Storey, ...], i: int, loads: Loads, area: float
) -> dict[str, Ends]:
    part = 0.5 if "." in mark else 1.0
    rows = _gravity(storeys, i, loads, part * WALL_AREA, area)
    side = 0.0 if part == 1.0 else (-1.0 if mark.endswith("1") else 1.0)
    for case, shears in (("Wy", loads.wind), ("Ey", loads.quake)):
        shear = WALL_SHARE * shears[i]
        above = WALL_SHARE * (_overturning(storeys, shears, i - 1) if i else 0.0)
        below = WALL_SHARE * _overturning(storeys, shears, i)
        if part == 1.0:
            rows[case] = [_row(0.0, shear, -above), _row(0.0, shear, -below)]
            continue
        # Beside the opening each pier has half of the shear, and the overturning as a pair.
        axial = side * (above + below) / 2 / 3.0
        local = shear / 2 * storeys[i].height / 2
        rows[case] = [_row(axial, shear / 2, local), _row(axial, shear / 2, -local)]
    return {**rows, "Wx": [_row(0.0)] * 2, "Ex": [_row(0.0)] * 2}
