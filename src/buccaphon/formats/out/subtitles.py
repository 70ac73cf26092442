"""Subtitles out: SRT, as players and cutting rooms read it. Times count from the recording's start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from buccaphon.formats.delivery import Delivery
from buccaphon.score.records import Word

_PAUSE = 0.5  # seconds after which a new line begins
_LEAST = 0.001  # seconds that a cue lasts


@dataclass(frozen=True, slots=True)
class SrtOptions:
    """What a cue holds."""

    words: bool = field(default=False, metadata={"says": "a cue for each word instead of each line"})
    letters: int = field(
        default=42, metadata={"says": "letters of a line at most; a pause of half a second ends it too"}
    )

    def __post_init__(self) -> None:
        if not 1 <= self.letters <= 1000:
            raise ValueError(f"{self.letters} letters are not between 1 and 1000")


def srt(delivery: Delivery, options: SrtOptions) -> bytes:
    """Cues numbered from 1, a comma before the milliseconds, each of a word or of a line."""
    assert delivery.score is not None
    words = [word for word in delivery.score.words if word.text]
    lines = [(word,) for word in words] if options.words else in_lines(words, options.letters)
    cues = []
    for number, line in enumerate(lines, 1):
        start, end = line[0].start, max(line[-1].end, line[0].start + _LEAST)
        text = " ".join(word.text for word in line)
        cues.append(f"{number}\n{_clock(start)} --> {_clock(end)}\n{text}\n\n")
    return "".join(cues).encode()


def in_lines(words: Sequence[Word], letters: int) -> list[tuple[Word, ...]]:
    """Words as lines: a new one behind a pause, and where it would be too long."""
    lines: list[list[Word]] = []
    for word in words:
        line = lines[-1] if lines else []
        length = sum(len(each.text) + 1 for each in line) + len(word.text)
        if line and word.start - line[-1].end <= _PAUSE and length <= letters:
            line.append(word)
        else:
            lines.append([word])
    return [tuple(line) for line in lines]


def _clock(seconds: float) -> str:
    milliseconds = round(seconds * 1000)
    minutes, rest = divmod(milliseconds, 60_000)
    return f"{minutes // 60:02d}:{minutes % 60:02d}:{rest // 1000:02d},{rest % 1000:03d}"
