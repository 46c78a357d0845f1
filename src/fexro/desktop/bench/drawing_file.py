"""Qt view for sections read from drawings and written to them; the unit is asked once."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import STANDARDS
from fexro.core.section.ties import HeldRule, arrange
from fexro.desktop.drawing import write_length
from fexro.exchange.plain_files import write_whole
from fexro.exchange.section_dxf import UNITS, Drawing, read_file, section_from, write_section
from fexro.project.bars import OwnBar
from fexro.project.section import SectionModel, section_of
from fexro.project.shape_change import with_corner_bars

__all__ = ["ask_unit", "read_section_file", "write_section_file"]

FILTER = "Drawings (*.dxf);;All files (*)"


def read_section_file(
    parent: QWidget,
    section: SectionModel,
    own: tuple[OwnBar, ...],
    offered: tuple[str, ...],
    system: UnitSystem,
) -> SectionModel | None:
    """Ask for a drawing and return the section in it; nothing where none is chosen.

    Args:
        parent: of the dialogs.
        section: what else the section has.
        own: bar sizes of the project.
        offered: bar sizes on offer, which circles are taken for first.
        system: units in which sizes are told.

    Raises:
        InputError: for a drawing that is no section.
    """
    chosen, _ = QFileDialog.getOpenFileName(parent, "Read a section from a drawing", "", FILTER)
    if not chosen:
        return None
    path = Path(chosen)
    drawing = read_file(path)
    unit = drawing.unit if drawing.sure else ask_unit(parent, drawing, system, path.name)
    if unit is None:
        return None
    standard = {name: size for sizes in STANDARDS.values() for name, size in sizes.items()}
    first = [standard[name] for name in offered if name in standard]
    sizes = [*first, *(bar.size() for bar in own), *standard.values()]
    found = section_from(drawing, unit, section, sizes, path.name)
    return found if found.placed else with_corner_bars(found, own)


def ask_unit(parent: QWidget, drawing: Drawing, system: UnitSystem, name: str) -> str | None:
    """Ask in which unit a drawing is, with the size that it would have; nothing if given up.

    Raises:
        InputError: where it is no section in any unit.
    """
    width, depth = drawing.size
    if not drawing.likely:
        found = f"{width:g} × {depth:g} in units of the drawing"
        raise InputError(name, found, "a section of 100 mm to 20 m in mm, cm, m, in or ft")
    texts = [
        f"{unit}: {write_length(width * UNITS[unit], system)}"
        f" × {write_length(depth * UNITS[unit], system)}"
        for unit in drawing.likely
    ]
    said = (
        "The drawing does not say its unit"
        if drawing.unit is None
        else (f"In {drawing.unit}, as the drawing says, it would be no section")
    )
    text, taken = QInputDialog.getItem(
        parent, "Unit of the drawing", f"{said}. Which size has it?", texts, 0, False
    )
    return drawing.likely[texts.index(text)] if taken else None


def write_section_file(
    parent: QWidget, section: SectionModel, own: tuple[OwnBar, ...], rule: HeldRule, name: str
) -> None:
    """Ask for a file and write a section to it.

    Raises:
        InputError: where it cannot be written.
    """
    chosen, _ = QFileDialog.getSaveFileName(parent, "Write the section", f"{name}.dxf", FILTER)
    if not chosen:
        return
    made = section_of(section, own)
    text = write_section(section, made, arrange(made, rule).lines)
    write_whole(Path(chosen), text)
