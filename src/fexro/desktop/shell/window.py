"""The main window: its bar, its notices and the stages it was given."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QEvent, QSettings, pyqtSignal
from PyQt6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeySequence,
    QResizeEvent,
)
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.shell.basis_chips import CODES, BasisChips
from fexro.desktop.shell.checking import CheckingBar
from fexro.desktop.shell.commands import Command, Commands
from fexro.desktop.shell.files import Files, dropped_file
from fexro.desktop.shell.handbook import Handbook
from fexro.desktop.shell.notices import NoticeBar
from fexro.desktop.shell.palette import Entry, Palette
from fexro.desktop.shell.rail import Rail
from fexro.desktop.shell.recovery import RecoveryBar
from fexro.desktop.shell.stages import Place, Shell, Stage
from fexro.desktop.shell.start import StartPage
from fexro.desktop.text import Label
from fexro.desktop.theme import choose_theme, current_theme
from fexro.project.journal import LostProject
from fexro.project.project import Project
from fexro.project.storage import FileState

__all__ = ["Window"]

# Groups of the menu, from top to bottom; stages put their commands into them.
GROUPS = (
    "save",
    "tables",
    "history",
    "adding",
    "members",
    "going",
    "pictures",
    "carrying",
    "theme",
    "help",
    "end",
)


class Window(QMainWindow):
    """The application's window.

    Args:
        document: what it shows.
        settings: what it remembers.
        stages: makes its stages; the first is shown when a project is opened.

    Signals:
        another: a further window is wanted.
        left: this one was closed.
    """

    another = pyqtSignal()
    left = pyqtSignal()

    def __init__(
        self,
        document: Document,
        settings: QSettings,
        stages: Callable[[Document, Shell], Sequence[Stage]],
    ) -> None:
        super().__init__()
        self.document, self._settings = document, settings
        self.setAcceptDrops(True)
        self.setMinimumSize(960, 600)
        self.files = Files(document, settings, self, self.tell)
        self.files.working.connect(self._show_working)
        self.files.rested.connect(self._show_rested)
        self.commands = Commands(self, document.typing, self.tell)
        self._handbook: Handbook | None = None
        self._stages = {stage.key: stage for stage in stages(document, self)}
        self._restored: set[str] = set()
        self._last_on_rail = next(iter(self._stages))
        self._make_content()
        self.checking = CheckingBar(document)
        self.setStatusBar(self.checking)
        self._make_commands()
        self.palette_ = Palette(self.centralWidget() or self, self._entries)
        document.opened.connect(self._opened)
        document.edited.connect(lambda _: self.rail.count())
        document.checked.connect(lambda _: self.rail.count())
        document.saved_changed.connect(self._show_saved)
        document.told.connect(self.tell)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._restyle)
        choose_theme(str(settings.value("theme", "")))
        self._restyle()
        self._restore()
        self._show_saved()

    # What is in the window

    def _make_content(self) -> None:
        self.notice, self.recovery = NoticeBar(), RecoveryBar()
        self.recovery.wanted.connect(self._recover)
        self.pages = QStackedWidget()
        self.start = StartPage(self.files.recent)
        self.start.wanted.connect(lambda name: self.files.open_path(Path(name)))
        self.start.browse.connect(self.files.ask_open)
        self.start.demo.connect(self.files.open_demo)
        self.start.new.connect(self.files.new)
        self.pages.addWidget(self.start)
        self.rail = Rail(list(self._stages.values()))
        self.rail.wanted.connect(lambda key: self.commands.actions[key].trigger())
        self.rail.hide()
        central, below = QWidget(), QHBoxLayout()
        layout = QVBoxLayout(central)
        for box in (layout, below):
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
        for widget in (self._make_bar(), self.notice, self.recovery):
            layout.addWidget(widget)
        below.addWidget(self.rail)
        below.addWidget(self.pages, 1)
        layout.addLayout(below, 1)
        self.setCentralWidget(central)

    def _make_bar(self) -> QFrame:
        bar = QFrame()
        bar.setObjectName("bar")
        self.menu_button = QPushButton("Menu")
        self.menu_button.setToolTip("File, edit, view (F10)")
        self.title, self.saved = Label(), Label()
        self.title.setProperty("role", "title")
        self.saved.setProperty("role", "quiet")
        search = QPushButton("Go to a member, combination, command…   Ctrl K")
        search.setProperty("role", "search")
        search.setMinimumWidth(320)
        search.clicked.connect(self._open_palette)
        self.basis = BasisChips(self.document)
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
        row.addWidget(self.basis)
        return bar

    def _make_commands(self) -> None:
        commands, document, keys = self.commands, self.document, QKeySequence.StandardKey
        commands.add(self.files.commands())
        commands.add(
            [
                Command(
                    "undo",
                    lambda: _with_label("Undo", document.undo_label),
                    document.undo,
                    keys.Undo,
                    lambda: document.undo_label is not None,
                    "history",
                    settles=False,
                ),
                Command(
                    "redo",
                    lambda: _with_label("Redo", document.redo_label),
                    document.redo,
                    "Ctrl+Shift+Z",
                    lambda: document.redo_label is not None,
                    "history",
                    settles=False,
                ),
                Command("go_to", "Go to…", self._open_palette, "Ctrl+K", group="going"),
                *(
                    Command(
                        stage.key,
                        stage.title,
                        partial(self.go, Place(stage.key)),
                        stage.keys,
                        lambda: document.project is not None,
                        "going",
                    )
                    for stage in self._stages.values()
                ),
            ]
        )
        for stage in self._stages.values():
            commands.add(stage.commands())
        commands.add(self.basis.commands())
        commands.add(
            [
                Command("light", "Light theme", partial(self.set_theme, "light"), group="theme"),
                Command("dark", "Dark theme", partial(self.set_theme, "dark"), group="theme"),
                Command(
                    "desktop", "Theme of the desktop", partial(self.set_theme, ""), group="theme"
                ),
                Command(
                    "handbook", "Handbook", self._open_handbook, keys.HelpContents, group="help"
                ),
                Command("window", "New window", self.another.emit, "Ctrl+Shift+N", group="open"),
                Command("quit", "Close the window", self.close, keys.Quit, self._may_quit, "end"),
                Command("escape", "", self._escape, "Esc", settles=False),
                Command("menu", "", self.menu_button.showMenu, "F10", settles=False),
            ]
        )
        self._make_menus()

    def _make_menus(self) -> None:
        menu, codes = QMenu(self), QMenu(self)
        self.recent_menu = QMenu("Open recent", menu)
        self.recent_menu.aboutToShow.connect(partial(self.files.fill_recent, self.recent_menu))
        self.commands.fill(menu, ("open",))
        after = menu.actions()[1] if len(menu.actions()) > 1 else None
        menu.insertMenu(after, self.recent_menu)
        self.commands.fill(menu, GROUPS)
        self.menu_button.setMenu(menu)
        self.commands.fill(codes, (CODES,))
        self.basis.offer(codes)

    def _may_quit(self) -> bool:
        return not self.files.busy

    # Stages

    def stage(self, key: str) -> Stage:
        """Return a stage by its key."""
        return self._stages[key]

    def go(self, place: Place) -> None:
        """Go to a place: to the stage named, or to the first that shows it."""
        if self.document.project is None:
            return
        if place == Place():
            place = Place(self._last_on_rail)
        named = [self._stages[place.stage]] if place.stage else list(self._stages.values())
        for stage in named:
            if stage.go_to(place):
                self._bring_up(stage)
                return

    def shows(self, stage: Stage) -> bool:
        """Tell whether a stage is in front."""
        return self._front() is stage

    def run(self, command: str) -> None:
        """Run a command by its id, if it can be done now."""
        self.commands.refresh()
        self.commands.actions[command].trigger()

    def refresh(self) -> None:
        """Ask all commands anew whether they can be done."""
        self.commands.refresh()

    def fill(self, menu: QMenu, groups: Sequence[str]) -> None:
        """Add the commands of some groups to a menu."""
        self.commands.refresh()
        self.commands.fill(menu, groups)

    def _front(self) -> Stage | None:
        current = self.pages.currentWidget()
        known = (self._stages[key] for key in self._restored)
        return next((stage for stage in known if stage.page is current), None)

    def _bring_up(self, stage: Stage) -> None:
        self.prepare(stage)
        self.pages.setCurrentWidget(stage.page)
        if stage.on_rail:
            self._last_on_rail = stage.key
        self.rail.show_front(stage.key)
        stage.shown()
        self.commands.refresh()

    def prepare(self, stage: Stage) -> None:
        """Make the page of a stage, as it was remembered."""
        if stage.key not in self._restored:
            self._restored.add(stage.key)
            self.pages.addWidget(stage.page)
            stage.restore(self._settings.value(stage.key, []))

    def prepare_rest(self) -> None:
        """Make all pages, so that none is waited for."""
        for stage in self._stages.values():
            self.prepare(stage)

    # Commands of the window

    def open_project(
        self, project: Project, path: Path | None, state: FileState | None = None
    ) -> None:
        """Show a project that is already read from a file, whose state that was."""
        self.files.open_project(project, path, state)

    def offer_lost_projects(self) -> None:
        """Offer to recover what was open with unsaved edits when a process ended."""
        self.recovery.show_lost(self.document.lost_projects())

    def _recover(self, lost: LostProject) -> None:
        if self.files.recover(lost):
            self.recovery.drop(lost)

    def _open_handbook(self) -> None:
        """Open the page of the handbook for the view in front."""
        if self._handbook is None:
            self._handbook = Handbook(self)
        front = self._front()
        page = "index" if front is None else front.help_page
        if isinstance(self.focusWidget(), Field):
            page = "values"
        if not self._handbook.show_page(page):
            self.tell("The handbook is not installed beside Fexro.")

    def _open_palette(self) -> None:
        self.palette_.open()

    def _escape(self) -> None:
        front = self._front()
        if self.notice.isVisible():
            self.notice.hide()
        elif front is not None and (place := front.way_out()) is not None:
            self.go(place)

    def _entries(self) -> list[Entry]:
        entries = [entry for stage in self._stages.values() for entry in stage.entries()]
        return entries + [Entry(*offered) for offered in self.commands.offered()]

    # Showing how things are

    def tell(self, sentence: str) -> None:
        """Show a sentence above the page until it is dismissed."""
        self.notice.say(sentence)

    def _show_working(self, sentence: str) -> None:
        self.checking.say(sentence)
        self.commands.refresh()

    def _show_rested(self) -> None:
        self._show_saved()
        self.checking.show_checking()

    def _opened(self) -> None:
        project = self.document.project
        self.notice.hide()
        self.rail.setVisible(project is not None)
        self.basis.show_basis()
        if project is None:
            self.saved.setText("")
            self.pages.setCurrentWidget(self.start)
            return
        self.title.setText(project.name)
        stages = self._stages.values()
        first = next((stage for stage in stages if stage.welcomes(project)), next(iter(stages)))
        self.go(Place(first.key))

    def _show_saved(self) -> None:
        project, document = self.document.project, self.document
        self.commands.refresh()
        self.basis.show_basis()
        if project is None:
            self.title.setText("Fexro")
            self.setWindowTitle("Fexro")
            return
        parts = [f"Rev {project.revision}"] if project.revision else []
        if document.modified:
            parts.append("unsaved changes")
        else:
            parts.append("saved" if document.path else "not saved to a file")
        self.saved.setText(" · ".join(parts))
        self.title.setText(project.name)
        name = project.name.replace("[*]", "[*][*]")
        self.setWindowTitle(f"{name}[*] – Fexro")
        self.setWindowModified(document.modified)

    def changeEvent(self, event: QEvent | None) -> None:
        """Look whether another program changed the file while this window was behind."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            if self.isActiveWindow():
                self.files.look_for_changes()
            else:
                self.files.forget_changes()

    def set_theme(self, name: str) -> None:
        """Keep to the `light` or `dark` theme, or follow the desktop; remembered."""
        choose_theme(name)
        self._settings.setValue("theme", name)
        self._restyle()

    def _restyle(self) -> None:
        theme = current_theme()
        self.setPalette(theme.palette())
        self.setStyleSheet(theme.style_sheet())
        for key in self._restored:
            self._stages[key].restyle()
        self.update()

    def _restore(self) -> None:
        geometry = self._settings.value("geometry")
        if isinstance(geometry, QByteArray):
            self.restoreGeometry(geometry)
        else:
            self.resize(1280, 800)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Accept a file dragged onto the window."""
        if event is not None and dropped_file(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the file dropped."""
        path = dropped_file(event.mimeData()) if event is not None else None
        if event is not None and path is not None:
            event.acceptProposedAction()
            self.files.open_path(path)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about unsaved changes; remember the window's place."""
        assert event is not None
        if self.files.may_leave():
            self._settings.setValue("geometry", self.saveGeometry())
            for key in self._restored:
                self._settings.setValue(key, self._stages[key].state())
            self.document.close()
            event.accept()
            self.left.emit()
        else:
            event.ignore()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the palette in the middle."""
        if self.palette_.isVisible():
            self.palette_.open()


def _with_label(word: str, label: str | None) -> str:
    return f"{word}: {label}" if label else word
