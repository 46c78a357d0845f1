"""Qt view for facts as captions and fields, each edit taken at once or refused with its reason."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from pydantic import BaseModel, ValidationError
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.fields import Field, Typing
from fexro.desktop.text import Label

__all__ = ["Form", "command_row", "validated"]


class Form(QWidget):
    """Captions and fields in a grid; what is refused is told below them.

    Args:
        typing: what notes that something is typed.
        width: of the fields, px.
        captions: least width of the captions, px.
    """

    def __init__(self, typing: Typing, width: int = 150, captions: int = 120) -> None:
        super().__init__()
        self._typing = typing
        self.fields: dict[str, Field | QComboBox] = {}
        self._grid = QGridLayout()
        self._grid.setColumnStretch(3, 1)
        self._grid.setColumnMinimumWidth(0, captions)
        self._grid.setColumnMinimumWidth(1, width)
        self._grid.setVerticalSpacing(3)
        self._grid.setHorizontalSpacing(12)
        self.reading, self.error = Label(), Label()
        self.reading.setProperty("role", "quiet")
        self.error.setProperty("role", "error")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(self._grid)
        for label in (self.reading, self.error):
            label.setWordWrap(True)
            label.hide()
            layout.addWidget(label)

    def line(
        self,
        name: str,
        caption: str,
        commit: Callable[[str], None],
        reading: Callable[[str], str] | None = None,
    ) -> Field:
        """Add a field that takes text."""
        field = Field(self._typing, commit, reading)
        field.told.connect(lambda text: self._tell(caption, text))
        field.refused.connect(lambda error: self.refuse(caption, error))
        field.settled.connect(self.error.hide)
        self._add(name, caption, field)
        return field

    def heading(self, text: str) -> None:
        """Add a line that says what the fields below it are about."""
        label = Label(text)
        label.setProperty("role", "heading")
        row = self._grid.rowCount()
        if row > 1:
            self._grid.setRowMinimumHeight(row, 10)
            row += 1
        self._grid.addWidget(label, row, 0, 1, 2)

    def choice(self, name: str, caption: str, choose: Callable[[str], None]) -> QComboBox:
        """Add a field that offers choices; `choose` is called with the key of the chosen one."""
        field = QComboBox()

        def chosen(index: int) -> None:
            self.error.hide()
            try:
                choose(field.itemData(index))
            except InputError as error:
                self.refuse(caption, error)

        field.activated.connect(chosen)
        self._add(name, caption, field)
        return field

    def show_text(self, name: str, text: str, *, anew: bool = True) -> None:
        """Show the value of a field that takes text."""
        field = self.fields[name]
        assert isinstance(field, Field)
        field.show_text(text, anew=anew)

    def show_choice(self, name: str, offered: Sequence[tuple[str, str]], chosen: str) -> None:
        """Show what a field offers, keys and texts, and which is chosen."""
        field = self.fields[name]
        assert isinstance(field, QComboBox)
        shown = [(field.itemData(i), field.itemText(i)) for i in range(field.count())]
        if shown != list(offered):
            field.clear()
            for key, text in offered:
                field.addItem(text, key)
        field.setCurrentIndex(field.findData(chosen))

    def set_visible(self, name: str, visible: bool) -> None:
        """Show a field and its caption, or hide them."""
        field = self.fields[name]
        row = self._grid.getItemPosition(self._grid.indexOf(field))[0]
        for column in range(2):
            item = self._grid.itemAtPosition(row or 0, column)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.setVisible(visible)

    def set_caption(self, name: str, text: str) -> None:
        """Call a field otherwise."""
        row = self._grid.getItemPosition(self._grid.indexOf(self.fields[name]))[0]
        item = self._grid.itemAtPosition(row or 0, 0)
        label = None if item is None else item.widget()
        if isinstance(label, Label):
            label.setText(text)
        self.fields[name].setAccessibleName(text)

    def refuse(self, caption: str, error: InputError) -> None:
        """Tell why what was given for a field is not taken."""
        where = error.where if "·" in error.where or "[" in error.where else caption
        self.error.setText(str(InputError(where, error.found, error.allowed)))
        self.error.show()

    def _tell(self, caption: str, reading: str) -> None:
        self.reading.setText(f"{caption} is read as {reading}." if reading else "")
        self.reading.setVisible(bool(reading))

    def _add(self, name: str, caption: str, field: Field | QComboBox) -> None:
        label = Label(caption)
        label.setProperty("role", "quiet")
        label.setBuddy(field)
        field.setAccessibleName(caption)
        field.setObjectName(f"field-{name}")
        row = self._grid.rowCount()
        self._grid.addWidget(label, row, 0)
        self._grid.addWidget(field, row, 1)
        self.fields[name] = field


def command_row(commands: Sequence[tuple[str, str]], run: Callable[[str], object]) -> QHBoxLayout:
    """Return a row of buttons for commands, ids and texts; `run` is called with the id."""
    row = QHBoxLayout()
    row.setSpacing(2)
    for key, text in commands:
        button = QPushButton(text)
        button.setProperty("role", "link")
        button.setObjectName(f"command-{key}")
        button.clicked.connect(lambda _=False, key=key: run(key))
        row.addWidget(button)
    row.addStretch(1)
    return row


def validated(model: Any, update: dict[str, Any], label: str, text: str, system: UnitSystem) -> Any:
    """Return a model with a value changed and validated.

    Raises:
        InputError: if the value is outside what the model allows.
    """
    assert isinstance(model, BaseModel)
    try:
        return type(model).model_validate({**model.model_dump(), **update})
    except ValidationError as error:
        problem = error.errors(include_url=False)[0]
        context = problem.get("ctx", {})
        measure = _measure(type(model), str(problem["loc"][0]))
        limits = {
            "ge": "{} or more",
            "gt": "more than {}",
            "le": "{} or less",
            "lt": "less than {}",
        }
        for kind, words in limits.items():
            if kind in context:
                allowed = words.format(_limit(float(context[kind]), measure, system))
                raise InputError(label, f"“{text}”", allowed) from None
        allowed = str(context.get("error", problem["msg"].lower()))
        raise InputError(label, f"“{text}”", allowed) from None


def _measure(model: type[BaseModel], name: str) -> str:
    """Return the unit of a field, as its model describes it."""
    described = model.model_json_schema()["properties"].get(name, {})
    known = [described, *described.get("anyOf", ())]
    found = next((one["description"] for one in known if "description" in one), "mm")
    return str(found).split(",")[0]


def _limit(value: float, measure: str, system: UnitSystem) -> str:
    """Write a limit in the units people see; lengths and stresses have others than their models."""
    dimensions = {"mm": Dimension.LENGTH, "MPa": Dimension.STRESS}
    if measure in dimensions:
        unit = unit_of(dimensions[measure], system)
        value, measure = value / unit.size, unit.symbol
    written = format_number(value, 0) if abs(value) >= 1e4 else f"{value:.4g}"
    return f"{written} {measure}"
