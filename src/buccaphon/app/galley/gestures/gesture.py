"""What a gesture is, and the press that begins one."""

from __future__ import annotations

import functools
import operator
from dataclasses import dataclass
from enum import Flag, auto
from typing import Protocol

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QMouseEvent

from buccaphon.app.galley.layout import Layout, Place
from buccaphon.app.session.document import Document

GRAB = 5  # pixels around a boundary in which it can be taken


class Held(Flag):
    """Keys that are held while the hand moves."""

    NONE = 0
    SHIFT = auto()
    ALT = auto()
    CONTROL = auto()


def held_keys(event: QMouseEvent) -> Held:
    """The keys that are held during an event of the mouse."""
    modifiers = event.modifiers()
    pairs = (
        (Qt.KeyboardModifier.ShiftModifier, Held.SHIFT),
        (Qt.KeyboardModifier.AltModifier, Held.ALT),
        (Qt.KeyboardModifier.ControlModifier, Held.CONTROL),
    )
    return functools.reduce(operator.or_, (key for modifier, key in pairs if modifiers & modifier), Held.NONE)


@dataclass(frozen=True, eq=False)
class Press:
    """Where the hand goes down, or hovers. x: in page pixels."""

    document: Document
    layout: Layout
    place: Place
    x: float
    held: Held = Held.NONE


class Gesture(Protocol):
    """Gets every move of the hand that is down, and its release."""

    def move(self, place: Place, held: Held = ...) -> None: ...
    def end(self, place: Place) -> None: ...


class PlacePlayhead:
    """Click: the playhead goes there. Dragging carries it along, silently."""

    def __init__(self, press: Press) -> None:
        self._document = press.document
        self._document.player.seek(press.place.seconds)
        self._document.select_nothing()

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.player.seek(place.seconds)

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


def no_grip(_press: Press) -> bool:
    """Nothing can be dragged sideways here."""
    return False
