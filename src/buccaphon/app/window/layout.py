"""The parts of the window side by side: rail, panel of the step, pages, and the desk with mirror and mouths."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QStackedWidget, QVBoxLayout, QWidget

from buccaphon.app.overlays.ground import Ground
from buccaphon.app.widgets.scrolling import Scrolling

_SIDE, _DESK = 262, 298  # pixels


@dataclass(frozen=True, slots=True, eq=False)
class Parts:
    """panels: one a step, in their order, which `steps` shows one of. standing: whether all is saved. pages: what `views`
    shows one of beside the line, which is galley, overview and scene bar."""

    rail: QWidget
    panels: Sequence[QWidget]
    steps: QStackedWidget
    standing: QLabel
    galley: QWidget
    overview: QWidget
    scene_bar: QWidget
    pages: Sequence[QWidget]
    views: QStackedWidget
    progress: QWidget
    mirror: QWidget
    grid: QWidget


@dataclass(frozen=True, slots=True, eq=False)
class Places:
    """whole: all of the parts. side: the panel of the step. ground: what the pages stand on."""

    whole: QWidget
    side: QWidget
    ground: Ground


def lay_out(parts: Parts) -> Places:
    """Put the window's parts into their places."""
    for panel in parts.panels:
        parts.steps.addWidget(Scrolling(panel))
    side = QWidget()
    side.setObjectName("side")
    side.setFixedWidth(_SIDE)
    column = QVBoxLayout(side)
    column.setContentsMargins(0, 0, 0, 0)
    column.addWidget(parts.steps, 1)
    parts.standing.setProperty("role", "hint")
    parts.standing.setContentsMargins(18, 0, 18, 12)
    column.addWidget(parts.standing)

    desk = QWidget()
    desk.setObjectName("desk")
    desk.setFixedWidth(_DESK)
    right = QVBoxLayout(desk)
    right.setContentsMargins(14, 14, 14, 12)
    right.setSpacing(12)
    right.addWidget(parts.mirror)
    right.addWidget(parts.grid)
    right.addStretch(1)

    central = QWidget()
    row = QHBoxLayout(central)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(0)
    row.addWidget(parts.rail)
    row.addWidget(side)
    middle = QVBoxLayout()
    middle.setSpacing(0)
    line = QWidget()
    page = QVBoxLayout(line)
    page.setContentsMargins(0, 0, 0, 0)
    page.setSpacing(0)
    page.addWidget(parts.galley, 1)
    page.addWidget(parts.overview)
    page.addWidget(parts.scene_bar)
    for view in (line, *parts.pages):
        parts.views.addWidget(view)
    ground = Ground(parts.views)
    middle.addWidget(ground, 1)
    middle.addWidget(parts.progress)
    row.addLayout(middle, 1)
    row.addWidget(desk)
    return Places(central, side, ground)
