"""The main window: rail, panel of the step, galley, and the desk with mirror and mouths."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDropEvent,
    QGuiApplication,
    QKeySequence,
)
from PyQt6.QtWidgets import (
    QApplication,
    QLabel,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QWidget,
)

from buccaphon.app.commands import docket, file, hear, keys, sheet, words
from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.app.commands.desk import Ask, Command, Desk, Step, View
from buccaphon.app.commands.shortcuts import PAINTS, KeySet, Shortcuts, painting_keys
from buccaphon.app.finding.fields import Field, fields_in
from buccaphon.app.galley.drawing import DrawingSection
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.overview import Overview
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.kitpage.page import KitPage
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.overlays.chooser import Chooser
from buccaphon.app.overlays.empty_page import EmptyPage, remember_project
from buccaphon.app.overlays.inline_edit import InlineEdit
from buccaphon.app.overlays.key_edit import KeyEdit
from buccaphon.app.overlays.notice import Notice
from buccaphon.app.panels.chart_grid import ChartGrid
from buccaphon.app.panels.export import ExportPanel
from buccaphon.app.panels.motion import MotionPanel
from buccaphon.app.panels.mouths import MouthsPanel
from buccaphon.app.panels.script import ScriptPanel
from buccaphon.app.panels.take import TakePanel
from buccaphon.app.scene.bar import SceneBar
from buccaphon.app.session.exporting import WRITING
from buccaphon.app.session.jobs import Slot
from buccaphon.app.session.session import Session
from buccaphon.app.settings import THEME
from buccaphon.app.sheet.view import SheetView
from buccaphon.app.sound.outputs import choose_device
from buccaphon.app.specimen.page import SpecimenPage
from buccaphon.app.style.dressing import dress, style_sheet
from buccaphon.app.widgets.focus import ReturnPresses
from buccaphon.app.window.dropping import Dropping
from buccaphon.app.window.faults import Faults
from buccaphon.app.window.layout import Parts, lay_out
from buccaphon.app.window.pages import LatePages
from buccaphon.app.window.progress import ProgressStrip
from buccaphon.app.window.rail import Rail
from buccaphon.painting.mouths import mouth_picture
from buccaphon.painting.theme import Theme, theme_named
from buccaphon.texts import _


class MainWindow(QMainWindow):
    """Puts the parts together and passes on what happens in them; what can be done is in the commands."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.document, self.theme = session, session.document, theme
        session.setParent(self)
        self.faults = Faults(self)
        self.galley = GalleyView(session, theme)
        self.overview, self.progress = Overview(self.galley), ProgressStrip(session.jobs)
        self.scene_bar = SceneBar(session, theme, self.galley.visible_span)
        self.mirror, self.grid = Mirror(session, theme), ChartGrid(session, theme)
        self.take, self.script = TakePanel(session), ScriptPanel(session, theme)
        self.mouths, self.export_panel = MouthsPanel(session), ExportPanel(session)
        self.drawing = DrawingSection(self.galley)
        self.motion = MotionPanel(session, theme, self.drawing)
        self.steps, self.rail = QStackedWidget(), Rail({step.id: step.title for step in Step}, theme)
        self.specimen, self.sheet = (
            SpecimenPage(session, theme),
            SheetView(session, theme, lambda: self.galley.look.gain),
        )
        self.views = QStackedWidget()
        self.saved_label = QLabel()
        self.actions_by_id: dict[str, QAction] = {}
        self._leaving = self._has_folded_side = False
        self._remembered: Path | None = None
        panels = (self.take, self.script, self.mouths, self.motion, self.export_panel)
        parts = Parts(
            self.rail, panels, self.steps, self.saved_label, self.galley, self.overview, self.scene_bar,
            (self.specimen, self.sheet),
            self.views, self.progress, self.mirror, self.grid,
        )  # fmt: skip
        places = lay_out(parts)
        self.side, self.ground = places.side, places.ground
        self.setCentralWidget(places.whole)
        self.empty, self.notice = EmptyPage(self.galley), Notice(self.ground)
        self.chooser, self.key_edit = Chooser(self.ground), KeyEdit(self.ground)
        self.inline = InlineEdit(self.ground, self._place_on_page)
        self.dropping = Dropping(self.ground, self._open_at)
        self._return_presses = ReturnPresses(self)
        self.pages = LatePages(self.views, session, theme, lambda: self.desk, self._return_presses.watch)
        self.desk = self._make_desk()
        self._make_actions()
        self._connect()
        self.setStyleSheet(style_sheet(theme))  # last: what is put together under one is styled at every step
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(960, 620)
        self.show_step(Step.SCRIPT)
        self.refresh()
        self.galley.setFocus()

    # --- building ------------------------------------------------------------------------------------------------------

    def _make_desk(self) -> Desk:
        return Desk(
            session=self.session,
            galley=self.galley,
            mirror=self.mirror,
            specimen=self.specimen,
            kit_page=lambda: self.kit_page,
            docket_page=lambda: self.pages.docket,
            chooser=self.chooser,
            inline=self.inline,
            key_edit=self.key_edit,
            shortcuts=Shortcuts(COMMANDS, self._use_keys),
            ask=Ask(self),
            say=self.notice.say,
            show_step=self.show_step,
            write_channel=self.export_panel.mixes.write,
            show_motion=self.motion.show_part,
            follower_sets=self.motion.followers.sets,
            begin_followers=self.motion.followers.begin_from,
            choose_last_export=self.export_panel.list.choose_last,
            show_view=self.show_view,
            view=self.pages.view,
            set_theme=self.set_theme,
            fields=self._fields,
            record=self.take.sound.record_button.click,
            fold_side=lambda: self.side.setVisible(self.side.isHidden()),
            close=self.close,
            commands=COMMANDS,
        )

    def _make_actions(self) -> None:
        menu = QMenu(self)
        group = ""
        for command in COMMANDS:
            action = QAction(command.label, self)
            action.triggered.connect(partial(self._do, command))
            self.actions_by_id[command.id] = action
            self.addAction(action)
            if command.id.startswith(PAINTS):
                continue  # the tiles show them
            if group and command.group != group:
                menu.addSeparator()
            group = command.group
            menu.addAction(action)
        self._use_keys(self.desk.shortcuts.keys)
        menu.setToolTipsVisible(True)
        menu.aboutToShow.connect(self._grey_what_cannot_be_done)
        menu.aboutToHide.connect(self._let_all_be_tried)
        self.rail.menu_button.setMenu(menu)
        self._add_key("F10", self.rail.menu_button.showMenu)

    def _add_key(self, key: str, run: Callable[[], object]) -> None:
        action = QAction(self)
        action.setShortcut(QKeySequence(key))
        action.triggered.connect(run)
        self.addAction(action)

    def _use_keys(self, keys_in_use: KeySet) -> None:
        for command in COMMANDS:
            self.actions_by_id[command.id].setShortcuts([QKeySequence(key) for key in keys_in_use.of(command)])
        parts: list[ChartGrid | SpecimenPage | KitPage] = [self.grid, self.specimen]
        for part in parts + ([self.pages.kit_if_made] if self.pages.kit_if_made else []):
            part.use_keys(painting_keys(keys_in_use))

    def _connect(self) -> None:
        desk, document, session = self.desk, self.document, self.session
        self.rail.step_wanted.connect(lambda number: self.show_step(Step(number)))
        self.mirror.play_button.clicked.connect(lambda: self.do("play"))
        self.mirror.back_button.clicked.connect(lambda: hear.step(desk, -1))
        self.mirror.forward_button.clicked.connect(lambda: hear.step(desk, 1))
        self.mirror.loop_button.clicked.connect(lambda: hear.toggle_loop(desk))
        self.take.open_button.clicked.connect(lambda: file.ask_and_open(desk))
        self.take.replace_button.clicked.connect(lambda: self.do("replace-take"))
        self.empty.open_wanted.connect(lambda: file.ask_and_open(desk))
        self.empty.demo_wanted.connect(lambda: file.open_demo(desk))
        self.empty.recent_wanted.connect(self.open)
        self.script.words_button.clicked.connect(lambda: file.ask_for_words(desk))
        self.export_panel.export_button.clicked.connect(lambda: self.do("export"))
        self.export_panel.list.add_button.clicked.connect(lambda: self.do("add-export"))
        self.export_panel.place.gone.connect(lambda: self.do("export-folder"))
        self.mirror.read_otherwise.connect(self.sheet.viewport().update)
        self.mouths.chart_button.clicked.connect(lambda: self.show_view(View.SPECIMEN))
        self.specimen.left.connect(lambda: self.show_view(View.GALLEY))
        self.mouths.kit_button.clicked.connect(lambda: self.show_view(View.KIT))
        self.galley.word_wanted.connect(partial(words.pronounce, desk))
        for wanted in (self.galley.mouth_wanted, self.sheet.mouth_wanted):
            wanted.connect(lambda: self.do("choose-mouth"))
        self.galley.scrolled.connect(self.scene_bar.update)
        self.galley.looked.connect(self.sheet.viewport().update)
        self.ground.resized.connect(self._place_overlays)
        self.key_edit.pressed.connect(partial(keys.show_key_conflict, desk))
        self.key_edit.taken.connect(partial(keys.give_key, desk))
        session.safekeeping.leave = partial(file.leave, desk)
        session.correcting.found.connect(partial(sheet.show_corrections, desk))
        session.exporting.told.connect(self._tell_of_export)
        session.exporting.asked.connect(self._ask_about_export)
        self.faults.happened.connect(self._tell_of_fault)
        session.takes.begun.connect(self._begin_project)
        document.said.connect(self.notice.say)
        document.offered.connect(self.notice.say)
        document.asked.connect(self.notice.ask)
        document.player.device_lost.connect(self._go_on_without)
        for signal in (document.changed, document.opened, document.sound_ready, session.jobs.changed):
            signal.connect(self.refresh)
        self._return_presses.watch(self)

    @property
    def kit_page(self) -> KitPage:
        return self.pages.kit

    # --- doing ---------------------------------------------------------------------------------------------------------

    def _do(self, command: Command) -> None:
        self.desk.do(command)

    def do(self, ident: str) -> None:
        """Run the command of an id, or say why it cannot be done now."""
        self.desk.do(next(command for command in COMMANDS if command.id == ident))

    def open(self, *paths: Path) -> None:
        """Projects, recordings, words, charts and characters; or what a batch has written of its scenes."""
        self._open_at(paths, None)

    def _open_at(self, paths: Sequence[Path], at: float | None) -> None:
        if not docket.show_report(self.desk, paths):
            file.open_all(self.desk, paths, at)

    def _grey_what_cannot_be_done(self) -> None:
        for command in COMMANDS:
            reason, action = command.needs(self.session), self.actions_by_id[command.id]
            action.setEnabled(not reason)
            action.setToolTip(reason)

    def _let_all_be_tried(self) -> None:
        """While the menu is shut a key says why it can do nothing, which a greyed action would not."""
        for action in self.actions_by_id.values():
            action.setEnabled(True)

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        project = self.document.project
        undo, redo = self.actions_by_id["undo"], self.actions_by_id["redo"]
        undo.setText(_("Undo: {name}", name=project.undo_name) if project.undo_name else _("Undo"))
        redo.setText(_("Redo: {name}", name=project.redo_name) if project.redo_name else _("Redo"))
        changed = project.is_changed
        standing = "changed" if changed else "saved" if project.path else _("not saved yet")
        self.saved_label.setText(f"{self.document.title} · {standing}")
        self.setWindowTitle(f"{self.document.title}[*] · Buccaphon")
        self.setWindowModified(changed)
        if project.path and not changed and project.path != self._remembered:
            self._remembered = project.path
            remember_project(project.path)
        self.notice.foot = 0 if self.scene_bar.isHidden() else self.scene_bar.sizeHint().height()
        waiting = project.state.take is None and not self.session.jobs.busy(Slot.TAKE)
        if waiting and not self.empty.isVisible():
            self.empty.refresh()
        self.empty.setVisible(waiting)

    def show_step(self, step: Step) -> None:
        self.steps.setCurrentIndex(step)
        self.side.show()
        self.rail.mark(step)
        self.galley.make_room_for_curves(step is Step.MOTION)

    def show_view(self, view: View) -> None:
        """What stands in the middle; the hand goes there too. Scenes of a folder need the room of the step's panel."""
        if (view is View.DOCKET) != self._has_folded_side:
            self._has_folded_side = view is View.DOCKET and self.side.isVisible()
            self.side.setVisible(not self._has_folded_side and view is not View.DOCKET)
        if view in (View.KIT, View.DOCKET):
            self.views.setCurrentWidget(self.pages.kit if view is View.KIT else self.pages.docket)
        else:
            self.views.setCurrentIndex(view)
        if view is View.SPECIMEN:
            self.show_step(Step.MOUTHS)
            self.specimen.refresh()
            self.specimen.setFocus()
        elif view is View.KIT:
            self.show_step(Step.MOUTHS)
            self.kit_page.refresh()
            self.kit_page.stage.setFocus()
        elif view is View.DOCKET:
            self.pages.docket.table.setFocus()
        elif view is View.SHEET:
            self.sheet.show_time(self.document.player.position)
            self.sheet.setFocus()
        else:
            self.galley.setFocus()

    def set_theme(self, name: str) -> None:
        """Dress everything anew: paper by day, or the night theme."""
        self.theme.become(theme_named(name))
        THEME.write(name)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        dress(app, self.theme)
        self.setStyleSheet(style_sheet(self.theme))
        mouth_picture.cache_clear()
        self.galley.forget_pictures()
        self.overview.forget_pictures()
        self.scene_bar.forget_pictures()
        self.mirror.draw_icons()
        self.rail.draw(self.theme)
        self.script.refresh()
        for widget in self.findChildren(QWidget):
            widget.update()

    def _place_overlays(self) -> None:
        self.empty.resize(self.galley.size())
        self.notice.place()
        self.chooser.place()

    def _place_on_page(self, seconds: float, lane: Lane) -> QPoint | None:
        """Where a lane is at a moment, on the ground of the pages; None where the page that is seen has no lanes."""
        view = self.pages.view()
        if view is View.SHEET:
            return self.sheet.viewport().mapTo(self.ground, self.sheet.point_at(seconds, lane))
        if view is not View.GALLEY:
            return None
        self.galley.show_time(seconds)
        at = self.galley.point_at(seconds, lane)
        return self.galley.viewport().mapTo(self.ground, at) if at is not None else None

    def _fields(self) -> list[tuple[Callable[[], object], Field]]:
        """All that can be set in the panels, beside the mirror and on the character's page, each with what brings it up."""
        panels = zip(Step, (self.take, self.script, self.mouths, self.motion, self.export_panel), strict=True)
        found: list[tuple[Callable[[], object], Field]] = [
            (partial(self.show_step, step), field) for step, panel in panels for field in fields_in(panel, step.title)
        ]
        found += [(self.mirror.show, field) for field in fields_in(self.mirror, _("the mirror"))]
        if self.session.characters.kit is not None:
            bring_up = partial(self.show_view, View.KIT)
            found += [(bring_up, field) for field in fields_in(self.kit_page, _("the character"))]
        return found

    def _begin_project(self) -> None:
        self.show_step(Step.TAKE)
        self.take.ask_for_rate()

    def _tell_of_fault(self, text: str, details: str) -> None:
        self.session.safekeeping.keep_now()
        clipboard = QGuiApplication.clipboard()
        self.notice.say(text, _("Copy the details"), lambda: clipboard.setText(details) if clipboard else None)

    def _tell_of_export(self, text: str) -> None:
        """In the panel; over the page where another panel is seen."""
        if text != _(WRITING) and not self.export_panel.isVisible():
            self.notice.say(text)

    def _ask_about_export(self, text: str, label: str) -> None:
        if not self.export_panel.isVisible():
            self.notice.say(f"{text}.", label, self.session.exporting.replace)

    def _go_on_without(self, name: str) -> None:
        """The output went away: go on with another, and say so."""
        self.document.player.set_device(choose_device())
        self.notice.say(
            _("{name} was disconnected. Playing on {device}.", name=name, device=self.document.player.device.name)
        )
        self.refresh()

    # --- Qt's events ---------------------------------------------------------------------------------------------------

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self._leaving:
            file.leave(self.desk, self._close_for_good)  # at once, or when all is saved
        if not self._leaving:
            event.ignore()
            return
        self.mirror.close_films()
        self.session.safekeeping.finish()
        self.session.shut_down()
        event.accept()

    def _close_for_good(self) -> None:
        self._leaving = True
        self.close()  # which does nothing while it is under way already

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        self.dropping.enter(event)

    def dragLeaveEvent(self, _event: QDragLeaveEvent | None) -> None:
        self.dropping.hide()

    def dropEvent(self, event: QDropEvent) -> None:
        self.dropping.drop(event)
