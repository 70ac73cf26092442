"""Random hands on the real window, and what has to hold after whatever they do."""

from __future__ import annotations

import random
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QKeySequence, QWheelEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMessageBox,
    QPlainTextEdit,
    QSlider,
    QWidget,
)

from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.app.commands.desk import Step
from buccaphon.app.galley.look import Lane
from buccaphon.app.paint_keys import PAINT_KEYS
from buccaphon.app.window.window import MainWindow
from buccaphon.demo.line import NIGHT_CALL, STALL_CALL, demo_project, demo_scene
from buccaphon.motion.record import WEIGHT, Bake
from buccaphon.project.derived import Derived
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.state import State
from tests.helpers.hands import ALT, CTRL, LEFT, NONE, SHIFT
from tests.helpers.qtest import QTest

_LEFT_ALONE = {"quit", "open-demo", "open-demo-line", "open-demo-scene", "new-scene", "close-scene", "done-next"}
_TYPED = [
    "plums",
    "Pears,",
    "$3.50",
    "1984",
    "mmm",
    "p",
    "[aside]",
    "BOB:",
    "½",
    "ö",
    "🍎",
    "don't",
    "--",
    "e.g.",
    "\n",
]
_ENTERED = ["plums", "P L AH1 M Z", "= pears", "f 41", "1.5", "nan", "1e999", "-5", "", "00:00:01:00", "99:99:99:99", "/p/",
            "f 99999999999999999999", "²", "24000/1001", "abc", "undo", "0"]  # fmt: skip


class Monkey:
    """Works in a window, the same way for the same seed. folder: where what it saves and exports goes."""

    def __init__(self, window: MainWindow, seed: int, folder: Path) -> None:
        self.window, self.random, self.folder = window, random.Random(seed), folder
        self.begun = window.document.project, window.document.state
        window.document.opened.connect(self._begin)
        self._answers = QTimer(window)
        self._answers.setInterval(20)
        self._answers.timeout.connect(self._answer)
        self._answers.start()
        dialogs: Any = QFileDialog
        dialogs.getSaveFileName = staticmethod(self._save_name)
        dialogs.getOpenFileName = staticmethod(lambda *_: ("", ""))
        dialogs.getOpenFileNames = staticmethod(lambda *_: ([], ""))
        dialogs.getExistingDirectory = staticmethod(lambda *_: str(folder))

    def _answer(self) -> None:
        """A dialog that waits for an answer is given one."""
        dialog = QApplication.activeModalWidget()
        if (
            isinstance(dialog, QMessageBox)
            and (button := dialog.button(QMessageBox.StandardButton.Discard)) is not None
        ):
            button.click()
        elif isinstance(dialog, QDialog):
            dialog.reject()

    def open_a_line(self) -> None:
        line = self.random.choice([STALL_CALL, STALL_CALL, NIGHT_CALL])
        self.window.session.opening.open_prepared(demo_project(line))

    def open_a_scene(self) -> None:
        self.window.session.opening.open_prepared(demo_scene())

    def _begin(self) -> None:
        """Another project, if it is another: taking the last take out empties the same one."""
        if self.window.document.project is not self.begun[0]:
            self.begun = self.window.document.project, self.window.document.state

    def act(self) -> str:
        """One thing that hands do, and which it was."""
        acts = {self.command: 30, self.drag: 22, self.click: 10, self.paint: 8, self.turn: 4, self.type: 6, self.poke: 8,
                self.ask: 6, self.resize: 1, self.move_lines: 5}  # fmt: skip
        (act,) = self.random.choices([*acts], [*acts.values()])
        act()
        if self.random.random() < 0.3:
            QApplication.processEvents()
        if (popup := QApplication.activePopupWidget()) is not None:
            popup.close()
        return act.__name__

    def _save_name(self, *_: object) -> tuple[str, str]:
        name = self.random.choice(["m.buccaphon", "n.buccaphon", "keys.json", ""])
        return (str(self.folder / name) if name else "", "")

    def _focus(self) -> QWidget:
        return QApplication.focusWidget() or self.window.galley

    def _key(self, sequence: str) -> None:
        combination = QKeySequence(sequence)[0]
        QTest.keyClick(self._focus(), combination.key(), combination.keyboardModifiers())

    def _held(self) -> Qt.KeyboardModifier:
        return self.random.choice([NONE, NONE, NONE, NONE, SHIFT, CTRL, ALT, SHIFT | CTRL, CTRL | ALT])

    def _spot(self) -> QPoint:
        """Near a word's or a mouth's edge more often than not."""
        choose, document, view = self.random, self.window.document, self.window.galley.viewport()
        if document.recording is not None and choose.random() < 0.75:
            times = [choose.uniform(0, document.recording.duration)]
            if document.score is not None and document.score.words:
                word = choose.choice(document.score.words)
                times += [word.start, word.end, *(phone.start for phone in word.phones)]
            if (at := self.window.galley.point_at(choose.choice(times), choose.choice(list(Lane)))) is not None:
                return at + QPoint(choose.choice([0, 0, 1, -1, 3, 8]), choose.choice([0, 0, 2, -2]))
        return QPoint(choose.randrange(-20, view.width() + 20), choose.randrange(-20, view.height() + 20))

    def command(self) -> None:
        command = self.random.choice([each for each in COMMANDS if each.id not in _LEFT_ALONE])
        if command.keys and self.random.random() < 0.8:
            self.window.galley.setFocus()
            self._key(self.random.choice(command.keys))
        else:
            self.window.do(command.id)

    def drag(self) -> None:
        view, held, at = self.window.galley.viewport(), self._held(), self._spot()
        QTest.mousePress(view, LEFT, held, at)
        for _ in range(self.random.randrange(1, 6)):
            at = at + QPoint(self.random.randrange(-90, 90), self.random.randrange(-10, 10))
            QTest.mouseMove(view, at)
            if self.random.random() < 0.04:
                self._key(
                    self.random.choice(["Ctrl+Z", "Ctrl+Shift+Z", "Space", "Delete", "Esc", "3", "Ctrl+R", "Ctrl++"])
                )
        if self.random.random() < 0.97:
            QTest.mouseRelease(view, LEFT, held, at)

    def click(self) -> None:
        way = QTest.mouseDClick if self.random.random() < 0.15 else QTest.mouseClick
        button = self.random.choice([LEFT, LEFT, LEFT, Qt.MouseButton.RightButton])
        way(self.window.galley.viewport(), button, self._held(), self._spot())

    def paint(self) -> None:
        self.window.galley.setFocus()
        self._key(self.random.choice(PAINT_KEYS[:17]))

    def turn(self) -> None:
        view, at = self.window.galley.viewport(), QPointF(self._spot())
        by = QPoint(0, self.random.choice([120, -120, 480, -480, 5]))
        on_screen, none = QPointF(view.mapToGlobal(at.toPoint())), Qt.MouseButton.NoButton
        event = QWheelEvent(at, on_screen, QPoint(), by, none, self._held(), Qt.ScrollPhase.NoScrollPhase, False)
        QApplication.sendEvent(view, event)

    def type(self) -> None:
        self.window.show_step(Step.SCRIPT)
        text = self.window.script.text
        text.setFocus()
        cursor = text.textCursor()
        cursor.setPosition(self.random.randrange(len(text.toPlainText()) + 1))
        if self.random.random() < 0.2:
            cursor.setPosition(self.random.randrange(len(text.toPlainText()) + 1), cursor.MoveMode.KeepAnchor)
        text.setTextCursor(cursor)
        if self.random.random() < 0.7:
            text.insertPlainText(self.random.choice(_TYPED) + self.random.choice([" ", " ", ""]))
        for _ in range(self.random.randrange(6)):
            keys = [Qt.Key.Key_Backspace, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_Return, Qt.Key.Key_Tab]
            QTest.keyClick(self._focus(), self.random.choice(keys))

    def poke(self) -> None:
        """Some part of the panels."""
        kinds = (QAbstractButton, QComboBox, QAbstractSpinBox, QLineEdit, QSlider)
        found = [part for part in self.window.findChildren(kinds) if part.isVisible() and part.isEnabled()]
        part = self.random.choice([part for part in found if part is not self.window.rail.menu_button])
        if isinstance(part, QAbstractButton):
            QTest.mouseClick(part, LEFT)
        elif isinstance(part, QComboBox) and part.count():
            part.setCurrentIndex(self.random.randrange(min(part.count(), 40)))
            part.activated.emit(part.currentIndex())
        elif isinstance(part, QAbstractSpinBox):
            part.stepBy(self.random.randrange(-20, 20))
            part.editingFinished.emit()
        elif isinstance(part, QSlider):
            part.setValue(self.random.randrange(part.minimum(), part.maximum() + 1))
        elif isinstance(part, QLineEdit):
            part.setFocus()
            part.setText(self.random.choice(_ENTERED))
            QTest.keyClick(part, Qt.Key.Key_Return)

    def ask(self) -> None:
        """Whatever asks for a line of text gets one."""
        self.window.galley.setFocus()
        self._key(self.random.choice(["Ctrl+K", "Ctrl+F", "Ctrl+H", "R", "Shift+R", "Shift+N", "=", "H"]))
        if isinstance(self._focus(), QLineEdit | QPlainTextEdit):
            QTest.keyClicks(self._focus(), self.random.choice(_ENTERED))
        for _ in range(self.random.randrange(3)):
            QTest.keyClick(self._focus(), self.random.choice([Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_PageDown]))
        QTest.keyClick(self._focus(), self.random.choice([Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Escape]))

    def move_lines(self) -> None:
        """In the scene bar, where there is one."""
        bar, choose = self.window.scene_bar, self.random
        if not bar.isVisible():
            return
        at = QPoint(choose.randrange(bar.width()), choose.randrange(bar.height()))
        if choose.random() < 0.4:
            QTest.mouseDClick(bar, LEFT, NONE, at)
            return
        QTest.mousePress(bar, LEFT, NONE, at)
        for _ in range(choose.randrange(4)):
            at = at + QPoint(choose.randrange(-80, 80), choose.randrange(-9, 9))
            QTest.mouseMove(bar, at)
            if choose.random() < 0.1:
                self._key(choose.choice(["Ctrl+Z", "PgDown", "PgUp", "Ctrl+Alt+F"]))
        QTest.mouseRelease(bar, LEFT, NONE, at)
        bar.setFocus()
        keys = [Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_M, Qt.Key.Key_Return, Qt.Key.Key_Delete]
        QTest.keyClick(bar, choose.choice(keys))

    def resize(self) -> None:
        self.window.resize(self.random.randrange(960, 1700), self.random.randrange(620, 1000))

    def let_go(self) -> None:
        QTest.mouseRelease(self.window.galley.viewport(), LEFT, NONE, QPoint(300, 200))

    # --- what has to hold ----------------------------------------------------------------------------------------------

    def broken(self) -> list[str]:
        """What does not hold of the window's project now: it can be saved and read again, and its bake is sound and the same
        as one made at once."""
        document, found = self.window.document, []
        state, kept = document.state, self.folder / "looked at.buccaphon"
        save_project(state, kept)
        if (again := open_project(kept)).at_rest != state.at_rest:
            found.append(f"read again it is another project: {_differing(state.at_rest, again.at_rest)}")
        bake, derived = document.bake(), document.derived
        if bake is not None and derived is not None:
            found += _unsound(bake, state)
            anew = Derived(derived.recording, derived.peaks)
            if derived.spoken is not None:
                anew.take_spoken(derived.spoken)
            for part, peaks in derived.parts.items():
                anew.take_peaks(part, peaks)
            at_once = anew.bake(state)
            if at_once.exposures != bake.exposures:
                unlike = _differing(at_once.exposures, bake.exposures)
                found.append(f"mouths made over are not those made at once: {unlike}")
            apart = np.abs(at_once.channels.values - bake.channels.values)
            if apart.any():
                frames, channels = np.nonzero(apart)
                names = sorted({bake.channels.of[channel].name for channel in channels.tolist()})
                where = f"{names}, frames {sorted(set(frames.tolist()))[:20]}, by {apart.max()}"
                found.append(f"channels made over are not those made at once: {where}")
        return found

    def broken_in_undo(self) -> list[str]:
        """Whether undoing everything leads to where the project began, and doing it again to where it is."""
        project, (begun, first) = self.window.document.project, self.begun
        end, steps, found = project.state, project.steps()[1], []
        if project is not begun:
            return []
        for _ in range(steps):
            project.undo()
        if project.state.at_rest != first.at_rest:
            differs = _differing(first.at_rest, project.state.at_rest)
            found.append(f"undoing everything does not lead to where it began: {differs}")
        for _ in range(steps):
            project.redo()
        return found if project.state.at_rest == end.at_rest else [*found, "doing everything again does not lead back"]


def _differing(one: object, other: object) -> str:
    """The entries in which two records of a kind differ, to the innermost."""
    if isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other):
        return "; ".join(_differing(a, b) for a, b in zip(one, other, strict=True) if a != b)
    if not is_dataclass(one) or type(one) is not type(other):
        return f"{one!r:.300} is not {other!r:.300}"
    names = [each.name for each in fields(one) if getattr(one, each.name) != getattr(other, each.name)]
    return "; ".join(f"{name}: {_differing(getattr(one, name), getattr(other, name))}" for name in names)


def _unsound(bake: Bake, state: State) -> list[str]:
    values, sums = bake.channels.values, bake.weights.sum(1)
    low, high = (np.array([getattr(channel, end) for channel in bake.channels.of]) for end in ("low", "high"))
    drawn = {curve.channel for curve in state.take.curves} if state.take else set()
    beyond = not drawn and ((values < low - 1e-3) | (values > high + 1e-3)).any()  # a hand may draw beyond
    found = ["a value"] if beyond or not np.isfinite(values).all() else []
    as_made = not state.steps and not any(channel.startswith(WEIGHT) for channel in drawn)
    if len(sums) and as_made and not np.allclose(sums, 1, atol=1e-3):
        found.append("weights that are not one together")
    ends = [0, *(exposure.end for exposure in bake.exposures)]
    if [exposure.start for exposure in bake.exposures] != ends[:-1] or ends[-1] != bake.frames:
        found.append("mouths that leave a gap")
    return found
