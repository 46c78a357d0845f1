"""EN 1992-1-1 put together from its topics."""

from __future__ import annotations

from functools import partial

from fexro.core.codes import DesignCode, Vocabulary
from fexro.core.codes.beam_anchorage import anchorage_findings
from fexro.core.codes.detailing import held_findings, planted_findings, torsion_not_checked
from fexro.core.codes.en1992_1_1 import (
    beam_anchorage,
    coupling_rules,
    cover,
    detailing,
    ductile_rules,
    ductile_wall_rules,
    ductile_web_rules,
    encased,
    flange_rules,
    hooks,
    lap_rules,
    materials,
    moment_envelope_rules,
    offset_rules,
    stability,
    strip_rules,
    transverse_rules,
    wall_rules,
    walls,
)
from fexro.core.codes.en1992_1_1.annex import RECOMMENDED, UK, Annex
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.quantities import UnitSystem
from fexro.core.section.ties import HeldRule

__all__ = ["EN_RECOMMENDED", "EN_UK", "code_en"]


HELD = HeldRule("9.5.3(6)", 150.0, clear=False, both=False, alternate=False)


def code_en(units: UnitSystem, annex: Annex) -> DesignCode:
    """Return the code with the data of an annex."""
    strength, anchoring = StrengthEN(annex), partial(beam_anchorage.anchored, annex)
    return DesignCode(
        key="EN 1992-1-1",
        annex=annex.name,
        units=units,
        name=f"EN 1992-1-1 ({annex.name})",
        vocabulary=Vocabulary(
            *("NEd", "MEdx", "MEdy", "fck", "fyk", "links"),
            ductility=("DCL", "DCM", "DCH"),
            braced="braced",
            sway="unbraced",
        ),
        loads="EN 1990",
        materials=materials.MaterialsEN(annex),
        strength=strength,
        stability=stability.StabilityEN(annex, strength),
        rules=(
            ("detailing", partial(detailing.bar_area, annex)),
            ("detailing", partial(detailing.bar_diameter, annex)),
            ("detailing", detailing.bundles),
            ("detailing", detailing.bar_count),
            ("detailing", partial(detailing.clear_spacing, annex)),
            ("detailing", partial(detailing.laps, annex)),
            ("detailing", materials.material_limits),
            ("strength", partial(encased.encased_checks, annex, strength)),
            ("stability", stability.slenderness),
            ("detailing", partial(held_findings, HELD)),
            ("detailing", partial(cover.cover_checks, annex)),
            ("detailing", partial(transverse_rules.link_checks, HELD)),
            ("detailing", partial(lap_rules.lap_checks, annex, HELD)),
            ("detailing", partial(offset_rules.offset_checks, annex, HELD)),
            ("shear", partial(transverse_rules.shear_checks, annex, HELD)),
            ("ductility", partial(ductile_rules.ductile_checks, annex, HELD)),
            ("stability", planted_findings),
            ("shear", torsion_not_checked),
        ),
        wall_rules=(
            ("detailing", wall_rules.proportions),
            ("detailing", wall_rules.bars_of_panel),
            ("detailing", partial(detailing.clear_spacing, annex)),
            ("detailing", materials.material_limits),
            ("strength", partial(flange_rules.flange_width, annex)),
            ("strength", partial(moment_envelope_rules.moment_envelope, annex)),
            ("stability", stability.slenderness),
            ("detailing", partial(cover.cover_checks, annex)),
            ("shear", partial(wall_rules.shear_of_panel, annex)),
            ("shear", partial(strip_rules.across_panel, annex)),
            ("shear", partial(wall_rules.joint_checks, annex)),
            ("ductility", partial(ductile_wall_rules.ductile_wall_checks, annex)),
            ("shear", partial(ductile_web_rules.web_shear, annex)),
            ("shear", partial(ductile_web_rules.joint_sliding, annex)),
            ("ductility", partial(ductile_web_rules.web_detailing, annex)),
            ("detailing", partial(lap_rules.wall_laps, annex, HELD)),
            ("detailing", wall_rules.detailing),
        ),
        beam_rules=(
            ("detailing", coupling_rules.beam_bars),
            ("detailing", partial(detailing.clear_spacing, annex)),
            ("detailing", materials.material_limits),
            ("shear", partial(coupling_rules.beam_shear, annex, HELD)),
            ("detailing", partial(anchorage_findings, "8.4.4, EN 1998-1, 5.5.3.5(3)", anchoring)),
        ),
        strip_rules=(
            ("detailing", strip_rules.strip_bars),
            ("detailing", materials.material_limits),
            ("detailing", partial(cover.cover_checks, annex)),
            ("stability", stability.slenderness),
            ("shear", partial(strip_rules.strip_shear, annex)),
            ("stability", partial(strip_rules.plain_method, annex)),
            ("detailing", partial(lap_rules.wall_laps, annex, HELD)),
        ),
        held=HELD,
        end_zone=transverse_rules.end_zone,
        bar_ratios=(annex.area_share, annex.largest_ratio),
        panel_ratio=walls.LEAST,
        band=partial(ductile_rules.confinement_band, annex),
        joints=partial(ductile_rules.joint_verdicts, annex, HELD),
        laps=partial(lap_rules.laps, annex, HELD),
        bending=hooks.bending,
        anchored=partial(anchoring, None),
        horizontal_lap=partial(lap_rules.horizontal_lap, annex),
    )


EN_RECOMMENDED = code_en(UnitSystem.SI, RECOMMENDED)
EN_UK = code_en(UnitSystem.SI, UK)
