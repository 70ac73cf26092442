"""The names table: each mouth of the chart, the drawing it is shown by, what the host calls it, and why."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QModelIndex, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent, QIcon
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHeaderView,
    QLineEdit,
    QPlainTextEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.dragging import dragged_drawing
from buccaphon.app.kitpage import drawings
from buccaphon.app.kitpage.drawings import Drawings
from buccaphon.app.session.characters import ROLES, CharacterLoader
from buccaphon.app.widgets.parts import button, label, quiet_row
from buccaphon.errors import BuccaphonError
from buccaphon.files import whole_text
from buccaphon.kits.casting import for_chart, with_order, with_role
from buccaphon.kits.kit import CHANNELS, Kind, Kit
from buccaphon.kits.names.lists import parse_list
from buccaphon.kits.names.reasons import in_words
from buccaphon.kits.names.table import NamesTable, give, matched
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.table import NOTHING
from buccaphon.mouths.chart import Chart
from buccaphon.painting.theme import Theme
from buccaphon.setting import settings_of
from buccaphon.texts import N_, _

MOUTH, SHOWN, NAME, WHY = range(4)
_HEADINGS = (N_("Mouth"), N_("Artwork"), N_("Host name"), N_("Reason"))
_PICTURE, _ROW = QSize(40, 24), 28  # pixels: ten rows are in sight on a page of 800
_NOTHING = N_("nothing")
_BY_ITSELF = {
    Kind.DRAWN: N_("automatic"),
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
    """given: a target, and the names that were given to it. shown: a target, and the drawing that it is to be shown by:
    NOTHING for none, None for the one that is found."""

    given = pyqtSignal(str, object)
    shown = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__(0, len(_HEADINGS))
        self.setHorizontalHeaderLabels(list(map(_, _HEADINGS)))
        self.verticalHeader().hide()
        self.setShowGrid(False)
        self.setAcceptDrops(True)
        self.setDropIndicatorShown(False)
        self.setIconSize(_PICTURE)
        self.verticalHeader().setDefaultSectionSize(_ROW)
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
            sure = all(each.sure for each in (*rows, *(each for each in kit.shows if each.target == target)))
            shown = shown_by(kit, target) if is_mouth else ""
            why = in_words(reason for row in rows for reason in row.why) or (
                _("same name as in the chart") if is_mouth else ""
            )
            names = ", ".join(each.name for each in rows) or target
            mouth = f"{kit.names.number_of(target, chart.names)}  {target}" if is_mouth else target
            cells = (mouth, shown, names, why if sure else f"? {why}")
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
            self.item(row, MOUTH).setData(Qt.ItemDataRole.UserRole, target)
            self.item(row, NAME).setToolTip(_("Type a name, or several separated by commas"))
        self._filling = False

    def _take(self, item: QTableWidgetItem) -> None:
        if self._filling:
            return
        target = self.target(item.row())
        if item.column() == NAME:
            names = [part.strip() for part in item.text().split(",")]
            self.given.emit(target, [name for name in names if name and name != target])
        elif item.column() == SHOWN:
            chosen = {_(_NOTHING): NOTHING, **{_(text): None for text in _BY_ITSELF.values()}}
            self.shown.emit(target, chosen.get(item.text(), item.text()))

    def target(self, row: int) -> str:
        """The mouth or channel of a row."""
        return str(self.item(row, MOUTH).data(Qt.ItemDataRole.UserRole))

    def dragEnterEvent(self, event: QDropEvent) -> None:
        if dragged_drawing(event):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDropEvent) -> None:
        event.setAccepted(bool(dragged_drawing(event)) and self.rowAt(int(event.position().y())) >= 0)

    def dropEvent(self, event: QDropEvent) -> None:
        row, drawing = self.rowAt(int(event.position().y())), dragged_drawing(event)
        if row >= 0 and drawing and self.target(row) not in CHANNELS:
            event.acceptProposedAction()
            self.shown.emit(self.target(row), drawing)


def shown_by(kit: Kit, mouth: str) -> str:
    """What a mouth is shown by, in words: a head's shapes make every pose together unless some were given by hand."""
    rows = [row for row in kit.shows if row.target == mouth and (kit.kind is not Kind.MODEL or row.by_hand)]
    return ", ".join(row.name or _(_NOTHING) for row in rows) or _(_BY_ITSELF[kit.kind])


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
        self.table, self.drawings = Table(), Drawings()
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
        rules.insertWidget(0, label(_("Names"), "heading"))
        for widget in fields:
            rules.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(rules)
        column.addWidget(self.pasted)
        column.addWidget(self.match_button)
        column.addWidget(self.table, 1)
        column.addWidget(self.unused)
        column.addWidget(self.drawings)
        self.pasted.hide()
        self.match_button.hide()

    def _connect(self) -> None:
        self.table.setItemDelegateForColumn(SHOWN, _Choosing(self.table, self._drawings, typed=False))
        self.table.setItemDelegateForColumn(NAME, _Choosing(self.table, self._host, typed=True))
        self.table.given.connect(self._give)
        self.table.shown.connect(self._characters.show_by)
        self.drawings.given.connect(self._give_by_key)
        self.drawings.role_chosen.connect(self._choose_role)
        self.drawings.rest_chosen.connect(self._choose_rest)
        self.drawings.moved.connect(self._move)
        self.paste_button.clicked.connect(self.ask_for_list)
        self.file_button.clicked.connect(self.list_wanted)
        self.match_button.clicked.connect(lambda: self.match_text(self.pasted.toPlainText()))
        self.before.textEdited.connect(lambda text: self._rule("before", before=whole_text(text)))
        self.after.textEdited.connect(lambda text: self._rule("after", after=whole_text(text)))
        self.case.activated.connect(lambda _value: self._rule("", case=self.case.currentData()))
        self.count.activated.connect(lambda _value: self._rule("", counts_from=self.count.currentData()))

    # --- showing -------------------------------------------------------------------------------------------------------

    def show_kit(self, kit: Kit, chart: Chart) -> None:
        self._kit, self._chart, self._filling = kit, chart, True
        kit = for_chart(kit, chart)
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
        self._list_drawings(kit)
        self._filling = False

    def _picture(self, row: int) -> QIcon:
        assert self._chart is not None
        size, mouth = _PICTURE, self._chart.mouths[row]
        ratio = self.devicePixelRatioF()
        return QIcon(self._characters.mouth_picture(mouth, size.width(), size.height(), ratio, self._theme))

    def _list_drawings(self, kit: Kit) -> None:
        self.drawings.setVisible(kit.kind is Kind.DRAWN and self._characters.character is not None)
        if not self.drawings.isHidden():
            self.drawings.show_kit(kit, self._characters.drawings, self._own_picture)

    def _own_picture(self, name: str) -> QIcon:
        ratio = self.devicePixelRatioF()
        return QIcon(self._characters.own_picture(name, drawings.PICTURE.width(), drawings.PICTURE.height(), ratio))

    def _drawings(self) -> tuple[str, ...]:
        if self._kit is None:
            return ()
        nothing = (_(_NOTHING),) if self._kit.kind is Kind.DRAWN else ()
        return (_(_BY_ITSELF[self._kit.kind]), *nothing, *self._kit.own)

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
        table = matched(self._base.names, names, self._chart)
        self._put(replace(self._base, names=table))
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

    @property
    def _base(self) -> Kit:
        """What is changed: of drawings what was chosen by hand alone, else all that was found, too."""
        assert self._kit is not None
        assert self._chart is not None
        return self._kit if self._kit.kind is Kind.DRAWN else for_chart(self._kit, self._chart)

    def _give(self, target: str, names: list[str]) -> None:
        if self._kit is not None:
            self._put(replace(self._base, names=give(self._base.names, target, names)))

    def _give_by_key(self, drawing: str, number: int) -> None:
        """A mouth's key was pressed on a drawing."""
        if self._chart is not None and number < len(self._chart.names):
            self._characters.show_by(self._chart.names[number], drawing)

    def _choose_role(self, drawing: str, role: Role) -> None:
        if self._kit is not None:
            self._put(with_role(self._kit, self._characters.drawings, drawing, role), ROLES)

    def _choose_rest(self, drawing: str | None) -> None:
        if self._kit is not None:
            self._put(replace(self._kit, rests=drawing))

    def _move(self, drawing: str, place: int) -> None:
        if self._kit is not None:
            self._put(with_order(self._kit, drawing, place))

    def _rule(self, gesture: str, **changes: object) -> None:
        if self._kit is not None and not self._filling:
            table: NamesTable = replace(self._base.names, **changes)  # type: ignore[arg-type]  # as the fields are
            self._put(replace(self._base, names=table), f"kit names {gesture}" if gesture else "")

    def _put(self, kit: Kit, gesture: str = "") -> None:
        self.changed.emit(kit, gesture)
