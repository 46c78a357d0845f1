"""Qt view for values that a storey or a mark can give its lifts, or leave as inherited."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from fexro.core.quantities import Dimension, format_quantity, parse_quantity, quantity_reading
from fexro.desktop.directions import AGES, LAPS, direction_words
from fexro.desktop.document import Document
from fexro.desktop.form import Form, validated
from fexro.project.project import Project
from fexro.project.values import OwnValues, Values

__all__ = ["OwnValuesForm"]

INHERIT = ""
MEASURED = (("cover", "Cover"), ("aggregate", "Aggregate"))


class OwnValuesForm(Form):
    """Materials, cover, aggregate and sway; what is empty is inherited.

    Args:
        document: whose project it is.
        change: takes other values and what was changed.
    """

    def __init__(self, document: Document, change: Callable[[OwnValues, str], None]) -> None:
        super().__init__(document.typing, 150, 80)
        self._document, self._change = document, change
        self._own = OwnValues()
        self._inherited: Values | None = None
        self.choice("concrete", "Concrete", partial(self._choose, "concrete", "Concrete"))
        self.choice("steel", "Steel", partial(self._choose, "steel", "Steel"))
        for name, caption in MEASURED:
            self.line(name, caption, partial(self._measure, name, caption), self._read)
        self.choice("laps", "Bars lapped", partial(self._choose, "laps", "Laps"))
        caption = "Length of laps"
        self.line("lap_length", caption, partial(self._measure, "lap_length", caption), self._read)
        caption = "Steel of ties"
        self.choice("tie_steel", caption, partial(self._choose, "tie_steel", caption))
        self.choice("age", "Columns", partial(self._choose, "age", "Columns"))
        self.line("knowledge", "Knowledge factor", self._know)
        for axis in ("x", "y"):
            for name in ("frame", "ductility", "sway"):
                caption = f"{name.capitalize()} {axis}"
                self.choice(f"{name} {axis}", caption, partial(self._assume, axis, name, caption))

    def show_values(self, project: Project, own: OwnValues, inherited: Values) -> None:
        """Show own values, and what is inherited where there is none."""
        self._own, self._inherited = own, inherited
        for name, grades in (("concrete", project.concretes), ("steel", project.steels)):
            offered = [(INHERIT, f"inherited: {getattr(inherited, name)}")]
            offered += [(grade.name, grade.name) for grade in grades]
            self.show_choice(name, offered, getattr(own, name) or INHERIT)
        system = project.basis.system
        for name in (*(name for name, _ in MEASURED), "lap_length"):
            before = getattr(inherited, name)
            shown = "as required"
            if before is not None:
                shown = format_quantity(before, Dimension.LENGTH, system)
            self.fields[name].setPlaceholderText(f"inherited: {shown}")
            value = getattr(own, name)
            text = "" if value is None else format_quantity(value, Dimension.LENGTH, system)
            self.show_text(name, text)
        offered = [(INHERIT, f"inherited: {LAPS[inherited.laps]}"), *LAPS.items()]
        self.show_choice("laps", offered, own.laps or INHERIT)
        offered = [(INHERIT, f"inherited: {inherited.tie_steel or 'as the bars'}")]
        offered += [(grade.name, grade.name) for grade in project.steels]
        self.show_choice("tie_steel", offered, own.tie_steel or INHERIT)
        offered = [(INHERIT, f"inherited: {AGES[inherited.age]}"), *AGES.items()]
        self.show_choice("age", offered, own.age or INHERIT)
        self.fields["knowledge"].setPlaceholderText(f"inherited: {inherited.knowledge:g}")
        self.show_text("knowledge", "" if own.knowledge is None else f"{own.knowledge:g}")
        self.set_visible("knowledge", (own.age or inherited.age) == "existing")
        for axis in ("x", "y"):
            before, given = getattr(inherited, axis), getattr(own, axis)
            for name, choices in direction_words(project).items():
                offered = [(INHERIT, f"inherited: {choices[getattr(before, name)]}")]
                offered += choices.items()
                now = None if given is None else getattr(given, name)
                self.show_choice(f"{name} {axis}", offered, now or INHERIT)

    def _choose(self, name: str, label: str, grade: str) -> None:
        self._set(name, grade or None, label)

    def _assume(self, axis: str, name: str, label: str, key: str) -> None:
        """Assume something else of a direction, or what is inherited."""
        changed = self._own.with_direction(axis, name, key or None)
        if changed != self._own:
            self._change(changed, label)

    def _measure(self, name: str, caption: str, text: str) -> None:
        if not text.strip():
            self._set(name, None, caption)
            return
        project = self._document.project
        assert project is not None
        system = project.basis.system
        value = parse_quantity(text, Dimension.LENGTH, system, caption)
        validated(project.basis.values, {name: value}, caption, text, system)
        self._set(name, value, caption)

    def _know(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        value, caption, system = None, "Knowledge factor", project.basis.system
        if text.strip():
            value = parse_quantity(text, Dimension.RATIO, system, caption)
            validated(project.basis.values, {"knowledge": value}, caption, text, system)
        self._set("knowledge", value, caption)

    def _set(self, name: str, value: object, label: str) -> None:
        changed = self._own.model_copy(update={name: value})
        if changed != self._own:
            self._change(changed, label)

    def _read(self, text: str) -> str:
        project = self._document.project
        assert project is not None
        return quantity_reading(text, Dimension.LENGTH, project.basis.system) if text else ""
