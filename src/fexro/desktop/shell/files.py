"""Opening, saving and leaving projects: what is asked, said and remembered."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QMimeData, QObject, QSettings, pyqtSignal
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox, QWidget

from fexro.core.errors import FexroError
from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.question import ask
from fexro.desktop.text import menu_text, tip_text
from fexro.project.beginning import new_project
from fexro.project.file import JSON_SUFFIX, SUFFIX
from fexro.project.journal import LostProject
from fexro.project.project import Project
from fexro.project.storage import ChangedOutsideError, FileState, backup_of
from fexro.project.template import with_template

__all__ = ["Files", "dropped_file"]

RECENT = 8
FILTER = (
    f"Fexro projects (*{SUFFIX} *{JSON_SUFFIX});;Container (*{SUFFIX});;"
    f"JSON, for version control (*{JSON_SUFFIX});;All files (*)"
)
GROUPS = ("open", "save")


class Files(QObject):
    """The files of a window.

    Args:
        document: what is opened and saved.
        settings: where recent files are remembered.
        window: what dialogs belong to.
        tell: says a sentence.

    Signals:
        working: a file is being read or written; carries a sentence.
        rested: that is over.
    """

    working = pyqtSignal(str)
    rested = pyqtSignal()

    def __init__(
        self,
        document: Document,
        settings: QSettings,
        window: QWidget,
        tell: Callable[[str], None],
    ) -> None:
        super().__init__(window)
        self._document, self._settings, self._window, self._tell = document, settings, window, tell
        self.busy = self._told_change = False

    def commands(self) -> list[Command]:
        """Return what can be done with files."""
        keys = QKeySequence.StandardKey
        return [
            Command("new", "New project", self.new, keys.New, self._idle, "open"),
            Command("open", "Open…", self.ask_open, keys.Open, self._idle, "open"),
            Command(
                "reopen",
                "Reopen the last project",
                self.reopen,
                "Ctrl+Shift+T",
                self._has_recent,
                "open",
            ),
            Command("demo", "Open the demo project", self.open_demo, "", self._idle, "open"),
            Command("save", "Save", self.save, keys.Save, self._has_project, "save"),
            Command("save_as", "Save as…", self.save_as, "Ctrl+Shift+S", self._has_project, "save"),
            Command(
                "close", "Close the project", self.close, keys.Close, self._has_project, "save"
            ),
        ]

    def _idle(self) -> bool:
        return not self.busy

    def _has_project(self) -> bool:
        return not self.busy and self._document.project is not None

    def open_project(
        self, project: Project, path: Path | None, state: FileState | None = None
    ) -> None:
        """Show a project that is already read from a file, whose state that was."""
        self._document.show_project(project, path, state)
        if path is not None:
            self._remember(path)

    def open_path(self, path: Path) -> bool:
        """Read a file and show it; a refusal is shown and the open project stays."""
        return self.may_leave() and self._read(path)

    def _read(self, path: Path) -> bool:
        try:
            with self._working(f"Opening {path.name} …"):
                self._document.open_file(path)
        except FexroError as error:
            self._tell(str(error))
            return False
        self._remember(path)
        return True

    @contextmanager
    def _working(self, text: str) -> Iterator[None]:
        """While a file is read or written: say so, and begin nothing else with files."""
        self.busy = True
        self.working.emit(text)
        try:
            yield
        finally:
            self.busy = False
            self.rested.emit()

    def recover(self, lost: LostProject) -> bool:
        """Show a project with the edits that were not saved; tell whether that was possible."""
        if self.busy or not self.may_leave():
            return False
        try:
            with self._working(f"Recovering {lost.name} …"):
                self._document.recover(lost)
        except FexroError as error:
            self._tell(str(error))
            return False
        return True

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open a project", self._folder(), FILTER
        )
        if name:
            self.open_path(Path(name))

    def new(self) -> None:
        """Begin a project; nothing is asked but whether the open one is to be saved."""
        if self.may_leave():
            self._document.show_project(with_template(new_project()), None)

    def close(self) -> None:
        """Leave the project; the window stays."""
        if self.may_leave():
            self._document.leave()

    def reopen(self) -> None:
        """Open the file that was open last, before the one that is."""
        path = self._document.path
        present = None if path is None else str(path.resolve())
        others = [name for name in self.recent() if name != present]
        if others:
            self.open_path(Path(others[0]))

    def _has_recent(self) -> bool:
        return self._idle() and bool(self.recent())

    def open_demo(self) -> None:
        """Show the demo project."""
        from fexro.demo.tarnholm import tarnholm_archive

        if self.may_leave():
            self._document.show_project(tarnholm_archive(), None)

    def save(self) -> bool:
        """Write the project where it was read from; ask where if nowhere."""
        if self._document.project is None:
            return False
        return self._write(self._document.path) if self._document.path else self.save_as()

    def save_as(self) -> bool:
        """Ask where to write the project, and write it."""
        project = self._document.project
        if project is None:
            return False
        suggestion = str(Path(self._folder()) / f"{project.name}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the project", suggestion, FILTER)
        if not name:
            return False
        return self._write(Path(name if name.endswith((SUFFIX, ".json")) else name + SUFFIX))

    def _write(self, path: Path, *, overwrite: bool = False) -> bool:
        try:
            with self._working(f"Saving {path.name} …"):
                self._document.save(path, overwrite=overwrite)
        except ChangedOutsideError as error:
            return self._decide_about_change(path, str(error))
        except FexroError as error:
            self._tell(str(error))
            return False
        self._remember(path)
        return True

    def _decide_about_change(self, path: Path, reason: str) -> bool:
        """Ask what to do with a file that another program changed; tell whether mine is saved."""
        choices = ("Keep mine", "Save as…", "Reload the file")
        explained = (
            f"{reason}\n\n{choices[0]}: the file becomes this project; what is in it now stays"
            f" beside it as {backup_of(path).name}.\n{choices[2]}: the edits made here are lost."
        )
        match ask(self._window, "The file was changed", explained, choices):
            case 0:
                return self._write(path, overwrite=True)
            case 1:
                return self.save_as()
            case 2:
                self._read(path)
        return False

    def may_leave(self) -> bool:
        """Ask about unsaved changes; tell whether the project may be left."""
        if self.busy:
            return False
        if not self._document.typing.settle():
            self._tell(f"{self._document.typing.refusal} Mend it or take it back with Esc first.")
            return False
        if not self._document.modified:
            return True
        project = self._document.project
        assert project is not None
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._window,
            "Unsaved changes",
            tip_text(f"Save the changes to {project.name}?"),
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def look_for_changes(self) -> None:
        """Say once that another program changed the file, when the window comes to the front."""
        if not self.busy and self._document.changed_outside():
            if not self._told_change:
                self._told_change = True
                self._tell(
                    f"{self._document.path} was changed by another program. Saving will ask what"
                    " to keep."
                )
        else:
            self._told_change = False

    def forget_changes(self) -> None:
        """Look anew when the window comes to the front again."""
        self._told_change = False

    def recent(self) -> list[str]:
        """Return the files opened last that are still there."""
        stored = self._settings.value("recent", [])
        names = [stored] if isinstance(stored, str) else list(stored or [])
        return [name for name in names if Path(name).exists()]

    def fill_recent(self, menu: QMenu) -> None:
        """Fill a menu with the files opened last."""
        menu.clear()
        for name in self.recent():
            action = menu.addAction(menu_text(name))
            assert action is not None
            action.triggered.connect(partial(self._open_recent, name))
        if menu.isEmpty():
            nothing = menu.addAction("No file yet")
            assert nothing is not None
            nothing.setEnabled(False)

    def _open_recent(self, name: str, _: bool = False) -> None:
        self.open_path(Path(name))

    def _remember(self, path: Path) -> None:
        name = str(path.resolve())
        names = [name, *(other for other in self.recent() if other != name)]
        self._settings.setValue("recent", names[:RECENT])

    def _folder(self) -> str:
        return str(self._document.path.parent) if self._document.path else str(Path.home())


def dropped_file(data: QMimeData | None) -> Path | None:
    """Return the one file that is dragged, if it is one."""
    urls = data.urls() if data is not None else []
    return Path(urls[0].toLocalFile()) if len(urls) == 1 and urls[0].isLocalFile() else None
