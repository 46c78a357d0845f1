"""The rail: the stages of the work, each with a count of what is unsettled in it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QFrame, QVBoxLayout

from fexro.desktop.shell.stages import Stage
from fexro.desktop.text import tip_text
from fexro.desktop.theme import current_theme, font

__all__ = ["Rail"]

WIDTH, HEIGHT = 92, 34
MOST = 999  # what is counted up to


class _StageButton(QAbstractButton):
    """A stage by its name, and how much is unsettled."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self.stage, self.count = stage, 0
        self.setCheckable(True)
        self.setText(stage.title)
        self.setFixedSize(QSize(WIDTH, HEIGHT))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.show_count(0)

    def show_count(self, count: int) -> None:
        self.count = count
        keys = self.stage.keys.replace("+", " ")
        said = f"{count} unsettled" if count else "nothing unsettled"
        self.setToolTip(tip_text(f"{self.stage.title} ({keys}): {said}"))
        self.setAccessibleName(f"{self.stage.title}, {said}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter = current_theme(), QPainter(self)
        area = QRectF(self.rect())
        if self.isChecked():
            painter.fillRect(area, QColor(theme.paper))
            painter.fillRect(QRectF(0, 0, 3, area.height()), QColor(theme.capacity))
        active = self.isChecked() or self.underMouse() or self.hasFocus()
        painter.setPen(QColor(theme.ink if active else theme.secondary))
        painter.setFont(font(12, 600 if self.isChecked() else 400))
        flags = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(area.adjusted(14, 0, -4, 0), flags, self.text())
        if self.count:
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            number = str(self.count) if self.count <= MOST else f"{MOST}+"
            right = Qt.AlignmentFlag.AlignRight | flags
            painter.drawText(area.adjusted(4, 0, -8, 0), right, number)
        painter.end()


class Rail(QFrame):
    """The stages that stand on it, one below the other."""

    wanted = pyqtSignal(str)

    def __init__(self, stages: Sequence[Stage]) -> None:
        super().__init__()
        self.setObjectName("left")
        self.setFixedWidth(WIDTH)
        self.buttons: dict[str, _StageButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 10)
        column.setSpacing(2)
        for stage in stages:
            if stage.on_rail:
                button = _StageButton(stage)
                button.clicked.connect(lambda _=False, key=stage.key: self.wanted.emit(key))
                column.addWidget(button)
                self.buttons[stage.key] = button
        column.addStretch(1)

    def show_front(self, key: str | None) -> None:
        """Show which stage is in front."""
        for name, button in self.buttons.items():
            button.setChecked(name == key)

    def count(self) -> None:
        """Ask all stages what is unsettled in them."""
        for button in self.buttons.values():
            count = button.stage.unsettled()
            if count != button.count:
                button.show_count(count)
