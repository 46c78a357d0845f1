"""ACI 318-19 put together from its topics, in both unit editions."""

from __future__ import annotations

from functools import partial

from fexro.core.codes import DesignCode, Vocabulary
from fexro.core.codes.aci318_19 import (
    beam_anchorage,
    boundary_rules,
    coupling_rules,
    cover,
    detailing,
    ductile_rules,
    encased,
    flange_rules,
    hooks,
    lap_rules,
    materials,
    offset_rules,
    pier_rules,
    special_wall_rules,
    stability,
    strip_rules,
    transverse_rules,
    wall_bars,
    wall_joint_rules,
    wall_laps,
    wall_rules,
)
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION, Edition
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.beam_anchorage import anchorage_findings
from fexro.core.codes.detailing import held_findings, planted_findings, torsion_not_checked
from fexro.core.quantities import UnitSystem
from fexro.core.section.ties import HeldRule

__all__ = ["ACI_IN_LB", "ACI_SI", "code_aci"]


def code_aci(units: UnitSystem, edition: Edition) -> DesignCode:
    """Return the code with the numbers of an edition."""
    strength = StrengthACI(edition)
    anchoring = partial(beam_anchorage.anchored, edition)
    held = HeldRule("25.7.2.3", edition.held_distance, clear=True, both=True, alternate=True)
    return DesignCode(
        key="ACI 318-19",
        annex="recommended",
        units=units,
        name=edition.name,
        vocabulary=Vocabulary(
            *("Pu", "Mux", "Muy", "f'c", "fy", "ties"),
            ductility=("ordinary", "intermediate", "special"),
            braced="nonsway",
            sway="sway",
        ),
        loads="ACI 318-19",
        materials=materials.MaterialsACI(edition),
        strength=strength,
        stability=stability.StabilityACI(edition, strength),
        rules=(
            ("detailing", detailing.bar_ratio),
            ("detailing", detailing.bar_count),
            ("detailing", partial(detailing.clear_spacing, edition)),
            ("detailing", partial(detailing.laps, edition)),
            ("detailing", partial(materials.material_limits, edition)),
            ("detailing", partial(encased.encased_checks, edition)),
            ("stability", stability.slenderness),
            ("detailing", partial(held_findings, held)),
            ("detailing", partial(cover.cover_checks, edition)),
            ("detailing", partial(transverse_rules.tie_checks, edition, held)),
            ("detailing", partial(lap_rules.lap_checks, edition, held)),
            ("detailing", partial(offset_rules.offset_checks, edition, held)),
            ("shear", partial(transverse_rules.shear_checks, edition, held)),
            ("ductility", partial(ductile_rules.ductile_checks, edition, held)),
            ("stability", planted_findings),
            ("shear", torsion_not_checked),
        ),
        wall_rules=(
            ("detailing", partial(wall_rules.panel_thickness, edition)),
            ("detailing", partial(wall_rules.bars_of_panel, edition)),
            ("detailing", partial(detailing.clear_spacing, edition)),
            ("detailing", partial(materials.material_limits, edition)),
            ("detailing", partial(wall_rules.panel_cover, edition)),
            ("stability", stability.slenderness),
            ("shear", partial(wall_rules.shear_of_panel, edition)),
            ("shear", partial(strip_rules.across_panel, edition)),
            ("shear", partial(special_wall_rules.special_shear_checks, edition)),
            ("shear", partial(wall_joint_rules.joint_checks, edition)),
            ("strength", partial(flange_rules.flange_width, edition)),
            ("ductility", partial(special_wall_rules.end_bars, edition)),
            ("ductility", partial(pier_rules.pier_checks, edition)),
            ("ductility", partial(boundary_rules.boundary_checks, edition)),
            ("detailing", partial(wall_laps.wall_laps, edition, held)),
            ("detailing", partial(wall_rules.detailing, edition)),
        ),
        beam_rules=(
            ("detailing", partial(coupling_rules.beam_bars, edition)),
            ("detailing", partial(detailing.clear_spacing, edition)),
            ("detailing", partial(materials.material_limits, edition)),
            ("shear", partial(coupling_rules.beam_shear, edition, held)),
            ("ductility", partial(coupling_rules.special_beam, edition, held)),
            ("detailing", partial(anchorage_findings, "25.4.2, 18.10.7.4(b)", anchoring)),
        ),
        strip_rules=(
            ("detailing", partial(strip_rules.strip_bars, edition)),
            ("detailing", partial(materials.material_limits, edition)),
            ("detailing", partial(wall_rules.panel_cover, edition)),
            ("stability", stability.slenderness),
            ("shear", partial(strip_rules.strip_shear, edition)),
            ("stability", partial(strip_rules.other_methods, edition)),
            ("detailing", partial(lap_rules.lap_checks, edition, held)),
        ),
        held=held,
        end_zone=partial(transverse_rules.end_zone, edition),
        bar_ratios=(detailing.LEAST_RATIO, detailing.LARGEST_RATIO),
        panel_ratio=wall_bars.LEAST,
        band=partial(ductile_rules.confinement_band, edition),
        joints=partial(ductile_rules.joint_verdicts, edition, held),
        laps=partial(lap_rules.laps, edition, held),
        bending=partial(hooks.bending, edition, units),
        anchored=partial(anchoring, None),
        horizontal_lap=partial(wall_laps.horizontal_lap, edition),
    )


ACI_SI = code_aci(UnitSystem.SI, SI_EDITION)
ACI_IN_LB = code_aci(UnitSystem.IN_LB, IN_LB_EDITION)
