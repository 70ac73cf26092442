"""Why a mouth is on show: which sounds, by which rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.segments import Kind
from buccaphon.score.records import Phone, Word
from buccaphon.speech.phones import PAUSE
from buccaphon.texts import _
from buccaphon.timing import FrameRate

_EARLIER, _LATER = 0.12, 0.03  # seconds around an exposure in which the sounds that it answers to lie


@dataclass(frozen=True, slots=True)
class Reason:
    """kind: what made it. answers: the sounds under it that its mouth answers to, each with its word. swallowed: others."""

    kind: Kind
    answers: tuple[tuple[str, str], ...]
    swallowed: tuple[tuple[str, str], ...]

    def says(self, mouth: str) -> str:
        """In a sentence or two."""
        heard = ", ".join(_("{sound} in “{word}”", sound=sound, word=word) for sound, word in self.answers)
        left_out = ", ".join(_("{sound} in “{word}”", sound=sound, word=word) for sound, word in self.swallowed)
        if self.kind is Kind.PAINTED:
            said = heard or left_out
            text = _("{mouth}: painted by hand over {sounds}.") if said else _("{mouth}: painted by hand.")
            return text.format(mouth=mouth, sounds=said)
        if self.kind is Kind.REST and not heard:
            return _("{mouth}: a pause long enough to come to rest.", mouth=mouth)
        if self.kind is Kind.CONTACT:
            return _(
                "{mouth} for {sounds}: lips or teeth touch, so it is always shown.",
                mouth=mouth,
                sounds=heard or left_out,
            )
        if self.kind is Kind.STRESSED:
            why = _("{mouth} for {sounds}: a stressed vowel, which gets its full time.", mouth=mouth, sounds=heard)
        elif heard:
            why = _("{mouth} for {sounds}: the clearest choice here.", mouth=mouth, sounds=heard)
        elif left_out:
            return _(
                "{mouth}: held over {sounds}, too short to be seen, or a transition to the next mouth.",
                mouth=mouth,
                sounds=left_out,
            )
        else:
            return _("{mouth}: a transition between two mouths.", mouth=mouth)
        return _("{why} Held over {sounds}.", why=why, sounds=left_out) if left_out else why


def reason_for(exposure: Exposure, kind: Kind, words: Sequence[Word], chart: Chart, rate: FrameRate) -> Reason:
    """Why an exposure is there. words: those around it."""
    start, end = rate.seconds(exposure.start), rate.seconds(exposure.end)
    mouth = chart.index(exposure.mouth)
    answers, others = list[tuple[str, str]](), list[tuple[str, str]]()
    for word in words:
        for phone in word.phones:
            if phone.symbol != PAUSE and _is_under(phone, start, end):
                mine = chart.answer(phone.symbol) == mouth
                inside = phone.start < end - _LATER and phone.end > start + _LATER
                if mine:
                    answers.append((phone.symbol, word.text))
                elif inside:
                    others.append((phone.symbol, word.text))
    return Reason(kind, tuple(answers), tuple(others))


def _is_under(phone: Phone, start: float, end: float) -> bool:
    return phone.end > start - _LATER and phone.start < end + _EARLIER
