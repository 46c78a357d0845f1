"""Qt view for several lifts: what is changed in all of them at once, its effect shown before."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

from pydantic import BaseModel
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, format_quantity, parse_quantity
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import canonical
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.form import Form, validated
from fexro.desktop.text import Label
from fexro.project.bars import sizes_by_name
from fexro.project.column import Group, LiftKey
from fexro.project.edits.groups import join_group, leave_groups, rename_group
from fexro.project.edits.lifts import change_lifts
from fexro.project.effects import Effect, effect_of, worst_of
from fexro.project.project import Project
from fexro.project.shapes import SIZES

__all__ = ["LiftsPanel"]

VARIOUS = "various"


class LiftsPanel(QFrame):
    """The lifts that are selected; a change waits until it is applied or dropped."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("side")
        self._document = document
        self._keys: tuple[LiftKey, ...] = ()
        self._groups: list[Group] = []
        self._changes: dict[str, object] = {}
        self._work: Background[Effect] = Background(self._show_effect, self)
        self.headline, self.effect = Label(), Label()
        self.headline.setProperty("role", "headline")
        for label in (self.headline, self.effect):
            label.setWordWrap(True)
        self.form = Form(document.typing, 150, 90)
        for name, caption in SIZES.items():
            self.form.line(name, caption, self._length(name, caption))
        self.form.line("cover", "Cover", self._length("cover", "Cover"))
        self.form.line("bars", "Main bars", partial(self._call_out, "bars"))
        self.form.line("ties", "Ties", partial(self._call_out, "ties"))
        self.form.choice("concrete", "Concrete", partial(self._choose, "concrete"))
        self.form.choice("steel", "Steel", partial(self._choose, "steel"))
        self.form.line("group", "Group", self._name_group)
        self.apply, self.drop = QPushButton("Apply"), QPushButton("Drop")
        self.drop.setProperty("role", "link")
        self.apply.clicked.connect(self.take)
        self.drop.clicked.connect(self.forget)
        row = QHBoxLayout()
        row.addWidget(self.apply)
        row.addWidget(self.drop)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 8)
        layout.setSpacing(8)
        layout.addWidget(self.headline)
        layout.addWidget(self.form)
        layout.addWidget(self.effect)
        layout.addLayout(row)
        layout.addStretch(1)

    def show_lifts(self, project: Project, keys: Sequence[LiftKey]) -> None:
        """Show what lifts have in common; a change of others that waits is dropped."""
        if tuple(keys) != self._keys:
            self._changes = {}
        self._keys = tuple(keys)
        self._refresh(project)

    def tell_governing(self) -> None:
        """Say anew which lift governs a group: results have come."""
        if self._groups:
            told = "".join(f" {self._governing(group)}" for group in self._groups[:3])
            self.headline.setText(f"{len(self._keys)} lifts are selected.{told}")

    def _refresh(self, project: Project) -> None:
        lifts = [project.by_key[key] for key in self._keys]
        groups = [g for g in project.groups if set(self._keys) & set(g.members)]
        told = "".join(f" {self._governing(group)}" for group in groups[:3])
        self.headline.setText(f"{len(lifts)} lifts are selected.{told}")
        self._groups = groups
        self.form.show_text("group", groups[0].name if len(groups) == 1 else "")
        field = self.form.fields["group"]
        field.setPlaceholderText(VARIOUS if groups else "none; a name makes one")
        system, shapes = project.basis.system, [lift.section.shape for lift in lifts]
        for name in (*SIZES, "cover"):
            found = {
                getattr(shape, name, None) if name != "cover" else lift.section.cover
                for shape, lift in zip(shapes, lifts, strict=True)
            }
            self.form.set_visible(name, bool(found - {None, 0.0}))
            self._show(
                name, {format_quantity(v, Dimension.LENGTH, system) for v in found if v is not None}
            )
        for name in ("bars", "ties"):
            self._show(name, {getattr(lift.section, name) for lift in lifts})
        for name, grades in (("concrete", project.concretes), ("steel", project.steels)):
            present = {getattr(lift, name) for lift in lifts}
            wanted = self._changes.get(name)
            offered = [("", VARIOUS)] if len(present) > 1 else []
            offered += [(grade.name, grade.name) for grade in grades]
            shown = (
                wanted if isinstance(wanted, str) else present.pop() if len(present) == 1 else ""
            )
            self.form.show_choice(name, offered, shown)
        waits = bool(self._changes)
        self.apply.setEnabled(waits)
        self.apply.setText(f"Apply to {len(lifts)} lifts")
        self.drop.setVisible(waits)
        if not waits:
            self._work.cancel()
            self.effect.setText("What is changed here is shown with its effect before it is taken.")

    def _governing(self, group: Group) -> str:
        """Return which lift of a group governs."""
        found = {k: r for k in group.members if (r := self._document.results.get(k)) is not None}
        if not found:
            return f"Group {group.name}, {len(group.members)} lifts."
        key, ratio = worst_of(found)
        shown = "–" if math.isnan(ratio) else f"{ratio:.2f}"
        return f"Group {group.name}, {len(group.members)} lifts: {key} governs, {shown}."

    def _name_group(self, text: str) -> None:
        """Name the group of the lifts, or make one of them under a name."""
        name, project = " ".join(text.split()), self._project
        groups = {g.name for k in self._keys if (g := project.group_by_key.get(k)) is not None}
        every = all(key in project.group_by_key for key in self._keys)
        if not name:
            if groups:
                edit = partial(leave_groups, keys=self._keys)
                self._document.edit(f"{len(self._keys)} lifts out of groups", edit)
        elif every and len(groups) == 1 and name not in {g.name for g in project.groups}:
            (old,) = groups
            self._document.edit(f"Name of {old}", partial(rename_group, name=old, new_name=name))
        elif not every or groups != {name}:
            results = self._document.results
            known = {k: results[k] for k in self._keys if k in results}
            like = worst_of(known)[0] if known else self._keys[0]
            join = partial(join_group, keys=self._keys, like=like, name=name)
            self._document.edit(f"Group {name}", join)

    def _show(self, name: str, texts: set[str]) -> None:
        field = self.form.fields[name]
        waiting = self._changes.get(name)
        if isinstance(waiting, float):
            system = self._project.basis.system
            text = format_quantity(waiting, Dimension.LENGTH, system)
        elif waiting is not None:
            text = str(waiting)
        else:
            text = texts.pop() if len(texts) == 1 else ""
        self.form.show_text(name, text)
        field.setPlaceholderText("" if text else VARIOUS)

    def _length(self, name: str, caption: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            if text.strip():
                project = self._project
                system = project.basis.system
                value = parse_quantity(text, Dimension.LENGTH, system, caption)
                wholes: set[BaseModel] = {project.basis.values} if name == "cover" else set()
                if name != "cover":
                    shapes = {project.by_key[key].section.shape for key in self._keys}
                    wholes = {shape for shape in shapes if hasattr(shape, name)}
                for whole in wholes:
                    validated(whole, {name: value}, caption, text, system)
                self._wait(name, value)

        return commit

    def _call_out(self, name: str, text: str) -> None:
        cleaned = " ".join(text.split())
        if cleaned:
            own = sizes_by_name(self._project.basis.bars.own)
            if name == "bars":
                cleaned = canonical(cleaned, name, own)
            else:
                parse_ties(cleaned, name, own)
            self._wait(name, cleaned)

    def _choose(self, name: str, grade: str) -> None:
        if grade:
            self._wait(name, grade)

    def _wait(self, name: str, value: object) -> None:
        """Let a change wait, and work out what all that wait would do."""
        changes = {**self._changes, name: value}
        after = self._edit(changes)(self._project)
        self._changes = changes
        self._refresh(self._project)
        self.effect.setText("Working out the effect …")
        self._work.start(partial(effect_of, self._project, after))
        if after.marks == self._project.marks:
            self.forget()

    def _edit(self, changes: dict[str, object]) -> Callable[[Project], Project]:
        return partial(
            change_lifts,
            keys=self._keys,
            section={k: str(v) for k, v in changes.items() if k in ("bars", "ties")},
            sizes={k: v for k, v in changes.items() if k in SIZES and isinstance(v, float)},
            values={k: v for k, v in changes.items() if k in ("cover", "concrete", "steel")},
        )

    def _show_effect(self, effect: Effect) -> None:
        self.effect.setText(str(effect))

    def take(self) -> None:
        """Make the change that waits, as one edit."""
        if not self._document.typing.settle() or not self._changes:
            return
        changes, self._changes = self._changes, {}
        names = ", ".join(name.replace("_", " ") for name in changes)
        label = f"{names.capitalize()} of {len(self._keys)} lifts"
        try:
            self._document.edit(label, self._edit(changes))
        except InputError as error:
            self._changes = changes
            self.form.refuse("lifts", error)

    def forget(self) -> None:
        """Drop the change that waits."""
        self._changes = {}
        self._refresh(self._project)

    @property
    def _project(self) -> Project:
        project = self._document.project
        assert project is not None
        return project
