"""The project file: one JSON document, described in docs/project-file.md, written atomically."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from buccaphon.audio.recording import Listen
from buccaphon.errors import BuccaphonError, ProjectError
from buccaphon.formats.atomic import write_whole
from buccaphon.mouths.chart import find_chart
from buccaphon.mouths.choosing import Painted
from buccaphon.project.state import BoundaryPin, LostPin, Note, State, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Phone, Score, Word
from buccaphon.speech.lexicon_text import parse_lexicon, written_lexicon
from buccaphon.timing import FrameRate, Span

SUFFIX = ".buccaphon"
FORMAT = "buccaphon project"
VERSION = 2


class _PhoneEntry(msgspec.Struct):
    ipa: str
    start: float
    end: float
    stress: int = 0
    confidence: float = 1.0


class _WordEntry(msgspec.Struct):
    text: str
    phones: list[_PhoneEntry]


class _PinEntry(msgspec.Struct):
    word: int
    phone: int
    seconds: float


class _PaintEntry(msgspec.Struct):
    start: float
    end: float
    mouth: str


class _LostEntry(msgspec.Struct):
    word: str
    seconds: float


class _NoteEntry(msgspec.Struct):
    start: float
    end: float
    text: str


class _TakeEntry(msgspec.Struct, kw_only=True):
    path: str
    name: str = ""
    digest: str = ""
    channel: str | int = "mix"
    muted: bool = False
    offset: float = 0.0
    trim_in: float = 0.0
    trim_out: float | None = None
    not_speech: list[tuple[float, float]] = []
    duration: float = 0.0
    aligned_script: str = ""
    words: list[_WordEntry] | None = None
    pins: list[_PinEntry] = []
    painted: list[_PaintEntry] = []
    lost: list[_LostEntry] = []
    notes: list[_NoteEntry] = []


class _File(msgspec.Struct, kw_only=True):
    format: str = FORMAT
    version: int = VERSION
    takes: list[_TakeEntry] = []
    shown: int = 0
    script: str = ""
    language: str = "en-us"
    lexicon: str = ""
    rate: str = "24"
    start_frame: int = 0
    chart: str = "Ten"
    hold: int = 1
    lead: float = 1 / 24


def save_project(state: State, path: Path) -> None:
    """Write a project. The recording is named relative to the project's folder, so that both can move together."""
    content = msgspec.to_builtins(_to_file(state, path.parent.resolve())) | state.unknown
    write_whole(path, msgspec.json.format(msgspec.json.encode(content), indent=1) + b"\n")


def open_project(path: Path, folder: Path | None = None) -> State:
    """Read a project. folder: from where it names its recordings, when that is not its own.

    Raises ProjectError when it is missing, broken, or from a newer version.
    """
    subject = str(path)
    try:
        data = msgspec.json.decode(path.read_bytes())
    except OSError as problem:
        raise ProjectError(
            subject, f"it cannot be read ({problem.strerror})", "Check the name and the folder"
        ) from None
    except msgspec.DecodeError:
        raise ProjectError(subject, "it is not a project file, or was cut off", "Open a .buccaphon file") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise ProjectError(subject, "it is not a Buccaphon project", "Open a .buccaphon file")
    if not isinstance(data.get("version"), int) or data["version"] > VERSION:
        reason = f"it was saved by a newer Buccaphon (file version {data.get('version')}, known up to {VERSION})"
        raise ProjectError(subject, reason, "Open it with that version")
    for version in range(data["version"], VERSION):
        data = _UPGRADES[version](data)
    try:
        return _from_file(msgspec.convert(data, _File), _unknown(data), (folder or path.parent).resolve())
    except msgspec.ValidationError as problem:
        raise ProjectError(subject, f"an entry is wrong ({problem})", "Mend it in a text editor") from None
    except (ValueError, BuccaphonError) as problem:
        raise ProjectError(subject, f"its timings do not hold together ({problem})", "Open an older copy") from None


def _unknown(data: dict[str, Any]) -> dict[str, Any]:
    known = set(_File.__struct_fields__)
    return {name: value for name, value in data.items() if name not in known}


def _to_file(state: State, folder: Path) -> _File:
    return _File(
        takes=[_take_entry(take, folder) for take in state.takes],
        shown=state.shown,
        script=state.script,
        language=state.language,
        lexicon=written_lexicon(state.lexicon) if state.lexicon.entries else "",
        rate=str(state.rate.value),
        start_frame=state.start_frame,
        chart=state.chart,
        hold=state.hold,
        lead=state.lead,
    )


def _take_entry(take: Take, folder: Path) -> _TakeEntry:
    words = None
    if take.score is not None:
        words = [
            _WordEntry(word.text, [_PhoneEntry(p.symbol, p.start, p.end, p.stress, p.confidence) for p in word.phones])
            for word in take.score.words
        ]
    return _TakeEntry(
        path=os.path.relpath(take.path.resolve(), folder),
        name=take.name,
        digest=take.digest,
        channel=take.channel.value if isinstance(take.channel, Listen) else take.channel,
        muted=take.muted,
        offset=take.offset,
        trim_in=take.trim_in,
        trim_out=take.trim_out,
        not_speech=[(span.start, span.end) for span in take.not_speech],
        duration=take.score.duration if take.score else 0.0,
        aligned_script=take.aligned_script,
        words=words,
        pins=[_PinEntry(pin.boundary.word, pin.boundary.phone, pin.seconds) for pin in take.pins],
        painted=[_PaintEntry(paint.span.start, paint.span.end, paint.mouth) for paint in take.painted],
        lost=[_LostEntry(pin.word, pin.seconds) for pin in take.lost],
        notes=[_NoteEntry(note.span.start, note.span.end, note.text) for note in take.notes],
    )


def _from_file(file: _File, unknown: dict[str, Any], folder: Path) -> State:
    if file.takes and not 0 <= file.shown < len(file.takes):
        raise ValueError(f"take {file.shown} is shown, but there are {len(file.takes)}")
    return State(
        takes=tuple(_take(entry, folder) for entry in file.takes),
        shown=file.shown,
        script=file.script,
        language=file.language,
        lexicon=parse_lexicon(file.lexicon, "the project's lexicon"),
        rate=FrameRate.parse(file.rate),
        start_frame=file.start_frame,
        chart=find_chart(file.chart).name,
        hold=file.hold,
        lead=file.lead,
        unknown=unknown,
    )


def _take(entry: _TakeEntry, folder: Path) -> Take:
    score = None
    if entry.words is not None:
        words = tuple(
            Word(word.text, tuple(Phone(p.ipa, p.start, p.end, p.stress, p.confidence) for p in word.phones))
            for word in entry.words
        )
        score = Score(words, entry.duration)
    return Take(
        path=(folder / entry.path).resolve(),
        name=entry.name,
        digest=entry.digest,
        channel=entry.channel if isinstance(entry.channel, int) else Listen(entry.channel),
        muted=entry.muted,
        offset=entry.offset,
        trim_in=entry.trim_in,
        trim_out=entry.trim_out,
        not_speech=tuple(Span(start, end) for start, end in entry.not_speech),
        score=score,
        aligned_script=entry.aligned_script,
        pins=tuple(BoundaryPin(Boundary(pin.word, pin.phone), pin.seconds) for pin in entry.pins),
        painted=tuple(Painted(Span(paint.start, paint.end), paint.mouth) for paint in entry.painted),
        lost=tuple(LostPin(pin.word, pin.seconds) for pin in entry.lost),
        notes=tuple(Note(Span(note.start, note.end), note.text) for note in entry.notes),
    )


def _from_1_to_2(data: dict[str, Any]) -> dict[str, Any]:
    """Version 1 had a single recording at the top."""
    ours = ("duration", "aligned_script", "words", "pins", "painted")
    moved = {name: data.pop(name) for name in ours if name in data}
    path = data.pop("recording", None)
    takes = [] if path is None else [{"path": path, **moved}]
    return data | {"version": 2, "takes": takes, "shown": 0}


_UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _from_1_to_2}
