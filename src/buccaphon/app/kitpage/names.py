"""The names table: each mouth of the chart, the drawing it is shown by, what the host calls it, and why."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QMimeData, QModelIndex, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDrag, QDropEvent, QIcon
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHeaderView,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.widgets.parts import button, label, quiet_row
from buccaphon.errors import BuccaphonError
from buccaphon.files import whole_text
from buccaphon.kits.casting import for_chart, show_by
from buccaphon.kits.kit import CHANNELS, Kind, Kit
from buccaphon.kits.names.lists import parse_list
from buccaphon.kits.names.reasons import in_words
from buccaphon.kits.names.table import NamesTable, give, matched
from buccaphon.mouths.chart import Chart
from buccaphon.painting.theme import Theme
from buccaphon.setting import settings_of
from buccaphon.texts import N_, _

MOUTH, SHOWN, NAME, WHY = range(4)
_HEADINGS = (N_("Mouth"), N_("Artwork"), N_("Host name"), N_("Reason"))
_DRAWING = "application/x-buccaphon-drawing"
_PICTURE = QSize(56, 36)
_BY_ITSELF = {
    Kind.DRAWN: N_("its pose"),
    Kind.CUT_OUT: N_("its jaw"),
    Kind.MODEL: N_("its shapes"),
}  # where nothing was given


class _Choosing(QStyledItemDelegate):
    """Cells that are typed, or chosen from a list."""

    def __init__(self, parent: QWidget, listed: Callable[[], tuple[str, ...]], *, typed: bool) -> None:
        super().__init__(parent)
        self._listed, self._typed = listed, typed

    def createEditor(self, parent: QWidget, _option: QStyleOptionViewItem, _index: QModelIndex) -> QWidget:
        box = QComboBox(parent)
        box.setEditable(self._typed)
        box.addItems(self._listed())
        box.activated.connect(lambda _row: self._done(box))
        return box

    def _done(self, box: QComboBox) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box)

    def setEditorData(self, editor: QWidget, index: QModelIndex) -> None:
        assert isinstance(editor, QComboBox)
        text = str(index.data(Qt.ItemDataRole.EditRole) or "")
        editor.setCurrentText(text)
        if self._typed and (line := editor.lineEdit()) is not None:
            line.selectAll()

    def setModelData(self, editor: QWidget, model: object, index: QModelIndex) -> None:
        assert isinstance(editor, QComboBox)
        model.setData(index, editor.currentText())  # type: ignore[attr-defined]


class Table(QTableWidget):
    """given: a target, and the names that were given to it. shown: a target, and the drawing that it is to be shown by."""

    given = pyqtSignal(str, object)
    shown = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__(0, len(_HEADINGS))
        self.setHorizontalHeaderLabels(list(map(_, _HEADINGS)))
        self.verticalHeader().hide()
        self.setShowGrid(False)
        self.setAcceptDrops(True)
        self.setDropIndicatorShown(False)
        self.setIconSize(_PICTURE)
        self.verticalHeader().setDefaultSectionSize(_PICTURE.height() + 6)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setAccessibleName(_("Names in the host"))
        header = self.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setSectionResizeMode(WHY, QHeaderView.ResizeMode.Stretch)
        for column, width in ((MOUTH, 132), (SHOWN, 118), (NAME, 150)):
            self.setColumnWidth(column, width)
        self._filling = False
        self.itemChanged.connect(self._take)

    def fill(self, kit: Kit, chart: Chart, picture: Callable[[int], QIcon]) -> None:
        """A row for each mouth, and one for each channel besides."""
        self._filling = True
        targets = (*chart.names, *CHANNELS)
        self.setRowCount(len(targets))
        for row, target in enumerate(targets):
            is_mouth = row < len(chart.names)
            rows = kit.names.rows_of(target)
            sure = all(each.sure for each in rows)
            shown = shown_by(kit, target) if is_mouth else ""
            why = in_words(reason for row in rows for reason in row.why) or (
                _("same name as in the chart") if is_mouth else ""
            )
            names = ", ".join(each.name for each in rows) or target
            number = (
                _("Number {target} in the host. ", target=kit.names.number_of(target, chart.names)) if is_mouth else ""
            )
            cells = (target, shown, names, why if sure else f"? {why}")
            for column, text in enumerate(cells):
                item = self.item(row, column)
                if item is None:
                    item = QTableWidgetItem()
                    self.setItem(row, column, item)
                item.setText(text)
                item.setToolTip(text)
                editable = column == NAME or (column == SHOWN and is_mouth and bool(kit.own))
                flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                item.setFlags(flags | Qt.ItemFlag.ItemIsEditable if editable else flags)
            self.item(row, MOUTH).setIcon(picture(row) if is_mouth else QIcon())
            self.item(row, NAME).setToolTip(_("{number}Type a name, or several separated by commas", number=number))
        self._filling = False

    def _take(self, item: QTableWidgetItem) -> None:
        if self._filling:
            return
        target = self.item(item.row(), MOUTH).text()
        if item.column() == NAME:
            names = [part.strip() for part in item.text().split(",")]
            self.given.emit(target, [name for name in names if name and name != target])
        elif item.column() == SHOWN:
            self.shown.emit(target, "" if item.text() in _BY_ITSELF.values() else item.text())

    def dragEnterEvent(self, event: QDropEvent) -> None:
        if event.mimeData().hasFormat(_DRAWING):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDropEvent) -> None:
        event.setAccepted(event.mimeData().hasFormat(_DRAWING) and self.rowAt(int(event.position().y())) >= 0)

    def dropEvent(self, event: QDropEvent) -> None:
        row = self.rowAt(int(event.position().y()))
        if row >= 0 and event.mimeData().hasFormat(_DRAWING):
            event.acceptProposedAction()
            self.shown.emit(self.item(row, MOUTH).text(), bytes(event.mimeData().data(_DRAWING).data()).decode())


class Pictures(QListWidget):
    """This character's drawings in a row, to be dragged onto a mouth."""

    def __init__(self) -> None:
        super().__init__()
        self.setViewMode(QListWidget.ViewMode.IconMode)
        self.setFlow(QListWidget.Flow.LeftToRight)
        self.setWrapping(False)
        self.setMovement(QListWidget.Movement.Static)
        self.setIconSize(_PICTURE)
        self.setFixedHeight(84)
        self.setDragEnabled(True)
        self.setAccessibleName(_("This character's drawings"))
        self.setToolTip(_("Drag a drawing onto its mouth"))

    def startDrag(self, _actions: Qt.DropAction) -> None:
        item = self.currentItem()
        if item is None:
            return
        data = QMimeData()
        data.setData(_DRAWING, item.text().encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(item.icon().pixmap(_PICTURE))
        drag.exec(Qt.DropAction.CopyAction)


def shown_by(kit: Kit, mouth: str) -> str:
    """What a mouth is shown by, in words: a head's shapes make every pose together unless some were given by hand."""
    rows = [row for row in kit.shows if row.target == mouth and (kit.kind is not Kind.MODEL or row.by_hand)]
    return ", ".join(row.name for row in rows) or _(_BY_ITSELF[kit.kind])


class NamesSection(QWidget):
    """changed: the kit as it is to be, and the gesture. said: something to tell. list_wanted: a file with names is to be
    chosen."""

    changed = pyqtSignal(object, str)
    said = pyqtSignal(str)
    list_wanted = pyqtSignal()

    def __init__(self, characters: CharacterLoader, theme: Theme) -> None:
        super().__init__()
        self._characters, self._theme = characters, theme
        self._kit: Kit | None = None
        self._chart: Chart | None = None
        self._filling = False
        self.table, self.pictures = Table(), Pictures()
        self.unused = label("", "hint")
        self.pasted = QPlainTextEdit()
        self.pasted.setPlaceholderText(_("Paste the host's names here, one per line or separated by commas"))
        self.pasted.setAccessibleName(_("Names of the host"))
        self.pasted.setFixedHeight(72)
        self.paste_button = button(_("Paste a list…"), _("The host's names of shapes, drawings or layers"), "quiet")
        self.file_button = button(_("From a file…"), _("A text or CSV file with the host's names"), "quiet")
        self.match_button = button(_("Match"), _("Give each mouth the best matching name"))
        self.before, self.after, self.case = QLineEdit(), QLineEdit(), QComboBox()
        self.count = QComboBox()
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        rule = settings_of(NamesTable)
        for field, each, wide in ((self.before, rule["before"], 88), (self.after, rule["after"], 74)):
            field.setPlaceholderText(each.name)
            field.setFixedWidth(wide)
        for combo, each in ((self.case, rule["case"]), (self.count, rule["counts_from"])):
            for value, text in each.options:
                combo.addItem(text, value)
        fields = (self.before, self.after, self.case, self.count)
        for widget, name in zip(fields, ("before", "after", "case", "counts_from"), strict=True):
            widget.setAccessibleName(rule[name].name)
            widget.setToolTip(_(rule[name].hint))
        rules = quiet_row(self.paste_button, self.file_button)
        for widget in fields:
            rules.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label(_("Names"), "heading"))
        column.addLayout(rules)
        column.addWidget(self.pasted)
        column.addWidget(self.match_button)
        column.addWidget(self.table, 1)
        column.addWidget(self.unused)
        column.addWidget(self.pictures)
        self.pasted.hide()
        self.match_button.hide()

    def _connect(self) -> None:
        self.table.setItemDelegateForColumn(SHOWN, _Choosing(self.table, self._drawings, typed=False))
        self.table.setItemDelegateForColumn(NAME, _Choosing(self.table, self._host, typed=True))
        self.table.given.connect(self._give)
        self.table.shown.connect(self._show)
        self.paste_button.clicked.connect(self.ask_for_list)
        self.file_button.clicked.connect(self.list_wanted)
        self.match_button.clicked.connect(lambda: self.match_text(self.pasted.toPlainText()))
        self.before.textEdited.connect(lambda text: self._rule("before", before=whole_text(text)))
        self.after.textEdited.connect(lambda text: self._rule("after", after=whole_text(text)))
        self.case.activated.connect(lambda _value: self._rule("", case=self.case.currentData()))
        self.count.activated.connect(lambda _value: self._rule("", counts_from=self.count.currentData()))

    # --- showing -------------------------------------------------------------------------------------------------------

    def show_kit(self, kit: Kit, chart: Chart) -> None:
        kit = for_chart(kit, chart)
        self._kit, self._chart, self._filling = kit, chart, True
        self.table.fill(kit, chart, self._picture)
        for field, text in ((self.before, kit.names.before), (self.after, kit.names.after)):
            if field.text() != text:
                field.setText(text)
        self.case.setCurrentIndex(self.case.findData(kit.names.case))
        self.count.setCurrentIndex(self.count.findData(kit.names.counts_from))
        unused = kit.names.unused
        names = ", ".join((*unused[:14], "…") if len(unused) > 14 else unused)
        told = _("Not used: {names}", names=names) if unused else ""
        self.unused.setText(told)
        self.unused.setVisible(bool(told))
        self._list_pictures(kit)
        self._filling = False

    def _picture(self, row: int) -> QIcon:
        assert self._chart is not None
        size, mouth = _PICTURE, self._chart.mouths[row]
        ratio = self.devicePixelRatioF()
        return QIcon(self._characters.mouth_picture(mouth, size.width(), size.height(), ratio, self._theme))

    def _list_pictures(self, kit: Kit) -> None:
        names = [self.pictures.item(row).text() for row in range(self.pictures.count())]
        if names != list(kit.own) or self._characters.character is None:
            self.pictures.clear()
        self.pictures.setVisible(bool(kit.own) and kit.kind is Kind.DRAWN)
        if self.pictures.count() or self.pictures.isHidden() or self._characters.character is None:
            return
        for name in kit.own:
            picture = self._characters.own_picture(name, _PICTURE.width(), _PICTURE.height(), self.devicePixelRatioF())
            item = QListWidgetItem(QIcon(picture), name)
            item.setToolTip(name)
            self.pictures.addItem(item)

    def _drawings(self) -> tuple[str, ...]:
        return (_(_BY_ITSELF[self._kit.kind]), *self._kit.own) if self._kit else ()

    def _host(self) -> tuple[str, ...]:
        return self._kit.names.host if self._kit else ()

    # --- changing ------------------------------------------------------------------------------------------------------

    def ask_for_list(self) -> None:
        """Make room for a list to be pasted."""
        shown = self.pasted.isHidden()
        self.pasted.setVisible(shown)
        self.match_button.setVisible(shown)
        if shown:
            self.pasted.setFocus()

    def match_text(self, text: str) -> None:
        try:
            self.match_names(parse_list(text, _("the list")))
        except BuccaphonError as problem:
            self.said.emit(str(problem))

    def match_names(self, names: tuple[str, ...]) -> None:
        """Match another list of the host's. What was given by hand stays."""
        if self._kit is None or self._chart is None:
            return
        table = matched(self._kit.names, names, self._chart)
        self._put(replace(self._kit, names=table))
        self.pasted.clear()
        self.pasted.hide()
        self.match_button.hide()
        sure = {row.target for row in table.given if row.sure}
        open_ = len(self._chart.names) - len(sure & set(self._chart.names))
        said = _(
            "{names} names matched; {found} of {mouths} mouths have a name",
            names=len(names),
            found=len(sure),
            mouths=len(self._chart.names),
        )
        self.said.emit(_("{said}; {count} to check, marked with ?.", said=said, count=open_) if open_ else f"{said}.")

    def _give(self, target: str, names: list[str]) -> None:
        if self._kit is not None:
            self._put(replace(self._kit, names=give(self._kit.names, target, names)))

    def _show(self, target: str, drawing: str) -> None:
        if self._kit is not None and (not drawing or drawing in self._kit.own):
            kit = show_by(self._kit, target, [drawing] if drawing else [])
            if drawing and kit.names.host == kit.own:  # the host's names are the drawings' own
                kit = replace(kit, names=give(kit.names, target, [drawing]))
            self._put(kit)

    def _rule(self, gesture: str, **changes: object) -> None:
        if self._kit is not None and not self._filling:
            table: NamesTable = replace(self._kit.names, **changes)  # type: ignore[arg-type]  # as the fields are
            self._put(replace(self._kit, names=table), f"kit names {gesture}" if gesture else "")

    def _put(self, kit: Kit, gesture: str = "") -> None:
        self.changed.emit(kit, gesture)
