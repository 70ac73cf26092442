"""The last step: the export list, and what came of it."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QGuiApplication
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from buccaphon.app.panels.live import LiveSection
from buccaphon.app.panels.mixes import MixesSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.fold import Fold
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.ordered_list import OrderedList
from buccaphon.app.widgets.parts import Panel, PlaceLabel, button, fit_rows, label, quiet_row
from buccaphon.app.widgets.section import Section
from buccaphon.formats.listing import FIELDS, Entry
from buccaphon.formats.lost import told_of
from buccaphon.formats.options import chosen_options, option_text
from buccaphon.formats.registry import format_named
from buccaphon.kits.casting import unsure_mouths
from buccaphon.project.delivering import characters_of, deliver
from buccaphon.setting import settings_of, values_of
from buccaphon.texts import _, ngettext

_MOST_ROWS = 7


class ListSection(Section):
    """The files that are written, and what the chosen one is told."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._document, self._exporting = session.document, session.exporting
        self.rows = OrderedList(
            _("Files to export"), _("Tick to include; drag to reorder; Delete removes from the list")
        )
        self.add_button = button(_("Add file…"), _("Choose from all formats"), "quiet")
        self.drop_button = button(_("Remove"), _("Remove from the list"), "quiet")
        self.empty = label(_("The list is empty. “Add file…” shows all formats."), "hint")
        self.about = label("", "hint")
        self.place = Form(settings_of(Entry))
        fields = ", ".join(f"{{{field}}} {_(says)}" for field, says in FIELDS.items())
        self.place.inputs["name"].setToolTip(_("File name without extension. Fields: {fields}", fields=fields))
        self.options: Form | None = None
        self._options_of: type | None = None
        self._listed: list[tuple[str, bool, bool]] = []
        self._lay_out()
        self.rows.currentRowChanged.connect(lambda _value: self._show_one())
        self.rows.itemChanged.connect(self._ticked)
        self.rows.moved.connect(self._move)
        self.rows.dropped.connect(self._drop)
        self.drop_button.clicked.connect(self._drop)
        self.place.changed.connect(self._put_elsewhere)
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    def _lay_out(self) -> None:
        self.more = Fold(_("Selected file"), _("Its name and options"), is_open=True)
        self.more.body.addWidget(self.about)
        self.more.body.addWidget(self.place)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for part in (self.empty, self.rows):
            column.addWidget(part)
        column.addLayout(quiet_row(self.add_button, self.drop_button))
        self.details = QWidget()  # below what is pressed, however many options there are
        below = QVBoxLayout(self.details)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(7)
        below.addWidget(self.more)

    # --- changing ------------------------------------------------------------------------------------------------------

    @property
    def entry(self) -> Entry | None:
        """The chosen one."""
        entries, row = self._exporting.exports.entries, self.rows.currentRow()
        return entries[row] if 0 <= row < len(entries) else None

    def choose_last(self) -> None:
        """The one that was just put at the end."""
        self.catch_up()
        self.rows.setCurrentRow(self.rows.count() - 1)

    def _change(self, entry: Entry, name: str, gesture: str = "") -> None:
        if entry != self.entry:
            self._exporting.change(self.rows.currentRow(), entry, name, gesture)
            self._show_one()

    def _ticked(self, item: QListWidgetItem) -> None:
        entries, row = self._exporting.exports.entries, self.rows.row(item)
        on = item.checkState() is Qt.CheckState.Checked
        if 0 <= row < len(entries) and entries[row].on != on:
            name = format_named(entries[row].format).title
            self._exporting.change(
                row, replace(entries[row], on=on), _("{name}: on", name=name) if on else _("{name}: off", name=name)
            )

    def _move(self, row: int, before: int) -> None:
        entries = self._exporting.exports.entries
        if 0 <= row < len(entries):
            others = (*entries[:row], *entries[row + 1 :])
            place = before - (before > row)
            moved = (*others[:place], entries[row], *others[place:])
            self._exporting.put(replace(self._exporting.exports, entries=moved), _("Reorder the export list"))
            self.rows.setCurrentRow(place)

    def _drop(self) -> None:
        entry, row, entries = self.entry, self.rows.currentRow(), self._exporting.exports.entries
        if entry is not None:
            name = format_named(entry.format).title
            left = (*entries[:row], *entries[row + 1 :])
            self._exporting.put(replace(self._exporting.exports, entries=left), _("Remove {name}", name=name))

    def _put_elsewhere(self, setting: str, text: str) -> None:
        if (entry := self.entry) is None:
            return
        if setting == "name":
            self._change(replace(entry, name=text.strip() or "{title}"), _("Rename an export file"))
        else:
            self._change(replace(entry, folder=text.strip()), _("Change the folder of an export file"))

    def _choose(self, option: str, value: object) -> None:
        """value: None for the default."""
        entry = self.entry
        if entry is None:
            return
        form = format_named(entry.format)
        default = values_of(form.options())[option]
        chosen = {name: text for name, text in entry.options if name != option}
        if value is not None and value != default:
            chosen[option] = option_text(type(default)(value) if type(default) in (int, float) else value)
        self._change(
            replace(entry, options=tuple(chosen.items())),
            f"{form.title}: {settings_of(form.options)[option].name}",
            f"option {self.rows.currentRow()} {option}",
        )

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        entries = self._exporting.exports.entries
        wanted = [(self._says(entry), entry.on, self._exporting.can(format_named(entry.format))) for entry in entries]
        if wanted != self._listed or self.rows.count() != len(wanted):
            self._listed = wanted
            self._list(wanted)
        for widget in (self.rows, self.drop_button, self.details):
            widget.setVisible(bool(entries))
        self.empty.setVisible(not entries)
        self._show_one()

    def _says(self, entry: Entry) -> str:
        return f"{format_named(entry.format).title}\n{self._exporting.shown_name(entry)}"

    def _list(self, wanted: list[tuple[str, bool, bool]]) -> None:
        row = min(max(self.rows.currentRow(), 0), len(wanted) - 1)
        self.rows.blockSignals(True)  # listing is no ticking
        self.rows.clear()
        for text, on, can in wanted:
            item = QListWidgetItem(text, self.rows)
            item.setToolTip(
                text.split("\n")[1] if can else _("Nothing to export in this format yet: align the script first")
            )
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)
            if not can:
                item.setForeground(self.palette().placeholderText())
        self.rows.setCurrentRow(row)
        self.rows.blockSignals(False)
        fit_rows(self.rows, _MOST_ROWS)

    def _show_one(self) -> None:
        entry = self.entry
        if entry is None:
            return
        form = format_named(entry.format)
        self.about.setText(
            _("{about}. Does not include {loses}.", about=_(form.about), loses=_(form.loses))
            if form.loses != "nothing"
            else f"{_(form.about)}."
        )
        self.place.fill(values_of(entry))
        self._show_options(form.options, dict(entry.options))

    def _show_options(self, options: type, chosen: dict[str, str]) -> None:
        if options is not self._options_of or self.options is None:
            if self.options is not None:
                self.options.hide()
                self.options.deleteLater()
            self._options_of, self.options = options, Form(settings_of(options))
            self.options.changed.connect(self._choose)
            self.options.reset.connect(lambda name: self._choose(name, None))
            self.more.body.addWidget(self.options)
        self.options.fill(values_of(chosen_options(options, chosen)), values_of(options()))


class UnsureSection(Section):
    """What is to be known before anything is written: mouths to check, and channels that a ticked format cannot hold."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._document, self._exporting = session.document, session.exporting
        self.text = label("", "hint")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.text)
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    def refresh(self) -> None:
        document, lines = self._document, []
        names = characters_of(document.state)
        for kit in document.state.kits:
            if kit.name not in names and kit is not document.state.kit_in_use:
                continue
            unsure = ", ".join(unsure_mouths(kit, document.chart))
            if unsure and names:
                lines.append(
                    _("{character}: check what shows {names} on its page (F8).", character=kit.name, names=unsure)
                )
            elif unsure:
                lines.append(_("Check what shows {names} on the character's page (F8).", names=unsure))
        if document.derived is not None:
            delivery = deliver(document.state, document.derived, "")
            for entry in self._exporting.exports.entries:
                if entry.on:
                    lines += told_of(entry.format, delivery)
        self.text.setText("\n".join(lines))
        self.text.setVisible(bool(lines))


class ExportPanel(Panel):
    """Files that are there already are only replaced after a second, explicit press."""

    def __init__(self, session: Session) -> None:
        super().__init__(_("Export"))
        self._document, self._exporting, self._issues = session.document, session.exporting, session.issues
        self.column.addWidget(
            label(_("Export every file your animation program needs in one go, using its own names."), "hint")
        )
        self.list = ListSection(session)
        self.column.addWidget(self.list)
        self.place = PlaceLabel("", _("Export folder · click to change"))
        self.column.addWidget(self.place)
        self.again = QCheckBox(_("Export again on every save"))
        self.again.setToolTip(
            _("For working alongside your animation program: every save updates the files that changed")
        )
        self.column.addWidget(self.again)
        self.each = QCheckBox(_("A set of files for each character"))
        self.each.setToolTip(
            _("Off: only for the character that is shown. File names say for whom they are in either case")
        )
        self.column.addWidget(self.each)
        self.issues = label("", "hint")
        self.column.addWidget(self.issues)
        self.export_button = button(_("Export"), _("Export all ticked files · Ctrl+E"), "main")
        self.column.addWidget(self.export_button)
        self.status = label("", "hint")
        self.column.addWidget(self.status)
        self.unsure = UnsureSection(session)
        self.column.insertWidget(self.column.indexOf(self.export_button), self.unsure)
        self._add_question()
        self._add_afterwards()
        self.column.addWidget(self.list.details)
        self.live = LiveSection(session.sending)
        self.live_fold = Fold(_("Live"), _("Send the line to another program while it plays (Open Sound Control)"))
        self.live_fold.body.addWidget(self.live)
        self.column.addWidget(self.live_fold)
        self.mixes = MixesSection(session.document)
        self.column.addWidget(self.mixes)
        self.column.addStretch(1)
        self.again.clicked.connect(
            lambda on: self._exporting.put(
                replace(self._exporting.exports, again=on), _("Export again whenever it is saved")
            )
        )
        self.each.clicked.connect(
            lambda on: self._exporting.put(replace(self._exporting.exports, each=on), _("Export for each character"))
        )
        self._exporting.told.connect(self._tell)
        self._exporting.asked.connect(self._ask)
        for signal in (self._document.opened, self._document.changed, self._document.sound_ready):
            signal.connect(self.refresh)
        self._document.opened.connect(lambda: self._tell(""))
        self._issues.changed.connect(self._count_issues)
        self._count_issues()
        self.refresh()

    def _add_question(self) -> None:
        self.question = QWidget()
        row = QHBoxLayout(self.question)
        row.setContentsMargins(0, 0, 0, 0)
        self.replace_button = button(_("Replace"), _("Overwrite the files named above"))
        self.keep_button = button(_("Cancel"), _("Export nothing"), "quiet")
        row.addWidget(self.replace_button)
        row.addWidget(self.keep_button)
        row.addStretch(1)
        self.replace_button.clicked.connect(self._exporting.replace)
        self.keep_button.clicked.connect(self._exporting.keep)
        self.column.addWidget(self.question)
        self.question.hide()

    def _add_afterwards(self) -> None:
        self.afterwards = QWidget()
        row = QHBoxLayout(self.afterwards)
        row.setContentsMargins(0, 0, 0, 0)
        self.folder_button = button(_("Show in folder"), _("Open the folder in the file manager"), "quiet")
        self.copy_button = button(_("Copy path"), _("Copy the paths of the exported files, one per line"), "quiet")
        row.addWidget(self.folder_button)
        row.addWidget(self.copy_button)
        row.addStretch(1)
        self.folder_button.clicked.connect(self._show_folder)
        self.copy_button.clicked.connect(self._copy_paths)
        self.column.addWidget(self.afterwards)
        self.afterwards.hide()

    def refresh(self, _what: object = None) -> None:
        self.export_button.setEnabled(self._document.recording is not None)
        folder = self._exporting.folder
        self.place.setText(
            _("To {folder}", folder=folder) if folder is not None else _("Not chosen yet; you will be asked on export")
        )
        self.again.setChecked(self._exporting.exports.again)
        self.each.setChecked(self._exporting.exports.each)
        self.each.setVisible(bool(characters_of(self._document.state)))

    def _count_issues(self) -> None:
        """How many are left before it goes out."""
        count = len(self._issues.found)
        told = ngettext("{count} issue remaining", "{count} issues remaining", count)
        self.issues.setText(_("{told}. Press V to go through them.", told=told) if count else "")
        self.issues.setVisible(bool(count))

    def _tell(self, text: str) -> None:
        self.question.hide()
        self.status.setText(text)
        self.afterwards.setVisible(bool(text) and bool(self._exporting.written))

    def _ask(self, text: str, label: str) -> None:
        self.afterwards.hide()
        self.status.setText(text)
        self.replace_button.setText(label)
        self.question.show()

    def _show_folder(self) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._exporting.written[0].parent)))

    def _copy_paths(self) -> None:
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("\n".join(map(str, self._exporting.written)))
        self._document.said.emit(_("Copied."))
