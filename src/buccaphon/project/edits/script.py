"""Edits of the words: what is said and how, and what the aligner makes of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.project.corrections import carried_pins, lost_pins
from buccaphon.project.edits import Kind, whole_text
from buccaphon.project.state import State
from buccaphon.score.edits import boundary_time, move_boundary
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon

_SAME = 1e-9  # seconds


@dataclass(frozen=True, slots=True)
class SetScript:
    """Type the words. Timings stay as they are until the next alignment."""

    text: str
    name: str = "Type the script"
    kind: Kind = Kind.SCRIPT
    gesture: str = "typing"

    def apply(self, state: State) -> State:
        return replace(state, script=whole_text(self.text))


@dataclass(frozen=True, slots=True)
class SetLanguage:
    """Say what language is spoken. All takes are to be aligned anew."""

    language: str
    name: str = "Choose the language"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        takes = tuple(replace(take, aligned_script="") for take in state.takes)
        return replace(state, language=self.language, takes=takes if self.language != state.language else state.takes)


@dataclass(frozen=True, slots=True)
class SetLexicon:
    """Say how words are pronounced in this project."""

    lexicon: Lexicon
    name: str = "Set a pronunciation"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(state, lexicon=self.lexicon)


@dataclass(frozen=True, slots=True)
class TakeAlignment:
    """Put freshly aligned words in place. Pins are applied again where their word is still there."""

    score: Score
    script: str
    name: str = "Align"
    kind: Kind = Kind.SCRIPT | Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        kept = carried_pins(state.pins, state.score, self.score) if state.score else ()
        lost = lost_pins(state.pins, state.score, self.score) if state.score else ()
        score = self.score
        for pin in kept:
            if abs(boundary_time(score, pin.boundary) - pin.seconds) > _SAME:
                score = move_boundary(score, pin.boundary, pin.seconds)
        before = state.take.lost if state.take else ()
        return state.with_take(score=score, aligned_script=self.script, pins=kept, lost=(*before, *lost))


@dataclass(frozen=True, slots=True)
class BeWithoutWords:
    """Take the words off the page once none is left in the script: the mouths follow the loudness again."""

    name: str = "Be without words"
    kind: Kind = Kind.SCRIPT | Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        if state.take is None or state.score is None:
            return state
        lost = lost_pins(state.pins, state.score, Score((), state.score.duration))
        return state.with_take(score=None, aligned_script="", pins=(), lost=(*state.take.lost, *lost))


@dataclass(frozen=True, slots=True)
class ForgetLostPins:
    """Take the list of corrections whose word is gone off the page."""

    name: str = "Forget corrections that lost their word"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        return state.with_take(lost=())
