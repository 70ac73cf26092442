"""The project file: one JSON document, described in docs/project-file.md, written atomically."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import msgspec

from buccaphon.errors import BuccaphonError, ProjectError
from buccaphon.formats.atomic import write_whole
from buccaphon.mouths.choosing import Painted
from buccaphon.project.state import BoundaryPin, State
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Phone, Score, Word
from buccaphon.timing import FrameRate, Span

SUFFIX = ".buccaphon"
FORMAT = "buccaphon project"
VERSION = 1


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


class _File(msgspec.Struct, kw_only=True):
    format: str = FORMAT
    version: int = VERSION
    recording: str | None = None
    duration: float = 0.0
    script: str = ""
    language: str = "en-us"
    rate: str = "24"
    start_frame: int = 0
    chart: str = "Ten"
    hold: int = 1
    lead: float = 1 / 24
    aligned_script: str = ""
    words: list[_WordEntry] | None = None
    pins: list[_PinEntry] = []
    painted: list[_PaintEntry] = []


def save_project(state: State, path: Path) -> None:
    """Write a project. The recording is named relative to the project's folder, so that both can move together."""
    content = msgspec.to_builtins(_to_file(state, path.parent.resolve())) | state.unknown
    write_whole(path, msgspec.json.format(msgspec.json.encode(content), indent=1) + b"\n")


def open_project(path: Path) -> State:
    """Read a project. Raises ProjectError when it is missing, broken, or from a newer version."""
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
    try:
        return _from_file(msgspec.convert(data, _File), _unknown(data), path.parent.resolve())
    except msgspec.ValidationError as problem:
        raise ProjectError(subject, f"an entry is wrong ({problem})", "Mend it in a text editor") from None
    except (ValueError, BuccaphonError) as problem:
        raise ProjectError(subject, f"its timings do not hold together ({problem})", "Open an older copy") from None


def _unknown(data: dict[str, Any]) -> dict[str, Any]:
    known = set(_File.__struct_fields__)
    return {name: value for name, value in data.items() if name not in known}


def _to_file(state: State, folder: Path) -> _File:
    words = None
    if state.score is not None:
        words = [
            _WordEntry(word.text, [_PhoneEntry(p.symbol, p.start, p.end, p.stress, p.confidence) for p in word.phones])
            for word in state.score.words
        ]
    recording = None if state.recording is None else os.path.relpath(state.recording.resolve(), folder)
    return _File(
        recording=recording,
        duration=state.score.duration if state.score else 0.0,
        script=state.script,
        language=state.language,
        rate=str(state.rate.value),
        start_frame=state.start_frame,
        chart=state.chart,
        hold=state.hold,
        lead=state.lead,
        aligned_script=state.aligned_script,
        words=words,
        pins=[_PinEntry(pin.boundary.word, pin.boundary.phone, pin.seconds) for pin in state.pins],
        painted=[_PaintEntry(paint.span.start, paint.span.end, paint.mouth) for paint in state.painted],
    )


def _from_file(file: _File, unknown: dict[str, Any], folder: Path) -> State:
    score = None
    if file.words is not None:
        words = tuple(
            Word(entry.text, tuple(Phone(p.ipa, p.start, p.end, p.stress, p.confidence) for p in entry.phones))
            for entry in file.words
        )
        score = Score(words, file.duration)
    return State(
        recording=None if file.recording is None else (folder / file.recording).resolve(),
        script=file.script,
        language=file.language,
        rate=FrameRate.parse(file.rate),
        start_frame=file.start_frame,
        chart=file.chart,
        hold=file.hold,
        lead=file.lead,
        score=score,
        aligned_script=file.aligned_script,
        pins=tuple(BoundaryPin(Boundary(pin.word, pin.phone), pin.seconds) for pin in file.pins),
        painted=tuple(Painted(Span(paint.start, paint.end), paint.mouth) for paint in file.painted),
        unknown=unknown,
    )
