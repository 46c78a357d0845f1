"""Takes the pictures in docs/screenshots from the demo: xvfb-run tools/take_screenshots.py."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory

from PyQt6.QtCore import QSettings
from PyQt6.QtTest import QTest

from fexro.demo.tarnholm import tarnholm_archive
from fexro.desktop.application import make_application, make_window
from fexro.desktop.document import Document
from fexro.desktop.forces.page import TABLE
from fexro.desktop.shell.stages import Place
from fexro.desktop.shell.window import Window
from fexro.project.column import LiftKey

EXAMPLES = Path(__file__).parents[1] / "docs" / "examples"
PICTURES = Path(__file__).parents[1] / "docs" / "screenshots"
PAUSE = 400  # ms for everything to be painted


def main() -> None:
    """Take every picture at 1280 × 800, one of them in the dark theme."""
    application = make_application()
    with TemporaryDirectory() as folder:
        settings = QSettings(f"{folder}/settings.ini", QSettings.Format.IniFormat)
        window = make_window(Document(), settings)
        window.set_theme("light")
        window.resize(1280, 800)
        window.open_project(tarnholm_archive(), None)
        window.show()
        while not window.document.complete:
            QTest.qWait(20)
        QTest.qWait(PAUSE)
        window.grab().save(str(PICTURES / "schedule.png"))
        for stage, name in (("basis", "basis"), ("members", "plan"), ("stability", "stability")):
            window.go(Place(stage))
            if stage == "members":
                window.stage(stage).page.plan.show_storey("L1")
            QTest.qWait(PAUSE)
            window.grab().save(str(PICTURES / f"{name}.png"))
        take_forces(window)
        window.document.undo()
        while not window.document.complete:
            QTest.qWait(20)
        window.go(Place(lift=LiftKey("C4", "L1")))
        pictures = window.stage("bench").page.pictures
        window.stage("bench").page.checks.toggle("Axial + biaxial bending")
        pictures.controls.other_bars.setChecked(True)
        QTest.qWait(3 * PAUSE)
        window.grab().save(str(PICTURES / "bench.png"))
        window.stage("bench").page.checks.toggle("Axial + biaxial bending")
        for view, name, theme in (
            (1, "moments", "light"),
            (2, "surface", "light"),
            (3, "stresses", "dark"),
        ):
            window.set_theme(theme)
            pictures.show_view(view)
            QTest.qWait(PAUSE)
            window.grab().save(str(PICTURES / f"{name}.png"))
        window.set_theme("light")
        window.go(Place(lift=LiftKey("C5", "L1")))
        bench = window.stage("bench").page
        bench.section.making.show_view(1)
        bench.toggle_section()
        QTest.qWait(2 * PAUSE)
        window.grab().save(str(PICTURES / "section.png"))
        bench.toggle_section()
        window.go(Place(lift=LiftKey("C4", "L2")))
        pictures.show_view(5)
        QTest.qWait(2 * PAUSE)
        window.grab().save(str(PICTURES / "elevation.png"))
        window.close()
    application.quit()


def take_forces(window: Window) -> None:
    """Take the pictures of a table being taken, and of what it changed."""
    window.go(Place("forces"))
    page = window.stage("forces").page
    page.show_view(TABLE)
    page.taking.open_file(EXAMPLES / "tarnholm-forces-C.xlsx")
    while page.taking.matched is None:
        QTest.qWait(20)
    page.taking.view.selectRow(12)
    QTest.qWait(PAUSE)
    window.grab().save(str(PICTURES / "forces.png"))
    page.taking.take_forces()
    while not (page.sources.changes and window.document.complete):
        QTest.qWait(20)
    QTest.qWait(PAUSE)
    window.grab().save(str(PICTURES / "changes.png"))


if __name__ == "__main__":
    main()
