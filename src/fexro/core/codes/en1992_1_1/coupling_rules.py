"""Checks of coupling beams: EN 1992-1-1, 6.2 and 9.2, and EN 1998-1, 5.5.3.5."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

from numpy import maximum

from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1.anchorage import (
    design_tensile_strength,
    low_tensile_strength,
    mean_tensile_strength,
)
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.materials import steel_design_strength
from fexro.core.codes.en1992_1_1.transverse_rules import shear_checks
from fexro.core.codes.en1998_1.wall_shear import CoupledBeam, coupled_beam
from fexro.core.codes.transverse_checks import limit_finding, no_shear_finding
from fexro.core.codes.wall_checks import beam_of, box_size, diagonal_shear_finding, governing_shear
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, force, length
from fexro.core.provisions import Derivation, Term, provision
from fexro.core.quantities import Area, Dimension, Length, Stress
from fexro.core.section.shear import shear_section
from fexro.core.section.ties import HeldRule

__all__ = ["beam_bars", "beam_shear", "least_beam_bars"]

Y = 1  # the axis along which the depth is
area_term = partial(Term, dimension=Dimension.AREA)


@provision("9.2.1.1(1), (9.1N)", symbol="A_s,min")
def least_beam_bars(f_ctm: Stress, f_yk: Stress, b_t: Length, d: Length) -> Area:
    """Least area of bars in tension of a beam."""
    by_strength = 0.26 * f_ctm / f_yk
    return maximum(by_strength, 0.0013) * b_t * d


def beam_bars(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the least bars at each face of a beam (9.2.1.1)."""
    if beam_of(facts).diagonals is not None:
        return []
    web = shear_section(facts.section, Y)
    f_ctm = float(mean_tensile_strength(facts.concrete.strength))
    given = f_ctm, facts.steel.yield_strength, web.width, web.effective_depth

    def derive() -> Derivation:
        record = Derivation()
        mean_tensile_strength.into(record, facts.concrete.strength)
        least_beam_bars.into(record, *given)
        return record

    return [
        limit_finding(
            *("Least bars of the beam", "bars", "9.2.1.1(1)"),
            area_term(web.tension_area),
            area_term(float(least_beam_bars(*given))),
            "Bars of {found} at a face; {limit} required.",
            derive,
            at_least=True,
        )
    ]


def _coupled(
    record: Derivation | None, annex: Annex, facts: ColumnFacts, shear: float
) -> CoupledBeam:
    beam = beam_of(facts)
    web = shear_section(facts.section, Y)
    f_ctk = low_tensile_strength.into(
        record, mean_tensile_strength.into(record, facts.concrete.strength)
    )
    f_ctd = float(design_tensile_strength.into(record, f_ctk, annex.gamma_c))
    f_yd = float(steel_design_strength.into(record, facts.steel.yield_strength, annex.gamma_s))
    group = beam.diagonals
    diagonals = (0.0, math.pi / 4) if group is None else (group.count * group.area, group.angle)
    return coupled_beam(
        record,
        (*box_size(facts), web.effective_depth, beam.span),
        (f_ctd, f_yd),
        diagonals,
        shear,
    )


def beam_shear(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check the shear of a coupling beam: of its diagonal bars, or as of any beam."""
    beam = beam_of(facts)
    governing = governing_shear(context.actions)
    if governing is None:
        return [no_shear_finding("6.2")]
    shear, combination = governing
    found = _coupled(None, annex, facts, shear)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Largest shear: {combination}.")
        _coupled(record, annex, facts, shear)
        return record

    if beam.diagonals is None:
        checks = list(shear_checks(annex, held, facts, context))
        if facts.ductility == "low" or found.as_beam:
            return checks
        # Ductile walls couple by diagonal bars where beams are short and strongly sheared.
        return [
            Finding(
                *("Kind of coupling beam", "coupling beam", "5.5.3.5"),
                State.EXCEEDED,
                shear / found.limit,
                "l/h {ratio}: diagonal bars required",
                "l/h {ratio} and shear {found} beyond {limit}: diagonal bars are required, each"
                " group {needed} at 45°.",
                {
                    "ratio": f"{found.aspect:.2f}",
                    "found": force(shear),
                    "limit": force(found.limit),
                    "needed": area_term(found.required),
                },
                combination=combination,
                derive=derive,
            ),
            *checks,
        ]
    group = beam.diagonals
    return [
        diagonal_shear_finding(
            "5.5.3.5(3)", governing, found.resistance, found.required, found.ratio, derive
        ),
        limit_finding(
            *("Cages of diagonal bars", "diagonals", "5.5.3.5(3)"),
            length(group.cage[0]),
            length(found.cage),
            "Cages of diagonal bars are {found} wide; {limit} required.",
            derive,
            at_least=True,
        ),
    ]
