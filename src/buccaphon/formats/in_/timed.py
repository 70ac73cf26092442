"""Files that know when words are said: subtitles, TextGrids, tables and cue markers.

SRT is read by `pysubs2`, WebVTT by `webvtt-py`, which keeps the times of words, TextGrids by `praatio`.
"""

from __future__ import annotations

import csv
import html
import io
import re
from pathlib import Path
from typing import Any

from buccaphon.errors import InputError, ScriptError
from buccaphon.files import read_text
from buccaphon.formats.in_.markers import read_markers
from buccaphon.formats.in_.wording import Timed, Wording
from buccaphon.formats.out.cues import MOUTH, NOTE
from buccaphon.texts import _
from buccaphon.timing import FURTHEST

_STAMP, _TAG = re.compile(r"<(\d[\d:.]*)>"), re.compile(r"<[^>]*>")
_LONGEST_LINE = 10_000  # letters


def read_subtitles(path: Path) -> Wording:
    import pysubs2  # noqa: PLC0415  (only when subtitles are read)

    if path.suffix.lower() == ".vtt":
        return _webvtt(path)
    text = vtt_text(path, ScriptError)
    voiced = re.sub(r"<v(?:\.[\w.-]+)?\s+([^>\n]+)>", lambda found: f"{found[1].strip().upper()}: ", text)
    lines = [
        Timed(" ".join(event.plaintext.split()), event.start / 1000, event.end / 1000)
        for event in pysubs2.SSAFile.from_string(voiced)
        if event.plaintext.strip()
    ]
    return Wording("\n".join(line.text for line in lines), tuple(lines))


def vtt_text(path: Path, kind: type[InputError]) -> str:
    """The text of WebVTT. Raises an error of that kind for lines so long that looking for tags in them never ends."""
    text = read_text(path, kind)
    if max(map(len, text.splitlines()), default=0) > _LONGEST_LINE:
        raise kind(str(path), f"a line of it has more than {_LONGEST_LINE} letters", "Break it into cues")
    return text


def _webvtt(path: Path) -> Wording:
    """Lines with who speaks in front; the times of single words, where they are told."""
    import webvtt  # noqa: PLC0415  (only when subtitles are read)

    lines, times = [], []
    for cue in webvtt.from_string(vtt_text(path, ScriptError)).captions:
        text = " ".join(html.unescape(cue.text).split())
        if not text:
            continue
        lines.append(f"{html.unescape(cue.voice).strip().upper()}: {text}" if cue.voice else text)
        words = words_of_cue(cue)
        times += words if len(words) > 1 else [Timed(text, seconds_of(cue.start), seconds_of(cue.end))]
    return Wording("\n".join(lines), tuple(times))


def words_of_cue(cue: Any) -> list[Timed]:
    """What is said between the times that stand in a cue's text; what comes before the first is said from its start on."""
    parts = _STAMP.split(cue.raw_text)
    starts, end = [seconds_of(cue.start), *map(seconds_of, parts[1::2])], seconds_of(cue.end)
    found = []
    for at, until, text in zip(starts, [*starts[1:], end], parts[::2], strict=True):
        spoken = " ".join(html.unescape(_TAG.sub("", text)).split())
        if spoken:
            found.append(Timed(spoken, at, max(until, at)))
    return found


def seconds_of(clock: str) -> float:
    """Of a time in WebVTT: 00:01:02.500, or without hours."""
    return sum(float(part) * 60.0**place for place, part in enumerate(reversed(clock.split(":"))))


def read_textgrid(path: Path) -> Wording:
    from praatio import textgrid as praat  # noqa: PLC0415  (slow to import)

    grid = praat.openTextgrid(str(path), includeEmptyIntervals=False)
    names = [name for name in grid.tierNames if "word" in name.lower()] or list(grid.tierNames)
    entries = grid.getTier(names[0]).entries
    words = [Timed(entry.label.strip(), entry.start, entry.end) for entry in entries if entry.label.strip()]
    return Wording(" ".join(word.text for word in words), tuple(words))


def read_table(path: Path) -> Wording:
    rows = list(csv.DictReader(io.StringIO(read_text(path, ScriptError))))
    columns = {name.lower(): name for name in (rows[0] if rows else {})}

    def column(*names: str) -> str:
        for name in names:
            if name in columns:
                return columns[name]
        raise ScriptError(
            str(path), _("it has no column “{names}”", names=names[0]), _("Name the columns start, end and word")
        )

    start, end, text = column("start", "start_s"), column("end", "end_s"), column("word", "text")
    words: list[Timed] = []
    for row in rows:
        if not row[text].strip():
            continue
        timed = Timed(row[text].strip(), float(row[start]), float(row[end]))
        if not 0 <= timed.start <= timed.end <= FURTHEST:
            reason = _(
                "“{text}” would be said from {start} to {end} s", text=timed.text, start=row[start], end=row[end]
            )
            raise ScriptError(str(path), reason, _("Give times in seconds, the start first"))
        if words and words[-1].text == timed.text and "phone" in columns and words[-1].end == timed.start:
            timed = Timed(timed.text, words.pop().start, timed.end)  # one row a phone
        words.append(timed)
    return Wording(" ".join(word.text for word in words), tuple(words))


def read_cues(path: Path) -> Wording:
    """The words of labelled markers; one without an end is said until the next."""
    import soundfile  # noqa: PLC0415  (only when markers are read)

    found = [marker for marker in read_markers(path) if not marker.text.startswith((MOUTH, NOTE))]
    if not found:
        raise ScriptError(str(path), _("it has no markers with words"), _("Use a recording with labelled markers"))
    ends = [marker.start for marker in found[1:]] + [soundfile.info(str(path)).duration]
    words = [
        Timed(marker.text, marker.start, marker.end if marker.end > marker.start else max(end, marker.start))
        for marker, end in zip(found, ends, strict=True)
    ]
    return Wording(" ".join(word.text for word in words), tuple(words))
