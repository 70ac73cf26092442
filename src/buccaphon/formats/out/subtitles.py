"""Subtitles out: SRT as players and cutting rooms read it, and WebVTT with a time for each word (W3C). Times count from the
recording's start, or from the first frame."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.scene_time import from_first_frame, in_time, said_in
from buccaphon.score.records import Word
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_

_PAUSE = 0.5  # seconds after which a new line begins
_LEAST = 0.001  # seconds that a cue lasts


@dataclass(frozen=True, slots=True)
class SrtOptions:
    """What a cue holds."""

    words: bool = setting(False, N_("One cue per word"), N_("A cue for each word instead of each line"))
    letters: int = setting(
        42,
        N_("Letters per line"),
        N_("Most letters in a line; a pause of half a second also ends it"),
        least=1,
        most=1000,
    )
    scene: bool = from_first_frame()

    def __post_init__(self) -> None:
        require_valid_settings(self)


def srt(delivery: Delivery, options: SrtOptions) -> bytes:
    """Cues numbered from 1, a comma before the milliseconds, each of a word or of a line."""
    delivery = in_time(delivery, of_scene=options.scene)
    cues = []
    for number, (_who, line) in enumerate(_lines_of(delivery, 0 if options.words else options.letters), 1):
        start, end = line[0].start, max(line[-1].end, line[0].start + _LEAST)
        text = " ".join(word.text for word in line)
        cues.append(f"{number}\n{_clock(start)} --> {_clock(end)}\n{text}\n\n")
    return "".join(cues).encode()


@dataclass(frozen=True, slots=True)
class VttOptions:
    """How lines are made, and who speaks."""

    letters: int = setting(
        42,
        N_("Letters per line"),
        N_("Most letters in a line; a pause of half a second also ends it"),
        least=1,
        most=1000,
    )
    voice: str = setting("", N_("Speaker"), N_("Name of the speaker; empty for none"), is_text=True)
    scene: bool = from_first_frame()

    def __post_init__(self) -> None:
        require_valid_settings(self)


def vtt(delivery: Delivery, options: VttOptions) -> bytes:
    """A cue a line; each word but the first with the moment at which it begins, where that lies between the ones around."""
    delivery = in_time(delivery, of_scene=options.scene)
    text = "WEBVTT\n\nNOTE\nEach word begins at its own time.\n\n"
    for number, (who, line) in enumerate(_lines_of(delivery, options.letters), 1):
        start, end = line[0].start, max(line[-1].end, line[0].start + _LEAST)
        before, last = _milliseconds(start), _milliseconds(end)
        spoken = []
        for word in line:
            at = _milliseconds(word.start)
            timed = before < at < last
            before = at if timed else before
            spoken.append((f"<{_clock(word.start, '.')}>" if timed else "") + f"<c>{_escaped(word.text)}</c>")
        body = " ".join(spoken)
        voice = _escaped(options.voice) or _escaped(who)
        body = f"<v {voice}>{body}</v>" if voice else body
        text += f"{number}\n{_clock(start, '.')} --> {_clock(end, '.')}\n{body}\n\n"
    return text.encode()


def _lines_of(delivery: Delivery, letters: int) -> list[tuple[str, tuple[Word, ...]]]:
    """The lines in the order in which they begin, with the names of their speakers. letters: 0 for a line for each word."""
    found = []
    for voice in said_in(delivery):
        words = [word for word in voice.score.words if word.text]
        lines = in_lines(words, letters) if letters else [(word,) for word in words]
        found += [(voice.name, line) for line in lines]
    return sorted(found, key=lambda each: each[1][0].start)


def _escaped(text: str) -> str:
    return " ".join(text.split()).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


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


def _milliseconds(seconds: float) -> int:
    return round(seconds * 1000)


def _clock(seconds: float, point: str = ",") -> str:
    minutes, rest = divmod(_milliseconds(seconds), 60_000)
    return f"{minutes // 60:02d}:{minutes % 60:02d}:{rest // 1000:02d}{point}{rest % 1000:03d}"
