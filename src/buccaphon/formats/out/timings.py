"""Timings out: where each word and phone lies, as TextGrid, JSON or CSV. The Praat manual defines the TextGrid."""

from __future__ import annotations

import csv
import io
import json
import tempfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.keys import CsvOptions
from buccaphon.formats.out.scene_time import from_first_frame, in_time, said_in
from buccaphon.motion.record import Bake
from buccaphon.score.records import Score
from buccaphon.setting import setting
from buccaphon.speech.phones import SOUNDS
from buccaphon.texts import N_

Interval = tuple[float, float, str]

_NEAR = 1e-6


@dataclass(frozen=True, slots=True)
class TextGridOptions:
    """Which of the two ways a TextGrid is written."""

    short: bool = setting(False, N_("Short form"), N_("Write the short form of a TextGrid"))
    scene: bool = from_first_frame()


@dataclass(frozen=True, slots=True)
class TimingsOptions:
    """From where times count."""

    scene: bool = from_first_frame()


@dataclass(frozen=True, slots=True)
class TimingsCsvOptions(CsvOptions):
    """How the table is written, and from where times count."""

    scene: bool = from_first_frame()


def textgrid(delivery: Delivery, options: TextGridOptions) -> bytes:
    """Interval tiers `words`, `phones` (ARPAbet, or IPA for what English lacks) and, where mouths were chosen, `mouths`, that
    cover the whole recording, or its part that is used; pauses are empty intervals. Notes are points of a tier `notes`, if
    there are any."""
    delivery = in_time(delivery, of_scene=options.scene)
    score = _words_of(delivery)
    from praatio import textgrid as praat  # noqa: PLC0415  (slow to import, only needed when writing)

    words = _in_a_row((word.start, word.end, word.text) for word in score.words)
    phones = _in_a_row((phone.start, phone.end, _written(phone.symbol)) for phone in score.phones())
    grid = praat.Textgrid(0.0, score.duration)
    tiers = [("words", words), ("phones", phones)]
    if delivery.bake is not None:
        tiers.append(("mouths", _mouths(delivery, delivery.bake, score.duration)))
    for name, entries in tiers:
        grid.addTier(praat.IntervalTier(name, entries, 0.0, score.duration))
    notes = _notes(delivery, score.duration)
    if notes:
        grid.addTier(praat.PointTier("notes", notes, 0.0, score.duration))
    with tempfile.TemporaryDirectory() as folder:  # the library writes to paths only
        path = Path(folder) / "out.TextGrid"
        grid.save(str(path), format="short_textgrid" if options.short else "long_textgrid", includeBlankSpaces=True)
        return path.read_bytes()


def _mouths(delivery: Delivery, bake: Bake, duration: float) -> list[Interval]:
    """The held mouths by the host's names; the last one ends with the recording."""
    held = (
        (bake.rate.seconds(e.start + bake.first), min(bake.rate.seconds(e.end + bake.first), duration), e.mouth)
        for e in bake.exposures
    )
    return _in_a_row((start, end, delivery.called(mouth)) for start, end, mouth in held if end > start)


def _notes(delivery: Delivery, duration: float) -> list[tuple[float, str]]:
    """One at each moment: a note of several lines is one line, notes that begin together are one."""
    found: dict[float, str] = {}
    for note in delivery.notes:
        at = min(max(note.span.start, 0.0), duration)
        text = " ".join(note.text.split())
        found[at] = f"{found[at]} / {text}" if at in found else text
    return sorted(found.items())


def _words_of(delivery: Delivery) -> Score:
    assert delivery.score is not None
    return delivery.score


def _in_a_row(intervals: Iterable[Interval]) -> list[Interval]:
    """Each beginning no earlier than the one before ends: what rounding has crossed by a hair is no overlap."""
    found: list[Interval] = []
    for start, end, text in intervals:
        found.append((max(start, found[-1][1]) if found else start, end, text))
    return found


def timings_json(delivery: Delivery, options: TimingsOptions) -> bytes:
    """Words with their phones, times in seconds, pauses left out."""
    delivery = in_time(delivery, of_scene=options.scene)
    score = _words_of(delivery)
    said = [(voice.name, word) for voice in said_in(delivery) for word in voice.score.words]
    words = [
        {
            "word": word.text,
            **({"speaker": who} if who else {}),
            "start": round(word.start, 4),
            "end": round(word.end, 4),
            "confidence": round(word.confidence, 3),
            "phones": [
                {
                    "phone": _written(phone.symbol),
                    "ipa": phone.symbol,
                    "start": round(phone.start, 4),
                    "end": round(phone.end, 4),
                    "stress": phone.stress,
                    "confidence": round(phone.confidence, 3),
                }
                for phone in word.phones
            ],
        }
        for who, word in sorted(said, key=lambda each: each[1].start)
    ]
    data = {"duration": round(score.duration, 4), "unit": "seconds", "words": words}
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def timings_csv(delivery: Delivery, options: TimingsCsvOptions) -> bytes:
    """One row per speech sound, pauses included with empty phone and word; times in seconds."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    delivery = in_time(delivery, of_scene=options.scene)
    heads = ["start_s", "end_s", "phone", "ipa", "word", "confidence"]
    writer.writerow([*heads, "speaker"] if delivery.voices else heads)
    for voice in said_in(delivery):
        who = (options.cell(voice.name),) if delivery.voices else ()
        writer.writerows((*row, *who) for row in _rows(voice.score, options))
    return text.getvalue().encode()


def _rows(score: Score, options: CsvOptions) -> Iterator[tuple[str, ...]]:
    at = 0.0
    for word in score.words:
        if word.start > at + _NEAR:
            yield f"{at:.4f}", f"{word.start:.4f}", "", "", "", ""
        for phone in word.phones:
            times = f"{phone.start:.4f}", f"{phone.end:.4f}"
            yield *times, _written(phone.symbol), phone.symbol, options.cell(word.text), f"{phone.confidence:.3f}"
        at = word.end
    if score.duration > at + _NEAR:
        yield f"{at:.4f}", f"{score.duration:.4f}", "", "", "", ""


def _written(symbol: str) -> str:
    """ARPAbet for the sounds of English; the symbol itself for any other."""
    return SOUNDS[symbol].arpabet if symbol in SOUNDS else symbol
