"""The building as a model to IFC4: columns, walls, beams, materials, bars, and what was found."""

from __future__ import annotations

import importlib.util
import math
import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from fexro import __version__
from fexro.core.arrays import FloatArray
from fexro.core.bending.tie_set import inner_ring
from fexro.core.errors import FexroError, InputError
from fexro.core.facts import ColumnFacts
from fexro.core.members.bar_layout import LaidBar
from fexro.core.members.elevation import ties_along
from fexro.core.members.lift import LiftResult
from fexro.core.section.section import Section
from fexro.core.tie_zones import tie_places
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import change_lifts
from fexro.project.laid_bars import laid_bars
from fexro.project.project import Project
from fexro.project.section import section_of
from fexro.project.wall_members import beams_of, panels_of

__all__ = [
    "ModelMember",
    "model_of",
    "models_can_be_written",
    "read_members",
    "take_members_of",
    "write_model",
]

MEMBER, VERDICT = "Fexro_Member", "Fexro_Verdict"
NAMESPACE = uuid.UUID("6b1f6f0e-0f43-4b52-9a3d-6c8c5d7d1f10")
ALPHABET = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$"
APART = 6_000.0  # mm between columns that have no place in plan

Results = Mapping[LiftKey, LiftResult]
Model = Any  # a file of the library, which has no types


@dataclass(frozen=True)
class ModelMember:
    """A column as a model has it.

    Attributes:
        key: mark and storey.
        bars, ties, concrete: as they are called.
    """

    key: LiftKey
    bars: str
    ties: str
    concrete: str


def _library() -> Any:
    """Return the library that writes models.

    Raises:
        FexroError: where it is not installed.
    """
    try:
        import ifcopenshell
    except ImportError:
        raise FexroError(
            "Building models need ifcopenshell, which is not installed. Start Fexro once with"
            " ./run --with-ifc, or install it with pip install fexro[ifc]."
        ) from None
    return ifcopenshell


def models_can_be_written() -> bool:
    """Tell whether the library that writes models is installed."""
    return importlib.util.find_spec("ifcopenshell") is not None


def model_of(
    project: Project,
    results: Results,
    told: Callable[[int, int], None] = lambda done, total: None,
) -> bytes:
    """Return a project as a building model, IFC4.

    Args:
        project: the project.
        results: all its lifts.
        told: told how many lifts are written of how many.

    Raises:
        FexroError: where the library is not installed.
    """
    writer = _Writer(_library(), project)
    prepared = {key: result.prepared for key, result in results.items()}
    for number, (key, result) in enumerate(results.items()):
        told(number, len(results))
        writer.lift(key, result, laid_bars(project, prepared, key))
    writer.finish()
    return str(writer.file.to_string()).encode()


def write_model(
    project: Project,
    results: Results,
    path: Path,
    told: Callable[[int, int], None] = lambda done, total: None,
) -> None:
    """Write a project as a building model, IFC4; see `model_of`.

    Raises:
        FexroError: where the library is not installed, or the file cannot be written.
    """
    content = model_of(project, results, told)
    part = path.with_name(f".{path.name}.writing")
    try:
        part.write_bytes(content)
        part.replace(path)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    finally:
        part.unlink(missing_ok=True)


def _identity(*parts: str) -> str:
    """Return an identity that is the same whenever the same is written."""
    number = uuid.uuid5(NAMESPACE, "\x1f".join(parts)).int
    digits = []
    for _ in range(21):
        number, digit = divmod(number, 64)
        digits.append(ALPHABET[digit])
    digits.append(ALPHABET[number])
    return "".join(reversed(digits))


class _Writer:
    """A model under way."""

    def __init__(self, library: Any, project: Project) -> None:
        self.project = project
        self.file: Model = library.file(schema="IFC4")
        make = self.make
        self.name = project.name
        person = make("IfcPerson", None, None, project.papers.author or "Fexro")
        office = make("IfcOrganization", None, "Fexro")
        both = make("IfcPersonAndOrganization", person, office)
        program = make("IfcApplication", office, __version__, "Fexro", "fexro")
        self.history = make("IfcOwnerHistory", both, program, None, "ADDED", None, None, None, 0)
        units = make(
            "IfcUnitAssignment",
            [
                make("IfcSIUnit", None, "LENGTHUNIT", "MILLI", "METRE"),
                make("IfcSIUnit", None, "AREAUNIT", None, "SQUARE_METRE"),
                make("IfcSIUnit", None, "VOLUMEUNIT", None, "CUBIC_METRE"),
                make("IfcSIUnit", None, "PLANEANGLEUNIT", None, "RADIAN"),
            ],
        )
        self.origin = self.axes((0.0, 0.0, 0.0))
        self.context = make(
            "IfcGeometricRepresentationContext", None, "Model", 3, 1e-3, self.origin, None
        )
        self.root = make(
            *("IfcProject", self.id("project"), self.history, project.name),
            *(None, None, project.revision or None, None, [self.context], units),
        )
        here = make("IfcLocalPlacement", None, self.origin)
        site = make(
            *("IfcSite", self.id("site"), self.history, "Site", None, None, here, None),
            *(None, "ELEMENT", None, None, None, None, None),
        )
        self.place = make("IfcLocalPlacement", here, self.origin)
        building = make(
            *("IfcBuilding", self.id("building"), self.history, project.name, None, None),
            *(self.place, None, None, "ELEMENT", None, None, None),
        )
        self.storeys = {storey.name: self._storey(storey.name) for storey in project.storeys}
        self.parts("site", self.root, [site])
        self.parts("building", site, [building])
        self.parts("storeys", building, list(self.storeys.values()))
        self._places: dict[tuple[int, int], Any] = {}
        self.inside: dict[str, list[Any]] = {}
        self.materials: dict[str, list[Any]] = {}

    def make(self, kind: str, *values: Any) -> Any:
        return self.file.create_entity(kind, *values)

    def id(self, *parts: str) -> str:
        return _identity(self.name, *parts)

    def point(self, place: Sequence[float]) -> Any:
        return self.make("IfcCartesianPoint", [float(value) for value in place])

    def axes(self, place: Sequence[float], angle: float = 0.0) -> Any:
        up = self.make("IfcDirection", (0.0, 0.0, 1.0))
        along = self.make("IfcDirection", (math.cos(angle), math.sin(angle), 0.0))
        return self.make("IfcAxis2Placement3D", self.point(place), up, along)

    def parts(self, name: str, whole: Any, parts: list[Any]) -> None:
        if parts:
            ident = self.id("parts", name)
            self.make("IfcRelAggregates", ident, self.history, None, None, whole, parts)

    def _storey(self, name: str) -> Any:
        storey = self.project.storey_by_name[name]
        foot = 1000.0 * (storey.level - storey.height)
        place = self.make("IfcLocalPlacement", self.place, self.axes((0.0, 0.0, foot)))
        ident = self.id("storey", name)
        return self.make(
            *("IfcBuildingStorey", ident, self.history, name, None, None, place, None),
            *(None, "ELEMENT", foot),
        )

    def shape(self, kind: str, items: list[Any]) -> Any:
        body = self.make("IfcShapeRepresentation", self.context, "Body", kind, items)
        return self.make("IfcProductDefinitionShape", None, None, [body])

    def lift(self, key: LiftKey, result: LiftResult, bars: Sequence[LaidBar]) -> None:
        """Write a lift with its bars and what was found of it."""
        facts, model = result.lift.facts, self.project.by_key[key]
        section = facts.section
        x, y, angle = self._plan(key)
        storey = self.storeys[key.storey]
        axes = self.axes((x, y, 0.0), angle)
        reach = facts.height
        if facts.beam is not None:
            axes, reach = self._along(key), facts.beam.span
        place = self.make("IfcLocalPlacement", storey.ObjectPlacement, axes)
        up = self.make("IfcDirection", (0.0, 0.0, 1.0))
        solid = self.make("IfcExtrudedAreaSolid", self._profile(section), self.origin, up, reach)
        kind, word = self._class(facts)
        column = self.make(
            *(kind, self.id("column", str(key)), self.history, str(key), None, None),
            *(place, self.shape("SweptSolid", [solid]), key.mark, word),
        )
        self.inside.setdefault(key.storey, []).append(column)
        self.materials.setdefault(facts.concrete.name, []).append(column)
        governing = result.governing
        self._set(
            *(MEMBER, str(key), column),
            {
                "Mark": key.mark,
                "Storey": key.storey,
                "Bars": model.section.bars,
                "Ties": model.section.ties,
                "Concrete": model.concrete,
                "Reinforcement": model.steel,
            },
        )
        found: dict[str, str | float] = {
            "State": result.state.word,
            "Governing": governing.name,
            "Clause": governing.clause,
            "Combination": governing.combination or "",
            "Design code": result.lift.code.name,
        }
        if math.isfinite(result.shown_ratio):
            found["Utilisation"] = float(result.shown_ratio)
        self._set(VERDICT, str(key), column, found)
        made = list(self._bars(key, result, bars, storey.ObjectPlacement, axes))
        if made:
            self.inside[key.storey] += made
            steel = self.project.by_key[key].steel
            self.materials.setdefault(steel, []).extend(made)

    @staticmethod
    def _class(facts: ColumnFacts) -> tuple[str, str]:
        """Return what a member is called in the schema, and of which kind of that."""
        if facts.beam is not None:
            return "IfcBeam", "BEAM"
        return ("IfcColumn", "COLUMN") if facts.column else ("IfcWall", "SOLIDWALL")

    def _along(self, key: LiftKey) -> Any:
        """Return the axes of a coupling beam: along it, its width level and its depth upright."""
        wall, beam = beams_of(self.project)[key]
        line = wall.lines[beam.line]
        u = (line.x2 - line.x1) / line.length, (line.y2 - line.y1) / line.length
        height = self.project.storey_by_name[key.storey].height + beam.above - beam.depth / 2
        point = (line.x1 + beam.start * u[0], line.y1 + beam.start * u[1], height)
        return self.make(
            "IfcAxis2Placement3D",
            self.point([1e3 * value for value in point]),
            self.make("IfcDirection", (*u, 0.0)),
            self.make("IfcDirection", (-u[1], u[0], 0.0)),
        )

    def _plan(self, key: LiftKey) -> tuple[float, float, float]:
        """Return where a stack stands in plan, mm, and how it is turned."""
        mark = self.project.mark_by_name[key.mark]
        panel = panels_of(self.project).get(key)
        if panel is not None:
            first = panel[0].lines[0]
            model = self.project.by_key[key].section
            a, b = section_of(model, self.project.basis.bars.own).outline.centroid
            return 1e3 * first.x1 + a, 1e3 * first.y1 + b, 0.0
        if mark.place is None:
            names = [one.name for one in self.project.marks]
            return APART * names.index(key.mark), 0.0, math.radians(mark.angle)
        x, y = mark.place
        return 1000.0 * x, 1000.0 * y, math.radians(mark.angle)

    def _profile(self, section: Section) -> Any:
        outer, *voids = (self._ring(ring) for ring in self._centred(section))
        if voids:
            kind = "IfcArbitraryProfileDefWithVoids"
            return self.make(kind, "AREA", None, outer, voids)
        return self.make("IfcArbitraryClosedProfileDef", "AREA", None, outer)

    def _centred(self, section: Section) -> Iterator[FloatArray]:
        for ring in section.outline.rings:
            yield ring - section.outline.centroid

    def _ring(self, ring: FloatArray) -> Any:
        points = [self.point(point) for point in ring]
        return self.make("IfcPolyline", [*points, points[0]])

    def _set(self, name: str, of: str, column: Any, values: Mapping[str, str | float]) -> None:
        properties = [
            self.make(
                *("IfcPropertySingleValue", label, None),
                self.make("IfcReal", value)
                if isinstance(value, float)
                else self.make("IfcLabel", value),
                None,
            )
            for label, value in values.items()
        ]
        made = self.make("IfcPropertySet", self.id(name, of), self.history, name, None, properties)
        ident = self.id("defines", name, of)
        self.make("IfcRelDefinesByProperties", ident, self.history, None, None, [column], made)

    def _bars(
        self, key: LiftKey, result: LiftResult, bars: Sequence[LaidBar], storey: Any, axes: Any
    ) -> Iterator[Any]:
        """Yield the bars of a lift, each in its place."""
        section = result.lift.facts.section
        middle = section.outline.centroid
        for number, laid in enumerate(bars):
            if laid.kind == "dowel":
                continue
            size = laid.bar.size
            if laid.kind == "bar":
                line = [(0.0, 0.0, 0.0), (0.0, 0.0, laid.end - laid.start)]
                places = [
                    (float(section.bars.x[i] - middle[0]), float(section.bars.y[i] - middle[1]))
                    for i in laid.which
                ]
                spots = [(x, y, laid.start) for x, y in places]
                lines = [line] * len(spots)
            elif laid.kind == "spiral":
                lines, spots = [_helix(section, laid.end)], [(0.0, 0.0, 0.0)]
            else:
                rings = [_flat(line, middle) for line in laid.lines]
                rings = rings or list(_tie_lines(section, laid))
                if result.lift.facts.panel is None:
                    heights = tie_places(ties_along(result.prepared))
                else:
                    heights = _evenly(laid, len(rings))
                lines = [ring for ring in rings for _ in heights]
                spots = [(0.0, 0.0, float(z)) for _ in rings for z in heights]
            kind = "MAIN" if laid.kind == "bar" else "LIGATURE"
            shapes: dict[int, Any] = {}
            for i, (line, spot) in enumerate(zip(lines, spots, strict=True)):
                if id(line) not in shapes:
                    shapes[id(line)] = self._swept(line, size.diameter)
                local = self.make("IfcAxis2Placement3D", self.point(spot), None, None)
                place = self.make("IfcLocalPlacement", self._turned(storey, axes), local)
                yield self.make(
                    *("IfcReinforcingBar", self.id("bar", str(key), str(number), str(i))),
                    *(self.history, f"{size.name} {laid.kind}", None, laid.bar.shape, place),
                    *(self._mapped(shapes[id(line)]), None, self.project.by_key[key].steel),
                    *(size.diameter, 1e-6 * size.area, laid.bar.cut, kind, None),
                )

    def _turned(self, storey: Any, axes: Any) -> Any:
        key = storey.id(), axes.id()
        made = self._places.get(key)
        if made is None:
            made = self._places[key] = self.make("IfcLocalPlacement", storey, axes)
        return made

    def _swept(self, line: Sequence[Sequence[float]], diameter: float) -> Any:
        """Return the shape of a bar along a line, to be put where it is wanted."""
        path = self.make("IfcPolyline", [self.point(place) for place in line])
        solid = self.make("IfcSweptDiskSolid", path, diameter / 2, None, None, None)
        body = self.make(
            "IfcShapeRepresentation", self.context, "Body", "AdvancedSweptSolid", [solid]
        )
        return self.make("IfcRepresentationMap", self.origin, body)

    def _mapped(self, of: Any) -> Any:
        zero = self.point((0.0, 0.0, 0.0))
        operator = self.make("IfcCartesianTransformationOperator3D", None, None, zero, None, None)
        item = self.make("IfcMappedItem", of, operator)
        return self.shape("MappedRepresentation", [item])

    def finish(self) -> None:
        """Put what was written into its storeys, and give it its materials."""
        for storey, products in self.inside.items():
            ident = self.id("inside", storey)
            self.make(
                *("IfcRelContainedInSpatialStructure", ident, self.history, None, None),
                *(products, self.storeys[storey]),
            )
        for name, products in self.materials.items():
            material = self.make("IfcMaterial", name, None, None)
            ident = self.id("material", name)
            self.make(
                "IfcRelAssociatesMaterial", ident, self.history, None, None, products, material
            )


def _helix(section: Section, height: float) -> list[tuple[float, float, float]]:
    x, y = section.outline.rings[0].T
    area = abs(float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())) / 2
    radius = math.sqrt(area / math.pi) - section.cover - section.ties.size.diameter / 2
    turns = height / section.ties.spacing
    return [
        (radius * math.cos(turn), radius * math.sin(turn), height * turn / (2 * math.pi * turns))
        for turn in np.linspace(0.0, 2 * math.pi * turns, max(int(24 * turns), 2))
    ]


def _tie_lines(section: Section, laid: LaidBar) -> Iterator[list[tuple[float, float, float]]]:
    """Yield the centre lines of the ties of a set that are alike, about the centroid."""
    middle = section.outline.centroid
    if laid.kind == "outer tie":
        ring = section.tie_ring
        if ring is not None:
            yield _flat([*ring, ring[0]], middle)
        return
    for tie in laid.around:
        if len(tie) == 2:
            ends = np.column_stack([section.bars.x[list(tie)], section.bars.y[list(tie)]])
            yield _flat(ends, middle)
        else:
            ring = inner_ring(section, tie)
            yield _flat([*ring, ring[0]], middle)


def _evenly(laid: LaidBar, alike: int) -> FloatArray:
    """Return the heights of the rows of horizontal bars or hoops of a panel, mm."""
    rows = laid.number // max(alike, 1)
    return (np.arange(rows) + 0.5) * (laid.end - laid.start) / max(rows, 1)


def _flat(points: Any, middle: tuple[float, float]) -> list[tuple[float, float, float]]:
    return [(float(x - middle[0]), float(y - middle[1]), 0.0) for x, y in points]


def read_members(path: Path) -> list[ModelMember]:
    """Return the members that a model has which Fexro has written.

    Raises:
        FexroError: where the library is not installed or the file cannot be read.
        InputError: for a file that is no such model, or has none of them.
    """
    library = _library()
    try:
        model = library.open(str(path))
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    except Exception as error:
        raise InputError(path.name, f"a file that is no model ({error})", "an IFC4 file") from None
    found = []
    for one in model.by_type("IfcPropertySet"):
        if one.Name == MEMBER:
            values = {p.Name: str(p.NominalValue.wrappedValue) for p in one.HasProperties}
            key = LiftKey(values["Mark"], values["Storey"])
            found.append(ModelMember(key, values["Bars"], values["Ties"], values["Concrete"]))
    if not found:
        raise InputError(path.name, "no member of Fexro", "a model that Fexro has written")
    return found


def take_members_of(project: Project, members: Sequence[ModelMember]) -> Project:
    """Return the project with the bars, ties and concretes of a model.

    Raises:
        InputError: for a column that the project has not, or what it cannot have.
    """
    for one in members:
        lift = project.by_key.get(one.key)
        if lift is None:
            raise InputError(str(one.key), "a member of the model", "one that the project has")
        section = {
            name: value
            for name, value in (("bars", one.bars), ("ties", one.ties))
            if value != getattr(lift.section, name)
        }
        values = {} if one.concrete == lift.concrete else {"concrete": one.concrete}
        if section or values:
            project = change_lifts(project, [one.key], section=section, values=values)
    return project
