"""The library: what the window and the command line do, as functions on plain records. What is named in `__all__` keeps
its name, its arguments and what it gives back until the first number of the version changes; arguments may be added."""

from __future__ import annotations

import warnings
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from buccaphon.alignment.aligner import align as _align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError, Cancelled, ProjectError, TargetError
from buccaphon.formats.delivering import Delivered, deliver_all, resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.markers import read_painted
from buccaphon.formats.listing import Entry, ExportList, read_list, require_valid_list
from buccaphon.formats.pictures import Pictures
from buccaphon.formats.registry import read_wording, script_for
from buccaphon.formats.writing import Written
from buccaphon.kits.charting import with_own_chart
from buccaphon.kits.kit import Kit
from buccaphon.motion.channels import Channel, Channels
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart import Chart, ChartDocument
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.progress import Progress, no_progress
from buccaphon.project import state as state_records
from buccaphon.project.delivering import deliver_each, deliver_role, facts, facts_of, roles_of
from buccaphon.project.file.checking import require_valid
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.hearing import hear_scene
from buccaphon.project.lines import Look, line_delivery, state_of
from buccaphon.project.motion_file import open_motion
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.score.records import Note, Phone, Score, Word
from buccaphon.speech.languages import ENGLISH, find_language
from buccaphon.speech.lexicon import NO_ENTRIES
from buccaphon.speech.lexicon_text import parse_lexicon
from buccaphon.speech.script import require_words
from buccaphon.timing import FrameRate, Span, seconds_of

__all__ = [
    "Bake", "BuccaphonError", "Cancelled", "Channel", "Channels", "Chart", "Delivered", "Delivery", "Entry", "ExportList",
    "Exposure", "FrameRate", "Line", "Note", "Phone", "Recording", "Role", "Scene", "Score", "Span", "Word", "Written",
    "align", "bake", "deliver",
]  # fmt: skip

FilePath = str | Path


@dataclass(frozen=True, slots=True)
class Role:
    """Somebody whose mouth moves in a scene. name: as scripts have it ("MAREN: …") and file names get it. chart, hold,
    character, mixes, motion: see `bake`."""

    name: str = ""
    chart: Chart | str = "Ten"
    hold: int = 1
    character: FilePath | None = None
    mixes: Sequence[str] = ()
    motion: FilePath | None = None


@dataclass(frozen=True, slots=True)
class Line:
    """A recording with its words, in a scene. script: None reads the .txt beside it; "" is none, and the mouth follows the
    loudness. begins: seconds of the scene, a frame ("f101") or timecode. role: the name of whom the words are, where the
    script does not say. heard_only: it moves no mouth. muted: not in the scene's sound. score: the words, if they were
    aligned before."""

    recording: FilePath
    script: str | None = None
    begins: float | str = 0.0
    role: str = ""
    name: str = ""
    language: str = ENGLISH
    heard_only: bool = False
    muted: bool = False
    score: Score | None = None


class Scene:
    """Several lines of several roles on one grid of frames.

    >>> calls = [Line("stall_call.flac", role="Maren"), Line("stall_call.flac", begins="f48", role="Timo")]
    >>> scene = Scene(24, calls, [Role("Maren"), Role("Timo", chart="Five")])
    >>> scene.bake("Timo").bake.frames
    321
    """

    title: str
    """What its files are called: the name of its file, or of its first line."""

    def __init__(
        self,
        fps: FrameRate | str | float,
        lines: Iterable[Line],
        roles: Iterable[Role] = (Role(),),
        *,
        start_frame: int = 0,
        length: int | None = None,
        progress: Progress = no_progress,
    ) -> None:
        """Read the recordings, and align those that are not. roles: there is at least one. Raises a BuccaphonError with a
        sentence when something given cannot be used."""
        rate = fps if isinstance(fps, FrameRate) else FrameRate.parse(str(fps))
        state = _state_of_scene(rate, tuple(lines), tuple(roles), start_frame)
        self._ensemble = hear_scene(replace(state, length=length), progress)
        self.title = self._ensemble.state.lines[0].title

    @classmethod
    def open(cls, path: FilePath, progress: Progress = no_progress) -> Scene:
        """A scene, or a project of one line, from its file."""
        made = cls.__new__(cls)
        made._ensemble, made.title = hear_scene(open_project(Path(path)), progress), Path(path).stem
        return made

    def save(self, path: FilePath) -> None:
        """As a file that the window opens; one that is there is replaced."""
        save_project(self._ensemble.state, Path(path))

    @property
    def roles(self) -> tuple[str, ...]:
        """The names of those who speak."""
        return self._ensemble.roles()

    def bake(self, role: str | None = None) -> Delivery:
        """All that a role says, on the frames of the scene: at rest where it says nothing. None: the first role. Raises
        ProjectError for a role that does not speak."""
        names = {name.casefold(): name for name in self.roles}
        found = self.roles[0] if role is None else names.get(role.casefold())
        if found is None:
            raise ProjectError(
                f"the role {role!r}", "it says nothing in the scene", f"There are {', '.join(self.roles)}"
            )
        return deliver_role(self._ensemble, self.title, found)


def _state_of_scene(rate: FrameRate, lines: tuple[Line, ...], roles: tuple[Role, ...], start_frame: int) -> State:
    state = State(rate=rate, start_frame=start_frame)
    made, kits, charts = list[state_records.Role](), list[Kit](), dict[str, ChartDocument]()
    for role in roles or (Role(),):
        alone = state_of(Take(Path("role")), _look_of(role, rate))
        charts |= {chart.name: chart for chart in alone.charts}
        kits += [kit for kit in alone.kits if all(kit.name != other.name for other in kits)]
        made.append(replace(alone.role, name=role.name))
    found = []
    for key, line in enumerate(lines):
        path, begins = Path(line.recording), str(line.begins)
        script = line.script if line.script is not None else "" if line.heard_only else _beside(path)
        take = Take(path, offset=seconds_of(begins, rate, start_frame), score=line.score)
        take = replace(take, aligned_script=script if line.score is not None else "")
        language = find_language(line.language).code
        made_line = state_records.Line((take,), 0, script, language, line.name, line.role, line.heard_only, line.muted)
        found.append(replace(made_line, key=key))
    whole = replace(state, lines=tuple(found), roles=tuple(made), kits=tuple(kits), charts=tuple(charts.values()))
    require_valid(whole)
    return whole


def _look_of(role: Role, rate: FrameRate) -> Look:
    chart, kit = _cast(role.chart, role.character)
    moved = open_motion(Path(role.motion)) if role.motion is not None else None
    return Look(rate, chart, hold=role.hold, mixes=tuple(read_mix(text) for text in role.mixes), kit=kit, motion=moved)


def _beside(path: Path) -> str:
    return read_wording(script_for(path, None)).text


def _cast(chart: Chart | str, character: FilePath | None) -> tuple[Chart, Kit | None]:
    """The chart, and the character if there is one."""
    own_chart = chart == "own"
    used = find_chart("Ten" if own_chart else chart) if isinstance(chart, str) else chart
    if character is None:
        return used, None
    from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt is loaded only when there is a character)

    kit = load_character(Path(character), used)
    if own_chart:
        kit, used = with_own_chart(kit, used)
    return used, kit


def align(
    recording: FilePath | Recording,
    script: str | None = None,
    *,
    language: str = ENGLISH,
    lexicon: str = "",
    progress: Progress = no_progress,
) -> Score:
    """Find where each word and each speech sound lies.

    recording: a file (WAV, FLAC, MP3, OGG, M4A, the sound of a film …), or one that was read. script: the words that are
    said; None reads the .txt beside the file. language: a code such as "en-us", "es", "fi", or a name. lexicon:
    your own pronunciations, as text. progress: called with the share done (0 to 1) and a description; return False to stop
    with Cancelled.

    The score has its words in order, each with its phones (IPA), in seconds from the start of the recording; a confidence
    of 0 to 1 says how sure a start is. Raises a BuccaphonError with a sentence when a file or the words cannot be used.

    >>> score = align("stall_call.flac")
    >>> score.words[1].text
    'plums,'
    >>> [phone.symbol for phone in score.words[1].phones]
    ['p', 'l', 'ʌ', 'm', 'z']
    """
    heard = recording if isinstance(recording, Recording) else read_recording(Path(recording))
    if script is not None:
        text, subject = script, "the script"
    elif isinstance(recording, Recording):
        text, subject = "", "the script"
    else:
        found = script_for(Path(recording), None)
        text, subject = read_wording(found).text, str(found)
    words = require_words(text, subject)
    own = parse_lexicon(lexicon, "the lexicon") if lexicon else NO_ENTRIES
    return _align(AlignmentRequest(heard, words, None, (), find_language(language).code, own), progress)


def bake(
    recording: FilePath,
    fps: FrameRate | str | float,
    *,
    script: str | None = None,
    score: Score | None = None,
    language: str = ENGLISH,
    chart: Chart | str = "Ten",
    hold: int = 1,
    start_frame: int = 0,
    length: int | None = None,
    loudness_only: bool = False,
    mixes: Sequence[str] = (),
    character: FilePath | None = None,
    mouths: FilePath | Sequence[tuple[int, str]] = (),
    blank: bool = False,
    motion: FilePath | None = None,
    progress: Progress = no_progress,
    by_loudness: bool | None = None,
    kit: FilePath | None = None,
) -> Delivery:
    """Choose a mouth for every frame and move jaw, lips and shape weights.

    fps: frame rate: 24, "23.976", "24000/1001" … script, language: see `align`. score: the words, if they were aligned
    before. chart: the name of a built-in chart, a chart file, or "own" for a mouth for each drawing of the character. hold:
    2 is "on twos". start_frame: the number of the first frame. length: frames of the scene, where it is not as long as its
    sound. loudness_only: without words. mixes: custom channels, "smile = spread - 0.3 jaw". character: a character file
    (.buccakit), a glTF or VRM model, or drawings. mouths: (frame, mouth) pairs or the path of such a list, or of a recording
    with labelled markers: each mouth is held until the next one. blank: no other mouths; no script is needed.
    motion: a file of motion settings (.buccamotion). by_loudness, kit: earlier names of loudness_only and character,
    until the next version.

    The result can be passed to `deliver`. Its `bake` has `exposures` (held mouths, frames counted from 0) and `channels`:
    `values` is float32 of (frames, channels), each of 0 to 1 unless its channel says otherwise. Raises a BuccaphonError with
    a sentence when something given cannot be used.

    >>> line = bake("stall_call.flac", 24)
    >>> line.bake.frames, line.bake.exposures[0].mouth
    (273, 'Rest')
    >>> line.bake.channels.curve("jaw").shape
    (273,)
    """
    path = Path(recording)
    rate = fps if isinstance(fps, FrameRate) else FrameRate.parse(str(fps))
    if by_loudness is not None:
        loudness_only = by_loudness
        warnings.warn("by_loudness is called loudness_only now", DeprecationWarning, stacklevel=2)
    if kit is not None:
        character = kit
        warnings.warn("kit is called character now", DeprecationWarning, stacklevel=2)
    used, own_kit = _cast(chart, character)
    own = tuple(read_mix(text) for text in mixes)
    heard = read_recording(path, progress=progress)
    if score is None and not loudness_only and (script is not None or not blank):
        text = script if script is not None else read_wording(script_for(path, None)).text
        score = align(heard, text, language=language, progress=progress)
    take = Take(path, score=None if loudness_only else score)
    moved = open_motion(Path(motion)) if motion is not None else None
    rows, markers = read_painted(Path(mouths)) if isinstance(mouths, str | Path) else (tuple(mouths), ())
    look = Look(rate, used, start_frame, hold, own, own_kit, loudness_only, rows, blank, markers, length, moved)
    delivery, _ = line_delivery(take, heard, look, path.stem)
    return delivery


def deliver(
    line: Delivery | Scene,
    exports: ExportList | FilePath | Iterable[str],
    folder: FilePath,
    *,
    progress: Progress = no_progress,
) -> Delivered:
    """Export a line, or a scene: a file for each of its roles, and one for the scene where it is about all roles.

    exports: an export list, the path of one (.toml), or the ids of formats (docs/formats.md). folder: created if missing.
    Existing files are replaced, each whole or not at all; files that are already up to date are not touched.

    The result has `written` (each file with its path and whether it changed) and `problems`: files that could not be written
    do not stop the others. Raises a BuccaphonError for an invalid list.

    >>> done = deliver(bake("stall_call.flac", 24, loudness_only=True), ["keys-csv", "glb"], "out")
    >>> [written.path.name for written in done.written], done.problems
    (['stall_call.keys.csv', 'stall_call.glb'], [])
    """
    if isinstance(exports, ExportList):
        found = exports
    elif isinstance(exports, str | Path):
        found = read_list(Path(exports))
    else:
        found = ExportList(tuple(Entry(ident) for ident in exports))
    require_valid_list(found)
    if isinstance(line, Scene):
        ensemble, title = line._ensemble, line.title
        known, roles = facts(ensemble.state, title), roles_of(ensemble, title)
        wanted = resolve_targets(replace(found, folder=""), known, Path(folder), roles=roles)
        return deliver_each(ensemble, title, wanted, progress, _painted)
    wanted = resolve_targets(replace(found, folder=""), facts_of(line), Path(folder))
    return deliver_all(line, wanted, progress, _painted)


def _painted(line: Delivery) -> Pictures:
    from buccaphon.painting.pictures.alone import pictures_alone  # noqa: PLC0415  (Qt is loaded only when something is painted)

    if line.sound is None:
        raise TargetError(line.title, "its sound is not here", "Bake it from its recording")
    return pictures_alone(line, build_peaks(line.sound))
