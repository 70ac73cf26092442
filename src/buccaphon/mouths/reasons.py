"""Why a mouth is on show: which sounds, by which rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.segments import Kind
from buccaphon.score.records import Phone, Word
from buccaphon.speech.phones import PAUSE
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
        heard = ", ".join(f"{sound} in “{word}”" for sound, word in self.answers)
        left_out = ", ".join(f"{sound} in “{word}”" for sound, word in self.swallowed)
        if self.kind is Kind.PAINTED:
            said = heard or left_out
            return f"{mouth}: painted by hand" + (f" over {said}." if said else ".")
        if self.kind is Kind.REST and not heard:
            return f"{mouth}: a pause long enough to come to rest."
        if self.kind is Kind.CONTACT:
            return f"{mouth} for {heard or left_out}: lips or teeth touch, so it is always shown."
        if self.kind is Kind.STRESSED:
            why = f"{mouth} for {heard}: a stressed vowel, which gets its full time."
        elif heard:
            why = f"{mouth} for {heard}: the clearest choice here."
        elif left_out:
            return f"{mouth}: held over {left_out}, too short to be seen, or a transition to the next mouth."
        else:
            return f"{mouth}: a transition between two mouths."
        return f"{why} Held over {left_out}." if left_out else why


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
