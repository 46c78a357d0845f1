"""The bench as a stage of the window."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING

from fexro.core.members.verdict import verdict_of
from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.palette import Entry
from fexro.desktop.shell.stages import Place, Shell, Stage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.bench.page import BenchPage
    from fexro.desktop.bench.pictures.panel import PicturesPanel

__all__ = ["BenchStage"]

PICTURES = (
    ("nm", "N–M"),
    ("mm", "Mx–My"),
    ("surface", "surface"),
    ("stresses", "stresses"),
    ("along", "along the lift"),
    ("elevation", "elevation"),
    ("joint", "joint"),
)


class BenchStage(Stage):
    """Everything about one lift."""

    key, title, keys = "bench", "Bench of the selected lift", "Ctrl+B"
    on_rail = False

    def __init__(self, document: Document, shell: Shell) -> None:
        self._document, self._shell = document, shell

    @cached_property
    def page(self) -> BenchPage:
        """The bench."""
        from fexro.desktop.bench.page import BenchPage

        page = BenchPage(self._document)
        page.left.connect(lambda: self._shell.go(Place()))
        page.failed.connect(self._shell.tell)
        return page

    def go_to(self, place: Place) -> bool:
        """Select a lift and a combination; without a lift the selected one is shown."""
        selection = self._document.selection
        if place.lift is not None:
            selection.select_lift(place.lift)
        if selection.lift is None:
            return False
        if place.combination is not None:
            selection.select_combination(place.combination)
        return True

    def shown(self) -> None:
        """Show the lift, and let the keys move among its combinations."""
        self.page.refresh()
        self.page.combinations.setFocus()

    def way_out(self) -> Place:
        """Return to the stage it was reached from."""
        return Place()

    def restyle(self) -> None:
        """Take the colours of the theme."""
        self.page.pictures.restyle()
        self.page.refresh()

    def state(self) -> list[str]:
        """Return how the page is divided and which picture is shown."""
        return self.page.layout_state()

    def restore(self, state: object) -> None:
        """Divide the page as it was."""
        self.page.restore_layout(state)

    def commands(self) -> Sequence[Command]:
        """Return what can be done with a lift and its pictures."""
        return [
            self._command("above", "Lift above", partial(self._step, -1), "Ctrl+Up", "going"),
            self._command("below", "Lift below", partial(self._step, 1), "Ctrl+Down", "going"),
            *(
                self._command(
                    key, f"Picture: {name}", partial(self._show, number), f"Alt+{number + 1}"
                )
                for number, (key, name) in enumerate(PICTURES)
            ),
            *(
                self._command(key, text, run, keys, group)
                for key, text, run, keys, group in (
                    ("fit", "Fit the picture", self._fit, "Ctrl+0", "pictures"),
                    ("fit_demands", "Fit the demands", self._fit_demands, "Ctrl+9", "pictures"),
                    ("pin", "Pin the plane", self._toggle_pin, "Alt+P", "pictures"),
                    ("section", "Section larger", self._toggle_section, "Alt+S", "pictures"),
                    ("other_bars", "Other bars", self._toggle_bars, "Alt+B", "pictures"),
                    ("hold", "Hold this version to compare", self._hold, "", "carrying"),
                    ("copy_picture", "Copy the picture", self._copy, "Ctrl+Shift+C", "carrying"),
                    (
                        "copy_numbers",
                        "Copy the numbers of the curve",
                        self._table,
                        "",
                        "carrying",
                    ),
                    ("save_picture", "Save the picture…", self._save, "", "carrying"),
                    ("put_in", "Put the picture into the calculation", self._put, "", "carrying"),
                )
            ),
        ]

    def _put(self) -> None:
        self.page.pictures.put_into_calculation()

    def _command(
        self, key: str, text: str, run: Callable[[], object], keys: str, group: str = "pictures"
    ) -> Command:
        return Command(key, text, run, keys, lambda: self._document.project is not None, group)

    def entries(self) -> Sequence[Entry]:
        """Return all lifts, and the combinations of the selected one."""
        project, document = self._document.project, self._document
        if project is None:
            return []
        found = []
        for key in project.by_key:
            result = document.results.get(key)
            hint = "" if result is None else verdict_of(result, project.basis.system)
            found.append(Entry(str(key), hint, partial(self._shell.go, Place(lift=key))))
        if document.selection.lift is not None:
            found += [
                Entry(c.name, c.expression, partial(self._shell.go, Place(combination=c.name)))
                for c in project.combinations
            ]
        return found

    def _toggle_section(self) -> None:
        self.page.toggle_section()

    @property
    def _pictures(self) -> PicturesPanel:
        return self.page.pictures

    def _step(self, by: int) -> None:
        if self._shell.shows(self):
            self.page.step(by)

    def _show(self, number: int) -> None:
        self._shell.go(Place(self.key))
        self._pictures.show_view(number)

    def _fit(self) -> None:
        self._pictures.fit()

    def _fit_demands(self) -> None:
        self._pictures.fit_demands()

    def _toggle_pin(self) -> None:
        self._pictures.controls.pinned.toggle()

    def _toggle_bars(self) -> None:
        self._pictures.controls.other_bars.toggle()

    def _hold(self) -> None:
        self._pictures.comparison.button.hold()

    def _copy(self) -> None:
        self._pictures.copy_picture()

    def _table(self) -> None:
        self._pictures.copy_numbers()

    def _save(self) -> None:
        self._pictures.ask_save_picture()
