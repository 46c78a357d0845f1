"""Qt view for the rules by which bars are proposed, and what steel, concrete and formwork cost."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, format_quantity, parse_quantity
from fexro.desktop.document import Document
from fexro.desktop.form import Form, validated
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.edits.sizing import set_own_sizing, set_sizing
from fexro.project.project import Project
from fexro.project.sizing_rules import OwnSizing, RatesModel

__all__ = ["RulesPage"]

AIMS = {
    "mass": "steel, by mass",
    "cost": "cost",
    "carbon": "carbon",
    "fewest bars": "number of bars",
    "fewest call-outs": "number of call-outs in the building",
    "mix": "a mix of mass, cost and carbon",
}
STACKS = {
    "free": "changes freely",
    "decreasing": "only decreases upwards",
    "constant": "is the same all along",
}
YES_NO = {"yes": True, "no": False}
NUMBERS = {
    "aim": "Utilisation aimed at",
    "least_bars": "Bars, at least",
    "most_bars": "Bars, at most",
}
RATIOS = {"least_ratio": "Steel, at least", "most_ratio": "Steel, at most"}
FLAGS = {
    "mixed": "Larger bars in corners",
    "faces": "Faces may differ",
    "symmetric": "Opposite ones alike",
}
NAMES = {"sizes": "Bar sizes", "ties": "Tie sizes"}
RATES = {
    "bars": "Bars, per kg",
    "ties": "Ties, per kg",
    "concrete": "Concrete, per m³",
    "strength": "and per m³ and MPa",
    "formwork": "Formwork, per m²",
    "bar": "Each bar placed",
}


def _word(value: bool) -> str:
    return "yes" if value else "no"


def _number(name: str, value: float) -> str:
    return f"{100 * value:g} %" if name in RATIOS else f"{value:g}"


class RulesPage(QScrollArea):
    """What may be proposed, what is to be small, and the rates; edits are taken at once."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.where = QComboBox()
        self.where.setAccessibleName("Whose rules")
        self.where.activated.connect(lambda _: self.refresh())
        self.rules = Form(document.typing, 240, 150)
        self.rules.heading("What is to be small")
        self.rules.choice("objective", "Smallest", partial(self._choose, "objective"))
        self.rules.line("weights", "Weights in a mix", self._weigh)
        self.rules.choice("stack", "Steel of a stack", partial(self._choose, "stack"))
        self.rules.heading("What may be proposed")
        for name, caption in NAMES.items():
            self.rules.line(name, caption, partial(self._list, name))
        self.rules.line("spacings", "Spacings of ties", self._space)
        for name, caption in FLAGS.items():
            self.rules.choice(name, caption, partial(self._flag, name))
        for name, caption in (NUMBERS | RATIOS).items():
            self.rules.line(name, caption, partial(self._number, name, caption))
        self.rates: dict[str, Form] = {}
        for kind, head in (("prices", "Prices"), ("carbon", "Carbon, kg CO₂e")):
            form = Form(document.typing, 110, 150)
            form.heading(head)
            for name, caption in RATES.items():
                form.line(name, caption, partial(self._rate, kind, name, caption))
            form.line("source", "Source", partial(self._source, kind))
            self.rates[kind] = form
        content = QWidget()
        content.setObjectName("content")
        grid, layout = QGridLayout(), QVBoxLayout(content)
        grid.setHorizontalSpacing(28)
        for column, form in enumerate((self.rules, *self.rates.values())):
            grid.addWidget(form, 0, column, Qt.AlignmentFlag.AlignTop)
        grid.setColumnStretch(3, 1)
        told = Label(
            "Indicative rates to begin with; put in your own. Sizes that are empty are all on offer"
            " in the basis; what is empty for a group, a mark or a lift is the project's."
        )
        told.setProperty("role", "quiet")
        layout.setContentsMargins(16, 4, 16, 10)
        whose = QHBoxLayout()
        whose.addWidget(Label("Rules of"))
        whose.addWidget(self.where)
        whose.addWidget(told, 1)
        layout.addLayout(whose)
        layout.addLayout(grid)
        layout.addStretch(1)
        self.setWidgetResizable(True)
        self.setWidget(content)

    def refresh(self) -> None:
        """Show the rules as they are."""
        project = self._document.project
        if project is None:
            return
        self._offer(project)
        rules, system, form = project.basis.sizing, project.basis.system, self.rules
        keys = self._keys()
        own = OwnSizing() if not keys else project.record_by_key[keys[0]].sizing or OwnSizing()
        for name in ("objective", "weights", "stack", "spacings"):
            form.fields[name].setEnabled(not keys)
        for rates in self.rates.values():
            rates.setEnabled(not keys)
        form.show_choice("objective", list(AIMS.items()), rules.objective)
        form.show_choice("stack", list(STACKS.items()), rules.stack)
        form.set_visible("weights", rules.objective == "mix")
        form.show_text("weights", " ".join(f"{one:g}" for one in rules.weights))
        shown = own if keys else rules
        for name in NAMES:
            form.show_text(name, " ".join(getattr(shown, name) or ()))
            offered = getattr(project.basis.bars, {"sizes": "main", "ties": "ties"}[name])
            inherited = getattr(rules, name) or offered
            form.fields[name].setPlaceholderText(f"on offer: {' '.join(inherited)}")
        spacings = [format_quantity(one, Dimension.LENGTH, system) for one in rules.spacings]
        form.show_text("spacings", ", ".join(spacings))
        for name in FLAGS:
            choices = [(word, word) for word in YES_NO]
            told, value = _word(getattr(rules, name)), getattr(shown, name)
            if keys:
                choices.insert(0, ("", f"the project's: {told}"))
            form.show_choice(name, choices, "" if value is None else _word(value))
        for name in (*NUMBERS, *RATIOS):
            value = getattr(shown, name)
            form.show_text(name, "" if value is None else _number(name, value))
            form.fields[name].setPlaceholderText(_number(name, getattr(rules, name)))
        for kind, rates in self.rates.items():
            model = getattr(rules, kind)
            for name in (*RATES, "source"):
                value = getattr(model, name)
                rates.show_text(name, value if isinstance(value, str) else f"{value:g}")

    def _offer(self, project: Project) -> None:
        """Offer whose rules are shown."""
        offered: list[tuple[str, tuple[LiftKey, ...]]] = [("the project", ())]
        offered += [(f"group {group.name}", group.members) for group in project.groups]
        for mark in project.marks:
            keys = tuple(key for key in project.by_key if key.mark == mark.name)
            offered.append((f"mark {mark.name}", keys))
        offered += [(f"lift {key}", (key,)) for key in project.by_key]
        texts = [self.where.itemText(i) for i in range(self.where.count())]
        if texts == [text for text, _ in offered]:
            return
        before = self.where.currentText()
        self.where.clear()
        for text, keys in offered:
            self.where.addItem(text, keys)
        self.where.setCurrentIndex(max(self.where.findText(before), 0))

    def _keys(self) -> tuple[LiftKey, ...]:
        """Return the lifts whose rules are shown; none for those of the project."""
        found: tuple[LiftKey, ...] = self.where.currentData() or ()
        return found

    def _project(self) -> Project:
        project = self._document.project
        assert project is not None
        return project

    def _edit(self, caption: str, **fields: Any) -> None:
        keys = self._keys()
        if keys:
            given = {name: None if value in ("", ()) else value for name, value in fields.items()}
            label = f"{caption} of {self.where.currentText()}"
            self._document.edit(label, lambda project: set_own_sizing(project, keys, **given))
        else:
            self._document.edit(caption, partial(set_sizing, **fields))

    def _choose(self, name: str, key: str) -> None:
        self._edit("Rules of sizing", **{name: key})

    def _flag(self, name: str, word: str) -> None:
        self._edit(FLAGS[name], **{name: YES_NO.get(word, "")})

    def _list(self, name: str, text: str) -> None:
        self._edit(NAMES[name], **{name: tuple(text.replace(",", " ").split())})

    def _space(self, text: str) -> None:
        system = self._project().basis.system
        parts = [part for part in text.split(",") if part.strip()]
        found = [parse_quantity(part, Dimension.LENGTH, system, "Spacings") for part in parts]
        self._checked("spacings", "Spacings of ties", text, tuple(sorted(found, reverse=True)))

    def _weigh(self, text: str) -> None:
        parts = text.replace(",", " ").split()
        if len(parts) != 3:
            raise InputError("Weights", f"“{text}”", "three numbers: of mass, cost and carbon")
        system = self._project().basis.system
        found = tuple(parse_quantity(part, Dimension.RATIO, system, "Weights") for part in parts)
        self._checked("weights", "Weights", text, found)

    def _number(self, name: str, caption: str, text: str) -> None:
        system = self._project().basis.system
        bare = text.replace("%", "").strip()
        if not bare and self._keys():
            self._edit(caption, **{name: ""})
            return
        value: float = parse_quantity(bare, Dimension.RATIO, system, caption)
        if name in RATIOS:
            value /= 100
        if name.endswith("_bars"):
            value = int(value)
        self._checked(name, caption, text, value)

    def _checked(self, name: str, caption: str, text: str, value: object) -> None:
        project = self._project()
        validated(project.basis.sizing, {name: value}, caption, text, project.basis.system)
        self._edit(caption, **{name: value})

    def _rate(self, kind: str, name: str, caption: str, text: str) -> None:
        project = self._project()
        rates: RatesModel = getattr(project.basis.sizing, kind)
        value = parse_quantity(text, Dimension.RATIO, project.basis.system, caption)
        changed = validated(rates, {name: value}, caption, text, project.basis.system)
        self._edit(caption, **{kind: changed})

    def _source(self, kind: str, text: str) -> None:
        project = self._project()
        rates: RatesModel = getattr(project.basis.sizing, kind)
        cleaned = " ".join(text.split()) or "indicative"
        changed = validated(rates, {"source": cleaned}, "Source", text, project.basis.system)
        self._edit("Source", **{kind: changed})
