"""Load cases, and combinations as factors over them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, FailFast, Field

from fexro.core.codes import DesignCode
from fexro.core.codes.loading import live_load_rules, load_standard
from fexro.core.errors import InputError
from fexro.core.fixed import FixedDict
from fexro.core.loads.cases import Case, Combined, Nature, Use
from fexro.project.column import LiftKey, Member
from fexro.project.records import Name, Number, Record, Text

__all__ = ["Combination", "CombinationRules", "Factors", "FloorReduction", "LoadCase"]

Factor = Annotated[Number, Field(ge=-100, le=100)]
MOST_CASES = 200


class Factors(FixedDict[float]):
    """Factors by load case."""


def _few(factors: dict[str, float]) -> Factors:
    if len(factors) > MOST_CASES:
        raise ValueError(f"factors of at most {MOST_CASES} load cases")
    return Factors(factors)


def _known_rule(name: str) -> str:
    if name not in live_load_rules():
        raise ValueError(f"one of {', '.join(live_load_rules())}")
    return name


class FloorReduction(Record):
    """How the imposed load of a case is less on lifts that carry several floors.

    Attributes:
        rule: of a load standard.
        area: of a floor that a column carries, m²; marks may have their own.
        element: live load element factor, where the rule asks for it.
        load: unreduced imposed load, kPa, where the rule asks for it.
    """

    rule: Annotated[Name, AfterValidator(_known_rule)]
    area: Annotated[Number, Field(ge=0, le=10_000, description="m²")] = 0.0
    element: Annotated[Number, Field(ge=1, le=4)] = 1.0
    load: Annotated[Number, Field(ge=0, le=1_000, description="kPa")] = 0.0


class LoadCase(Record):
    """What acts together in an analysis.

    Attributes:
        name: of the case.
        nature: what it is.
        direction: of wind, earthquake or notional load in plan.
        both_signs: whether it acts in the opposite direction too.
        category: of what is imposed, in the words of the load standard.
        source: of a permanent load, which is favourable or not as a whole.
        half_allowed: whether a standard may halve it as a companion.
        sway: the directions in which it makes the building sway, if any.
        sustained: the share of it that lasts.
        reduction: by the floors that a lift carries, if the analysis has not made it.
        self_weight: whether the weight of the lifts is added to it down each stack.
    """

    name: Name
    nature: Nature
    direction: Literal["x", "y"] | None = None
    both_signs: bool = False
    category: Annotated[Text, Field(max_length=40)] = ""
    source: Annotated[Text, Field(max_length=40)] = ""
    half_allowed: bool = True
    sway: Literal["x", "y", "xy"] | None = None
    sustained: Annotated[Number, Field(ge=0, le=1)] = 0.0
    reduction: FloorReduction | None = None
    self_weight: bool = False

    def case(self) -> Case:
        """Return the case that rules of combination see."""
        return Case(
            self.name,
            self.nature,
            self.direction,
            self.both_signs,
            self.category,
            self.source,
            self.half_allowed,
        )


class CombinationRules(Record):
    """By which rules combinations are made.

    Attributes:
        standard: key of a load standard on offer.
        options: of it that differ from their defaults.
    """

    standard: Name
    options: Annotated[dict[Name, bool | Number | Name], Field(max_length=40)] = Field(
        default_factory=dict
    )

    @classmethod
    def of_code(cls, code: DesignCode) -> CombinationRules:
        """Return the rules that go with a design code and its annex."""
        standard = load_standard(code.loads)
        own = {"annex": code.annex} if "annex" in standard.option_kinds() else {}
        return cls(standard=code.loads, options=own)

    def values(self) -> Any:
        """Return the options of the standard.

        Raises:
            InputError: if there is no such standard, or an option that it does not allow.
        """
        return load_standard(self.standard).option_values(dict(self.options))

    def combine(self, cases: Mapping[str, LoadCase]) -> list[Combined]:
        """Return the combinations of cases.

        Raises:
            InputError: if there is no case, or the rules are refused.
        """
        if not cases:
            raise InputError("load cases", "none", "at least one")
        options = self.values()
        standard = load_standard(self.standard)
        return list(standard.combine([case.case() for case in cases.values()], options))


class Combination(Record):
    """A load combination.

    Attributes:
        name: of the combination.
        expression: its factors as people write them; a note where forces are given factored.
        factors: by load case; without any, its forces are given factored.
        not_for: the members that it does not apply to.
        equation: the expression of a standard that it was made by; none where people wrote it.
        uses: what it is used for; strength is checked for all but those of service alone, and
            those that are a part of others.
        sway_x, sway_y: combinations whose forces, given factored, are added as what comes with
            sway.
    """

    name: Name
    expression: Annotated[Text, Field(max_length=200)] = ""
    factors: Annotated[dict[Name, Factor], AfterValidator(_few)] = Field(default_factory=Factors)
    not_for: Annotated[tuple[Member, ...], FailFast()] = ()
    equation: Annotated[Text, Field(max_length=40)] = ""
    uses: Annotated[tuple[Use, ...], Field(max_length=4)] = ("strength",)
    sway_x: Name | None = None
    sway_y: Name | None = None

    @property
    def for_strength(self) -> bool:
        """Whether strength is checked for it."""
        return any(use not in ("service", "sway part") for use in self.uses)

    def applies(self, key: LiftKey) -> bool:
        """Tell whether the combination applies to a lift."""
        return not any(member.covers(key) for member in self.not_for)
