"""The main window: top bar, notices, the stages, files, undo, the palette."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QByteArray, QEvent, QMimeData, QPointF, QSettings, Qt
from PyQt6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeySequence,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import (
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMessageBox,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fexro.core.codes.registry import codes_on_offer, design_code
from fexro.core.errors import FexroError
from fexro.core.findings import State
from fexro.core.members.verdict import verdict_of
from fexro.desktop.document import Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.fields import Field
from fexro.desktop.handbook import Handbook
from fexro.desktop.palette import Entry, Palette
from fexro.desktop.question import ask
from fexro.desktop.recovery import RecoveryBar
from fexro.desktop.schedule.page import SchedulePage
from fexro.desktop.start import StartPage
from fexro.desktop.text import Label, menu_text, tip_text
from fexro.desktop.theme import choose_theme, current_theme
from fexro.project.column import LiftKey
from fexro.project.file import SUFFIX
from fexro.project.journal import LostProject
from fexro.project.project import Project
from fexro.project.storage import ChangedOutsideError, FileState, backup_of

if TYPE_CHECKING:  # the bench is imported when first needed, so that the window is there sooner
    from fexro.desktop.bench.page import BenchPage

__all__ = ["Window"]

RECENT = 8
FILE_ACTIONS = ("open", "demo", "save", "save_as", "quit")
PICTURE_ACTIONS = (
    *("nm", "mm", "surface", "stresses", "fit_demands", "pin", "other_bars"),
    *("hold", "copy_picture", "copy_numbers", "save_picture"),
)
FILTER = f"Fexro project (*{SUFFIX});;All files (*)"


class Window(QMainWindow):
    """The application's window."""

    def __init__(self, document: Document, settings: QSettings) -> None:
        super().__init__()
        self.document, self._settings = document, settings
        self.setAcceptDrops(True)
        self.setMinimumSize(960, 600)
        self.actions_by_name: dict[str, QAction] = {}
        self._bench: BenchPage | None = None
        self._busy = self._told_change = False
        self._handbook: Handbook | None = None
        self._make_actions()
        self._make_content()
        self._make_status()
        self.palette_ = Palette(self.centralWidget() or self, self._entries)
        document.opened.connect(self._opened)
        document.saved_changed.connect(self._show_saved)
        document.edited.connect(self._show_checking)
        document.checked.connect(self._show_checking)
        document.told.connect(self.show_notice)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._restyle)
        choose_theme(str(settings.value("theme", "")))
        self._restyle()
        self._restore()
        self._show_saved()

    # What is in the window

    def _make_content(self) -> None:
        central = QWidget()
        layout = QVBoxLayout(central)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._make_bar())
        layout.addWidget(self._make_notice())
        self.recovery = RecoveryBar()
        self.recovery.wanted.connect(self.recover)
        layout.addWidget(self.recovery)
        self.pages = QStackedWidget()
        self.start = StartPage(self._recent_files)
        self.start.wanted.connect(lambda name: self.open_path(Path(name)))
        self.start.browse.connect(self.ask_open)
        self.start.demo.connect(self.open_demo)
        self.schedule = SchedulePage(self.document)
        self.schedule.opened.connect(self.open_bench)
        self.pages.addWidget(self.start)
        self.pages.addWidget(self.schedule)
        layout.addWidget(self.pages, 1)
        self.setCentralWidget(central)

    def _make_bar(self) -> QFrame:
        bar = QFrame()
        bar.setObjectName("bar")
        self.menu_button = QPushButton("Menu")
        self.menu_button.setMenu(self._make_menu())
        self.menu_button.setToolTip("File, edit, view (F10)")
        self.title, self.saved = Label(), Label()
        self.title.setProperty("role", "title")
        self.saved.setProperty("role", "quiet")
        search = QPushButton("Go to a member, combination, command…   Ctrl K")
        search.setProperty("role", "search")
        search.setMinimumWidth(320)
        search.clicked.connect(self.open_palette)
        self.code, self.units = QPushButton(), Label()
        self.code.setToolTip("Change the design code")
        self.code.setMenu(self._make_code_menu())
        row = QHBoxLayout(bar)
        row.setContentsMargins(12, 7, 16, 7)
        row.setSpacing(10)
        row.addWidget(self.menu_button)
        row.addWidget(self.title)
        row.addWidget(self.saved, 1)
        row.addWidget(search)
        spacer = QWidget()
        spacer.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        row.addWidget(spacer, 1)
        self.units.setProperty("role", "chip")
        for chip in (self.code, self.units):
            row.addWidget(chip)
        return bar

    def _make_code_menu(self) -> QMenu:
        menu = QMenu(self)
        for offer in codes_on_offer():
            for annex in offer.annexes:
                action = QAction(f"Check to {offer.title(annex)}", self)
                change = partial(self.change_code, offer.key, annex)
                action.triggered.connect(_without_argument(change))
                self.addAction(action)
                self.actions_by_name[f"code {offer.title(annex)}"] = action
                menu.addAction(action)
        return menu

    def change_code(self, code: str, annex: str) -> None:
        """Put the project on another design code."""
        project = self.document.project
        if project is not None:
            basis = project.basis.model_copy(update={"code": code, "annex": annex})
            if basis != project.basis:
                self.document.change_basis(basis, f"Design code {code}")

    def _make_notice(self) -> QFrame:
        self.notice = QFrame()
        self.notice.setObjectName("notice")
        self.notice_text = Label()
        self.notice_text.setWordWrap(True)
        self.notice_text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        close = QPushButton("Dismiss")
        close.setProperty("role", "link")
        close.clicked.connect(self.notice.hide)
        row = QHBoxLayout(self.notice)
        row.setContentsMargins(16, 6, 12, 6)
        row.addWidget(self.notice_text, 1)
        row.addWidget(close)
        self.notice.hide()
        return self.notice

    def _make_status(self) -> None:
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)
        self.check_time = Label()
        self.check_time.setContentsMargins(10, 0, 0, 0)
        bar.addWidget(self.check_time)
        self.progress, self.stop_checking = QProgressBar(), QPushButton("Cancel")
        self.progress.setFixedWidth(180)
        self.progress.setTextVisible(False)
        self.check_rest = QPushButton("Check the rest")
        self.stop_checking.clicked.connect(self.document.cancel)
        self.check_rest.clicked.connect(self.document.check_rest)
        for button in (self.stop_checking, self.check_rest):
            button.setProperty("role", "link")
        for widget in (self.progress, self.stop_checking, self.check_rest):
            widget.hide()
            bar.addWidget(widget)
        for state in (State.SATISFIED, State.ATTENTION, State.NOT_CHECKED, State.EXCEEDED):
            bar.addPermanentWidget(_Legend(state))

    def _make_actions(self) -> None:
        keys = QKeySequence.StandardKey
        for name, text, keys_, slot in (
            ("open", "Open…", keys.Open, self.ask_open),
            ("demo", "Open the demo project", "", self.open_demo),
            ("save", "Save", keys.Save, self.save),
            ("save_as", "Save as…", "Ctrl+Shift+S", self.save_as),
            ("undo", "Undo", keys.Undo, self.document.undo),
            ("redo", "Redo", "Ctrl+Shift+Z", self.document.redo),
            ("go_to", "Go to…", "Ctrl+K", self.open_palette),
            ("schedule", "Schedule", "Ctrl+1", self.show_schedule),
            ("bench", "Bench of the selected lift", "Ctrl+2", self.open_bench),
            ("above", "Lift above", "Ctrl+Up", lambda: self._step(-1)),
            ("below", "Lift below", "Ctrl+Down", lambda: self._step(1)),
            ("nm", "Picture: N–M", "Alt+1", lambda: self._picture(0)),
            ("mm", "Picture: Mx–My", "Alt+2", lambda: self._picture(1)),
            ("surface", "Picture: surface", "Alt+3", lambda: self._picture(2)),
            ("stresses", "Picture: stresses", "Alt+4", lambda: self._picture(3)),
            ("fit", "Fit the picture", "Ctrl+0", lambda: self.bench.pictures.fit()),
            ("fit_demands", "Fit the demands", "Ctrl+9", lambda: self.bench.pictures.fit_demands()),
            ("pin", "Pin the plane", "Alt+P", lambda: self.bench.pictures.pinned.toggle()),
            ("other_bars", "Other bars", "Alt+B", lambda: self.bench.pictures.other_bars.toggle()),
            ("hold", "Hold this version to compare", "", self._hold_version),
            *(
                ("copy_picture", "Copy the picture", "Ctrl+Shift+C", self._copy_picture),
                ("copy_numbers", "Copy the numbers of the curve", "", self._copy_numbers),
                ("save_picture", "Save the picture…", "", self._save_picture),
            ),
            ("light", "Light theme", "", lambda: self.set_theme("light")),
            ("dark", "Dark theme", "", lambda: self.set_theme("dark")),
            ("desktop", "Theme of the desktop", "", lambda: self.set_theme("")),
            ("handbook", "Handbook", keys.HelpContents, self.open_handbook),
            ("quit", "Quit", keys.Quit, self.close),
        ):
            action = QAction(text, self)
            action.setShortcut(QKeySequence(keys_))
            command = slot if name in ("undo", "redo") else partial(self._after_typing, slot)
            action.triggered.connect(_without_argument(command))
            self.addAction(action)
            self.actions_by_name[name] = action
        for name, keys_, slot in (
            ("escape", "Esc", self._escape),
            ("menu", "F10", lambda: self.menu_button.showMenu()),
        ):
            action = QAction(self)
            action.setShortcut(QKeySequence(keys_))
            action.triggered.connect(_without_argument(slot))
            self.addAction(action)
            self.actions_by_name[name] = action

    def _after_typing(self, command: Callable[[], object]) -> None:
        """Run a command once what is typed is committed; where that is refused, say so first."""
        if self.document.typing.settle():
            command()
        else:
            self.show_notice(
                f"{self.document.typing.refusal} Mend it, take it back with Esc, or give the"
                " command again to go on without it."
            )

    def _make_menu(self) -> QMenu:
        menu, actions = QMenu(self), self.actions_by_name
        self.recent_menu = QMenu("Open recent", menu)
        self.recent_menu.aboutToShow.connect(self._fill_recent)
        menu.addAction(actions["open"])
        menu.addMenu(self.recent_menu)
        menu.addAction(actions["demo"])
        for group in (
            ("save", "save_as"),
            ("undo", "redo"),
            ("go_to", "schedule", "bench", "above", "below"),
            ("nm", "mm", "surface", "stresses", "fit", "fit_demands", "pin", "other_bars"),
            ("hold", "copy_picture", "copy_numbers", "save_picture"),
            ("light", "dark", "desktop"),
            ("handbook",),
            ("quit",),
        ):
            menu.addSeparator()
            menu.addActions([actions[name] for name in group])
        return menu

    # Files

    def open_project(
        self, project: Project, path: Path | None, state: FileState | None = None
    ) -> None:
        """Show a project that is already read from a file, whose state that was."""
        self.document.show_project(project, path, state)
        if path is not None:
            self._remember(path)

    def open_path(self, path: Path) -> bool:
        """Read a file and show it; a refusal is shown and the open project stays."""
        return self._may_leave() and self._read(path)

    def _read(self, path: Path) -> bool:
        try:
            with self._working(f"Opening {path.name} …"):
                self.document.open_file(path)
        except FexroError as error:
            self.show_notice(str(error))
            return False
        self._remember(path)
        return True

    @contextmanager
    def _working(self, text: str) -> Iterator[None]:
        """While a file is read or written: say so, and begin nothing else with files."""
        self._busy = True
        self.check_time.setText(text)
        for name in FILE_ACTIONS:
            self.actions_by_name[name].setEnabled(False)
        try:
            yield
        finally:
            self._busy = False
            for name in FILE_ACTIONS:
                self.actions_by_name[name].setEnabled(True)
            self._show_saved()
            self._show_checking(frozenset())

    def offer_lost_projects(self) -> None:
        """Offer to recover what was open with unsaved edits when a process ended."""
        self.recovery.show_lost(self.document.lost_projects())

    def recover(self, lost: LostProject) -> None:
        """Show a project with the edits that were not saved."""
        if self._busy or not self._may_leave():
            return
        try:
            with self._working(f"Recovering {lost.name} …"):
                self.document.recover(lost)
        except FexroError as error:
            self.show_notice(str(error))
        else:
            self.recovery.drop(lost)

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a project", self._folder(), FILTER)
        if name:
            self.open_path(Path(name))

    def open_demo(self) -> None:
        """Show the demo project."""
        from fexro.demo.tarnholm import tarnholm_archive

        if self._may_leave():
            self.document.show_project(tarnholm_archive(), None)

    def save(self) -> bool:
        """Write the project where it was read from; ask where if nowhere."""
        if self.document.project is None:
            return False
        return self._write(self.document.path) if self.document.path else self.save_as()

    def save_as(self) -> bool:
        """Ask where to write the project, and write it."""
        project = self.document.project
        if project is None:
            return False
        suggestion = str(Path(self._folder()) / f"{project.name}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self, "Save the project", suggestion, FILTER)
        if not name:
            return False
        return self._write(Path(name if name.endswith(".json") else name + SUFFIX))

    def _write(self, path: Path, *, overwrite: bool = False) -> bool:
        try:
            with self._working(f"Saving {path.name} …"):
                self.document.save(path, overwrite=overwrite)
        except ChangedOutsideError as error:
            return self._decide_about_change(path, str(error))
        except FexroError as error:
            self.show_notice(str(error))
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
        match ask(self, "The file was changed", explained, choices):
            case 0:
                return self._write(path, overwrite=True)
            case 1:
                return self.save_as()
            case 2:
                self._read(path)
        return False

    def _may_leave(self) -> bool:
        """Ask about unsaved changes; tell whether the project may be left."""
        if self._busy:
            return False
        if not self.document.typing.settle():
            self.show_notice(
                f"{self.document.typing.refusal} Mend it or take it back with Esc first."
            )
            return False
        if not self.document.modified:
            return True
        project = self.document.project
        assert project is not None
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Unsaved changes",
            tip_text(f"Save the changes to {project.name}?"),
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def _recent_files(self) -> list[str]:
        stored = self._settings.value("recent", [])
        names = [stored] if isinstance(stored, str) else list(stored or [])
        return [name for name in names if Path(name).exists()]

    def _remember(self, path: Path) -> None:
        name = str(path.resolve())
        names = [name, *(other for other in self._recent_files() if other != name)]
        self._settings.setValue("recent", names[:RECENT])

    def _fill_recent(self) -> None:
        self.recent_menu.clear()
        for name in self._recent_files():
            action = self.recent_menu.addAction(menu_text(name))
            assert action is not None
            action.triggered.connect(_without_argument(partial(self.open_path, Path(name))))
        if self.recent_menu.isEmpty():
            nothing = self.recent_menu.addAction("No file yet")
            assert nothing is not None
            nothing.setEnabled(False)

    def _folder(self) -> str:
        return str(self.document.path.parent) if self.document.path else str(Path.home())

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Accept a file dragged onto the window."""
        if event is not None and _dropped_file(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the file dropped."""
        path = _dropped_file(event.mimeData()) if event is not None else None
        if event is not None and path is not None:
            event.acceptProposedAction()
            self.open_path(path)

    # Going about

    @property
    def bench(self) -> BenchPage:
        """The bench, made when first needed."""
        if self._bench is None:
            from fexro.desktop.bench.page import BenchPage

            self._bench = BenchPage(self.document)
            self._bench.left.connect(self.show_schedule)
            self._bench.pictures.failed.connect(self.show_notice)
            self._bench.restore_layout(self._settings.value("bench", []))
            self.pages.addWidget(self._bench)
        return self._bench

    def open_bench(self, key: LiftKey | None = None) -> None:
        """Show the bench of a lift, or of the selected one."""
        if key is not None:
            self.document.selection.select_lift(key)
        if self.document.selection.lift is not None:
            self.pages.setCurrentWidget(self.bench)
            self.bench.refresh()
            self.bench.combinations.setFocus()

    def show_schedule(self) -> None:
        """Show the schedule."""
        if self.document.project is not None:
            self.pages.setCurrentWidget(self.schedule)
            self.schedule.view.setFocus()

    def open_handbook(self) -> None:
        """Open the page of the handbook for the view in front."""
        if self._handbook is None:
            self._handbook = Handbook(self)
        if isinstance(self.focusWidget(), Field):
            page = "values"
        elif self.pages.currentWidget() is self.start:
            page = "index"
        else:
            page = "schedule" if self.pages.currentWidget() is self.schedule else "bench"
        if not self._handbook.show_page(page):
            self.show_notice("The handbook is not installed beside Fexro.")

    def open_palette(self) -> None:
        """Open the palette."""
        self.palette_.open()

    def _escape(self) -> None:
        if self.notice.isVisible():
            self.notice.hide()
        elif self._bench is not None and self.pages.currentWidget() is self._bench:
            self.show_schedule()

    def _step(self, by: int) -> None:
        if self._bench is not None and self.pages.currentWidget() is self._bench:
            self._bench.step(by)

    def _picture(self, number: int) -> None:
        self.open_bench()
        self.bench.pictures.show_view(number)

    def _hold_version(self) -> None:
        self.bench.pictures.compare.hold()

    def _copy_picture(self) -> None:
        self.bench.pictures.copy_picture()

    def _copy_numbers(self) -> None:
        self.bench.pictures.copy_numbers()

    def _save_picture(self) -> None:
        self.bench.pictures.ask_save_picture()

    def _entries(self) -> list[Entry]:
        entries = []
        project, selection = self.document.project, self.document.selection
        if project is not None:
            for key in project.by_key:
                result = self.document.results.get(key)
                hint = "" if result is None else verdict_of(result, project.basis.system)
                entries.append(Entry(str(key), hint, partial(self.open_bench, key)))
            if selection.lift is not None:
                for c in project.combinations:
                    entries.append(
                        Entry(c.name, c.expression, partial(self._show_combination, c.name))
                    )
        for action in self.actions_by_name.values():
            if action.text() and action.isEnabled():
                entries.append(Entry(action.text(), action.shortcut().toString(), action.trigger))
        return entries

    def _show_combination(self, name: str) -> None:
        self.document.selection.select_combination(name)
        self.open_bench()

    # Showing how things are

    def show_notice(self, text: str) -> None:
        """Show a sentence above the page until it is dismissed."""
        self.notice_text.setText(text)
        self.notice.show()

    def _opened(self) -> None:
        project = self.document.project
        assert project is not None
        self.notice.hide()
        self.title.setText(project.name)
        self._show_basis()
        self.show_schedule()

    def _show_basis(self) -> None:
        project = self.document.project
        assert project is not None
        basis = project.basis
        self.code.setText(design_code(basis.code, basis.system, basis.annex).name)
        si = basis.units == "SI"
        self.units.setText("kN · m · mm" if si else "kip · ft · in")

    def _show_saved(self) -> None:
        project, document = self.document.project, self.document
        for chip in (self.code, self.units):
            chip.setVisible(project is not None)
        for name, label in (("undo", document.undo_label), ("redo", document.redo_label)):
            action = self.actions_by_name[name]
            action.setEnabled(label is not None)
            action.setText(f"{name.capitalize()}: {label}" if label else name.capitalize())
        for name in (
            *("save", "save_as", "schedule", "bench", "above", "below", "fit"),
            *PICTURE_ACTIONS,
            *(name for name in self.actions_by_name if name.startswith("code ")),
        ):
            self.actions_by_name[name].setEnabled(project is not None)
        if project is None:
            self.title.setText("Fexro")
            self.setWindowTitle("Fexro")
            return
        self._show_basis()
        parts = [f"Rev {project.revision}"] if project.revision else []
        if document.modified:
            parts.append("unsaved changes")
        else:
            parts.append("saved" if document.path else "not saved to a file")
        self.saved.setText(" · ".join(parts))
        name = project.name.replace("[*]", "[*][*]")
        self.setWindowTitle(f"{name}[*] – Fexro")
        self.setWindowModified(document.modified)

    def _show_checking(self, _: frozenset[LiftKey]) -> None:
        project, document = self.document.project, self.document
        if project is None:
            return
        total, busy = len(project.by_key), document.busy
        for widget, shown in (
            (self.progress, busy),
            (self.stop_checking, busy),
            (self.check_rest, not busy and not document.complete),
        ):
            widget.setVisible(shown)
        if not document.complete:
            self.progress.setRange(0, total)
            self.progress.setValue(document.done)
            word = "Checking" if busy else "Stopped"
            self.check_time.setText(f"{word}: {document.done} of {total} checked")
            return
        seconds, together = document.check_time, document.checked_together
        if together > 1:
            count = f"{together} lifts × {len(project.combinations)} combinations"
            self.check_time.setText(f"Checked {count} in {seconds:.2f} s")
        else:
            self.check_time.setText(f"Rechecked in {1000 * seconds:.0f} ms")

    def changeEvent(self, event: QEvent | None) -> None:
        """Look whether another program changed the file while this window was behind."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            if self.isActiveWindow() and not self._busy and self.document.changed_outside():
                if not self._told_change:
                    self._told_change = True
                    self.show_notice(
                        f"{self.document.path} was changed by another program. Saving will ask what"
                        " to keep."
                    )
            else:
                self._told_change = False

    def set_theme(self, name: str) -> None:
        """Keep to the `light` or `dark` theme, or follow the desktop; remembered."""
        choose_theme(name)
        self._settings.setValue("theme", name)
        self._restyle()

    def _restyle(self) -> None:
        theme = current_theme()
        self.setPalette(theme.palette())
        self.setStyleSheet(theme.style_sheet())
        if self._bench is not None:
            self._bench.pictures.restyle()
            self._bench.refresh()
        self.update()

    def _restore(self) -> None:
        geometry = self._settings.value("geometry")
        if isinstance(geometry, QByteArray):
            self.restoreGeometry(geometry)
        else:
            self.resize(1280, 800)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about unsaved changes; remember the window's place."""
        assert event is not None
        if self._may_leave():
            self._settings.setValue("geometry", self.saveGeometry())
            if self._bench is not None:
                self._settings.setValue("bench", self._bench.layout_state())
            self.document.close()
            event.accept()
        else:
            event.ignore()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the palette in the middle."""
        if self.palette_.isVisible():
            self.palette_.open()


class _Legend(Label):
    """A glyph and its word, in the status bar."""

    def __init__(self, state: State) -> None:
        super().__init__(f"     {state.word}  ")
        self._state = state

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        paint_glyph(painter, self._state, QPointF(8, self.height() / 2), 10, current_theme())
        painter.end()


def _without_argument(slot: Callable[[], object]) -> Callable[[], None]:
    """Drop the checked state that a triggered action passes."""

    def call(*_: object) -> None:
        slot()

    return call


def _dropped_file(data: QMimeData | None) -> Path | None:
    urls = data.urls() if data is not None else []
    return Path(urls[0].toLocalFile()) if len(urls) == 1 and urls[0].isLocalFile() else None
