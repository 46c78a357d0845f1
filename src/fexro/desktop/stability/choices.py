"""Qt view for what is chosen where a code leaves room, and how directions are held, by scope."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, fields
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from fexro.core.codes.options import groups_of, options_of, word_of
from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, format_quantity, parse_quantity
from fexro.desktop.document import Document
from fexro.desktop.form import Form
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.edits.stability import (
    Where,
    made_bracing,
    set_bracing,
    set_direction,
    set_option,
)
from fexro.project.project import Project
from fexro.project.values import EndCondition, OwnValues, Values

__all__ = ["ChoicesPage"]

INHERIT = ""
SWAY_MOMENTS = {
    "cases": "those of flagged cases",
    "all": "the whole moment",
    "analysis": "none: second order is in the analysis",
}
ENDS = {
    "framing": "members framing in",
    "fixed": "fixed",
    "pinned": "pinned",
    "free": "free",
    "partial": "partial, with a value",
}
CAPTIONS = {
    "sway": "Sway",
    "sway_moments": "Comes with sway",
    "top": "Top",
    "bottom": "Foot",
    "base": "Foundation",
}
NUMBERS = {
    "clear": "Clear length",
    "factor": "Length factor, braced",
    "factor_sway": "Length factor, sway",
    "lasting": "Lasting share",
    "alpha_cr": "αcr given",
    "members": "Members in αm",
    "moment_shape": "c0 of the moment",
    "moment_factor": "β of the moment",
}


class ChoicesPage(QScrollArea):
    """Choices of the whole project, a storey, a mark or a lift; what is empty is inherited."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.code = QComboBox()
        self.code.setAccessibleName("Where it is chosen")
        self.code.activated.connect(lambda _: self.refresh())
        self.heading = Label()
        self.heading.setProperty("role", "headline")
        self.options: Form | None = None
        self.directions: dict[str, Form] = {}
        self._code_key: tuple[str, str] | None = None
        content = QWidget()
        content.setObjectName("content")
        self._cards = QGridLayout()
        self._cards.setHorizontalSpacing(14)
        top = QHBoxLayout()
        top.addWidget(self.heading)
        top.addWidget(self.code)
        top.addStretch(1)
        layout = QVBoxLayout(content)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addLayout(self._cards)
        layout.addStretch(1)
        self.setWidgetResizable(True)
        self.setWidget(content)

    @property
    def where(self) -> Where:
        """Whose choices are shown."""
        found: Where = self.code.currentData()
        return found

    def refresh(self) -> None:
        """Show the choices as they are."""
        project = self._document.project
        if project is None:
            return
        self._offer(project)
        key = project.basis.code, str(project.basis.system)
        if key != self._code_key:
            self._code_key = key
            self._build(project)
        inherited, own = self._values(project)
        self.heading.setText(f"{project.basis.design_code.name}: choices of")
        self._show_options(project, inherited, own)
        for axis, form in self.directions.items():
            self._show_direction(project, axis, form, inherited, own)

    def _offer(self, project: Project) -> None:
        offered: list[tuple[str, Where]] = [("the whole project", None)]
        offered += [(f"storey {s.name}", ("storey", s.name)) for s in project.storeys]
        offered += [(f"mark {m.name}", ("mark", m.name)) for m in project.marks]
        offered += [(f"lift {key}", key) for key in project.by_key]
        if [self.code.itemText(i) for i in range(self.code.count())] == [t for t, _ in offered]:
            return
        before = self.code.currentText()
        self.code.clear()
        for text, where in offered:
            self.code.addItem(text, where)
        self.code.setCurrentIndex(max(self.code.findText(before), 0))

    def _build(self, project: Project) -> None:
        clear_layout(self._cards)
        kind = project.basis.design_code.stability.options
        self.options = Form(self._document.typing, 130, 210)
        for title, options in groups_of(kind):
            self.options.heading(title)
            for option in options:
                self._add_option(self.options, option.name, option.metadata)
        self.directions = {}
        for axis in ("x", "y"):
            form = Form(self._document.typing, 130, 130)
            for name, caption in CAPTIONS.items():
                form.choice(name, f"{caption} {axis}", partial(self._direct, axis, name))
                if name in ("top", "bottom", "base"):
                    form.line(
                        f"{name} value",
                        f"{caption} {axis}, value",
                        partial(self._type_end, axis, name),
                    )
            reads = project.basis.design_code.stability.reads
            for name, caption in NUMBERS.items():
                if name in reads:
                    form.line(name, f"{caption} {axis}", partial(self._type, axis, name, caption))
            if "bracing" in reads:
                form.line("walls", f"Walls that brace {axis}", partial(self._type_walls, axis))
                form.choice("cracked", f"They are {axis}", partial(self._crack, axis))
                form.line("axial", f"All vertical load {axis}", partial(self._type_load, axis))
            self.directions[axis] = form
        for form, room in ((self.options, 210), *((one, 170) for one in self.directions.values())):
            for field in form.fields.values():
                field.setMaximumWidth(room)
        top = Qt.AlignmentFlag.AlignTop
        self._cards.addWidget(self.options, 0, 0, 2, 1, top)
        for column, (axis, form) in enumerate(self.directions.items(), start=1):
            label = Label(f"Along {axis} of the plan")
            label.setProperty("role", "heading")
            self._cards.addWidget(label, 0, column)
            self._cards.addWidget(form, 1, column, top)
        self._cards.setRowStretch(1, 1)
        self._cards.setColumnStretch(1 + len(self.directions), 1)

    def _add_option(self, form: Form, name: str, allowed: Mapping[Any, Any]) -> None:
        """Add the field of an option: of a number, or of a choice."""
        label = allowed["label"]
        if "low" in allowed:
            form.line(name, label, partial(self._type_option, name, label))
        else:
            form.choice(name, label, partial(self._choose, name, label))

    def _values(self, project: Project) -> tuple[Values, OwnValues | None]:
        """Return what would be inherited, and what is the scope's own; nothing of the project."""
        where, values = self.where, project.basis.values
        if where is None:
            return values, None
        if isinstance(where, LiftKey):
            record = project.record_by_key[where]
            return project.inherited(project.mark_by_name[where.mark], record), record.own
        kind, name = where
        if kind == "storey":
            return values, project.storey_by_name[name].own
        return values, project.mark_by_name[name].own

    def _show_options(self, project: Project, inherited: Values, own: OwnValues | None) -> None:
        assert self.options is not None
        kind = project.basis.design_code.stability.options
        before = options_of(kind, inherited.options, others=True)
        given = inherited.options if own is None else own.options
        for option in fields(kind):
            value = getattr(before, option.name)
            if "low" in option.metadata:
                field = self.options.fields[option.name]
                field.setPlaceholderText(f"{value:g}")
                text = f"{given[option.name]:g}" if option.name in given else ""
                self.options.show_text(option.name, text)
                continue
            choices = option.metadata.get("choices", (True, False))
            words = [(_key(c), word_of(c)) for c in choices]
            default = option.default if own is None else value
            assert default is not MISSING
            told = "default" if own is None else "inherited"
            offered = [(INHERIT, f"{told}: {word_of(default)}"), *words]
            chosen = _key(given[option.name]) if option.name in given else INHERIT
            self.options.show_choice(option.name, offered, chosen)

    def _show_direction(
        self, project: Project, axis: str, form: Form, inherited: Values, own: OwnValues | None
    ) -> None:
        before = getattr(inherited, axis)
        given = before if own is None else getattr(own, axis)
        system = project.basis.system
        words = project.basis.design_code.vocabulary
        sways = {"by rule": "by the code", "braced": words.braced, "sway": words.sway}
        for name, choices in (
            *(("sway", sways), ("sway_moments", SWAY_MOMENTS)),
            *((end, ENDS) for end in ("top", "bottom", "base")),
        ):
            was, now = getattr(before, name), None if given is None else getattr(given, name)
            if isinstance(was, EndCondition):
                shown = f"{now.value:g}" if now is not None and now.kind == "partial" else ""
                form.show_text(f"{name} value", shown)
                form.set_visible(f"{name} value", now is not None and now.kind == "partial")
                was, now = was.kind, None if now is None else now.kind
            offered = list(choices.items())
            if own is not None:
                offered = [(INHERIT, f"inherited: {choices[was]}"), *offered]
            form.show_choice(name, offered, now or INHERIT)
        for name in NUMBERS:
            if name not in form.fields:
                continue
            was, now = getattr(before, name), None if given is None else getattr(given, name)
            form.show_text(name, "" if now is None else _number(name, now, system))
            field = form.fields[name]
            field.setPlaceholderText("" if was is None else _number(name, was, system))
        if "walls" in form.fields:
            self._show_bracing(project, axis, form)

    def _show_bracing(self, project: Project, axis: str, form: Form) -> None:
        """Show the walls that brace the building; they are the whole project's."""
        bracing, system = getattr(project.basis, f"bracing_{axis}"), project.basis.system
        for name in ("walls", "cracked", "axial"):
            form.fields[name].setEnabled(self.where is None)
        walls = () if bracing is None else bracing.walls
        text = ", ".join(
            f"{format_quantity(w.length, Dimension.LENGTH, system)} × "
            f"{format_quantity(w.thickness, Dimension.LENGTH, system)}"
            for w in walls
        )
        form.show_text("walls", text)
        form.fields["walls"].setToolTip(
            "Length × thickness of each, such as 4250 × 250, 3000 × 200"
        )
        states = [("true", "cracked"), ("false", "uncracked")]
        form.show_choice("cracked", states, _key(bracing is None or bracing.cracked))
        axial = None if bracing is None else bracing.axial
        form.show_text(
            "axial", "" if axial is None else format_quantity(1e3 * axial, Dimension.FORCE, system)
        )

    def _type_walls(self, axis: str, text: str) -> None:
        system, walls = self._system(), []
        for part in text.split(",") if text.strip() else ():
            sides = part.replace("x", "×").split("×")
            if len(sides) != 2:
                allowed = "length × thickness of each wall, such as 4250 × 250, 3000 × 200"
                raise InputError(f"Walls that brace {axis}", f"“{part.strip()}”", allowed)
            length, thickness = (
                parse_quantity(side, Dimension.LENGTH, system, f"Walls that brace {axis}")
                for side in sides
            )
            walls.append({"length": length, "thickness": thickness})
        self._brace(axis, walls=walls)

    def _type_load(self, axis: str, text: str) -> None:
        load: float | None = None
        if text.strip():
            where = f"All vertical load {axis}"
            load = parse_quantity(text, Dimension.FORCE, self._system(), where) / 1e3
        self._brace(axis, axial=load)

    def _crack(self, axis: str, key: str) -> None:
        self._brace(axis, cracked=key == "true")

    def _brace(self, axis: str, **changed: Any) -> None:
        """Take other walls that brace the building, or what is said of them."""
        project = self._document.project
        assert project is not None
        before = getattr(project.basis, f"bracing_{axis}")
        given = {} if before is None else before.model_dump()
        given |= changed
        if before is None and "walls" not in changed:
            raise InputError(f"Walls that brace {axis}", "none", "walls first")
        bracing = made_bracing(given, axis) if given.get("walls") else None
        edit = partial(set_bracing, axis=axis, bracing=bracing)
        self._document.edit(f"Walls that brace {axis}", edit)

    def _choose(self, name: str, label: str, key: str) -> None:
        value: Any = {"true": True, "false": False}.get(key, key) if key else None
        self._document.edit(label, partial(set_option, where=self.where, name=name, value=value))

    def _type_option(self, name: str, label: str, text: str) -> None:
        value: float | None = None
        if text.strip():
            value = parse_quantity(text, Dimension.RATIO, self._system(), label)
        self._document.edit(label, partial(set_option, where=self.where, name=name, value=value))

    def _direct(self, axis: str, name: str, key: str) -> None:
        value: object = key or None
        if key and name in ("top", "bottom", "base"):
            value = EndCondition.model_validate({"kind": key})
        self._set(axis, name, value)

    def _type_end(self, axis: str, name: str, text: str) -> None:
        number = parse_quantity(text, Dimension.RATIO, self._system(), f"{CAPTIONS[name]} {axis}")
        if not 0 <= number <= 1e6:
            raise InputError(f"{CAPTIONS[name]} {axis}", f"“{text}”", "0 to 1 000 000")
        self._set(axis, name, EndCondition(kind="partial", value=number))

    def _type(self, axis: str, name: str, caption: str, text: str) -> None:
        value: float | None = None
        if text.strip():
            dimension = Dimension.LENGTH if name == "clear" else Dimension.RATIO
            value = parse_quantity(text, dimension, self._system(), f"{caption} {axis}")
        self._set(axis, name, value)

    def _set(self, axis: str, name: str, value: object) -> None:
        label = f"{(CAPTIONS | NUMBERS)[name]} {axis}"
        edit = partial(set_direction, where=self.where, axis=axis, name=name, value=value)
        self._document.edit(label, edit)

    def _system(self) -> Any:
        project = self._document.project
        assert project is not None
        return project.basis.system


def _key(value: object) -> str:
    return str(value).lower() if isinstance(value, bool) else str(value)


def _number(name: str, value: float, system: Any) -> str:
    if name == "clear":
        return format_quantity(value, Dimension.LENGTH, system)
    return f"{value:g}"
