"""Qt view for the walls stage: which wall, its elevation and plan, openings and members."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from functools import partial
from threading import Event

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.quantities import format_number
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.drawing import state_icon
from fexro.desktop.fields import Field
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme
from fexro.desktop.walls.bearing import BearingView
from fexro.desktop.walls.drawn_lines import DrawnLines
from fexro.desktop.walls.elevation import WallElevation
from fexro.desktop.walls.level_plan import LevelPlan
from fexro.desktop.walls.member_panel import MemberPanel
from fexro.desktop.walls.openings import OpeningsTable
from fexro.desktop.walls.typed import parse_lines, written_lines
from fexro.project.bearing_walls import BearingWall
from fexro.project.column import LiftKey
from fexro.project.edits.bearing import remove_bearing_wall, with_bearing_wall
from fexro.project.edits.walls import add_wall, remove_wall, rename_wall, set_lines
from fexro.project.project import Project
from fexro.project.wall_sizing import PanelSteel, required_in_panels
from fexro.project.walls import WallLine

__all__ = ["WallsPage"]

THICKNESS = 250.0  # mm, of new walls where none is typed
DRAWING = 2  # of the views, which the lines of a new wall are drawn in
NEW_WALL = "W1: 0 0, 5 0 / 300"


class WallsPage(QWidget):
    """The walls of the project, worst first, and the one that is chosen."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.setObjectName("page")
        self.wall = ""
        self.list = QListWidget()
        self.list.setAccessibleName("Walls, worst first")
        self.list.setMaximumWidth(190)
        self.list.currentItemChanged.connect(self._chosen)
        self.new = Field(document.typing, self._add)
        self.new.setAccessibleName("New wall")
        self.new.setPlaceholderText(NEW_WALL)
        self.draw = QPushButton("Draw")
        self.draw.setCheckable(True)
        self.draw.setToolTip("Draw the centre lines of a new wall in plan")
        self.draw.toggled.connect(self._draw)
        self.drawn = DrawnLines(document)
        self.drawn.ended.connect(self._take_drawn)
        self.drawn.left.connect(lambda: self.draw.setChecked(False))
        self.new_bearing = QPushButton("New bearing wall")
        self.new_bearing.clicked.connect(self.add_bearing)
        self.remove = QPushButton("Remove")
        self.remove.clicked.connect(self.remove_wall)
        self.required = QPushButton("Required steel")
        self.required.setToolTip(
            "Vertical steel that N with both moments asks for in each panel, beside what it has"
        )
        self.required.clicked.connect(self.seek_required)
        self._work: Background[PanelSteel] = Background(self._take_required, self)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.lines = Field(document.typing, self._set_lines)
        self.lines.setAccessibleName("Lines of the wall in plan")
        self.elevation, self.plan = WallElevation(document), LevelPlan(document)
        self.panel, self.openings = MemberPanel(document), OpeningsTable(document)
        self.bearing = BearingView(document)
        for field in (self.new, self.lines):
            field.refused.connect(self._refuse)
            field.settled.connect(self._settled)
        self.bearing.renamed.connect(self._call)
        self.openings.refused.connect(self.elevation.point_at)
        self.elevation.picked.connect(self.choose)
        self.plan.picked.connect(self.choose)
        for one in (self.elevation, self.panel, self.bearing):
            one.opened.connect(self.opened)
        self._arrange()
        document.opened.connect(self._opened)
        document.edited.connect(lambda _: self._edited())
        document.checked.connect(lambda _: self._checked())

    def _arrange(self) -> None:
        top = QHBoxLayout()
        top.setContentsMargins(16, 10, 16, 0)
        top.setSpacing(8)
        for text, widget, stretch in (
            ("New wall", self.new, 2),
            ("Lines in plan", self.lines, 3),
        ):
            caption = Label(text)
            caption.setProperty("role", "quiet")
            top.addWidget(caption)
            top.addWidget(widget, stretch)
            if widget is self.new:
                top.addWidget(self.draw)
        top.addWidget(self.required)
        top.addWidget(self.new_bearing)
        top.addWidget(self.remove)
        right = QFrame()
        right.setObjectName("card")
        side = QVBoxLayout(right)
        side.setContentsMargins(12, 8, 12, 8)
        side.setSpacing(8)
        side.addWidget(self.plan, 2)
        side.addWidget(self.panel)
        side.addWidget(self.openings, 2)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.setHandleWidth(8)
        across.addWidget(self.elevation)
        across.addWidget(right)
        across.setStretchFactor(0, 1)
        across.setSizes([700, 390])
        self.stack = QStackedWidget()
        self.stack.addWidget(across)
        self.stack.addWidget(self.bearing)
        self.stack.addWidget(self.drawn)
        body = QHBoxLayout()
        body.setContentsMargins(16, 4, 16, 10)
        body.setSpacing(10)
        body.addWidget(self.list)
        body.addWidget(self.stack, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(top)
        layout.addWidget(self.error)
        layout.addLayout(body, 1)

    def _edited(self) -> None:
        self._forget()
        self.refresh()

    def _forget(self) -> None:
        """What was sought of panels is of another project."""
        self._work.cancel()
        self.elevation.required.clear()

    def seek_required(self) -> None:
        """Seek the steel that each panel of the wall asks for, one after another."""
        project = self._document.project
        if project is None:
            return
        self._forget()
        panels = project.mark_by_name
        keys = [key for key in self.elevation.members() if panels[key.mark].kind == "wall panel"]
        self._work.start(partial(_seeking, project, keys))

    def _take_required(self, found: PanelSteel) -> None:
        needed = "> 8"
        if found.required is not None:
            few = "≤ " if found.least_does else ""
            needed = f"{few}{100 * found.required:.2f}"
        told = f"{needed} of {100 * found.provided:.2f} %"
        self.elevation.required[found.key] = f"{told} *" if found.gaps else told
        self.elevation.update()

    def _opened(self) -> None:
        self._forget()
        self.draw.setChecked(False)
        self.wall = ""
        self.elevation.chosen = None
        self.refresh()

    def names(self) -> list[str]:
        """Return the walls, bearing walls last."""
        project = self._document.project
        if project is None:
            return []
        return [*(one.name for one in project.walls), *(one.name for one in project.bearing_walls)]

    def worst_of(self, name: str) -> tuple[State, float]:
        """Return the worst state of a wall's members, and the largest ratio of those in it."""
        project = self._document.project
        worst, ratio = State.SATISFIED, 0.0
        known = False
        for mark in () if project is None else project.marks:
            if name not in (mark.wall, mark.name):
                continue
            for lift in mark.lifts:
                result = self._document.results.get(LiftKey(mark.name, lift.storey))
                state = State.NOT_CHECKED if result is None else result.state
                value = 0.0 if result is None else result.shown_ratio
                known = True
                if (state, value) > (worst, ratio):
                    worst, ratio = state, value
        return (worst if known else State.NOT_CHECKED), ratio

    def refresh(self) -> None:
        """Show the walls as they are."""
        names = self.names()
        if self.wall not in names:
            ranked = sorted(names, key=lambda name: tuple(-v for v in self.worst_of(name)))
            self.wall = ranked[0] if ranked else ""
        self._list(names)
        self._show()

    def _list(self, names: list[str]) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        worst = {name: self.worst_of(name) for name in names}
        for name in sorted(names, key=lambda one: tuple(-v for v in worst[one])):
            state, ratio = worst[name]
            text = f"{name}   {format_number(ratio, 2)}" if ratio else name
            item = QListWidgetItem(state_icon(state, current_theme()), text)
            item.setData(Qt.ItemDataRole.UserRole, name)
            item.setToolTip(f"{name}: {state.word}")
            self.list.addItem(item)
            if name == self.wall:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)

    def _checked(self) -> None:
        self._list(self.names())
        self._show()

    def _chosen(self, item: QListWidgetItem | None) -> None:
        if item is None:
            return
        name = str(item.data(Qt.ItemDataRole.UserRole))
        if name != self.wall:
            self.wall = name
            self.elevation.chosen = None
            self._show()

    def _show(self) -> None:
        project = self._document.project
        bearing = project is not None and any(w.name == self.wall for w in project.bearing_walls)
        self.stack.setCurrentIndex(DRAWING if self.draw.isChecked() else int(bearing))
        self.remove.setEnabled(bool(self.wall))
        self.lines.setEnabled(not bearing and bool(self.wall))
        if project is None:
            return
        if bearing:
            self.lines.show_text("")
            self.bearing.show_wall(self.wall)
            return
        wall = next((one for one in project.walls if one.name == self.wall), None)
        text = ""
        if wall is not None:
            text = f"{wall.name}: {written_lines(wall.lines, project.basis.system)}"
        self.lines.show_text(text)
        self.openings.show_wall(wall)
        chosen = self.elevation.chosen
        if chosen is not None and chosen not in project.by_key:
            chosen = None
        self.elevation.show_wall(self.wall, chosen)
        if chosen is None:
            chosen = self._first()
            self.elevation.chosen = chosen
        storey = chosen.storey if chosen is not None else ""
        self.plan.show_level(storey, self.wall, chosen)
        self.panel.show_member(chosen)

    def _first(self) -> LiftKey | None:
        """Return the worst member of the wall."""
        members = self.elevation.members()
        results = self._document.results

        def rank(key: LiftKey) -> tuple[int, float]:
            result = results.get(key)
            return (-1, 0.0) if result is None else (int(result.state), result.shown_ratio)

        return max(members, key=rank, default=None)

    def choose(self, key: LiftKey) -> None:
        """Choose a member of the wall."""
        self.elevation.chosen = key
        self.elevation.update()
        self.plan.show_level(key.storey, self.wall, key)
        self.panel.show_member(key)

    def show_member(self, key: LiftKey) -> bool:
        """Show a member with its wall; tell whether it is one of a wall."""
        project = self._document.project
        mark = None if project is None else project.mark_by_name.get(key.mark)
        if mark is None or mark.kind == "column":
            return False
        self.wall = mark.wall or mark.name
        self.elevation.chosen = key
        self.refresh()
        return True

    def _refuse(self, error: InputError) -> None:
        self.error.setText(str(error))
        self.error.show()

    def _settled(self) -> None:
        self.error.hide()
        self.plan.point_at(())

    def _add(self, text: str) -> None:
        project = self._document.project
        if project is None or not text.strip():
            return
        name, colon, rest = text.partition(":")
        if not colon:
            name, rest = "", text
        self._make(name.strip(), parse_lines(rest, project.basis.system, THICKNESS))
        self.new.show_text("")

    def _make(self, name: str, lines: list[WallLine]) -> None:
        """Make a wall and show it; lines that are refused are pointed at."""
        project = self._document.project
        assert project is not None
        before = {wall.name for wall in project.walls}
        try:
            self._document.edit("New wall", partial(add_wall, lines=lines, name=name))
        except InputError:
            self.plan.point_at(lines)
            raise
        after = self._document.project
        assert after is not None
        self.wall = next((w.name for w in after.walls if w.name not in before), self.wall)
        self.elevation.chosen = None
        self.refresh()

    def _draw(self, drawing: bool) -> None:
        """Draw lines of a new wall in plan, or go back to the wall that is shown."""
        if drawing:
            self.drawn.start()
        self._settled()
        self.refresh()
        if drawing:
            self.drawn.setFocus()

    def _take_drawn(self, places: list[tuple[float, float]]) -> None:
        """Make a wall of lines that were drawn; what is refused stays to be drawn on."""
        ends = itertools.pairwise(places)
        lines = [WallLine(x1=a, y1=b, x2=c, y2=d, thickness=THICKNESS) for (a, b), (c, d) in ends]
        try:
            self._make("", lines)
        except InputError as error:
            self._refuse(error)
            return
        self.draw.setChecked(False)

    def _call(self, name: str) -> None:
        """Stay with the wall that is shown as it gets another name."""
        self.wall = name

    def _set_lines(self, text: str) -> None:
        project = self._document.project
        wall = (
            None
            if project is None
            else next((one for one in project.walls if one.name == self.wall), None)
        )
        if project is None or wall is None:
            return
        name, colon, rest = text.partition(":")
        name, rest = (name.strip(), rest) if colon else (wall.name, text)
        lines = parse_lines(rest, project.basis.system, wall.lines[0].thickness)

        def edit(project: Project) -> Project:
            return rename_wall(set_lines(project, wall.name, lines), wall.name, name)

        chosen, before = self.elevation.chosen, self.wall
        self.wall = name
        if chosen is not None:
            mark = name + chosen.mark.removeprefix(before)
            self.elevation.chosen = LiftKey(mark, chosen.storey)
        try:
            self._document.edit(f"Lines of {name}", edit)
        except InputError:
            self.wall, self.elevation.chosen = before, chosen
            self.plan.point_at(lines)
            raise

    def add_bearing(self) -> None:
        """Add a bearing wall through the highest storey; what acts on it is typed then."""
        project = self._document.project
        if project is None or not project.storeys:
            return
        taken = set(project.mark_by_name) | {wall.name for wall in project.walls}
        name = next(f"P{n}" for n in range(1, len(taken) + 2) if f"P{n}" not in taken)
        new = BearingWall(name=name, storeys=(project.storeys[0].name,), length=5.0)
        try:
            self._document.edit("New bearing wall", partial(with_bearing_wall, wall=new))
        except InputError as error:
            self._refuse(error)
            return
        self.wall = name
        self.refresh()

    def remove_wall(self) -> None:
        """Remove the wall that is shown, with its members and their forces."""
        project, name = self._document.project, self.wall
        if project is None or not name:
            return
        bearing = any(wall.name == name for wall in project.bearing_walls)
        edit = remove_bearing_wall if bearing else remove_wall
        self._document.edit(f"{name} removed", partial(edit, name=name))


def _seeking(project: Project, keys: list[LiftKey], stopped: Event) -> Iterator[PanelSteel]:
    for found in required_in_panels(project, keys):
        if stopped.is_set():
            return
        yield found
