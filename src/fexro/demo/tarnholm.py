"""Tarnholm Archive: an invented six-storey document archive.

Heavy shelving on every floor; in x concrete frames resist wind and earthquake, in y a core does,
whose overturning reaches the columns beside it. Forces come from tributary areas, a portal frame
in x and the core's share in y: simple enough to follow, of the size a real analysis gives.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from fexro.demo.walls import Loads, wall_rows, with_walls
from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.cases import Combination, Factors, LoadCase
from fexro.project.column import LiftKey, LiftRecord, Mark
from fexro.project.forces import Forces
from fexro.project.framing import DriftModel, FramingBeam
from fexro.project.papers import Papers, Revision
from fexro.project.profiles import IProfile, SteelPart
from fexro.project.project import Project
from fexro.project.shapes import Circle, HollowCircle, LShape, Plus, Rectangle, Shape
from fexro.project.storey import GridLine, Storey
from fexro.project.values import Direction, OwnValues, Values

__all__ = [
    "FIRST_RUN",
    "SECOND_RUN",
    "AnalysisRun",
    "column_forces",
    "tarnholm_archive",
    "tarnholm_columns",
    "wall_forces",
]

DEAD, SHELVING, SNOW, ROOF_DEAD = 7.2, 7.2, 1.5, 5.5  # kN/m²
# Storey shears above the base, kN per storey from the roof down, for the whole building.
WIND_X = (210.0, 400.0, 580.0, 750.0, 910.0, 1060.0)
WIND_Y = (260.0, 500.0, 730.0, 950.0, 1150.0, 1340.0)
QUAKE_X = (480.0, 900.0, 1230.0, 1480.0, 1650.0, 1740.0)
QUAKE_Y = (520.0, 980.0, 1350.0, 1630.0, 1820.0, 1920.0)

STOREYS = (
    Storey(name="Roof", level=24.6, height=3.6),
    Storey(name="L5", level=21.0, height=4.2),
    Storey(name="L4", level=16.8, height=4.2),
    Storey(name="L3", level=12.6, height=4.2),
    Storey(name="L2", level=8.4, height=4.2),
    Storey(name="L1", level=4.2, height=4.2),
)

VALUES = Values(
    concrete="C35",
    steel="Grade 420",
    cover=40.0,
    aggregate=20.0,
    x=Direction(frame="moment frame"),
    y=Direction(frame="walls"),
)
GRID = (
    *(
        GridLine(name=name, axis="x", at=at)
        for name, at in zip("ABCD", (0, 8, 16, 24), strict=True)
    ),
    *(GridLine(name=name, axis="y", at=at) for name, at in zip("123", (0, 7, 14), strict=True)),
)

CASES = (
    LoadCase(name="D", nature="permanent", sustained=1.0),
    # Shelving: it lasts, it is not halved beside other loads, and it is not less on many floors.
    LoadCase(name="L", nature="imposed", category="E", half_allowed=False, sustained=0.8),
    LoadCase(name="S", nature="snow"),
    *(
        LoadCase(name=f"{letter}{axis}", nature=nature, direction=axis, both_signs=True, sway=axis)
        for letter, nature in (("W", "wind"), ("E", "earthquake"))
        for axis in ("x", "y")
    ),
)
# Factors of the cases in their order.
COMBINATIONS: tuple[tuple[str, str, tuple[float, ...]], ...] = (
    ("U1", "1.4 D", (1.4, 0, 0, 0, 0, 0, 0)),
    ("U2", "1.2 D + 1.6 L + 0.5 S", (1.2, 1.6, 0.5, 0, 0, 0, 0)),
    ("U3", "1.2 D + 1.0 L + 1.6 S", (1.2, 1.0, 1.6, 0, 0, 0, 0)),
    ("U4", "1.2 D + 1.0 L + 0.5 S + 1.0 Wx", (1.2, 1.0, 0.5, 1, 0, 0, 0)),
    ("U5", "1.2 D + 1.0 L + 0.5 S − 1.0 Wx", (1.2, 1.0, 0.5, -1, 0, 0, 0)),
    ("U6", "1.2 D + 1.0 L + 0.5 S + 1.0 Wy", (1.2, 1.0, 0.5, 0, 1, 0, 0)),
    ("U7", "1.2 D + 1.0 L + 0.5 S − 1.0 Wy", (1.2, 1.0, 0.5, 0, -1, 0, 0)),
    ("U8", "1.2 D + 1.0 L + 0.2 S + 1.0 Ex", (1.2, 1.0, 0.2, 0, 0, 1, 0)),
    ("U9", "1.2 D + 1.0 L + 0.2 S − 1.0 Ex", (1.2, 1.0, 0.2, 0, 0, -1, 0)),
    ("U10", "1.2 D + 1.0 L + 0.2 S + 1.0 Ey", (1.2, 1.0, 0.2, 0, 0, 0, 1)),
    ("U11", "1.2 D + 1.0 L + 0.2 S − 1.0 Ey", (1.2, 1.0, 0.2, 0, 0, 0, -1)),
    ("U12", "0.9 D + 1.0 Wx", (0.9, 0, 0, 1, 0, 0, 0)),
    ("U13", "0.9 D − 1.0 Ex", (0.9, 0, 0, 0, 0, -1, 0)),
    ("U14", "0.9 D − 1.0 Ey", (0.9, 0, 0, 0, 0, 0, -1)),
)


@dataclass(frozen=True)
class _Stack:
    """A column stack: its section, its bars from the roof down, and what reaches it.

    Attributes:
        area: tributary area of a floor, m².
        spans: unbalanced span in x and in y behind the gravity moments, m.
        share_x, share_y: share of a storey's shear.
        arm_x, arm_y: axial force for each metre-kilonewton of overturning, 1/m.
        place: in plan, m.
        angle: of its section in plan, degrees.
        cover: clear cover to the ties, mm.
    """

    mark: str
    shape: Shape
    bars: tuple[str, ...]
    ties: tuple[str, ...]
    concrete: tuple[str, ...]
    area: float
    spans: tuple[float, float]
    share_x: float
    share_y: float
    arm_x: float
    arm_y: float
    place: tuple[float, float]
    angle: float = 0.0
    cover: float = 40.0


@dataclass(frozen=True)
class AnalysisRun:
    """A run of the analysis.

    Attributes:
        revision: of the building that it is of.
        shares: of load cases that are others than in the first run.
        marks: shares of all that reaches single stacks.
    """

    revision: str
    shares: Mapping[str, float]
    marks: Mapping[str, float]


FIRST_RUN = AnalysisRun("B", {}, {})
# The earthquake grew with the site class, and a stair was moved from one stack to another.
SECOND_RUN = AnalysisRun("C", {"Ex": 1.25, "Ey": 1.25}, {"C1": 1.06, "C2": 0.95})

_D200, _D150 = ("D10@200",) * 4 + ("D10@150",) * 2, ("D10@200",) * 3 + ("D12@150",) * 3
_C35, _C45 = ("C35",) * 6, ("C35",) * 4 + ("C45",) * 2

_STACKS = (
    _Stack(
        "C1", Rectangle(width=500, depth=500),
        ("8 D20", "8 D20", "8 D20", "8 D25", "12 D25", "12 D28"),
        _D200, _C45, 48.0, (3.0, 1.5), 0.045, 0.008, 0.0004, 0.0006, (0.0, 7.0),
    ),
    _Stack(
        "C2", Rectangle(width=500, depth=700),
        ("10 D25", "10 D25", "10 D25", "14 D25", "14 D25", "14 D28"),
        _D200, _C45, 68.0, (1.0, 2.5), 0.055, 0.020, 0.0002, 0.0012, (8.0, 7.0),
    ),
    _Stack(
        "C3", Circle(diameter=600),
        ("8 D25", "8 D25", "8 D25", "10 D25", "12 D25", "22 D25"),
        _D200, _C45, 60.0, (1.5, 1.5), 0.050, 0.010, 0.0003, 0.0006, (16.0, 14.0), 0.0, 45.0,
    ),
    _Stack(
        "C4", LShape(width=600, depth=600, leg=250),
        ("10 D20", "10 D20", "10 D20", "10 D25", "10 D25", "10 D25"),
        _D200, _C35, 31.0, (4.0, 4.0), 0.082, 0.036, 0.0010, 0.0014, (0.0, 0.0),
    ),
    _Stack(
        "C5", Plus(width=500, depth=500, flange=200, web=200),
        ("12 D16", "12 D16", "12 D16", "12 D20", "12 D20", "8 D20"),
        _D200, _C35, 18.0, (1.0, 1.0), 0.020, 0.006, 0.0004, 0.0240, (24.0, 7.0),
    ),
    _Stack(
        "C6", HollowCircle(diameter=700, void_diameter=200),
        ("10 D25", "10 D25", "10 D25", "10 D25", "12 D25", "14 D25"),
        _D150, _C45, 68.0, (2.0, 1.0), 0.070, 0.012, 0.0003, 0.0005, (16.0, 7.0),
    ),
)  # fmt: skip


# First-order drift of each storey under its wind shear, mm, from the roof down: in x the frames are
# softest at L2, where the reading room leaves out two of them; in y the core hardly moves.
DRIFT_X = (3.0, 3.6, 4.2, 4.6, 17.5, 5.2)
DRIFT_Y = (0.5, 0.7, 0.8, 0.9, 0.9, 0.7)
# The gallery under the roof is two storeys high: no floor holds the stack at the top of L5.
GALLERY = ("C6", "L5")
# Below the reading room the cross stands on a square foot of the same area, around a steel core.
FOOT = ("C5", "L1")
FOOT_SHAPE = Rectangle(width=400, depth=400)
FOOT_STEEL = (SteelPart(profile=IProfile(depth=160, width=160, web=8, flange=13, root=15)),)
# Factored vertical load on the core of each storey, kN.
CORE = (900.0, 2100.0, 3300.0, 4500.0, 5700.0, 6900.0)
# Width and depth, mm, and the bars at top and bottom next to the columns.
BEAM_X = (350.0, 600.0, "4 D25", "3 D25")
BEAM_Y = (300.0, 500.0, "4 D20", "3 D20")


def beams() -> tuple[FramingBeam, ...]:
    """Return the beams that frame into the stacks: towards every neighbour on the grid."""
    ends = {axis: sorted(line.at for line in GRID if line.axis == axis) for axis in ("x", "y")}
    found = []
    for stack in _STACKS:
        for storey in STOREYS:
            if (stack.mark, storey.name) == GALLERY:
                continue
            for axis, at, beam in zip("xy", stack.place, (BEAM_X, BEAM_Y), strict=True):
                width, depth, top, bottom = beam
                lines = ends[axis]
                here = lines.index(at)
                for side, beside in (("+", here + 1), ("-", here - 1)):
                    if 0 <= beside < len(lines):
                        found.append(
                            FramingBeam.model_validate(
                                {
                                    "mark": stack.mark,
                                    "storey": storey.name,
                                    "side": f"{side}{axis}",
                                    "width": width,
                                    "depth": depth,
                                    "span": abs(lines[beside] - at),
                                    "top": top,
                                    "bottom": bottom,
                                }
                            )
                        )
    return tuple(found)


@lru_cache(maxsize=1)
def tarnholm_archive() -> Project:
    """Return the demo project."""
    columns = tarnholm_columns()
    # What its walls carry is among their forces.
    storeys = tuple(one.model_copy(update={"other_axial": 0.0}) for one in columns.storeys)
    project = with_walls(columns.changed(storeys=storeys))
    forces = project.case_forces.joined(wall_forces(project, FIRST_RUN))
    return project.changed(case_forces=forces)


def wall_forces(project: Project, run: AnalysisRun) -> Forces:
    """Return the forces of an analysis on the walls and coupling beams of the demo."""
    loads = Loads(ROOF_DEAD, DEAD, SHELVING, SNOW, WIND_Y, QUAKE_Y)
    return wall_rows(project, loads, run.shares)


@lru_cache(maxsize=1)
def tarnholm_columns() -> Project:
    """Return the demo with its columns alone; what its walls carry is told storey by storey."""
    return Project(
        name="Tarnholm Archive",
        revision="B",
        papers=Papers(
            number="TA-2041",
            author="AE",
            checker="BM",
            date="2041-03-02",
            revisions=(
                Revision(name="A", date="2041-01-19", by="AE", told="First issue"),
                Revision(name="B", date="2041-03-02", by="AE", told="Forces of the second run"),
            ),
        ),
        basis=Basis(code="ACI 318-19", annex="recommended", units="SI", values=VALUES),
        concretes=(
            ConcreteGrade(name="C35", strength=35.0),
            ConcreteGrade(name="C45", strength=45.0),
        ),
        steels=(
            SteelGrade(name="Grade 420", yield_strength=420.0),
            SteelGrade(name="Grade 550", yield_strength=550.0),
        ),
        storeys=tuple(
            storey.model_copy(
                update={
                    "drift_x": DriftModel(drift=DRIFT_X[i], shear=WIND_X[i]),
                    "drift_y": DriftModel(drift=DRIFT_Y[i], shear=WIND_Y[i]),
                    "other_axial": CORE[i],
                }
            )
            for i, storey in enumerate(STOREYS)
        ),
        cases=CASES,
        combinations=tuple(
            Combination(
                name=name,
                expression=expression,
                factors=Factors(
                    {c.name: float(f) for c, f in zip(CASES, factors, strict=True) if f}
                ),
                uses=("earthquake",) if any(factors[5:]) else ("strength",),
            )
            for name, expression, factors in COMBINATIONS
        ),
        grid=GRID,
        marks=tuple(
            Mark(
                name=stack.mark,
                lifts=tuple(_lift(stack, i) for i in range(len(STOREYS))),
                place=stack.place,
                angle=stack.angle,
                own=OwnValues(cover=None if stack.cover == VALUES.cover else stack.cover),
            )
            for stack in _STACKS
        ),
        beams=beams(),
        case_forces=column_forces(FIRST_RUN),
    )


def column_forces(run: AnalysisRun) -> Forces:
    """Return the forces of an analysis on the columns under the load cases."""
    return Forces.of(
        [case.name for case in CASES],
        {
            LiftKey(stack.mark, storey.name): _case_rows(stack, i, run)
            for stack in _STACKS
            for i, storey in enumerate(STOREYS)
        },
    )


def _lift(stack: _Stack, storey: int) -> LiftRecord:
    concrete, name = stack.concrete[storey], STOREYS[storey].name
    foot = (stack.mark, name) == FOOT
    return LiftRecord(
        storey=name,
        shape=FOOT_SHAPE if foot else stack.shape,
        profiles=FOOT_STEEL if foot else (),
        bars=stack.bars[storey],
        ties=stack.ties[storey],
        own=OwnValues(concrete=None if concrete == VALUES.concrete else concrete),
        unsupported=("x", "y") if (stack.mark, name) == GALLERY else (),
    )


def _case_rows(stack: _Stack, storey: int, run: AnalysisRun) -> dict[str, list[list[float]]]:
    """Return N, Vx, Vy, T, Mx, My at top and bottom for each load case, to a tenth."""
    rows = {}
    cases = zip(CASES, _load_cases(stack, storey), strict=True)
    for case, ends in cases:
        share = run.shares.get(case.name, 1.0) * run.marks.get(stack.mark, 1.0)
        rows[case.name] = [
            [round(share * value, 1) + 0.0 for value in (N, Vx, Vy, 0.0, Mx, My)]
            for N, Mx, My, Vx, Vy in ends
        ]
    return rows


def _load_cases(stack: _Stack, storey: int) -> list[tuple[tuple[float, ...], tuple[float, ...]]]:
    """Return N, Mx, My, Vx, Vy at top and bottom for each load case."""
    height = STOREYS[storey].height
    floors = storey  # floors carried besides the roof
    weight = 25.0 * _concrete_area(stack.shape) * height
    dead = stack.area * (ROOF_DEAD + DEAD * floors) + weight * (storey + 1)
    live, snow = stack.area * SHELVING * floors, stack.area * SNOW
    cases = []
    for axial, load in (
        (dead, ROOF_DEAD if storey == 0 else DEAD),
        (live, 0.0 if storey == 0 else SHELVING),
        (snow, SNOW if storey == 0 else 0.0),
    ):
        # The floor's unbalanced span bends the columns above and below it in equal parts.
        split = 1.0 if storey == 0 else 0.5
        my, mx = (split * load * stack.area * span / 24 for span in stack.spans)
        cases.append(_ends(axial, mx, -0.5 * mx, my, -0.5 * my, height))
    for shears, along_x in ((WIND_X, True), (WIND_Y, False), (QUAKE_X, True), (QUAKE_Y, False)):
        share, arm = (stack.share_x, stack.arm_x) if along_x else (stack.share_y, stack.arm_y)
        # The foot of the lowest lift is fixed, which draws the point of no moment upwards.
        top = 0.42 if storey == len(STOREYS) - 1 else 0.5
        moment = shears[storey] * share * height
        overturning = sum(
            shear * s.height for shear, s in zip(shears, STOREYS[: storey + 1], strict=False)
        )
        ends = (moment * top, -moment * (1 - top))
        axial = arm * overturning
        if along_x:
            cases.append(_ends(axial, 0.0, 0.0, *ends, height))
        else:
            cases.append(_ends(axial, *ends, 0.0, 0.0, height))
    return cases


def _ends(
    axial: float, mx_top: float, mx_bottom: float, my_top: float, my_bottom: float, height: float
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Return both ends; shears follow from the moments, whose signs agree in single curvature."""
    vx, vy = (my_top - my_bottom) / height, (mx_top - mx_bottom) / height
    return (axial, mx_top, my_top, vx, vy), (axial, mx_bottom, my_bottom, vx, vy)


def _concrete_area(shape: Shape) -> float:
    return shape.geometry().outline().area / 1e6
