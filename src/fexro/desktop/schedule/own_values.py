"""Qt view for values that a storey or a mark can give its lifts, or leave as inherited."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from fexro.core.quantities import Dimension, format_quantity, parse_quantity, quantity_reading
from fexro.desktop.document import Document
from fexro.desktop.form import Form, validated
from fexro.project.project import Project
from fexro.project.values import OwnValues, Values

__all__ = ["OwnValuesForm"]

INHERIT = ""


class OwnValuesForm(Form):
    """Concrete, steel and cover; what is empty is inherited.

    Args:
        document: whose project it is.
        change: takes other values and what was changed.
    """

    def __init__(self, document: Document, change: Callable[[OwnValues, str], None]) -> None:
        super().__init__(document.typing, 150, 80)
        self._document, self._change = document, change
        self._own = OwnValues()
        self.choice("concrete", "Concrete", partial(self._choose, "concrete", "Concrete"))
        self.choice("steel", "Steel", partial(self._choose, "steel", "Steel"))
        self.line("cover", "Cover", self._measure, self._read)

    def show_values(self, project: Project, own: OwnValues, inherited: Values) -> None:
        """Show own values, and what is inherited where there is none."""
        self._own = own
        for name, grades in (("concrete", project.concretes), ("steel", project.steels)):
            offered = [(INHERIT, f"inherited: {getattr(inherited, name)}")]
            offered += [(grade.name, grade.name) for grade in grades]
            self.show_choice(name, offered, getattr(own, name) or INHERIT)
        system = project.basis.system
        cover = format_quantity(inherited.cover, Dimension.LENGTH, system)
        field = self.fields["cover"]
        field.setPlaceholderText(f"inherited: {cover}")
        own_cover = own.cover
        self.show_text(
            "cover",
            "" if own_cover is None else format_quantity(own_cover, Dimension.LENGTH, system),
        )

    def _choose(self, name: str, label: str, grade: str) -> None:
        self._set(name, grade or None, label)

    def _measure(self, text: str) -> None:
        if not text.strip():
            self._set("cover", None, "Cover")
            return
        project = self._document.project
        assert project is not None
        system = project.basis.system
        value = parse_quantity(text, Dimension.LENGTH, system, "Cover")
        validated(project.basis.values, {"cover": value}, "Cover", text, system)
        self._set("cover", value, "Cover")

    def _set(self, name: str, value: object, label: str) -> None:
        changed = self._own.model_copy(update={name: value})
        if changed != self._own:
            self._change(changed, label)

    def _read(self, text: str) -> str:
        project = self._document.project
        assert project is not None
        return quantity_reading(text, Dimension.LENGTH, project.basis.system) if text else ""
