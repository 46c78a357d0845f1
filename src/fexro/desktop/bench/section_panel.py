"""Qt view for the section of a lift: its drawing, and its call-outs edited in place."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fexro.core.codes import Vocabulary
from fexro.core.codes.registry import design_code
from fexro.core.errors import InputError
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_quantity,
    parse_quantity,
    quantity_reading,
)
from fexro.core.section.call_out import canonical
from fexro.core.strength.state import StrainPlane
from fexro.desktop.bench.library_panel import LibraryPanel
from fexro.desktop.bench.parts_panel import PartsPanel
from fexro.desktop.bench.properties import PropertiesPanel
from fexro.desktop.bench.section_canvas import SectionCanvas
from fexro.desktop.bench.steel_panel import SteelPanel
from fexro.desktop.bench.ties_panel import TiesPanel
from fexro.desktop.directions import AGES, LAPS, direction_words
from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.form import validated
from fexro.desktop.layouts import clear_layout
from fexro.desktop.tabs import TabbedPages
from fexro.desktop.text import Label, menu_text, tip_text
from fexro.project.bars import sizes_by_name
from fexro.project.column import Axis, LiftKey, LiftModel
from fexro.project.edits.lifts import inherit
from fexro.project.project import Project
from fexro.project.section import SectionModel, section_of
from fexro.project.shape_change import PROPOSED, as_kind, with_corner_bars
from fexro.project.shapes import SIZES
from fexro.project.values import INHERITED

__all__ = ["SectionPanel"]

# Directions in which the floor at the top does not hold a lift, and how that is read.
HELD: tuple[tuple[tuple[Axis, ...], str], ...] = (
    ((), "in x and y"),
    (("y",), "in x only"),
    (("x",), "in y only"),
    (("x", "y"), "not at all"),
)
RARE = ("stem", "bottom_width", "lean", "chamfer", "radius")  # sizes that are mostly 0
BUILT = ("lap_length", "tie_steel", "age", "knowledge")  # laps, ties, and what stands already
FOLDED = (*RARE, "aggregate", "laps", *BUILT, "x", "y", "held")


class SectionPanel(QFrame):
    """Section drawing and the fields of the lift; each edit is checked at once or refused."""

    enlarged = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("left")
        self._document = document
        self.drawing = SectionCanvas()
        self.drawing.changed.connect(self._take_section)
        self.drawing.refused.connect(self._tell)
        self.fields: dict[str, Field | QComboBox] = {}
        self.origins: dict[str, QPushButton] = {}
        self._unfolded = False
        self._kind: tuple[str, ...] = ()
        self._key: LiftKey | None = None
        self._lift: LiftModel | None = None
        self._grid = QGridLayout()
        self._grid.setColumnStretch(0, 1)
        self._grid.setColumnMinimumWidth(1, 118)
        self._grid.setVerticalSpacing(2)
        self._facts, self.reading, self.error = Label(), Label(), Label()
        for label, role in ((self._facts, "quiet"), (self.reading, "quiet"), (self.error, "error")):
            label.setProperty("role", role)
            label.setWordWrap(True)
        for label in (self.reading, self.error):
            label.hide()
        self.more = QPushButton()
        self.more.setProperty("role", "link")
        self.more.setToolTip(
            "Corners, aggregate, laps, ties, age, sway, and the floor that holds the lift"
        )
        self.more.clicked.connect(self._toggle_more)
        self.larger = QPushButton("Larger")
        self.larger.setProperty("role", "link")
        self.larger.setToolTip("The section takes the bench, and gives it back (Alt+S)")
        self.larger.clicked.connect(lambda: self.enlarged.emit())
        below = QHBoxLayout()
        below.addWidget(self.more)
        below.addStretch(1)
        below.addWidget(self.larger)
        self._beside = QWidget()
        column = QVBoxLayout(self._beside)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._grid)
        column.addLayout(below)
        for label in (self.reading, self.error, self._facts):
            column.addWidget(label)
        self.parts = PartsPanel(document, self._put_section)
        self.profiles = SteelPanel(document, self._put_section)
        self.ties = TiesPanel(self._put_section)
        self.ties.pointed.connect(self.drawing.choose)
        self.library = LibraryPanel(document)
        self.properties = PropertiesPanel()
        for panel in (self.parts, self.profiles, self.ties, self.library):
            panel.refused.connect(self._tell)
        self.making = TabbedPages(
            [
                ("Parts", self.parts),
                ("Steel", self.profiles),
                ("Ties", self.ties),
                ("Library", self.library),
                ("Properties", self.properties),
            ],
            dense=True,
        )
        self.making.hide()
        self.drawing.previewed.connect(self._follow)
        column.addWidget(self.making, 1)
        self._layout = QBoxLayout(QBoxLayout.Direction.TopToBottom, self)
        self._layout.setContentsMargins(16, 8, 16, 10)
        self._layout.addWidget(self.drawing, 1)
        self._layout.addWidget(self._beside)

    def enlarge(self, large: bool) -> None:
        """Let the drawing fill the bench with the fields beside it, or stand above them."""
        direction = QBoxLayout.Direction
        self._layout.setDirection(direction.LeftToRight if large else direction.TopToBottom)
        self._layout.setAlignment(
            self._beside, Qt.AlignmentFlag.AlignTop if large else Qt.AlignmentFlag(0)
        )
        self._beside.setMaximumWidth(340 if large else 16_777_215)
        self.larger.setText("Smaller" if large else "Larger")
        self.making.setVisible(large)
        self.drawing.fit()
        self.drawing.setFocus()

    def show_lift(self, key: LiftKey, lift: LiftModel, strains: StrainPlane | None) -> None:
        """Show a lift and, where strains are known, their neutral axis."""
        project = self._document.project
        assert project is not None
        system = project.basis.system
        plane = None
        if strains is not None and strains.neutral_axis is not None:
            plane = math.cos(strains.angle), math.sin(strains.angle), strains.neutral_axis
        section = section_of(lift.section, project.basis.bars.own)
        own = project.basis.bars.own
        rule = project.basis.design_code.held
        self.drawing.show_section(lift.section, system, own, project.basis.bars.main, plane, rule)
        self.ties.show_section(lift.section, rule, own, system)
        self.parts.show_section(lift.section, system)
        self.library.show_lift(project, key)
        self.profiles.show_section(lift.section, system)
        self.properties.show_outline(section.outline, system)
        names = (
            *(name for name in SIZES if hasattr(lift.section.shape, name)),
            lift.section.shape.kind,
            self._vocabulary.ties,
        )
        if names != self._kind:
            self._build(lift)
            self._kind = names
        # What was refused stays in its field until the lift is another.
        anew, self._key, self._lift = lift is not self._lift, key, lift
        self._fill(lift, system, anew=anew)
        area = format_quantity(section.outline.area, Dimension.AREA, system)
        steel = format_quantity(section.bars.total_area, Dimension.AREA, system)
        ratio = 100 * section.bars.total_area / section.outline.area
        told = f"Ag {area}  ·  Ast {steel}  ·  {ratio:.2f} %"
        if section.steel:
            core = format_quantity(section.steel_area, Dimension.AREA, system)
            told += f"  ·  structural steel {core}"
        if lift.section.placed:
            told += "  ·  bars placed by hand"
        if lift.section.inner_ties is not None:
            told += "  ·  ties placed by hand"
        self._facts.setText(told)

    def _follow(self, section: SectionModel | None) -> None:
        """Show the properties of what is dragged."""
        lift, project = self._lift, self._document.project
        if lift is None or project is None:
            return
        shown = section_of(section or lift.section, project.basis.bars.own)
        self.properties.show_outline(shown.outline, project.basis.system)

    def _build(self, lift: LiftModel) -> None:
        """Make the fields that the shape of the lift has."""
        clear_layout(self._grid)
        self.fields.clear()
        self.origins.clear()
        shape = QComboBox()
        given = lift.section.shape.kind
        # The shape of a panel or strip is that of its wall.
        for kind in PROPOSED if given in PROPOSED else (given,):
            shape.addItem(kind, kind)
        shape.setEnabled(given in PROPOSED)
        shape.activated.connect(self._reshape)
        self._add_field("shape", "Shape", shape)
        sizes = [name for name in SIZES if hasattr(lift.section.shape, name)]
        for name in (name for name in sizes if name not in RARE):
            self._add_line(name, SIZES[name], self._edit_size(name, SIZES[name]))
        wall = given == "legs"
        ties = "Horizontal" if wall else self._vocabulary.ties.capitalize()
        bars = "Vertical bars" if wall else "Main bars"
        around = "horizontal" if wall else self._vocabulary.ties
        self._add_line("cover", f"Cover to {around}", self._edit_cover)
        self._add_line("bars", bars, self._edit_section("bars", bars))
        self._add_line("ties", ties, self._edit_section("ties", ties))
        if wall:
            self._add_line("hoops", "Hoops of ends", self._edit_hoops)
        self._add_choice("concrete", "Concrete")
        self._add_choice("steel", "Steel")
        for name in (name for name in sizes if name in RARE):
            self._add_line(name, SIZES[name], self._edit_size(name, SIZES[name]))
        self._add_line("aggregate", "Aggregate", self._edit_aggregate)
        laps = QComboBox()
        for key, text in LAPS.items():
            laps.addItem(text, key)
        laps.activated.connect(partial(self._choose, "laps", "Laps"))
        self._add_field("laps", "Bars lapped", laps)
        self._add_line("lap_length", "Length of laps", self._edit_value("lap_length", "Laps"))
        self.fields["lap_length"].setPlaceholderText("as required")
        self._add_choice("tie_steel", f"Steel of {self._vocabulary.ties}")
        age = QComboBox()
        for key, text in AGES.items():
            age.addItem(text, key)
        age.activated.connect(partial(self._choose, "age", "Column"))
        self._add_field("age", "Column", age)
        self._add_line("knowledge", "Knowledge factor", self._edit_value("knowledge", "Knowledge"))
        for axis in ("x", "y"):
            sway = QComboBox()
            sway.activated.connect(partial(self._assume_sway, axis))
            self._add_field(axis, f"Sway {axis}", sway)
        held = QComboBox()
        for unsupported, text in HELD:
            held.addItem(text, unsupported)
        held.activated.connect(self._hold)
        held.setToolTip("Directions of the section in which the floor at the top holds the lift")
        self._add_field("held", "Held at top", held)

    def _add_line(self, name: str, label: str, commit: Callable[[str], None]) -> None:
        read = self._read_length if name in (*SIZES, "cover", "aggregate", "lap_length") else None
        field = Field(self._document.typing, commit, read)
        field.told.connect(lambda reading: self._tell_reading(label, reading))
        field.refused.connect(lambda error: self._tell_refusal(name, label, error))
        field.settled.connect(self.error.hide)
        self._add_field(name, label, field)

    def _add_choice(self, name: str, label: str) -> None:
        field = QComboBox()
        field.activated.connect(partial(self._choose, name, label))
        self._add_field(name, label, field)

    def _add_field(self, name: str, label: str, field: Field | QComboBox) -> None:
        caption = Label(label)
        caption.setProperty("role", "quiet")
        caption.setBuddy(field)
        field.setAccessibleName(label)
        field.setObjectName(f"field-{name}")
        row = self._grid.rowCount()
        self._grid.addWidget(caption, row, 0)
        self._grid.addWidget(field, row, 1)
        self.fields[name] = field
        if name in INHERITED:
            origin = QPushButton()
            origin.setProperty("role", "link")
            origin.clicked.connect(partial(self._put_back, name))
            self._grid.addWidget(origin, row, 2)
            self.origins[name] = origin

    def _fill(self, lift: LiftModel, system: UnitSystem, *, anew: bool = True) -> None:
        if anew:
            self.error.hide()
        project = self._document.project
        assert project is not None
        shown = {
            name: _length(getattr(lift.section.shape, name), system)
            for name in SIZES
            if hasattr(lift.section.shape, name)
        }
        shape = self.fields["shape"]
        assert isinstance(shape, QComboBox)
        shape.setCurrentIndex(shape.findData(lift.section.shape.kind))
        shown |= {
            "cover": _length(lift.section.cover, system),
            "aggregate": _length(lift.values.aggregate, system),
            "bars": lift.section.bars,
            "ties": lift.section.ties,
            "knowledge": f"{lift.values.knowledge:g}",
            "lap_length": ""
            if lift.values.lap_length is None
            else _length(lift.values.lap_length, system),
        }
        if "hoops" in self.fields:
            shown["hoops"] = lift.section.hoops or "none"
        for name, text in shown.items():
            field = self.fields[name]
            assert isinstance(field, Field)
            field.show_text(text, anew=anew)
        grades: tuple[tuple[str, list[tuple[str, float]]], ...] = (
            ("concrete", [(c.name, c.strength) for c in project.concretes]),
            ("steel", [(s.name, s.yield_strength) for s in project.steels]),
        )
        for name, offered in grades:
            choice = self.fields[name]
            assert isinstance(choice, QComboBox)
            grades_shown = [choice.itemData(i) for i in range(choice.count())]
            if grades_shown != [grade for grade, _ in offered]:
                choice.clear()
                for grade, strength in offered:
                    text = format_quantity(strength, Dimension.STRESS, system)
                    choice.addItem(f"{grade}, {text}", grade)
            choice.setCurrentIndex(choice.findData(getattr(lift, name)))

        for name in ("laps", "age"):
            choice = self.fields[name]
            assert isinstance(choice, QComboBox)
            choice.setCurrentIndex(choice.findData(getattr(lift.values, name)))
        self._fill_ties(project, lift)
        sways = direction_words(project)["sway"]
        for axis in ("x", "y"):
            choice = self.fields[axis]
            assert isinstance(choice, QComboBox)
            if [choice.itemText(i) for i in range(choice.count())] != list(sways.values()):
                choice.clear()
                for key, text in sways.items():
                    choice.addItem(text, key)
            choice.setCurrentIndex(choice.findData(getattr(lift.values, axis).sway))
        held = self.fields["held"]
        assert isinstance(held, QComboBox)
        places = [unsupported for unsupported, _ in HELD]
        held.setCurrentIndex(places.index(tuple(sorted(lift.unsupported))))
        assert self._key is not None
        for name, button in self.origins.items():
            _show_origin(button, project, self._key, name)
        self._fold()

    def _fill_ties(self, project: Project, lift: LiftModel) -> None:
        """Offer the steels of ties; as the bars only where nothing else is inherited."""
        choice = self.fields["tie_steel"]
        assert isinstance(choice, QComboBox)
        assert self._key is not None
        mark, record = project.mark_by_name[self._key.mark], project.record_by_key[self._key]
        offered: list[tuple[str, str | None]] = [
            (grade.name, grade.name) for grade in project.steels
        ]
        if project.inherited(mark, record).tie_steel is None:
            offered.insert(0, ("as the bars", None))
        shown = [(choice.itemText(i), choice.itemData(i)) for i in range(choice.count())]
        if shown != offered:
            choice.clear()
            for text, key in offered:
                choice.addItem(text, key)
        names = [key for _, key in offered]
        choice.setCurrentIndex(names.index(lift.values.tie_steel))

    def _toggle_more(self) -> None:
        self._unfolded = not self._unfolded
        self._fold()

    def _fold(self) -> None:
        """Show what is rarely another only where it is wanted, or is the lift's own."""
        project, key = self._document.project, self._key
        assert project is not None
        assert key is not None
        own = project.record_by_key[key].own.given
        shown = self._unfolded or bool(project.by_key[key].unsupported)
        shown |= any(name in own for name in FOLDED)
        shape = project.by_key[key].section.shape
        shown |= any(getattr(shape, name, 0.0) for name in RARE)
        for name in (name for name in FOLDED if name in self.fields):
            row = self._grid.getItemPosition(self._grid.indexOf(self.fields[name]))[0] or 0
            asked = name != "knowledge" or project.by_key[key].values.age == "existing"
            for column in range(3):
                item = self._grid.itemAtPosition(row, column)
                widget = None if item is None else item.widget()
                if widget is not None:
                    widget.setVisible(shown and asked)
        self.more.setText("Less ▴" if shown else "More ▾")

    def _put_back(self, name: str, _: bool = False) -> None:
        """Let the lift have a value that it inherits, where it has its own."""
        project = self._document.project
        if project is None or self._key is None or project.origin(self._key, name) != "lift":
            return
        try:
            edit = partial(inherit, keys=[self._key], field=name)
            self._document.edit(f"Inherited {name} of {self._key}", edit)
        except InputError as error:
            self._tell_refusal(name, name.capitalize(), error)

    def _assume_sway(self, axis: str, index: int) -> None:
        """Assume of the lift by itself whether it takes part in sway."""
        choice = self.fields[axis]
        assert isinstance(choice, QComboBox)
        lift = self._current()
        direction = getattr(lift.values, axis).model_copy(update={"sway": choice.itemData(index)})
        self._replace(lift.with_values(**{axis: direction}), f"Sway along {axis}")

    def _hold(self, index: int) -> None:
        """Let the floor at the top hold the lift in some directions."""
        unsupported, _ = HELD[index]
        changed = self._current().model_copy(update={"unsupported": unsupported})
        self._replace(changed, "Floor at the top")

    def _tell_reading(self, label: str, reading: str) -> None:
        self.reading.setText(f"{label} is read as {reading}." if reading else "")
        self.reading.setVisible(bool(reading))

    def _tell_refusal(self, name: str, label: str, error: InputError) -> None:
        place = error.where.removeprefix("section").lstrip("., ")
        where = label if place in ("", name) else place[0].upper() + place[1:]
        self.error.setText(str(InputError(where, error.found, error.allowed)))
        self.error.show()

    def _read_length(self, text: str) -> str:
        return quantity_reading(text, Dimension.LENGTH, self._system)

    def _current(self) -> LiftModel:
        """The lift whose fields these are, as it is in the project."""
        project = self._document.project
        assert project is not None
        assert self._key is not None
        return project.by_key[self._key]

    def _replace(self, changed: LiftModel, label: str) -> None:
        assert self._key is not None
        if changed != self._current():
            self._document.replace_lift(self._key, changed, label)

    @property
    def _vocabulary(self) -> Vocabulary:
        project = self._document.project
        assert project is not None
        basis = project.basis
        return design_code(basis.code, basis.system, basis.annex).vocabulary

    @property
    def _system(self) -> UnitSystem:
        project = self._document.project
        assert project is not None
        return project.basis.system

    def _reshape(self, index: int) -> None:
        """Give the section another shape, as large as it is."""
        choice, lift = self.fields["shape"], self._current()
        assert isinstance(choice, QComboBox)
        project = self._document.project
        assert project is not None
        shape = as_kind(lift.section.shape, choice.itemData(index))
        section = with_corner_bars(
            lift.section.model_copy(update={"shape": shape}), project.basis.bars.own
        )
        try:
            self._replace(lift.model_copy(update={"section": section}), f"Shape {shape.kind}")
        except InputError as error:
            self._fill(lift, self._system)
            self._tell_refusal("shape", "Shape", error)

    def _edit_size(self, name: str, label: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            value = parse_quantity(text, Dimension.LENGTH, self._system, label)
            section = self._current().section
            shape = validated(section.shape, {name: value}, label, text, self._system)
            changed = section.model_copy(update={"shape": shape})
            self._replace(self._current().model_copy(update={"section": changed}), label)

        return commit

    def _take_section(self, section: SectionModel, label: str) -> None:
        """Take what was done in the drawing."""
        try:
            self._put_section(section, label)
        except InputError as error:
            self._tell(str(error))
            self.drawing.take_back()

    def _put_section(self, section: SectionModel, label: str) -> None:
        self._replace(self._current().model_copy(update={"section": section}), label)

    def _tell(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()

    def _edit_cover(self, text: str) -> None:
        value = parse_quantity(text, Dimension.LENGTH, self._system, "Cover to ties")
        lift = self._current()
        validated(lift.section, {"cover": value}, "Cover to ties", text, self._system)
        self._replace(lift.with_values(cover=value), "Cover")

    def _edit_aggregate(self, text: str) -> None:
        value = parse_quantity(text, Dimension.LENGTH, self._system, "Aggregate")
        lift = self._current()
        validated(lift.values, {"aggregate": value}, "Aggregate", text, self._system)
        self._replace(lift.with_values(aggregate=value), "Aggregate")

    def _edit_value(self, name: str, label: str) -> Callable[[str], None]:
        """Return what takes a number of the lift's values; a length, or a plain one."""
        dimension = Dimension.LENGTH if name == "lap_length" else Dimension.RATIO

        def commit(text: str) -> None:
            lift, value = self._current(), None
            if text.strip() or name == "knowledge":
                value = parse_quantity(text, dimension, self._system, label)
                validated(lift.values, {name: value}, label, text, self._system)
            self._replace(lift.with_values(**{name: value}), label)

        return commit

    def _edit_section(self, name: str, label: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            cleaned = " ".join(text.split())
            lift = self._current()
            if name == "bars" and not lift.section.placed:
                cleaned = self._written(cleaned)
            section = validated(lift.section, {name: cleaned}, label, text, self._system)
            self._replace(lift.model_copy(update={"section": section}), label)

        return commit

    def _edit_hoops(self, text: str) -> None:
        label, plain = "Hoops of ends", text.strip()
        hoops = None if plain.casefold() in ("", "none") else " ".join(plain.split())
        lift = self._current()
        section = validated(lift.section, {"hoops": hoops}, label, text, self._system)
        self._replace(lift.model_copy(update={"section": section}), label)

    def _written(self, call_out: str) -> str:
        """Return a call-out as the trade writes it."""
        project = self._document.project
        assert project is not None
        own = sizes_by_name(project.basis.bars.own)
        return canonical(call_out, "Main bars", own)

    def _choose(self, name: str, label: str, index: int) -> None:
        choice = self.fields[name]
        assert isinstance(choice, QComboBox)
        grade = choice.itemData(index)
        self._replace(self._current().with_values(**{name: grade}), label)


def _length(value: float, system: UnitSystem) -> str:
    return format_quantity(value, Dimension.LENGTH, system)


def _show_origin(button: QPushButton, project: Project, key: LiftKey, name: str) -> None:
    """Show what a lift has a value from; its own can be put back."""
    origin = project.origin(key, name)
    inherited = getattr(
        project.inherited(project.mark_by_name[key.mark], project.record_by_key[key]), name
    )
    words = {
        "lift": ("own ↺", f"The lift's own. Click to put it back to what it inherits: {inherited}"),
        "mark": (key.mark, f"Inherited from mark {key.mark}"),
        "storey": (key.storey, f"Inherited from storey {key.storey}"),
        "project": ("project", "Inherited from the project's basis"),
    }
    if name in ("x", "y"):
        inherited = direction_words(project)["sway"][inherited.sway]
        words["lift"] = ("own ↺", f"The lift's own. Click to inherit again: {inherited}")
    text, tip = words[origin]
    button.setText(menu_text(text))
    button.setToolTip(tip_text(tip))
    button.setEnabled(origin == "lift")
