"""Values that lifts inherit: project, then storey, then mark, then the lift itself."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, TypeVar

from pydantic import AfterValidator, Field, SerializerFunctionWrapHandler, model_serializer

from fexro.core.facts import Age, Ductility, Laps, Options
from fexro.project.records import Name, Number, Record

__all__ = [
    "INHERITED",
    "NOTHING",
    "Aggregate",
    "Cover",
    "Direction",
    "EndCondition",
    "OwnDirection",
    "OwnValues",
    "Values",
]

Cover = Annotated[Number, Field(ge=10, le=300, description="mm, to the ties")]
Aggregate = Annotated[Number, Field(ge=4, le=80, description="mm")]
Factor = Annotated[Number, Field(ge=0.3, le=20)]
Share = Annotated[Number, Field(ge=0, le=1)]
CriticalFactor = Annotated[Number, Field(gt=0, le=1e4)]
Members = Annotated[Number, Field(ge=1, le=1e4)]
MomentShape = Annotated[Number, Field(ge=6, le=16)]
MomentFactor = Annotated[Number, Field(ge=0, le=2)]
LapLength = Annotated[Number, Field(ge=50, le=10_000, description="mm")]
Knowledge = Annotated[Number, Field(ge=0.5, le=1, description="of the strength")]
Clear = Annotated[Number, Field(gt=100, le=100_000, description="mm")]
Frame = Literal["moment frame", "walls", "dual"]
Sway = Literal["by rule", "braced", "sway"]
SwayMoments = Literal["cases", "all", "analysis"]

R = TypeVar("R", bound=Record)


class EndCondition(Record):
    """How an end of a lift is held against rotation.

    Attributes:
        kind: by the members framing in, or in a word.
        value: of a partial restraint: stiffness of columns over that of beams (ψ or k of a code).
    """

    kind: Literal["framing", "fixed", "pinned", "free", "partial"] = "framing"
    value: Annotated[Number, Field(ge=0, le=1e6)] = 1.0


class Direction(Record):
    """How the building resists sway along a direction of the plan, and how its lifts bend there.

    Attributes:
        frame: what resists.
        ductility: the class it is detailed for; each design code has its own word for it.
        sway: whether columns take part in sway, or the rule of the code that decides it.
        sway_moments: which part of the end moments comes with sway: that of the load cases that are
            flagged, all of them, or none: the analysis has second-order effects in it.
        clear: unsupported length, mm; by the beams framing in where there is none.
        top, bottom: how the ends are held.
        base: how the foot of a stack is held.
        factor, factor_sway: effective length factors, braced and unbraced, in place of the ends.
        lasting: lasting share of what bends or presses (βdns, M0Eqp/M0Ed), in place of the cases'.
        alpha_cr: critical factor of the building, in place of the drift of storeys.
        members: columns that share an imperfection.
        moment_shape, moment_factor: c0 and β of the first-order moment, where they are chosen.
    """

    frame: Frame = "moment frame"
    ductility: Ductility = "low"
    sway: Sway = "by rule"
    sway_moments: SwayMoments = "cases"
    clear: Clear | None = None
    top: EndCondition = EndCondition()
    bottom: EndCondition = EndCondition()
    base: EndCondition = EndCondition(kind="fixed")
    factor: Factor | None = None
    factor_sway: Factor | None = None
    lasting: Share | None = None
    alpha_cr: CriticalFactor | None = None
    members: Members = 1.0
    moment_shape: MomentShape | None = None
    moment_factor: MomentFactor | None = None

    def over(self, own: OwnDirection | None) -> Direction:
        """Return the direction with what is given in its place."""
        return self if own is None else self.model_copy(update=dict(own.given))

    def beyond(self, other: Direction, before: OwnDirection | None) -> OwnDirection | None:
        """Return what makes this of another; what was its own before stays so."""
        kept = {} if before is None else before.given
        own = {
            name: value
            for name, value in dict(self).items()
            if name in kept or value != getattr(other, name)
        }
        return OwnDirection(**own) if own else None


class _Sparse(Record):
    """Values that differ; the others are not written."""

    @property
    def given(self) -> Mapping[str, Any]:
        """The values that differ, by name."""
        found = {name: getattr(self, name) for name in type(self).model_fields}
        return {name: value for name, value in found.items() if value not in (None, {})}

    @model_serializer(mode="wrap")
    def _written(self, write: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {name: value for name, value in write(self).items() if value not in (None, {})}


class OwnDirection(_Sparse):
    """What of a direction a storey, a mark or a lift does not inherit."""

    frame: Frame | None = None
    ductility: Ductility | None = None
    sway: Sway | None = None
    sway_moments: SwayMoments | None = None
    clear: Clear | None = None
    top: EndCondition | None = None
    bottom: EndCondition | None = None
    base: EndCondition | None = None
    factor: Factor | None = None
    factor_sway: Factor | None = None
    lasting: Share | None = None
    alpha_cr: CriticalFactor | None = None
    members: Members | None = None
    moment_shape: MomentShape | None = None
    moment_factor: MomentFactor | None = None


OptionsField = Annotated[
    dict[Name, bool | Number | Name], Field(max_length=60), AfterValidator(Options)
]


class Values(Record):
    """What a lift rests on, complete; names are those of the project's materials.

    Attributes:
        x, y: directions of the plan.
        options: what is chosen where a design code leaves room, by the code's names.
        laps: how many of the bars are lapped at one level.
        tie_steel: of the ties; that of the bars where there is none.
        lap_length: of the laps as they are, mm; as long as they have to be where there is none.
        age: whether the column is to be built or stands already.
        knowledge: by which the strengths of an existing column's materials are multiplied.
    """

    concrete: Name
    steel: Name
    cover: Cover
    aggregate: Aggregate
    x: Direction = Direction()
    y: Direction = Direction()
    laps: Laps = "one level"
    tie_steel: Name | None = None
    lap_length: LapLength | None = None
    age: Age = "new"
    knowledge: Knowledge = 1.0
    options: OptionsField = Field(default_factory=Options)

    @property
    def known_share(self) -> float:
        """By what the strengths of materials are multiplied: less than 1 in existing columns."""
        return self.knowledge if self.age == "existing" else 1.0

    def over(self, own: OwnValues) -> Values:
        """Return the values with those that are given in their place."""
        if own is NOTHING:
            return self
        given = dict(own.given)
        for axis in ("x", "y"):
            if axis in given:
                given[axis] = getattr(self, axis).over(given[axis])
        if "options" in given:
            given["options"] = Options({**self.options, **given["options"]})
        return self.model_copy(update=given) if given else self

    def beyond(self, inherited: Values, before: OwnValues) -> OwnValues:
        """Return the own values that make these of what is inherited.

        Args:
            inherited: without values of its own.
            before: its own until now; they stay its own where they do not change.
        """
        old = inherited.over(before)
        own: dict[str, Any] = {}
        for name, value in dict(self).items():
            if name in ("x", "y"):
                own[name] = value.beyond(getattr(old, name), getattr(before, name))
                own[name] = _joined(getattr(before, name), own[name])
            elif name == "options":
                kept = {k: v for k, v in value.items() if inherited.options.get(k) != v}
                own[name] = Options({**before.options, **kept})
            elif name in before.given or value != getattr(old, name):
                own[name] = value
        return OwnValues(**own)


def _joined(before: OwnDirection | None, own: OwnDirection | None) -> OwnDirection | None:
    """Return what was a direction's own with what has come to it."""
    if own is None or before is None:
        return own or before
    return OwnDirection(**{**before.given, **own.given})


class OwnValues(_Sparse):
    """Values of a storey, a mark or a lift that differ from what it would inherit."""

    concrete: Name | None = None
    steel: Name | None = None
    cover: Cover | None = None
    aggregate: Aggregate | None = None
    x: OwnDirection | None = None
    y: OwnDirection | None = None
    laps: Laps | None = None
    tie_steel: Name | None = None
    lap_length: LapLength | None = None
    age: Age | None = None
    knowledge: Knowledge | None = None
    options: OptionsField = Field(default_factory=Options)

    def with_direction(self, axis: str, name: str, value: object) -> OwnValues:
        """Return them with another own value of a direction; nothing leaves it inherited."""
        given = dict((getattr(self, axis) or OwnDirection()).given)
        given.pop(name, None)
        if value is not None:
            given[name] = value
        return self.model_copy(update={axis: OwnDirection(**given) if given else None})


NOTHING = OwnValues()
INHERITED = tuple(Values.model_fields)
