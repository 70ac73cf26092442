"""The page itself: the folder, a line to filter by, the scenes, and what is done to those that are chosen."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.docket.model import CHECK, SCENE, DocketModel
from buccaphon.app.session.docketing import Docketing
from buccaphon.app.settings import DELIVER_DONE
from buccaphon.app.timers import every, later
from buccaphon.app.widgets.parts import button, label
from buccaphon.painting.theme import Theme
from buccaphon.project.standing import Standing
from buccaphon.texts import _, ngettext

_LOOKS = 15_000  # ms between two looks at what others have marked
_TYPING = 40  # ms
_IN_FIRST_ROW = 3  # buttons: what is done to a scene by its reader


class Table(QTableView):
    """opened: Return, or a double click, on a row."""

    opened = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        else:
            super().keyPressEvent(event)


class DocketPage(QWidget):
    """left: back to the galley. wanted: a scene is to be opened (its path). folder_wanted: another folder. chart_wanted,
    rate_wanted, character_wanted: which, for the chosen scenes."""

    left = pyqtSignal()
    wanted = pyqtSignal(object)
    folder_wanted = pyqtSignal()
    chart_wanted = pyqtSignal()
    rate_wanted = pyqtSignal()
    character_wanted = pyqtSignal()
    align_wanted = pyqtSignal()
    deliver_wanted = pyqtSignal()

    def __init__(self, docketing: Docketing, theme: Theme) -> None:
        super().__init__()
        self._docketing = docketing
        self.model = DocketModel(theme, self)
        self.title, self.count = label(_("Scenes"), "title"), label("", "hint")
        self.search = QLineEdit()
        self.search.setPlaceholderText(_("Filter by name, state, person or what is to be checked"))
        self.search.setAccessibleName(_("Filter the scenes"))
        self.search.setClearButtonEnabled(True)
        self.table = self._make_table()
        self.delivers = QCheckBox(_("Export a scene when it is done"))
        self.delivers.setToolTip(_("“Done, next scene” also writes the scene's export list"))
        self.delivers.setChecked(DELIVER_DONE.read())
        self.standing = label("", "hint")
        self._lay_out()
        self._soon = later(self, _TYPING, lambda: self.model.filter(self.search.text()))
        self._looks = every(self, _LOOKS, self._look)
        self.search.textChanged.connect(self._soon.start)
        self.search.returnPressed.connect(self._go_to_table)
        self.table.opened.connect(self._open)
        self.table.doubleClicked.connect(lambda _index: self._open())
        self.delivers.toggled.connect(self._remember_delivers)
        self.model.modelReset.connect(self._tell_count)
        docketing.changed.connect(self.refresh)
        docketing.told.connect(self.standing.setText)

    def _make_table(self) -> Table:
        table = Table()
        table.setModel(self.model)
        table.setAccessibleName(_("Scenes of the folder"))
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        table.setShowGrid(False)
        table.setWordWrap(False)
        table.setTabKeyNavigation(False)
        table.setToolTip(_("Return opens a scene; several are chosen with Shift and Ctrl"))
        rows, columns = table.verticalHeader(), table.horizontalHeader()
        assert rows is not None
        assert columns is not None
        rows.hide()
        rows.setDefaultSectionSize(26)
        columns.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        columns.setSectionsClickable(True)
        columns.setSortIndicatorShown(True)
        columns.setSortIndicatorClearable(True)
        columns.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        columns.sortIndicatorChanged.connect(self.model.sort)
        for column, width in enumerate((104, 104, 76, 200, 76, 54, 70, 150)):
            table.setColumnWidth(column, width)
        columns.setSectionResizeMode(CHECK, QHeaderView.ResizeMode.Stretch)
        return table

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self.title)
        head.addWidget(self.count, 1)
        for text, hint, signal in (
            (_("Another folder…"), _("The scenes of another folder"), self.folder_wanted),
            (_("Back"), _("Back to the line · Esc"), self.left),
        ):
            made = button(text, hint, "quiet")
            made.clicked.connect(signal)
            head.addWidget(made)
        rows = QHBoxLayout(), QHBoxLayout()
        self.buttons: list[QPushButton] = []
        for text, hint, act in (
            (_("Open"), _("Open the chosen scene · Return"), self._open),
            (_("Mark as looked at"), _("They need no eye any more"), lambda: self._mark(Standing.LOOKED_AT)),
            (_("Mark as to do"), _("They need an eye again"), lambda: self._mark(Standing.TO_DO)),
            (_("Align again"), _("Align all words of the chosen scenes; pins stay"), self.align_wanted.emit),
            (_("Chart…"), _("Another mouth chart for the chosen scenes"), self.chart_wanted.emit),
            (_("Frame rate…"), _("Another frame rate for the chosen scenes"), self.rate_wanted.emit),
            (_("Character…"), _("Another character for the chosen scenes"), self.character_wanted.emit),
            (_("Export"), _("Write the export lists of the chosen scenes"), self.deliver_wanted.emit),
        ):
            made = button(text, hint)
            made.clicked.connect(act)
            rows[len(self.buttons) >= _IN_FIRST_ROW].addWidget(made)
            self.buttons.append(made)
        for row in rows:
            row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 14)
        column.setSpacing(9)
        column.addLayout(head)
        column.addWidget(self.search)
        column.addWidget(self.table, 1)
        for row in rows:
            column.addLayout(row)
        below = QHBoxLayout()
        below.addWidget(self.delivers)
        below.addWidget(self.standing, 1)
        column.addLayout(below)

    def refresh(self) -> None:
        """Show the docket as it is now; what was chosen stays chosen."""
        docketing, chosen = self._docketing, set(self.chosen())
        self.title.setText(docketing.folder.name if docketing.folder is not None else _("Scenes"))
        self.model.take(docketing.scenes)
        selection = self.table.selectionModel()
        assert selection is not None
        for row, scene in enumerate(self.model.shown):
            if scene.path in chosen:
                how = selection.SelectionFlag
                selection.select(self.model.index(row, SCENE), how.Select | how.Rows)
        self._choose_one()

    def _choose_one(self) -> None:
        """Something is chosen wherever there is something: Return opens it."""
        if self.model.shown and not self.chosen():
            self.table.selectRow(0)

    def chosen(self) -> list[Path]:
        """The scenes that are chosen, in the order in which they are seen."""
        selection = self.table.selectionModel()
        rows = sorted(index.row() for index in selection.selectedRows()) if selection is not None else []
        return [self.model.shown[row].path for row in rows]

    def _tell_count(self) -> None:
        left = sum(scene.standing is Standing.TO_DO for scene in self.model.scenes)
        told = [ngettext("{count} scene to look at", "{count} scenes to look at", left)]
        if len(self.model.shown) != len(self.model.scenes):
            shown = len(self.model.shown)
            told.append(ngettext("{count} shown", "{count} shown", shown))
        self.count.setText(" · ".join(told))

    def _open(self) -> None:
        self._choose_one()
        chosen = self.chosen()
        if chosen:
            self.wanted.emit(chosen[0])

    def _mark(self, standing: Standing) -> None:
        self._docketing.mark(self.chosen(), standing)

    def _go_to_table(self) -> None:
        self.model.filter(self.search.text())
        if self.model.shown:
            self.table.selectRow(0)
            self.table.setFocus()

    def _remember_delivers(self, on: bool) -> None:
        DELIVER_DONE.write(on)

    def _look(self) -> None:
        if self.isVisible():
            self._docketing.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._looks.start()
        self._docketing.refresh()
        self._choose_one()
        self.table.setFocus()
