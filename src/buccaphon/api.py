"""The library: what the window and the command line do, as three functions on plain records. What is named in `__all__` keeps
its name, its arguments and what it gives back until the first number of the version changes; arguments may be added."""

from __future__ import annotations

import warnings
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path

from buccaphon.alignment.aligner import align as _align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError, Cancelled, TargetError
from buccaphon.formats.delivering import Delivered, deliver_all, resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.markers import read_painted
from buccaphon.formats.listing import Entry, ExportList, read_list, require_valid_list
from buccaphon.formats.pictures import Pictures
from buccaphon.formats.registry import read_wording, script_for
from buccaphon.formats.writing import Written
from buccaphon.kits.charting import with_own_chart
from buccaphon.motion.channels import Channel, Channels
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.progress import Progress, no_progress
from buccaphon.project.delivering import facts_of
from buccaphon.project.lines import Look, line_delivery
from buccaphon.project.motion_file import open_motion
from buccaphon.project.take import Take
from buccaphon.score.records import Note, Phone, Score, Word
from buccaphon.speech.languages import ENGLISH, find_language
from buccaphon.speech.lexicon import NO_ENTRIES
from buccaphon.speech.lexicon_text import parse_lexicon
from buccaphon.speech.script import require_words
from buccaphon.timing import FrameRate, Span

__all__ = [
    "Bake", "BuccaphonError", "Cancelled", "Channel", "Channels", "Chart", "Delivered", "Delivery", "Entry", "ExportList",
    "Exposure", "FrameRate", "Note", "Phone", "Recording", "Score", "Span", "Word", "Written", "align", "bake", "deliver",
]  # fmt: skip

FilePath = str | Path


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
    own_chart = chart == "own"
    used = find_chart("Ten" if own_chart else chart) if isinstance(chart, str) else chart
    rate = fps if isinstance(fps, FrameRate) else FrameRate.parse(str(fps))
    if by_loudness is not None:
        loudness_only = by_loudness
        warnings.warn("by_loudness is called loudness_only now", DeprecationWarning, stacklevel=2)
    if kit is not None:
        character = kit
        warnings.warn("kit is called character now", DeprecationWarning, stacklevel=2)
    own_kit = None
    if character is not None:
        from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt is loaded only when there is a character)

        own_kit = load_character(Path(character), used)
        if own_chart:
            own_kit, used = with_own_chart(own_kit, used)
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
    line: Delivery,
    exports: ExportList | FilePath | Iterable[str],
    folder: FilePath,
    *,
    progress: Progress = no_progress,
) -> Delivered:
    """Write a line's files.

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
    wanted = resolve_targets(replace(found, folder=""), facts_of(line), Path(folder))
    return deliver_all(line, wanted, progress, _painted)


def _painted(line: Delivery) -> Pictures:
    from buccaphon.painting.pictures.alone import pictures_alone  # noqa: PLC0415  (Qt is loaded only when something is painted)

    if line.sound is None:
        raise TargetError(line.title, "its sound is not here", "Bake it from its recording")
    return pictures_alone(line, build_peaks(line.sound))
