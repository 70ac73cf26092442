"""All formats in one place: the command line, the export panel, the documentation and the contract test read from here."""

from __future__ import annotations

import contextlib
from pathlib import Path

from buccaphon.errors import BuccaphonError, ScriptError, TargetError
from buccaphon.formats.format import Format, Needs, Reader
from buccaphon.formats.in_.text import read_fountain, read_plain_text
from buccaphon.formats.in_.timed import read_cues, read_subtitles, read_table, read_textgrid
from buccaphon.formats.in_.wording import Wording
from buccaphon.formats.out.bvh import BvhOptions, bvh
from buccaphon.formats.out.cues import CueOptions, cues
from buccaphon.formats.out.editing import OtioOptions, otio
from buccaphon.formats.out.gltf.vrma import vrma
from buccaphon.formats.out.gltf.writing import GltfOptions, glb, gltf
from buccaphon.formats.out.keys import CsvOptions, KeysJsonOptions, keys_csv, keys_json
from buccaphon.formats.out.midi import MidiOptions, midi
from buccaphon.formats.out.pictures.film import ClearFilmOptions, FilmOptions, mov, mp4, webm
from buccaphon.formats.out.pictures.review import ReviewOptions, review
from buccaphon.formats.out.pictures.strips import (
    ContactOptions,
    SequenceOptions,
    ShareOptions,
    apng,
    contact_sheet,
    png_sequence,
    webp,
)
from buccaphon.formats.out.servo import ServoOptions, servo_csv
from buccaphon.formats.out.sheet import SheetPdfOptions, sheet_csv, sheet_ods, sheet_pdf, sheet_xlsx
from buccaphon.formats.out.subtitles import SrtOptions, VttOptions, srt, vtt
from buccaphon.formats.out.timings import TextGridOptions, textgrid, timings_csv, timings_json
from buccaphon.formats.out.usd import UsdOptions, usda
from buccaphon.speech.script import script_words

_LINE, _TAKE = Needs.FRAMES, Needs.WORDS | Needs.SOURCE
_PAINTED = Needs.FRAMES | Needs.PICTURES
_FILM = _PAINTED | Needs.SOURCE

FORMATS: tuple[Format, ...] = (
    Format(
        "glb", "glTF, binary", ".glb", ".glb", "Your model with the animation in it, or the animation alone",
        "words, sounds and notes", _LINE, glb, GltfOptions,
    ),
    Format(
        "gltf", "glTF, text", ".gltf", ".gltf", "The same as text, with separate data files",
        "words, sounds and notes", _LINE, gltf, GltfOptions,
    ),
    Format(
        "vrma", "VRM animation", ".vrma", ".vrma", "The five vowel expressions, for any VRM character",
        "the jaw, words, sounds and notes", _LINE, vrma,
    ),
    Format(
        "usda", "OpenUSD", ".usda", ".usda", "Shape weights and jaw, complete or as a layer over your asset",
        "words, sounds and notes", _LINE, usda, UsdOptions,
    ),
    Format(
        "bvh", "BVH", ".bvh", ".bvh", "Jaw and channels as joint rotations in degrees",
        "mouths, weights and the start frame", _LINE, bvh, BvhOptions,
    ),
    Format(
        "keys-json", "Keys, JSON", ".json", ".keys.json", "Keyframes where something changes, with words; readers available",
        "nothing", _LINE, keys_json, KeysJsonOptions,
    ),
    Format(
        "keys-csv", "Keys, CSV", ".csv", ".keys.csv", "One row per frame: mouth, jaw and the rest of the pose, weights",
        "the exact rate as a fraction", _LINE, keys_csv, CsvOptions,
    ),
    Format(
        "otio", "OpenTimelineIO", ".otio", ".otio", "The take as a clip, with markers of words, mouths and notes",
        "jaw and weights", Needs.FRAMES | Needs.SOURCE, otio, OtioOptions,
    ),
    Format(
        "cues", "WAV with cues", ".wav", ".cues.wav", "The original recording with words and notes as markers",
        "jaw and weights", _TAKE, cues, CueOptions,
    ),
    Format(
        "textgrid", "TextGrid", ".TextGrid", ".TextGrid", "Tiers of words, phones, mouths and notes", "stress and confidence",
        Needs.WORDS, textgrid, TextGridOptions,
    ),
    Format(
        "srt", "Subtitles, SRT", ".srt", ".srt", "One subtitle per line or per word", "phones and confidence",
        Needs.WORDS, srt, SrtOptions,
    ),
    Format(
        "vtt", "Subtitles, WebVTT", ".vtt", ".vtt", "Lines with the time of each word", "phones and confidence",
        Needs.WORDS, vtt, VttOptions,
    ),
    Format(
        "timings-json", "Timings, JSON", ".json", ".timings.json", "Words and phones with confidence", "nothing",
        Needs.WORDS, timings_json,
    ),
    Format(
        "timings-csv", "Timings, CSV", ".csv", ".timings.csv", "One row per speech sound", "stress", Needs.WORDS, timings_csv,
        CsvOptions,
    ),
    Format(
        "sheet-pdf", "Exposure sheet, PDF", ".pdf", ".sheet.pdf", "Pages of frames, to print", "weights",
        _PAINTED, sheet_pdf, SheetPdfOptions,
    ),
    Format(
        "sheet-csv", "Exposure sheet, CSV", ".csv", ".sheet.csv", "One row per frame, easy to read",
        "weights and the exact rate", _LINE, sheet_csv, CsvOptions,
    ),
    Format(
        "sheet-xlsx", "Exposure sheet, XLSX", ".xlsx", ".sheet.xlsx", "The same as a spreadsheet", "weights", _LINE,
        sheet_xlsx,
    ),
    Format(
        "sheet-ods", "Exposure sheet, ODS", ".ods", ".sheet.ods", "The same as an OpenDocument spreadsheet", "weights", _LINE,
        sheet_ods,
    ),
    Format(
        "mp4", "Film, MP4", ".mp4", ".mp4", "The mirror as a video with sound", "keys", _FILM, mp4,
        FilmOptions,
    ),
    Format(
        "webm", "Film, WebM", ".webm", ".webm", "The same in free codecs", "keys", _FILM, webm, FilmOptions,
    ),
    Format(
        "mov", "Video with transparency, MOV", ".mov", ".mov", "The character on a transparent background", "keys",
        _FILM, mov, ClearFilmOptions,
    ),
    Format(
        "png-sequence", "Pictures, PNG", ".png", ".####.png", "One picture per frame, with its frame number", "sound",
        _PAINTED, png_sequence, SequenceOptions,
    ),
    Format(
        "contact-sheet", "Contact sheet, PNG", ".png", ".contact.png", "All exposures on one page", "sound", _PAINTED,
        contact_sheet, ContactOptions,
    ),
    Format(
        "apng", "Animated PNG", ".apng", ".apng", "Small animated picture, exact frame rate", "sound", _PAINTED, apng,
        ShareOptions,
    ),
    Format(
        "webp", "Animated WebP", ".webp", ".webp", "The same, smaller, times in whole milliseconds", "sound", _PAINTED, webp,
        ShareOptions,
    ),
    Format(
        "review", "Review page", ".html", ".review.html", "Sound, pictures and words in one page; notes can be sent back",
        "keys", _FILM, review, ReviewOptions,
    ),
    Format(
        "midi", "MIDI", ".mid", ".mid", "One channel as a MIDI controller", "all other channels", _LINE, midi,
        MidiOptions,
    ),
    Format(
        "servo", "Servo, CSV", ".csv", ".servo.csv", "A puppet's jaw: angle and pulse every 20 ms", "all other channels",
        _LINE, servo_csv, ServoOptions,
    ),
)  # fmt: skip

READERS: tuple[Reader, ...] = (
    Reader("text", "Plain text", (".txt",), "The script", read_plain_text),
    Reader("fountain", "Fountain", (".fountain",), "The dialogue of a screenplay, one line a speech", read_fountain),
    Reader("subtitles", "SRT, WebVTT", (".srt", ".vtt"), "The script and the time of each line", read_subtitles),
    Reader(
        "textgrid", "TextGrid", (".textgrid",), "The words of the tier whose name holds “word”, and when", read_textgrid
    ),
    Reader("table", "CSV", (".csv",), "Columns start (or start_s), end (or end_s), word, in seconds", read_table),
    Reader("cues", "WAV", (".wav",), "Cue markers whose labels are words", read_cues),
)

WORDING_SUFFIXES = tuple(suffix for reader in READERS for suffix in reader.suffixes)


def format_named(ident: str) -> Format:
    """The format of an id; KeyError when there is none."""
    return {form.id: form for form in FORMATS}[ident]


def format_for(path: Path, having: Needs) -> Format:
    """The format that a file name asks for, of those that can be made from what is there: one with this ending, else the
    first with this suffix. TargetError names the known suffixes when there is none."""
    candidates = [form for form in FORMATS if form.needs in having]
    if Needs.FRAMES not in having:  # where only times are wanted, they come first
        candidates.sort(key=lambda form: form.needs != Needs.WORDS)
    name, suffix = path.name.lower(), path.suffix.lower()
    for found in (lambda form: name.endswith(form.ending.lower()), lambda form: form.suffix.lower() == suffix):
        for candidate in candidates:
            if found(candidate):
                return candidate
    known = ", ".join(dict.fromkeys(candidate.suffix for candidate in candidates))
    raise TargetError(str(path), f"files ending in “{path.suffix}” cannot be written", f"Use {known}")


def read_wording(path: Path) -> Wording:
    """Read words, and their times where the file has them. Raises ScriptError when it cannot be read or holds none."""
    reader = _reader_for(path)
    try:
        wording = reader.read(path)
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


def script_for(recording: Path, script: Path | None) -> Path:
    """The script named, or the .txt beside the recording."""
    found = script or recording.with_suffix(".txt")
    try:
        missing = not found.exists()
    except OSError:
        missing = False  # whoever reads it says what is the matter
    if missing:
        reason = "there is no such file" if script else f"no script is named and there is no {found.name} beside it"
        raise ScriptError(str(script or recording), reason, "Name the words with --script FILE")
    return found


def _reader_for(path: Path) -> Reader:
    with contextlib.suppress(OSError):
        if path.exists() and not path.is_file():
            raise ScriptError(str(path), "it is not a file", "Name a file")
    for reader in READERS:
        if path.suffix.lower() in reader.suffixes:
            return reader
    known = ", ".join(sorted(WORDING_SUFFIXES))
    raise ScriptError(str(path), f"words cannot be read from “{path.suffix}” files", f"Use {known}")
