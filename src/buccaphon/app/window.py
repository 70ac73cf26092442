"""The main window: rail, panel of the step, galley, and the desk with mirror and mouths."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.chart_grid import ChartGrid
from buccaphon.app.chooser import Chooser
from buccaphon.app.commands import COMMANDS
from buccaphon.app.empty_page import EmptyPage, remember_project
from buccaphon.app.faults import Faults
from buccaphon.app.file_commands import FileCommands
from buccaphon.app.find_commands import FindCommands
from buccaphon.app.galley.overview import Overview
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.hear_commands import HearCommands
from buccaphon.app.inline_edit import InlineEdit
from buccaphon.app.key_commands import KeyCommands, KeyEdit
from buccaphon.app.look_commands import LookCommands
from buccaphon.app.mend_commands import MendCommands
from buccaphon.app.mirror.device import choose_device
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.notice import Notice
from buccaphon.app.panels.export import ExportPanel
from buccaphon.app.panels.mouths import MouthsPanel
from buccaphon.app.panels.script import ScriptPanel
from buccaphon.app.panels.take import TakePanel
from buccaphon.app.rail import Rail
from buccaphon.app.safekeeping import Safekeeping
from buccaphon.app.select_commands import SelectCommands
from buccaphon.app.selection import NOTHING
from buccaphon.app.session import Session
from buccaphon.app.theme import Theme
from buccaphon.app.word_commands import WordCommands
from buccaphon.mouths.chart import KEYS
from buccaphon.project.edits.timing import MarkNotSpeech, UnmarkNotSpeech

STEPS = ("Take", "Script", "Mouths", "Export")
_SIDE, _DESK = 262, 298


class MainWindow(
    FileCommands,
    HearCommands,
    LookCommands,
    WordCommands,
    FindCommands,
    MendCommands,
    SelectCommands,
    KeyCommands,
    QMainWindow,
):
    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        session.setParent(self)
        self.galley = GalleyView(session, theme)
        self.overview = Overview(self.galley)
        self.mirror, self.grid = Mirror(session, theme), ChartGrid(session, theme)
        self.take, self.script = TakePanel(session), ScriptPanel(session, theme)
        self.mouths, self.export_panel = MouthsPanel(session), ExportPanel(session)
        self.steps, self.rail = QStackedWidget(), Rail(STEPS, theme)
        self.saved_label = QLabel()
        self.actions_by_id: dict[str, QAction] = {}
        self.faults = Faults(self)
        self.safekeeping, self.keys = Safekeeping(session), self.read_own_keys()
        self._build()
        self._connect()
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(960, 620)
        self.show_step(1)
        self.refresh()
        self.galley.setFocus()

    # --- building ------------------------------------------------------------------------------------------------------

    def _build(self) -> None:
        for panel in (self.take, self.script, self.mouths, self.export_panel):
            self.steps.addWidget(_scrolled(panel))
        side = QWidget(objectName="side")
        side.setFixedWidth(_SIDE)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.steps, 1)
        self.saved_label.setProperty("role", "hint")
        self.saved_label.setContentsMargins(18, 0, 18, 12)
        column.addWidget(self.saved_label)

        desk = QWidget(objectName="desk")
        desk.setFixedWidth(_DESK)
        right = QVBoxLayout(desk)
        right.setContentsMargins(14, 14, 14, 12)
        right.setSpacing(12)
        right.addWidget(self.mirror)
        right.addWidget(self.grid)
        right.addStretch(1)

        central = QWidget()
        row = QHBoxLayout(central)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.rail)
        row.addWidget(side)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.galley, 1)
        middle.addWidget(self.overview)
        row.addLayout(middle, 1)
        row.addWidget(desk)
        self.setCentralWidget(central)
        self.empty = EmptyPage(self.galley)
        self.notice = Notice(self.galley)
        self.chooser, self.key_edit = Chooser(self.galley), KeyEdit(self.galley)
        self.inline = InlineEdit(self.galley)
        self._make_actions()

    def _make_actions(self) -> None:
        menu = QMenu(self)
        group = ""
        for command in COMMANDS:
            action = QAction(command.label, self)
            action.setShortcuts([QKeySequence(key) for key in self.keys.of(command)])
            action.triggered.connect(lambda _checked, name=command.run: getattr(self, name)())
            self.actions_by_id[command.id] = action
            self.addAction(action)
            if group and command.group != group:
                menu.addSeparator()
            group = command.group
            menu.addAction(action)
        for number, key in enumerate(KEYS):
            action = QAction(self)
            action.setShortcut(QKeySequence(key))
            action.triggered.connect(lambda _checked, n=number: self.paint(n))
            self.addAction(action)
        self.rail.menu_button.setMenu(menu)
        open_menu = QAction(self)
        open_menu.setShortcut(QKeySequence("F10"))
        open_menu.triggered.connect(self.rail.menu_button.showMenu)
        self.addAction(open_menu)

    def _connect(self) -> None:
        session = self.session
        self.rail.step_wanted.connect(self.show_step)
        self.mirror.play_button.clicked.connect(session.player.toggle)
        self.mirror.back_button.clicked.connect(self.frame_back)
        self.mirror.forward_button.clicked.connect(self.frame_on)
        self.mirror.loop_button.clicked.connect(self.toggle_loop)
        self.take.open_button.clicked.connect(self.ask_and_open)
        self.empty.open_wanted.connect(self.ask_and_open)
        self.empty.demo_wanted.connect(self.open_demo)
        self.empty.recent_wanted.connect(self.open)
        self.script.words_button.clicked.connect(self.ask_for_words)
        self.galley.word_wanted.connect(self.pronounce_word)
        self.key_edit.take.clicked.connect(self.take_key)
        self.key_edit.none.clicked.connect(self.take_no_key)
        self.key_edit.edit.keySequenceChanged.connect(self.show_key_conflict)
        session.begun.connect(self._begin_project)
        session.said.connect(self.notice.say)
        session.player.device_lost.connect(self._go_on_without)
        session.offered.connect(self.notice.say)
        self.faults.happened.connect(self._tell_of_fault)
        self.galley.resized.connect(self.place_overlays)
        for signal in (session.changed, session.opened, session.sound_ready):
            signal.connect(self.refresh)
        for button in self.findChildren(QAbstractButton):
            button.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Return presses the focused button, since Space plays."""
        if (
            isinstance(watched, QAbstractButton)
            and isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        ):
            watched.click()
            return True
        return super().eventFilter(watched, event)

    def _tell_of_fault(self, text: str, details: str) -> None:
        self.safekeeping.keep_now()
        self.notice.say(text, "Copy the details", lambda: QGuiApplication.clipboard().setText(details))

    def _begin_project(self) -> None:
        self.show_step(0)
        self.take.ask_for_rate()

    def _go_on_without(self, name: str) -> None:
        """The output went away: go on with another, and say so."""
        self.session.player.set_device(choose_device())
        self.notice.say(f"{name} is gone. The sound goes on with: {self.session.player.device.name}.")
        self.refresh()

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        project = self.session.project
        undo, redo = self.actions_by_id["undo"], self.actions_by_id["redo"]
        undo.setText(f"Undo: {project.undo_name}" if project.undo_name else "Undo")
        redo.setText(f"Do again: {project.redo_name}" if project.redo_name else "Do again")
        undo.setEnabled(bool(project.undo_name))
        redo.setEnabled(bool(project.redo_name))
        changed = project.is_changed
        standing = "changed" if changed else "saved" if project.path else "not saved yet"
        self.saved_label.setText(f"{self.session.title} · {standing}")
        self.setWindowTitle(f"{self.session.title}[*] · Buccaphon")
        self.setWindowModified(changed)
        if project.path and not changed:
            remember_project(project.path)
        waiting = project.state.take is None and not self.session.background.busy
        if waiting and not self.empty.isVisible():
            self.empty.refresh()
        self.empty.setVisible(waiting)

    def key_of(self, command: str) -> str:
        """The key of a command as it is written on keyboards here."""
        keys = self.actions_by_id[command].shortcuts()
        return keys[0].toString(QKeySequence.SequenceFormat.NativeText) if keys else ""

    def show_step(self, number: int) -> None:
        self.steps.setCurrentIndex(number)
        self.rail.mark(number)

    def place_overlays(self) -> None:
        self.empty.resize(self.galley.size())
        self.notice.place()
        self.chooser.place()

    # --- commands ------------------------------------------------------------------------------------------------------

    def undo(self) -> None:
        self.session.undo()

    def redo(self) -> None:
        self.session.redo()

    def paint(self, number: int) -> None:
        names = self.session.chart.names
        if number < len(names):
            self.session.paint(names[number])

    def give_back(self) -> None:
        self.session.unpaint()

    def mark_not_speech(self) -> None:
        """Mark what is on the ruler as not speech, or count it as speech again when all of it is marked."""
        span, take = self.session.player.loop, self.session.state.take
        if span is None or take is None:
            self.notice.say("Drag on the ruler first, or drag in the sound with Shift.")
        elif any(mark.start <= span.start and span.end <= mark.end for mark in take.not_speech):
            self.session.apply(UnmarkNotSpeech(span))
        else:
            self.session.apply(MarkNotSpeech(span))

    def show_take(self) -> None:
        self.show_step(0)

    def show_script(self) -> None:
        self.show_step(1)

    def show_mouths(self) -> None:
        self.show_step(2)

    def show_export(self) -> None:
        self.show_step(3)

    def let_go(self) -> None:
        if self.session.background.busy:
            self.session.background.cancel()
        else:
            self.session.select(NOTHING)


def _scrolled(panel: QWidget) -> QScrollArea:
    """A panel that scrolls where the window is too low for it; as wide with the scroll bar as without."""
    area = QScrollArea()
    area.setWidget(panel)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.viewport().setAutoFillBackground(False)
    bar = area.verticalScrollBar()

    def keep_width(_least: int, most: int) -> None:
        area.setViewportMargins(0, 0, 0 if most else bar.sizeHint().width(), 0)

    bar.rangeChanged.connect(keep_width)
    keep_width(0, 0)
    return area
