"""Takes the pictures in docs/screenshots from the demo: xvfb-run tools/take_screenshots.py."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRect, QSettings, QSize
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from fexro.demo.tarnholm import tarnholm_archive
from fexro.desktop.application import make_application, make_window
from fexro.desktop.bench.paper import PaperPictures
from fexro.desktop.document import Document
from fexro.desktop.forces.page import TABLE
from fexro.desktop.shell.stages import Place
from fexro.desktop.shell.window import Window
from fexro.documents.bar_list import bar_list
from fexro.documents.column_sheets import lift_sheet
from fexro.documents.drawing_svg import drawings_pdf
from fexro.documents.issue import papers_of, sheet_of
from fexro.project.column import LiftKey
from fexro.project.edits.stability import set_direction
from fexro.project.project import Project

EXAMPLES = Path(__file__).parents[1] / "docs" / "examples"
PICTURES = Path(__file__).parents[1] / "docs" / "screenshots"
PAUSE = 400  # ms for everything to be painted
WIDE, GAP = 1280, 8  # px
PROPOSALS, TYPES, JOINT = 4, 2, 6
WEAK_BEAM, PANELS = LiftKey("K1.B1", "L3"), 12


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
        window.go(Place(lift=LiftKey("C4", "L1")))
        pictures = window.stage("bench").page.pictures
        window.stage("bench").page.checks.toggle("Axial + biaxial bending")
        pictures.controls.other_bars.setChecked(True)
        QTest.qWait(3 * PAUSE)
        window.grab().save(str(PICTURES / "bench.png"))
        window.stage("bench").page.checks.toggle("Axial + biaxial bending")
        for view, name, theme in (
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
        take_walls(window)
        take_papers(window)
        take_sizing(window)
        take_joint(window)
        window.close()
    application.quit()


def take_walls(window: Window) -> None:
    """Take the core in elevation, and the bench of its beam that is exceeded."""
    window.go(Place("walls"))
    page = window.stage("walls").page
    page.show_member(WEAK_BEAM)
    page.seek_required()
    while len(page.elevation.required) < PANELS:
        QTest.qWait(20)
    QTest.qWait(PAUSE)
    window.grab().save(str(PICTURES / "walls.png"))
    window.go(Place(lift=WEAK_BEAM))
    bench = window.stage("bench").page
    bench.pictures.show_view(0)
    bench.checks.toggle("Shear of probable moments")
    QTest.qWait(3 * PAUSE)
    window.grab().save(str(PICTURES / "coupling.png"))
    bench.checks.toggle("Shear of probable moments")


def take_sizing(window: Window) -> None:
    """Take the proposals for a lift, and types against steel."""
    window.go(Place(lift=LiftKey("C4", "L2")))
    bench = window.stage("bench").page
    bench.pictures.show_view(0)
    bench.tables.show_view(PROPOSALS)
    while not bench.proposals.told.text().startswith("Best of"):
        QTest.qWait(20)
    QTest.qWait(2 * PAUSE)
    window.grab().save(str(PICTURES / "sizing.png"))
    window.go(Place("sizing"))
    page = window.stage("sizing").page
    page.run.start()
    while not page.run.take_all.isEnabled():
        QTest.qWait(20)
    page.show_view(TYPES)
    page.types.start()
    while not page.types.steps:
        QTest.qWait(20)
    page.types.choose(len(page.types.steps) // 2)
    QTest.qWait(PAUSE)
    window.grab().save(str(PICTURES / "groups.png"))


def take_joint(window: Window) -> None:
    """Take the joint above a lift of a ductile frame."""

    def ductile(project: Project) -> Project:
        return set_direction(project, None, "x", "ductility", "high")

    window.document.edit("Ductility", ductile)
    while not window.document.complete:
        QTest.qWait(20)
    window.go(Place(lift=LiftKey("C2", "L5")))
    bench = window.stage("bench").page
    bench.tables.show_view(0)
    bench.pictures.show_view(JOINT)
    QTest.qWait(3 * PAUSE)
    window.grab().save(str(PICTURES / "joint.png"))
    window.document.undo()


def take_papers(window: Window) -> None:
    """Take the documents stage, and pages of the calculation, a drawing and the bar list."""
    window.go(Place("documents"))
    page = window.stage("documents").page.issue
    while not page.told.text().endswith("begins."):
        QTest.qWait(20)
    page.table.selectRow(1)
    QTest.qWait(6 * PAUSE)
    window.grab().save(str(PICTURES / "documents.png"))
    project, results = window.document.project, window.document.results
    key = LiftKey("C4", "L2")
    pictures = PaperPictures(results, project.basis.system)
    papers = {
        paper.name: paper
        for paper in papers_of(project, results, None, pictures, None, lambda: None, [key])
    }
    (report,) = papers["Calculation"].make("pdf").values()
    save_pages(report, (6, 7, 9), "report.png")
    (bars,) = papers["Bar list"].make("pdf").values()
    save_pages(bars, (0,), "bar-list.png")
    prepared = {key: result.prepared for key, result in results.items()}
    listed = bar_list(project, prepared, list(project.by_key))
    sheet = lift_sheet(project, results, listed, key, sheet_of(project))
    save_pages(drawings_pdf([sheet], sheet.title), (0,), "drawing.png")
    (schedule,) = papers["Column schedule"].make("pdf").values()
    for name, content in (
        ("tarnholm-C4-L2.pdf", report),
        ("tarnholm-schedule.pdf", schedule),
        ("tarnholm-bars.pdf", bars),
    ):
        (EXAMPLES / name).write_bytes(content)


def save_pages(pdf: bytes, numbers: tuple[int, ...], name: str) -> None:
    """Save pages beside one another, 1280 px wide."""
    buffer, document = QBuffer(), QPdfDocument(None)
    buffer.setData(QByteArray(pdf))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(buffer)
    width = (WIDE - GAP * (len(numbers) - 1)) // len(numbers)
    size = document.pagePointSize(numbers[0])
    height = round(width * size.height() / size.width())
    image = QImage(WIDE, height, QImage.Format.Format_RGB32)
    image.fill(QColor("#D8D2C4"))
    painter = QPainter(image)
    for place, number in enumerate(numbers):
        # Drawn twice as large, so that thin lines stay.
        page = document.render(number, QSize(2 * width, 2 * height))
        area = QRect(place * (width + GAP), 0, width, height)
        painter.fillRect(area, QColor("white"))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(area, page)
    painter.end()
    image.save(str(PICTURES / name))


def take_forces(window: Window) -> None:
    """Take the picture of a table being taken."""
    window.go(Place("forces"))
    page = window.stage("forces").page
    page.show_view(TABLE)
    page.taking.open_file(EXAMPLES / "tarnholm-forces-C.xlsx")
    while page.taking.matched is None:
        QTest.qWait(20)
    page.taking.view.selectRow(12)
    QTest.qWait(PAUSE)
    window.grab().save(str(PICTURES / "forces.png"))


if __name__ == "__main__":
    main()
