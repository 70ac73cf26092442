"""Words in: scripts as plain text, Fountain or subtitles, and files that know when words are said.

Fountain is the open screenplay text (fountain.io/syntax); SRT and WebVTT are read by `pysubs2`, TextGrids by `praatio`, cue
markers by `wavinfo`.
"""

from __future__ import annotations

import contextlib
import csv
import io
import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from buccaphon.alignment.request import Guide
from buccaphon.errors import BuccaphonError, ScriptError
from buccaphon.files import read_text
from buccaphon.speech.matching import matched, plain
from buccaphon.speech.script import ScriptWord, script_words

_SLACK = 0.15  # seconds that the times of a word may be off
_LATEST = 86_400.0  # seconds; no recording is longer
_LINE_SLACK = 0.4  # and those of a subtitle


@dataclass(frozen=True, slots=True)
class Timed:
    """Words that are said between two moments, in seconds."""

    text: str
    start: float
    end: float


@dataclass(frozen=True, slots=True)
class Wording:
    """text: as a script. times: when parts of it are said, if the file knows."""

    text: str
    times: tuple[Timed, ...] = ()


def read_wording(path: Path) -> Wording:
    """Read words, and their times where the file has them. Raises ScriptError when it cannot be read or holds none."""
    reader = READERS.get(path.suffix.lower())
    with contextlib.suppress(OSError):
        if path.exists() and not path.is_file():
            raise ScriptError(str(path), "it is no file", "Name a file")
    if reader is None:
        known = ", ".join(sorted(READERS))
        raise ScriptError(str(path), f"words cannot be read from “{path.suffix}” files", f"Use {known}")
    try:
        wording = reader(path)
    except BuccaphonError:
        raise
    except UnicodeDecodeError:
        raise ScriptError(str(path), "it is not UTF-8 text", "Save it as UTF-8") from None
    except OSError as problem:
        raise ScriptError(
            str(path), f"it cannot be read ({problem.strerror})", "Check the name and the folder"
        ) from None
    except Exception as problem:  # the libraries raise whatever they like at broken files
        reason = f"it cannot be understood ({type(problem).__name__})"
        raise ScriptError(str(path), reason, f"Check that it is a proper {path.suffix} file") from None
    if not script_words(wording.text):
        raise ScriptError(str(path), "it holds no spoken words", "Choose the file with the dialogue")
    return wording


def guides_for(wording: Wording, words: Sequence[ScriptWord]) -> tuple[Guide, ...]:
    """Where the words of a script can be, as far as a file with times says so."""
    owners, texts = [], []
    for number, timed in enumerate(wording.times):
        spoken = script_words(timed.text)
        owners += [number] * len(spoken)
        texts += [plain(word.text) for word in spoken]
    found = matched(texts, [plain(word.text) for word in words])
    guides, alone = [], Counter(owners)
    for index, number in found.items():
        timed = wording.times[owners[index]]
        slack = _SLACK if alone[owners[index]] == 1 else _LINE_SLACK
        guides.append(Guide(number, timed.start - slack, timed.end + slack))
    return tuple(guides)


def _plain_text(path: Path) -> Wording:
    return Wording(read_text(path, ScriptError).strip())


def _subtitles(path: Path) -> Wording:
    import pysubs2  # noqa: PLC0415  (only when subtitles are read)

    text = read_text(path, ScriptError)
    voiced = re.sub(r"<v(?:\.[\w.-]+)?\s+([^>\n]+)>", lambda found: f"{found[1].strip().upper()}: ", text)
    lines = [
        Timed(" ".join(event.plaintext.split()), event.start / 1000, event.end / 1000)
        for event in pysubs2.SSAFile.from_string(voiced)
        if event.plaintext.strip()
    ]
    return Wording("\n".join(line.text for line in lines), tuple(lines))


def _textgrid(path: Path) -> Wording:
    from praatio import textgrid as praat  # noqa: PLC0415  (slow to import)

    grid = praat.openTextgrid(str(path), includeEmptyIntervals=False)
    names = [name for name in grid.tierNames if "word" in name.lower()] or list(grid.tierNames)
    entries = grid.getTier(names[0]).entries
    words = [Timed(entry.label.strip(), entry.start, entry.end) for entry in entries if entry.label.strip()]
    return Wording(" ".join(word.text for word in words), tuple(words))


def _table(path: Path) -> Wording:
    rows = list(csv.DictReader(io.StringIO(read_text(path, ScriptError))))
    columns = {name.lower(): name for name in (rows[0] if rows else {})}

    def column(*names: str) -> str:
        for name in names:
            if name in columns:
                return columns[name]
        raise ScriptError(str(path), f"it has no column “{names[0]}”", "Name the columns start, end and word")

    start, end, text = column("start", "start_s"), column("end", "end_s"), column("word", "text")
    words: list[Timed] = []
    for row in rows:
        if not row[text].strip():
            continue
        timed = Timed(row[text].strip(), float(row[start]), float(row[end]))
        if not 0 <= timed.start <= timed.end <= _LATEST:
            reason = f"“{timed.text}” would be said from {row[start]} to {row[end]} s"
            raise ScriptError(str(path), reason, "Give times in seconds, the start first")
        if words and words[-1].text == timed.text and "phone" in columns and words[-1].end == timed.start:
            timed = Timed(timed.text, words.pop().start, timed.end)  # one row a phone
        words.append(timed)
    return Wording(" ".join(word.text for word in words), tuple(words))


def _cues(path: Path) -> Wording:
    from wavinfo import WavInfoReader  # noqa: PLC0415  (only when markers are read)

    info = WavInfoReader(str(path), info_encoding="utf-8")
    rate, cues = info.fmt.sample_rate, info.cues
    found = [(offset / rate, cues.label_and_note(cue)[0] or "") for cue, offset in cues.each_cue()] if cues else []
    found.sort()
    ends = [start for start, _ in found[1:]] + [info.data.frame_count / info.fmt.sample_rate]
    words = [Timed(text.strip(), start, end) for (start, text), end in zip(found, ends, strict=True) if text.strip()]
    if not words:
        raise ScriptError(str(path), "it has no markers with words", "Use a recording with labelled cue markers")
    return Wording(" ".join(word.text for word in words), tuple(words))


_HIDDEN = (("/*", "*/"), ("[[", "]]"))
_LONGEST_NAME = 120  # letters of a line that names who speaks
_HEADING = re.compile(r"^(\.[^.]|(INT|EXT|EST|INT\.?/EXT|I/E)[ .])", re.IGNORECASE)
_CHARACTER = re.compile(r"^(@.+|[^a-z]*[A-Z][^a-z]*)$")
_EXTENSION = re.compile(r"\s*\([^)]*\)\s*|\s*\^\s*$")
_EMPHASIS = re.compile(r"[*_]{1,3}(?=\S)|(?<=\S)[*_]{1,3}")


def _without_boneyard(text: str) -> str:
    """Without what is put aside or noted; what is opened and never shut stays."""
    for opens, shuts in _HIDDEN:
        kept, at = [], 0
        while (start := text.find(opens, at)) >= 0 and (end := text.find(shuts, start + 2)) >= 0:
            kept.append(text[at:start])
            at = end + 2
        text = "".join(kept) + text[at:]
    return text


def _fountain(path: Path) -> Wording:
    """The dialogue of a screenplay, one line a speech, speakers in front."""
    lines = [line.rstrip() for line in _without_boneyard(read_text(path, ScriptError)).splitlines()]
    speeches: list[str] = []
    at = 0
    while at < len(lines):
        before = lines[at - 1] if at else ""
        after = lines[at + 1] if at + 1 < len(lines) else ""
        line = lines[at].strip()
        speaks = (
            len(line) <= _LONGEST_NAME
            and _CHARACTER.match(_EXTENSION.sub("", line))
            and not line.endswith("TO:")
            and not line.startswith((">", "!"))
        )
        if line and not before.strip() and after.strip() and speaks and not _HEADING.match(line):
            name = _EXTENSION.sub("", line).lstrip("@").upper()
            at += 1
            spoken = []
            while at < len(lines) and lines[at].strip():
                spoken.append(_EMPHASIS.sub("", lines[at].strip()).lstrip("~"))
                at += 1
            speeches.append(f"{name}: {' '.join(spoken)}")
        at += 1
    if not speeches:
        raise ScriptError(str(path), "no character speaks in it", "Check that it is a Fountain screenplay")
    return Wording("\n".join(speeches))


READERS: dict[str, Callable[[Path], Wording]] = {
    ".txt": _plain_text,
    ".fountain": _fountain,
    ".srt": _subtitles,
    ".vtt": _subtitles,
    ".textgrid": _textgrid,
    ".csv": _table,
    ".wav": _cues,
}
SUFFIXES = tuple(READERS)
