"""Edits of the words: what is said and how, and what the aligner makes of it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from buccaphon.files import whole_text
from buccaphon.project.carrying import carry_pins, lose_pins
from buccaphon.project.edits import Edit, TakeEdit, Touched
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.score.edits import boundary_time, move_boundary
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon
from buccaphon.texts import N_

_SAME = 1e-9  # seconds


@dataclass(frozen=True, slots=True)
class SetScript(Edit):
    """Type the words. Timings stay as they are until the next alignment."""

    TITLE = N_("Type the script")
    TOUCHES = Touched.SCRIPT

    text: str
    gesture: str = field(default="typing", kw_only=True)

    def apply(self, state: State) -> State:
        return state.with_line(script=whole_text(self.text))


@dataclass(frozen=True, slots=True)
class SetLanguage(Edit):
    """Say what language is spoken. All takes are to be aligned anew."""

    TITLE = N_("Choose the language")
    TOUCHES = Touched.SCRIPT | Touched.SAYING

    language: str

    def apply(self, state: State) -> State:
        takes = tuple(replace(take, aligned_script="") for take in state.takes)
        return state.with_line(language=self.language, takes=takes if self.language != state.language else state.takes)


@dataclass(frozen=True, slots=True)
class SetLexicon(Edit):
    """Say how words are pronounced in this project."""

    TITLE = N_("Change a pronunciation")
    TOUCHES = Touched.SAYING

    lexicon: Lexicon

    def apply(self, state: State) -> State:
        return replace(state, lexicon=self.lexicon)


@dataclass(frozen=True, slots=True)
class TakeAlignment(TakeEdit):
    """Put freshly aligned words in place. Pins are applied again where their word is still there."""

    TITLE = N_("Align")
    TOUCHES = Touched.SCRIPT | Touched.TIMING | Touched.MOUTHS

    score: Score
    script: str

    def on(self, take: Take, state: State) -> Take:
        kept = carry_pins(state.pins, state.score, self.score) if state.score else ()
        lost = lose_pins(state.pins, state.score, self.score) if state.score else ()
        score = self.score
        for pin in kept:
            if abs(boundary_time(score, pin.boundary) - pin.seconds) > _SAME:
                score = move_boundary(score, pin.boundary, pin.seconds)
        before = take.without_word if state.take else ()
        return replace(take, score=score, aligned_script=self.script, pins=kept, without_word=(*before, *lost))


@dataclass(frozen=True, slots=True)
class BeWithoutWords(TakeEdit):
    """Take the words off the page once none is left in the script: the mouths follow the loudness again."""

    TITLE = N_("Remove the words")
    TOUCHES = Touched.SCRIPT | Touched.TIMING | Touched.MOUTHS

    def on(self, take: Take, state: State) -> Take:
        if state.score is None:
            return take
        lost = lose_pins(state.pins, state.score, Score((), state.score.duration))
        return replace(take, score=None, aligned_script="", pins=(), without_word=(*take.without_word, *lost))


@dataclass(frozen=True, slots=True)
class ForgetLostPins(TakeEdit):
    """Take the list of corrections whose word is gone off the page."""

    TITLE = N_("Discard corrections whose word was removed")
    TOUCHES = Touched.NOTES

    def on(self, take: Take, _state: State) -> Take:
        return replace(take, without_word=())
