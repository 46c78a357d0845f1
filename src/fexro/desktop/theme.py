"""Colours, type and the style sheet, light and dark."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette

from fexro.core.findings import State
from fexro.fonts import FONTS

__all__ = [
    "DARK",
    "LIGHT",
    "Theme",
    "choose_theme",
    "current_theme",
    "font",
    "load_fonts",
    "mixed",
    "on_paper",
]

FAMILY = "Inter"
BASE_SIZE = 12  # px


@dataclass(frozen=True)
class Theme:
    """The colours of one theme."""

    ink: str
    secondary: str
    hairline: str
    paper: str
    panel: str
    concrete: str
    compressed: str
    capacity: str
    capacity_fill: str
    track: str
    axis: str
    tension: str
    satisfied: str
    attention: str
    exceeded: str
    exceeded_wash: str
    unchecked: str
    on_accent: str

    def state(self, state: State) -> QColor:
        """Return the colour of a state."""
        return QColor(
            {
                State.SATISFIED: self.satisfied,
                State.ATTENTION: self.attention,
                State.NOT_CHECKED: self.unchecked,
                State.EXCEEDED: self.exceeded,
            }[state]
        )

    def palette(self) -> QPalette:
        """Return the palette of the widgets."""
        palette = QPalette()
        for role, colour in (
            (QPalette.ColorRole.Window, self.panel),
            (QPalette.ColorRole.WindowText, self.ink),
            (QPalette.ColorRole.Base, self.panel),
            (QPalette.ColorRole.AlternateBase, self.paper),
            (QPalette.ColorRole.Text, self.ink),
            (QPalette.ColorRole.Button, self.panel),
            (QPalette.ColorRole.ButtonText, self.ink),
            (QPalette.ColorRole.ToolTipBase, self.panel),
            (QPalette.ColorRole.ToolTipText, self.ink),
            (QPalette.ColorRole.PlaceholderText, self.secondary),
            (QPalette.ColorRole.Highlight, self.capacity),
            (QPalette.ColorRole.HighlightedText, self.on_accent),
            (QPalette.ColorRole.Link, self.capacity),
        ):
            palette.setColor(role, QColor(colour))
        for role in (QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
            palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(self.secondary))
        return palette

    def style_sheet(self) -> str:
        """Return the style sheet of the window."""
        return f"""
        QWidget {{ font-size: {BASE_SIZE}px; color: {self.ink}; }}
        QMainWindow, QWidget#page {{ background: {self.paper}; }}
        QFrame#bar, QFrame#panel, QStatusBar {{ background: {self.panel}; }}
        QFrame#bar {{ border: none; border-bottom: 1px solid {self.hairline}; }}
        QFrame#side {{ background: {self.panel}; border: none;
            border-left: 1px solid {self.hairline}; }}
        QFrame#left {{ background: {self.panel}; border: none;
            border-right: 1px solid {self.hairline}; }}
        QFrame#card {{ background: {self.panel}; border: 1px solid {self.hairline};
            border-radius: 4px; }}
        QFrame#verdict {{ background: {self.paper}; border: none;
            border-bottom: 1px solid {self.hairline}; }}
        QFrame#notice {{ background: {self.exceeded_wash}; border: none;
            border-bottom: 1px solid {self.exceeded}; }}
        QStatusBar {{ border-top: 1px solid {self.hairline}; color: {self.secondary}; }}
        QStatusBar::item {{ border: none; }}
        QLabel[role="title"] {{ font-size: 15px; font-weight: 600; }}
        QLabel[role="headline"] {{ font-size: 16px; font-weight: 600; }}
        QLabel[role="quiet"] {{ color: {self.secondary}; }}
        QLabel[role="heading"] {{ color: {self.secondary}; font-weight: 600; font-size: 11px; }}
        QLabel[role="error"] {{ color: {self.exceeded}; font-size: 11px; }}
        QLabel[role="chip"] {{ border: 1px solid {self.hairline}; border-radius: 4px;
            padding: 3px 9px; color: {self.secondary}; }}
        QPushButton {{ background: {self.panel}; border: 1px solid {self.hairline};
            border-radius: 4px; padding: 4px 10px; color: {self.ink}; }}
        QPushButton:hover {{ border-color: {self.capacity}; }}
        QPushButton:focus {{ border-color: {self.capacity}; }}
        QPushButton:disabled {{ color: {self.secondary}; }}
        QPushButton:checked {{ border-color: {self.capacity}; color: {self.capacity};
            font-weight: 600; }}
        QPushButton[role="link"] {{ border: 1px solid transparent; padding: 2px 3px;
            color: {self.secondary}; background: transparent; }}
        QPushButton[role="link"]:hover {{ color: {self.capacity}; }}
        QPushButton[role="link"]:focus {{ color: {self.capacity}; border-color: {self.capacity}; }}
        QPushButton[role="tab"] {{ border: 1px solid transparent; border-radius: 4px;
            padding: 3px 9px; color: {self.secondary}; background: transparent; }}
        QPushButton[role="tab"]:hover {{ color: {self.capacity}; }}
        QPushButton[role="tab"]:focus {{ border-color: {self.hairline}; }}
        QPushButton[role="tab"]:checked {{ color: {self.ink}; background: {self.panel};
            border-color: {self.hairline}; font-weight: 600; }}
        QFrame#pictures {{ background: {self.paper}; border: none; }}
        QFrame#pictures QLabel {{ color: {self.secondary}; }}
        QPushButton[role="search"] {{ text-align: left; color: {self.secondary};
            padding: 4px 10px; }}
        QPushButton::menu-indicator {{ image: none; width: 0; }}
        QLineEdit, QComboBox {{ background: transparent; border: 1px solid transparent;
            border-bottom: 1px solid {self.hairline}; padding: 2px 4px; color: {self.ink};
            selection-background-color: {self.capacity}; }}
        QLineEdit:hover, QComboBox:hover {{ border-bottom-color: {self.capacity}; }}
        QLineEdit:focus, QComboBox:focus {{ border: 1px solid {self.capacity};
            border-radius: 3px; background: {self.panel}; }}
        QLineEdit[refused="true"] {{ border: 1px solid {self.exceeded}; border-radius: 3px; }}
        QComboBox::drop-down {{ border: none; width: 14px; }}
        QComboBox QAbstractItemView, QMenu {{ background: {self.panel}; color: {self.ink};
            border: 1px solid {self.hairline}; selection-background-color: {self.capacity};
            selection-color: {self.on_accent}; }}
        QMenu::item {{ padding: 5px 24px 5px 14px; }}
        QMenu::item:selected {{ background: {self.capacity}; color: {self.on_accent}; }}
        QMenu::item:disabled {{ color: {self.secondary}; }}
        QMenu::separator {{ height: 1px; background: {self.hairline}; margin: 4px 0; }}
        QTableView, QListView {{ background: {self.panel}; border: none;
            gridline-color: {self.hairline}; selection-background-color: {self.track};
            selection-color: {self.ink}; }}
        QTableView#schedule, QTableView#schedule QHeaderView {{ background: {self.paper}; }}
        FiguresTable::item {{ padding: 0 6px 0 4px; }}
        FiguresTable::item:selected {{ background: {self.track}; color: {self.ink}; }}
        QTableView#combinations {{ border-top: 1px solid {self.hairline}; }}
        QListView#chips {{ background: transparent; }}
        QListView#chips::item {{ background: {self.panel}; border: 1px solid {self.hairline};
            border-radius: 4px; padding: 1px 6px; color: {self.capacity}; }}
        QHeaderView {{ background: {self.panel}; border: none; }}
        QHeaderView::section {{ background: {self.panel}; color: {self.secondary}; border: none;
            border-bottom: 1px solid {self.hairline}; padding: 4px 9px 4px 7px; }}
        QHeaderView::up-arrow, QHeaderView::down-arrow {{ width: 7px; height: 5px;
            subcontrol-position: top center; }}
        QTableCornerButton::section {{ background: {self.paper}; border: none; }}
        QScrollArea {{ background: transparent; border: none; }}
        QScrollArea > QWidget > QWidget#content {{ background: transparent; }}
        QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
        QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
        QScrollBar::handle {{ background: {self.hairline}; border-radius: 4px; margin: 1px;
            min-height: 24px; min-width: 24px; }}
        QScrollBar::handle:hover {{ background: {self.secondary}; }}
        QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
        QAbstractScrollArea::corner {{ background: transparent; border: none; }}
        QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
        QFrame#palette {{ background: {self.panel}; border: 1px solid {self.capacity};
            border-radius: 6px; }}
        QSlider::groove:horizontal {{ height: 3px; background: {self.axis}; border-radius: 1px; }}
        QSlider::handle:horizontal {{ width: 12px; height: 12px; margin: -5px 0;
            border: 1.5px solid {self.capacity}; border-radius: 6px; background: {self.panel}; }}
        QSlider::handle:horizontal:focus {{ background: {self.capacity}; }}
        QCheckBox::indicator {{ width: 12px; height: 12px; border: 1px solid {self.axis};
            border-radius: 2px; background: {self.panel}; }}
        QCheckBox::indicator:checked {{ background: {self.capacity};
            border-color: {self.capacity}; }}
        QCheckBox:focus {{ color: {self.capacity}; }}
        QProgressBar {{ background: {self.track}; border: none; max-height: 5px; }}
        QProgressBar::chunk {{ background: {self.capacity}; }}
        QToolTip {{ background: {self.panel}; color: {self.ink};
            border: 1px solid {self.hairline}; padding: 4px; }}
        QSplitter::handle {{ background: {self.hairline}; }}
        """


LIGHT = Theme(
    ink="#20293A",
    secondary="#5F6773",
    hairline="#D8D2C4",
    paper="#F6F3EC",
    panel="#FFFEFB",
    concrete="#E3DED2",
    compressed="#C3C9CB",
    capacity="#2B5C8A",
    capacity_fill="#142B5C8A",
    track="#E9E4D8",
    axis="#9A9482",
    tension="#A8562B",
    satisfied="#5A6B80",
    attention="#B7791F",
    exceeded="#B23A2E",
    exceeded_wash="#F2E6E0",
    unchecked="#7C8088",
    on_accent="#FFFFFF",
)
DARK = Theme(
    ink="#E8E5DD",
    secondary="#A3A8B0",
    hairline="#3B414B",
    paper="#1B1F26",
    panel="#22272F",
    concrete="#4A4E54",
    compressed="#61707C",
    capacity="#7FB2E0",
    capacity_fill="#227FB2E0",
    track="#343A44",
    axis="#6B727D",
    tension="#D9925F",
    satisfied="#9DB0C6",
    attention="#E0A94A",
    exceeded="#EF8376",
    exceeded_wash="#3A2A2B",
    unchecked="#8D929B",
    on_accent="#10151C",
)


_chosen: Theme | None = None


def choose_theme(name: str | None) -> None:
    """Keep to the light or the dark theme, or follow the desktop's setting."""
    global _chosen
    _chosen = {"light": LIGHT, "dark": DARK}.get(name or "")


def current_theme() -> Theme:
    """Return the theme that was chosen, or that of the desktop's setting."""
    if _chosen is not None:
        return _chosen
    hints = QGuiApplication.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    return DARK if dark else LIGHT


@contextmanager
def on_paper() -> Iterator[None]:
    """Use the light theme on white for what is painted meanwhile."""
    global _chosen
    before, _chosen = _chosen, replace(LIGHT, paper="#FFFFFF", panel="#FFFFFF")
    try:
        yield
    finally:
        _chosen = before


def load_fonts() -> None:
    """Make the bundled family known to the application."""
    for path in sorted(FONTS.glob("*.otf")):
        QFontDatabase.addApplicationFont(str(path))


def font(size: float = BASE_SIZE, weight: int = 400) -> QFont:
    """Return the family at a size in px, with figures of one width."""
    made = QFont(FAMILY)
    made.setPixelSize(round(size))
    made.setWeight(QFont.Weight(weight))
    made.setFeature(QFont.Tag("tnum"), 1)
    return made


def mixed(first: str | QColor, second: str | QColor, share: float) -> QColor:
    """Return a colour between two, neither see-through."""
    share = min(max(share, 0.0), 1.0)
    a, b = QColor(first), QColor(second)
    return QColor.fromRgbF(
        *(x + share * (y - x) for x, y in zip(a.getRgbF()[:3], b.getRgbF()[:3], strict=True))
    )
