"""The scenes of a docket as rows: sorted by what needs an eye, filtered by typing."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt
from PyQt6.QtGui import QColor

from buccaphon.batch.docket import DocketScene
from buccaphon.painting.theme import Theme
from buccaphon.project.standing import Standing
from buccaphon.texts import N_, _
from buccaphon.timing import clock

HEADS = (
    N_("Scene"),
    N_("Speakers"),
    N_("State"),
    N_("To check"),
    N_("Uncertain"),
    N_("Issues"),
    N_("Length"),
    N_("Looked at by"),
)
SCENE, SPEAKERS, STATE, CHECK, DOUBTS, ISSUES, LENGTH, WHO = range(len(HEADS))
_NUMBERS = (DOUBTS, ISSUES, LENGTH)


class DocketModel(QAbstractTableModel):
    def __init__(self, theme: Theme, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self.scenes: list[DocketScene] = []
        self.shown: list[DocketScene] = []
        self._told: dict[str, str] = {}  # of each scene all that is searched, by the name of its file
        self._filter = ""
        self._order: tuple[int, bool] | None = None

    def take(self, scenes: Sequence[DocketScene]) -> None:
        """Other scenes, in the order in which they need an eye."""
        self.scenes = list(scenes)
        self._told = {scene.path.name: _searched(scene) for scene in self.scenes}
        self._choose()

    def filter(self, text: str) -> None:
        """Only those in which all of these words are found: name, state, person, what is to be checked."""
        self._filter = text.casefold()
        self._choose()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        self._order = (column, order is Qt.SortOrder.DescendingOrder) if column >= 0 else None
        self._choose()

    def _choose(self) -> None:
        words = self._filter.split()
        self.beginResetModel()
        self.shown = [scene for scene in self.scenes if all(word in self._told[scene.path.name] for word in words)]
        if self._order is not None:
            column, reverse = self._order
            self.shown.sort(key=lambda scene: _sorted_by(scene, column), reverse=reverse)
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  (Qt's signature)
        return 0 if parent.isValid() else len(self.shown)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(HEADS)

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and way is Qt.Orientation.Horizontal:
            return _(HEADS[section])
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        scene, column = self.shown[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return _cell(scene, column)
        if role == Qt.ItemDataRole.ToolTipRole:
            return _tip(scene)
        if role == Qt.ItemDataRole.TextAlignmentRole and column in _NUMBERS:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ForegroundRole and scene.standing is not Standing.TO_DO:
            return QColor(self._theme.ink_soft)
        return None


def _cell(scene: DocketScene, column: int) -> str:
    found, mark = scene.found, scene.mark
    told = {SCENE: scene.title, STATE: scene.standing.label}
    if mark is not None:
        told[WHO] = f"{mark.who}, {datetime.fromtimestamp(mark.when).strftime('%d %b %H:%M')}"
    if found is not None:
        told |= {
            SPEAKERS: ", ".join(found.speakers),
            DOUBTS: str(found.doubts or ""),
            ISSUES: str(len(found.issues) or ""),
            LENGTH: clock(found.seconds) if found.seconds else "",
            CHECK: found.failed or (found.issues[0] if found.issues else ""),
        }
        if found.failed:
            told[STATE] = _("failed")
    return told.get(column, "")


def _sorted_by(scene: DocketScene, column: int) -> Any:
    found = scene.found
    if column in _NUMBERS:
        numbers = {DOUBTS: found.doubts, ISSUES: len(found.issues), LENGTH: found.seconds} if found is not None else {}
        return numbers.get(column, 0)
    return _cell(scene, column).casefold()


def _searched(scene: DocketScene) -> str:
    return " ".join(_cell(scene, column) for column in (SCENE, SPEAKERS, STATE, WHO, CHECK)).casefold()


def _tip(scene: DocketScene) -> str:
    found = scene.found
    if found is None:
        return str(scene.path)
    return "\n".join((str(scene.path), *([found.failed] if found.failed else found.issues[:12])))
