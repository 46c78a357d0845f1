"""What is done to storeys, marks and lifts in the schedule: commands, and what they tell."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtGui import QGuiApplication, QKeySequence

from fexro.core.errors import InputError
from fexro.desktop.document import Document
from fexro.desktop.schedule.page import SchedulePage
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Shell, Stage
from fexro.project.column import LiftKey
from fexro.project.edits.groups import join_group, leave_groups
from fexro.project.edits.lifts import add_lifts, copy_lift, keep_lifts, remove_lifts
from fexro.project.edits.marks import add_mark, copy_mark, move_mark, remove_marks
from fexro.project.edits.storeys import add_storey, remove_storey
from fexro.project.project import Project

__all__ = ["ScheduleEditing"]

ADDING = ("storey_above", "storey_below", "add_mark", "copy_mark", "add_lifts")


class ScheduleEditing:
    """The commands that make a building, on what is selected in the schedule.

    Args:
        document: whose project it is.
        shell: the window.
        stage: the schedule's, in front of which they work.
        page: makes the page, whose selection counts.
    """

    def __init__(
        self, document: Document, shell: Shell, stage: Stage, page: Callable[[], SchedulePage]
    ) -> None:
        self._document, self._shell, self._stage, self._page = document, shell, stage, page
        self._copied: LiftKey | None = None

    def commands(self) -> Sequence[Command]:
        """Return what can be done."""
        keys = QKeySequence.StandardKey
        return [
            self._command("storey_above", "Add a storey above", self._storey_above, "Ctrl+Alt+Up"),
            self._command(
                "storey_below", "Add a storey below", self._storey_below, "Ctrl+Alt+Down"
            ),
            self._command("remove_storey", "Remove the storey", self._remove_storey, "", self._row),
            self._command("add_mark", "Add a mark", self._add_mark, "Ctrl+Alt+M", self._rows),
            self._command("copy_mark", "Copy the mark", self._copy_mark, "", self._column),
            self._command(
                "mark_left",
                "Mark further left",
                partial(self._move, -1),
                "Ctrl+Alt+Left",
                self._column,
            ),
            self._command(
                "mark_right",
                "Mark further right",
                partial(self._move, 1),
                "Ctrl+Alt+Right",
                self._column,
            ),
            self._command("remove_mark", "Remove the marks", self._remove_marks, "", self._column),
            self._command("copy_lift", "Copy the lift", self._copy, keys.Copy, self._some),
            self._command(
                "paste_lift",
                "Paste onto the selected cells",
                self._paste,
                keys.Paste,
                lambda: self._here() and self._copied is not None,
            ),
            self._command(
                "copy_up", "Copy up", partial(self._copy_along, -1), "Ctrl+Shift+Up", self._some
            ),
            self._command(
                "copy_down",
                "Copy down",
                partial(self._copy_along, 1),
                "Ctrl+Shift+Down",
                self._some,
            ),
            self._command(
                "alike", "Select all like this one", self._select_alike, "Ctrl+Shift+A", self._some
            ),
            self._command(
                "add_lifts", "Add lifts in the selected cells", self._add_lifts, "Ins", self._gaps
            ),
            self._command(
                "remove_lifts",
                "Remove the selected lifts",
                self._remove_lifts,
                keys.Delete,
                self._some,
            ),
            self._command("group", "Group the selected lifts", self._group, "Ctrl+G", self._many),
            self._command(
                "ungroup",
                "Take the lifts out of their groups",
                self._ungroup,
                "Ctrl+Shift+G",
                self._some,
            ),
            self._command(
                "keep", "Keep the selected lifts by hand", partial(self._keep, True), "", self._some
            ),
            self._command(
                "release", "Release the selected lifts", partial(self._keep, False), "", self._some
            ),
        ]

    def _command(
        self,
        key: str,
        text: str,
        run: Callable[[], object],
        keys: str | QKeySequence.StandardKey = "",
        enabled: Callable[[], bool] | None = None,
    ) -> Command:
        group = "adding" if key in ADDING else "members"
        return Command(key, text, run, keys, enabled or self._here, group)

    # Whether something can be done

    def _here(self) -> bool:
        return self._document.project is not None and self._shell.shows(self._stage)

    def _some(self) -> bool:
        return self._here() and bool(self._page().view.lifts())

    def _many(self) -> bool:
        return self._here() and len(self._page().view.lifts()) > 1

    def _gaps(self) -> bool:
        view = self._page().view if self._here() else None
        return view is not None and len(view.places()) > len(view.lifts())

    def _row(self) -> bool:
        return self._here() and self._storey() is not None

    def _rows(self) -> bool:
        project = self._document.project
        return self._here() and project is not None and bool(project.storeys)

    def _column(self) -> bool:
        return self._here() and bool(self._marks())

    # What is selected

    def _storey(self) -> str | None:
        view = self._page().view
        index = view.currentIndex()
        project = self._document.project
        assert project is not None
        return project.storeys[index.row()].name if index.isValid() else None

    def _marks(self) -> list[str]:
        view = self._page().view
        project = self._document.project
        assert project is not None
        columns = {index.column() for index in view.selectedIndexes()}
        return [project.columns[column].name for column in sorted(columns)]

    # Storeys

    def _storey_above(self) -> None:
        beside = self._storey() or self._first_storey()
        self._add("Storey above", partial(add_storey, beside=beside, place="above"))

    def _storey_below(self) -> None:
        beside = self._storey() or self._first_storey()
        self._add("Storey below", partial(add_storey, beside=beside, place="below"))

    def _first_storey(self) -> str | None:
        project = self._document.project
        return project.storeys[0].name if project is not None and project.storeys else None

    def _remove_storey(self) -> None:
        name = self._storey()
        if name is not None:
            edit = partial(remove_storey, name=name)
            self._lose(f"Remove {name}", f"Storey {name}", edit)

    # Marks

    def _add_mark(self) -> None:
        marks = self._marks()
        self._add("Another mark", partial(add_mark, after=marks[-1] if marks else None))

    def _copy_mark(self) -> None:
        name = self._marks()[0]
        self._add(f"Copy of {name}", partial(copy_mark, source=name))

    def _move(self, by: int) -> None:
        name = self._marks()[0]
        self._do(f"Order of {name}", partial(move_mark, name=name, by=by))

    def _remove_marks(self) -> None:
        names = self._marks()
        what = f"Mark {names[0]}" if len(names) == 1 else f"{len(names)} marks"
        self._lose(f"Remove {', '.join(names[:4])}", what, partial(remove_marks, names=names))

    # Lifts

    def _copy(self) -> None:
        lifts = self._page().view.lifts()
        project, clipboard = self._document.project, QGuiApplication.clipboard()
        assert project is not None
        assert clipboard is not None
        self._copied = lifts[0]
        rows = []
        for key in lifts:
            section = project.by_key[key].section
            rows.append("\t".join([key.mark, key.storey, section.bars, section.ties]))
        clipboard.setText("\n".join(rows))

    def _paste(self) -> None:
        source, targets = self._copied, self._page().view.places()
        project = self._document.project
        assert project is not None
        if source is None or source not in project.by_key:
            self._shell.tell("The lift that was copied is not there any more; copy one again.")
            return
        count = len(targets)
        noun = "lift" if count == 1 else "lifts"
        label = f"{source} onto {count} {noun}"
        self._do(label, partial(copy_lift, source=source, targets=targets))

    def _copy_along(self, by: int) -> None:
        project, lifts = self._document.project, self._page().view.lifts()
        assert project is not None
        names = [storey.name for storey in project.storeys]
        source = lifts[0] if by < 0 else lifts[-1]
        at = names.index(source.storey) + by
        if not 0 <= at < len(names):
            self._shell.tell(f"There is no storey {'above' if by < 0 else 'below'} {source}.")
            return
        target = LiftKey(source.mark, names[at])
        if self._do(
            f"{source} copied to {target}", partial(copy_lift, source=source, targets=[target])
        ):
            self._document.selection.select_lift(target)

    def _select_alike(self) -> None:
        project, view = self._document.project, self._page().view
        assert project is not None
        like = project.by_key[view.lifts()[0]]
        view.select_lifts(
            key
            for key, lift in project.by_key.items()
            if lift.section == like.section
            and (lift.concrete, lift.steel) == (like.concrete, like.steel)
        )

    def _add_lifts(self) -> None:
        project = self._document.project
        assert project is not None
        keys = [key for key in self._page().view.places() if key not in project.by_key]
        label = f"Add {keys[0]}" if len(keys) == 1 else f"Add {len(keys)} lifts"
        self._do(label, partial(add_lifts, keys=keys))

    def _remove_lifts(self) -> None:
        keys = self._page().view.lifts()
        what = f"Lift {keys[0]}" if len(keys) == 1 else f"{len(keys)} lifts"
        self._lose(f"Remove {what[0].lower()}{what[1:]}", what, partial(remove_lifts, keys=keys))

    # Groups

    def _group(self) -> None:
        project, keys = self._document.project, self._page().view.lifts()
        assert project is not None
        results = self._document.results
        # All take the bars of the one that is worst off.
        like = max(keys, key=lambda key: results[key].utilisation if key in results else 0.0)
        if self._do(f"Group of {len(keys)} lifts", partial(join_group, keys=keys, like=like)):
            group = self._document.project.group_by_key[like] if self._document.project else None
            name = "" if group is None else group.name
            self._shell.tell(f"Group {name}: all carry the bars and ties of {like}, which governs.")

    def _ungroup(self) -> None:
        keys = self._page().view.lifts()
        self._do(f"{len(keys)} lifts out of groups", partial(leave_groups, keys=keys))

    def _keep(self, kept: bool) -> None:
        """Keep the bars and ties of the selected lifts by hand, or let runs change them."""
        keys = self._page().view.lifts()
        verb = "Keep" if kept else "Release"
        noun = "lift" if len(keys) == 1 else "lifts"
        self._do(f"{verb} {len(keys)} {noun}", partial(keep_lifts, keys=keys, kept=kept))

    # Doing and telling

    def _do(self, label: str, edit: Callable[[Project], Project]) -> bool:
        """Make an edit; what is refused is said. Tell whether it was made."""
        try:
            self._document.edit(label, edit)
        except InputError as error:
            self._shell.tell(str(error))
            return False
        return True

    def _add(self, label: str, edit: Callable[[Project], Project]) -> None:
        """Make an edit that adds a storey or a mark, and go to the cell in it."""
        before, index = self._document.project, self._page().view.currentIndex()
        assert before is not None
        at = self._page().view.key_at(index)
        if not self._do(label, edit):
            return
        after = self._document.project
        assert after is not None
        storeys = [s.name for s in after.storeys if s.name not in before.storey_by_name]
        marks = [m.name for m in after.marks if m.name not in before.mark_by_name]
        mark = marks[0] if marks else at.mark if at is not None else ""
        storey = storeys[0] if storeys else at.storey if at is not None else ""
        if LiftKey(mark, storey) in after.by_key:
            self._document.selection.select_lift(LiftKey(mark, storey))

    def _lose(self, label: str, what: str, edit: Callable[[Project], Project]) -> None:
        """Make an edit that removes something, and say what goes with it."""
        before = self._document.project
        assert before is not None
        if not self._do(label, edit):
            return
        after = self._document.project
        assert after is not None
        gone = before.by_key.keys() - after.by_key.keys()
        forces = [
            key
            for key in gone
            if key in before.factored_forces.place or key in before.case_forces.place
        ]
        parts = [f"{len(gone)} {'lift' if len(gone) == 1 else 'lifts'}"]
        if forces:
            parts.append(f"the forces of {len(forces)}")
        lost = [group.name for group in before.groups if group not in after.groups]
        if lost:
            parts.append(f"members of {', '.join(lost[:4])}")
        self._shell.tell(f"{what} removed, with {', '.join(parts)}. Undo brings all of it back.")
