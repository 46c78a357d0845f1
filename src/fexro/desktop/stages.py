"""The stages of the application, in their order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from fexro.desktop.basis.stage import BasisStage
from fexro.desktop.bench.stage import BenchStage
from fexro.desktop.document import Document
from fexro.desktop.documents.stage import DocumentsStage
from fexro.desktop.forces.stage import ForcesStage
from fexro.desktop.former import FormerResults
from fexro.desktop.members.stage import MembersStage
from fexro.desktop.schedule.stage import ScheduleStage
from fexro.desktop.shell.stages import Shell, Stage
from fexro.desktop.sizing.stage import SizingStage
from fexro.desktop.stability.stage import StabilityStage
from fexro.desktop.walls.stage import WallsStage

if TYPE_CHECKING:
    from fexro.core.members.lift import LiftResult
    from fexro.core.quantities import UnitSystem
    from fexro.documents.calculation import PictureMaker
    from fexro.project.column import LiftKey

__all__ = ["make_stages"]


def _paper_pictures(results: Mapping[LiftKey, LiftResult], system: UnitSystem) -> PictureMaker:
    """Return what paints the pictures of the bench for documents; made when first needed."""
    from fexro.desktop.bench.paper import PaperPictures

    return PaperPictures(results, system)


def make_stages(document: Document, shell: Shell) -> Sequence[Stage]:
    """Return the stages of a window."""
    former = FormerResults(document)
    return [
        BasisStage(document, shell),
        MembersStage(document, shell),
        ForcesStage(document, shell, former),
        StabilityStage(document, shell),
        ScheduleStage(document, shell, former),
        WallsStage(document, shell),
        SizingStage(document, shell),
        DocumentsStage(document, shell, _paper_pictures),
        BenchStage(document, shell),
    ]
