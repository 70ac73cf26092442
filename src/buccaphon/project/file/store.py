"""The project file: one JSON document, described in docs/project-file.md, written atomically.

Most records stand in the file as they are; what differs is a take's path (relative, so that project and recordings can move
together), its score, the lexicon (as its own text) and the frame rate (as a fraction).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import msgspec

from buccaphon.audio.loudness import USUAL_STEERING, Steering
from buccaphon.audio.recording import Channel, Listen
from buccaphon.errors import BuccaphonError, ProjectError
from buccaphon.files import named_from, relative_name, write_whole
from buccaphon.formats.listing import USUAL_LIST, ExportList
from buccaphon.kits.store import kit_as_data, kit_from_data
from buccaphon.motion.followers import Follower
from buccaphon.motion.hand import HandCurve
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.steps import AnyStep
from buccaphon.mouths.chart import Chart, ChartDocument
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.manner import USUAL_MANNER, Manner, MannerHere
from buccaphon.project.file.checking import require_sound
from buccaphon.project.file.unknown import unknown_in, with_unknown
from buccaphon.project.file.upgrades import UPGRADES
from buccaphon.project.state import BoundaryPin, LeftMark, LostPiece, LostPin, State, Take, chart_of
from buccaphon.score.records import Note, Score, Word
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon_text import lexicon_as_text, parse_lexicon
from buccaphon.timing import FrameRate, Span

SUFFIX = ".buccaphon"
FORMAT = "buccaphon project"
VERSION = 7
_MOST_BYTES = 256 << 20


class _ScoreEntry(msgspec.Struct):
    words: tuple[Word, ...]
    duration: float


class _TakeEntry(msgspec.Struct, kw_only=True):
    """path_bytes: the path in hexadecimal, where its name is not UTF-8."""

    path: str
    path_bytes: str = ""
    name: str = ""
    digest: str = ""
    channel: Channel = Listen.MIX
    muted: bool = False
    offset: float = 0.0
    trim_in: float = 0.0
    trim_out: float | None = None
    not_speech: tuple[Span, ...] = ()
    score: _ScoreEntry | None = None
    aligned_script: str = ""
    pins: tuple[BoundaryPin, ...] = ()
    painted: tuple[Painted, ...] = ()
    blanks: tuple[Blank, ...] = ()
    lost: tuple[LostPin, ...] = ()
    notes: tuple[Note, ...] = ()
    manners: tuple[MannerHere, ...] = ()
    left: tuple[LeftMark, ...] = ()
    steering: Steering = USUAL_STEERING
    curves: tuple[HandCurve, ...] = ()
    left_over: tuple[LostPiece, ...] = ()


class _File(msgspec.Struct, kw_only=True):
    format: str = FORMAT
    version: int = VERSION
    takes: tuple[_TakeEntry, ...] = ()
    shown: int = 0
    script: str = ""
    language: str = ENGLISH
    lexicon: str = ""
    rate: str = "24"
    start_frame: int = 0
    chart: str = "Ten"
    charts: tuple[ChartDocument, ...] = ()
    kits: tuple[dict[str, Any], ...] = ()
    kit: str = ""
    manner: Manner = USUAL_MANNER
    mixes: tuple[str, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()
    exports: ExportList = USUAL_LIST


def save_project(state: State, path: Path) -> None:
    """Write a project. Raises TargetError when it cannot be written."""
    write_whole(path, project_as_bytes(state, path.parent.resolve()))


def require_sound_to_save(state: State, path: Path) -> None:
    """Raises ProjectError for what could not be opened again, before it takes the place of what can."""
    try:
        require_sound(state)
    except (ValueError, BuccaphonError) as problem:
        reason = f"it could not be opened again as it is now ({problem})"
        raise ProjectError(path.name, reason, "Undo what was done last, then save") from None


def project_as_bytes(state: State, folder: Path) -> bytes:
    """A project as its file, naming what it uses from a folder."""
    data = with_unknown(_written(state, folder), state.unknown)
    data["takes"] = [with_unknown(entry, take.unknown) for entry, take in zip(data["takes"], state.takes, strict=True)]
    return msgspec.json.format(msgspec.json.encode(data), indent=1) + b"\n"


def open_project(path: Path, folder: Path | None = None) -> State:
    """Read a project. folder: from where it names its recordings, when that is not its own.

    Raises ProjectError when it is missing, broken, from a newer version, or says what cannot be.
    """
    subject = str(path)
    data = _decoded(path)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise ProjectError(subject, "it is not a Buccaphon project", f"Open a {SUFFIX} file")
    version = data.get("version")
    if type(version) is not int or version < 1:
        raise ProjectError(subject, f"it says that its file version is {version!r}", "Open an earlier version of it")
    if version > VERSION:
        reason = f"it was saved by a newer Buccaphon (file version {version}, known up to {VERSION})"
        raise ProjectError(subject, reason, "Open it with that version")
    try:
        for number in range(version, VERSION):
            data = UPGRADES[number](data)
        state = _understood(data, (folder or path.parent).resolve())
        require_sound(state)
    except BuccaphonError as problem:
        reason = f"an entry is wrong ({problem.subject}: {problem.reason})"
    except (
        ValueError,
        KeyError,
        TypeError,
        AttributeError,
        RecursionError,
    ) as problem:  # also msgspec's ValidationError
        reason = f"an entry is wrong ({problem})"
    else:
        return state
    raise ProjectError(subject, reason, "Mend it in a text editor, or open an earlier version of it")


def _decoded(path: Path) -> Any:
    subject = str(path)
    try:
        if path.exists() and not path.is_file():
            raise ProjectError(subject, "it is no file", f"Open a {SUFFIX} file")
        if path.stat().st_size > _MOST_BYTES:
            raise ProjectError(subject, "it is far larger than any project", f"Open a {SUFFIX} file")
        return msgspec.json.decode(path.read_bytes())
    except OSError as problem:
        reason = f"it cannot be read ({problem.strerror})"
        raise ProjectError(subject, reason, "Check the name and the folder") from None
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        reason = "it is not a project file, or was cut off"
        raise ProjectError(subject, reason, f"Open a {SUFFIX} file") from None


def _written(state: State, folder: Path) -> dict[str, Any]:
    file = _File(
        takes=tuple(_take_entry(take, folder) for take in state.takes),
        shown=state.shown,
        script=state.script,
        language=state.language,
        lexicon=lexicon_as_text(state.lexicon) if state.lexicon.entries else "",
        rate=str(state.rate.value),
        start_frame=state.start_frame,
        chart=state.chart,
        charts=state.charts,
        kits=tuple(kit_as_data(kit, folder) for kit in state.kits),
        kit=state.kit,
        manner=state.manner,
        mixes=tuple(mix.says for mix in state.mixes),
        followers=state.followers,
        steps=state.steps,
        exports=state.exports,
    )
    data: dict[str, Any] = msgspec.json.decode(msgspec.json.encode(file))
    return data


def _take_entry(take: Take, folder: Path) -> _TakeEntry:
    plain, in_bytes = relative_name(take.path, folder)
    return _TakeEntry(
        path=plain,
        path_bytes=in_bytes,
        name=take.name,
        digest=take.digest,
        channel=take.channel,
        muted=take.muted,
        offset=take.offset,
        trim_in=take.trim_in,
        trim_out=take.trim_out,
        not_speech=take.not_speech,
        score=_ScoreEntry(take.score.words, take.score.duration) if take.score else None,
        aligned_script=take.aligned_script,
        pins=take.pins,
        painted=take.painted,
        blanks=take.blanks,
        lost=take.lost,
        notes=take.notes,
        manners=take.manners,
        left=take.left,
        steering=take.steering,
        curves=take.curves,
        left_over=take.left_over,
    )


def _understood(data: dict[str, Any], folder: Path) -> State:
    file = msgspec.convert(data, _File)
    charts = (chart_of(file.chart, file.charts), *shipped_charts().values())
    state = State(
        takes=tuple(_take(entry, folder, charts) for entry in file.takes),
        shown=file.shown,
        script=file.script,
        language=file.language,
        lexicon=parse_lexicon(file.lexicon, "the project's lexicon"),
        rate=FrameRate.parse(file.rate),
        start_frame=file.start_frame,
        chart=file.chart,
        charts=file.charts,
        kits=tuple(kit_from_data(entry, folder) for entry in file.kits),
        kit=file.kit,
        manner=file.manner,
        mixes=tuple(read_mix(text) for text in file.mixes),
        followers=file.followers,
        steps=file.steps,
        exports=file.exports,
    )
    return _with_what_is_unknown(state, data, folder)


def _take(entry: _TakeEntry, folder: Path, charts: Sequence[Chart]) -> Take:
    return Take(
        path=named_from(folder, entry.path, entry.path_bytes),
        name=entry.name,
        digest=entry.digest,
        channel=entry.channel,
        muted=entry.muted,
        offset=entry.offset,
        trim_in=entry.trim_in,
        trim_out=entry.trim_out,
        not_speech=entry.not_speech,
        score=Score(entry.score.words, entry.score.duration) if entry.score else None,
        aligned_script=entry.aligned_script,
        pins=entry.pins,
        painted=tuple(_with_pose(paint, charts) for paint in entry.painted),
        blanks=entry.blanks,
        lost=entry.lost,
        notes=entry.notes,
        manners=entry.manners,
        left=entry.left,
        steering=entry.steering,
        curves=entry.curves,
        left_over=entry.left_over,
    )


def _with_pose(paint: Painted, charts: Sequence[Chart]) -> Painted:
    """Older files name painted mouths alone: what they look like is that of the first chart that has one of that name."""
    if paint.pose is not None:
        return paint
    known = next((mouth for chart in charts for mouth in chart.mouths if mouth.name == paint.mouth), None)
    if known is None:
        raise ValueError(f"painted: nothing is known of a mouth “{paint.mouth}”")
    return replace(paint, pose=known.pose, contact=known.contact)


def _with_what_is_unknown(state: State, data: dict[str, Any], folder: Path) -> State:
    known = _written(state, folder)
    if data == known:  # far the most usual, and told at once
        return state
    beyond = zip(state.takes, data.get("takes", ()), known["takes"], strict=True)
    takes = tuple(replace(take, unknown=unknown_in(read, entry)) for take, read, entry in beyond)
    top = {name: value for name, value in known.items() if name != "takes"}
    return replace(state, takes=takes, unknown=unknown_in({**data, "takes": None}, {**top, "takes": None}))
