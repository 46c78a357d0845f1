"""What the views draw: contrast, glyphs, the section to scale, the typeset lines."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Rectangle
from fexro.desktop.application import make_application
from fexro.desktop.derivation_view import typeset
from fexro.desktop.drawing import Fit, paint_bar, paint_glyph, paint_section
from fexro.desktop.shell.palette import Entry, matches
from fexro.desktop.theme import DARK, LIGHT, font
from fexro.project.column import LiftKey
from tests.conftest import make_column, make_lift
from tests.desktop.pages import schedule_of

ANALYSED = np.array(
    [[[2.0e6, 2e8, 6e7], [2.1e6, -1e8, 3e7]], [[1.0e6, -1e8, 9e7], [1.1e6, 5e7, -4e7]]]
)


@pytest.fixture(autouse=True)
def application(qapp):
    return make_application()


def canvas(width, height):
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(QColor("#ffffff"))
    return image


def pixels(image):
    """Lightness of every pixel, (height, width)."""
    return np.array(
        [
            [QColor(image.pixel(x, y)).lightness() for x in range(image.width())]
            for y in range(image.height())
        ]
    )


def luminance(colour):
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a, b):
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=["light", "dark"])
def test_text_stands_out_from_what_is_behind_it(theme):
    for text in (theme.ink, theme.secondary, theme.exceeded, theme.capacity):
        for behind in (theme.paper, theme.panel):
            assert contrast(text, behind) >= 4.5, (text, behind)
    assert contrast(theme.exceeded, theme.exceeded_wash) >= 4.5
    assert contrast(theme.secondary, theme.exceeded_wash) >= 4.5
    assert contrast(theme.ink, theme.track) >= 4.5
    assert contrast(theme.on_accent, theme.capacity) >= 4.5


def test_states_are_told_apart_without_colour():
    # Every state in the same ink, as a printer without colour has it.
    grey = replace(
        LIGHT, satisfied="#404040", attention="#404040", exceeded="#404040", unchecked="#404040"
    )
    drawn = []
    for state in State:
        image = canvas(24, 24)
        painter = QPainter(image)
        paint_glyph(painter, state, QPointF(12, 12), 20, grey)
        painter.end()
        drawn.append(pixels(image) < 128)
    for i, first in enumerate(drawn):
        assert first.any()
        for second in drawn[:i]:
            assert (first ^ second).sum() > 30


@pytest.mark.parametrize("ratio", [0.0, 0.5, 1.0, 1.2, 9.0])
def test_a_bar_is_as_long_as_its_ratio(ratio):
    image = canvas(250, 12)
    painter = QPainter(image)
    paint_bar(painter, ratio, QColor("#000000"), QRectF(0, 4, 250, 4), LIGHT)
    painter.end()
    row = pixels(image)[6]
    # The bar ends at 1.25, the tick of 1.00 stands at 200 px.
    expected = round(min(ratio, 1.25) * 200)
    dark = (row < 20).sum()
    assert abs(dark - expected) <= 1
    assert pixels(image)[2][200] < 128


def test_a_section_is_drawn_to_scale_inside_its_place():
    section = make_column(Rectangle(width=400, depth=800), "8 D25").section
    image = canvas(200, 300)
    painter = QPainter(image)
    target = QRectF(20, 20, 160, 260)
    fit = Fit(section.outline.bounds, target)
    paint_section(painter, section, fit, LIGHT, ACI_SI.held)
    painter.end()
    drawn = np.argwhere(pixels(image) < 250)
    (top, left), (bottom, right) = drawn.min(axis=0), drawn.max(axis=0)
    assert (bottom - top) / (right - left) == pytest.approx(2.0, rel=0.03)
    assert top >= 19
    assert bottom <= 281
    # y points up on the screen as on the drawing.
    assert fit.point(0, 400).y() < fit.point(0, -400).y()


def result_of(column):
    return check_lift(make_lift(column, ACI_SI, ("U1", "U2"), ANALYSED))


@pytest.mark.parametrize("system", list(UnitSystem))
def test_every_calculation_can_be_typeset(system):
    column = make_column(Rectangle(width=500, depth=700), "12 D25")
    result = result_of(column)
    records = [check.derive() for check in result.shown_findings]
    records += [result.derivation_of(i) for i in range(4)]
    for record in records:
        image = typeset(record, system, 330, 1.0, LIGHT)
        assert not image.isNull()
        assert image.width() == pytest.approx(330, abs=1)


def test_typeset_lines_follow_the_screen():
    result = result_of(make_column(Rectangle(width=500, depth=700), "12 D25"))
    record = result.derivation_of(0)
    once, twice = (typeset(record, UnitSystem.SI, 330, ratio, LIGHT) for ratio in (1.0, 2.0))
    assert twice.width() == pytest.approx(2 * once.width(), abs=2)
    assert twice.deviceIndependentSize().width() == pytest.approx(330, abs=1)
    narrow = typeset(record, UnitSystem.SI, 240, 1.0, LIGHT)
    assert narrow.height() >= once.height()


def test_palette_words_match_in_any_order():
    entry = Entry("C4 · L1", "Exceeds by 4 %", lambda: None)
    for typed in ("", "c4", "l1 c4", "C4·L1", "exceeds c4"):
        assert matches(entry, typed)
    assert not matches(entry, "c4 l2")


def test_figures_are_of_one_width():
    from PyQt6.QtGui import QFontMetricsF

    metrics = QFontMetricsF(font(12))
    widths = {round(metrics.horizontalAdvance(digit), 3) for digit in "0123456789"}
    assert len(widths) == 1


def test_every_cell_of_the_schedule_fits_its_text(window):
    from PyQt6.QtGui import QFontMetricsF

    window.resize(1280, 800)
    view = schedule_of(window).view
    narrow = view.columnWidth(0)
    for key in window.document.project.by_key:
        lift = window.document.project.by_key[LiftKey(*key)]
        widest = max(
            QFontMetricsF(font(11, 500)).horizontalAdvance(group)
            for group in lift.section.bars.split(" + ")
        )
        drawing = min(view.rowHeight(0) - 46, narrow - 74)
        assert widest <= narrow - drawing - 20
