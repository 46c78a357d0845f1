"""Qt view for typed values: one rule for every field of the project and of the pictures.

What is typed is committed when the field is left in any way, by Return, or before any command; it
is taken or refused with a reason. Esc takes back what was typed. Undo acts on the project.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit

from fexro.core.errors import InputError

__all__ = ["Field", "Typing"]

_STAYS = (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason)


class Typing(QObject):
    """What is typed in a field and not yet committed; there is at most one such field."""

    def __init__(self) -> None:
        super().__init__()
        self._field: Field | None = None
        self.refusal = ""  # why what was typed last is not taken

    def begin(self, field: Field) -> None:
        """Note that a field is typed into; what another holds is committed first."""
        if self._field is not field:
            self.settle()
            self._field = field

    def end(self, field: Field) -> None:
        """Note that a field holds nothing uncommitted any more."""
        if self._field is field:
            self._field = None

    def settle(self) -> bool:
        """Commit what is typed; tell whether it was taken, or nothing was."""
        field = self._held()
        return field is None or field.commit()

    def take_back(self) -> None:
        """Drop what is typed."""
        field = self._held()
        if field is not None:
            field.take_back()

    def _held(self) -> Field | None:
        """Return the field that holds something; one that went away with its form is forgotten."""
        if self._field is not None and sip.isdeleted(self._field):
            self._field = None
        return self._field


class Field(QLineEdit):
    """A line of text that shows a value and takes another.

    Args:
        typing: what notes that something is typed.
        commit: takes the text; raises InputError where it is refused.
        reading: tells how a text is read, empty where that is plain.

    Signals:
        told: how what is typed is read, or empty.
        refused: why what was typed is not taken.
        settled: a refusal is over: what was typed is taken back or typed anew.
    """

    told = pyqtSignal(str)
    refused = pyqtSignal(InputError)
    settled = pyqtSignal()

    def __init__(
        self,
        typing: Typing,
        commit: Callable[[str], None],
        reading: Callable[[str], str] | None = None,
    ) -> None:
        super().__init__()
        self._typing, self._commit, self._reading = typing, commit, reading
        self._shown = ""
        self._pending = self._refused = False
        self.textEdited.connect(self._edited)
        self.returnPressed.connect(self.commit)

    def show_text(self, text: str, *, anew: bool = True) -> None:
        """Show a value; what is typed and not yet committed stays.

        With `anew` what was refused gives way to it too.
        """
        self._shown = text
        if self._pending or (self._refused and not anew):
            return
        self._mark(False)
        if self.text() != text:
            self.setText(text)
            # What is longer than its field is read from its beginning.
            self.setCursorPosition(0)

    def commit(self) -> bool:
        """Hand over what is typed; tell whether it was taken, or nothing was typed."""
        if not self._pending:
            return True
        self._end()
        try:
            self._commit(self.text())
        except InputError as error:
            self._typing.refusal = str(error)
            if sip.isdeleted(self):
                return False
            self._mark(True)
            self.refused.emit(error)
            return False
        # What was taken may have made its form anew, and this field with it.
        if not sip.isdeleted(self) and not self._refused:
            self.setText(self._shown)
        return True

    def take_back(self) -> None:
        """Show the value again in place of what was typed or refused."""
        self._end()
        self._mark(False)
        self.setText(self._shown)
        self.selectAll()
        self.settled.emit()

    def event(self, event: QEvent | None) -> bool:
        """Keep Esc from the window while something can be taken back; leave undo to it."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            if event.key() == Qt.Key.Key_Escape and (self._pending or self._refused):
                event.accept()
                return True
            if _is_undo(event):
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Take back by Esc; where the project has nothing to undo, by undo too."""
        if event is not None and (event.key() == Qt.Key.Key_Escape or _is_undo(event)):
            if self._pending or self._refused:
                self.take_back()
            else:
                event.ignore()
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Commit; a menu or another window in front is not leaving."""
        if event is not None and event.reason() not in _STAYS:
            self.commit()
        super().focusOutEvent(event)

    def _edited(self, text: str) -> None:
        self._pending = True
        self._typing.begin(self)
        if self._refused:
            self._mark(False)
            self.settled.emit()
        self.told.emit(self._reading(text) if self._reading is not None else "")

    def _end(self) -> None:
        self._pending = False
        self._typing.end(self)
        self.told.emit("")

    def _mark(self, refused: bool) -> None:
        self._refused = refused
        if bool(self.property("refused")) == refused:
            return
        self.setProperty("refused", refused)
        style = self.style()
        assert style is not None
        style.unpolish(self)
        style.polish(self)


def _is_undo(event: QKeyEvent) -> bool:
    keys = QKeySequence.StandardKey
    return event.matches(keys.Undo) or event.matches(keys.Redo)
