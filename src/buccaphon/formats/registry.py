"""All formats in one place: the command line, the export panel, the documentation and the contract test read from here."""

from __future__ import annotations

import contextlib
from pathlib import Path

from buccaphon.errors import BuccaphonError, ScriptError, TargetError
from buccaphon.formats.format import Format, Needs, Reader
from buccaphon.formats.in_.markers import SOUNDS as MARKED_SOUNDS
from buccaphon.formats.in_.text import read_fountain, read_plain_text
from buccaphon.formats.in_.timed import read_cues, read_subtitles, read_table, read_textgrid
from buccaphon.formats.in_.wording import Wording
from buccaphon.formats.out.bvh import BvhOptions, bvh
from buccaphon.formats.out.changes import changes_csv, changes_text
from buccaphon.formats.out.cues import CueOptions, cues
from buccaphon.formats.out.editing import OtioOptions, otio
from buccaphon.formats.out.gltf.vrma import vrma
from buccaphon.formats.out.gltf.writing import GltfOptions, glb, gltf
from buccaphon.formats.out.keys import CsvOptions, KeysCsvOptions, KeysJsonOptions, keys_csv, keys_json
from buccaphon.formats.out.midi import MidiOptions, midi
from buccaphon.formats.out.pictures.film import ClearFilmOptions, FilmOptions, mov, mp4, webm
from buccaphon.formats.out.pictures.pieces import pieces
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
from buccaphon.formats.out.sheet import (
    SheetCsvOptions,
    SheetOptions,
    SheetPdfOptions,
    sheet_csv,
    sheet_ods,
    sheet_pdf,
    sheet_xlsx,
)
from buccaphon.formats.out.sound import sound_wav
from buccaphon.formats.out.subtitles import SrtOptions, VttOptions, srt, vtt
from buccaphon.formats.out.timings import (
    TextGridOptions,
    TimingsCsvOptions,
    TimingsOptions,
    textgrid,
    timings_csv,
    timings_json,
)
from buccaphon.formats.out.usd import UsdOptions, usda
from buccaphon.speech.script import script_words
from buccaphon.texts import N_, _

_LINE, _TAKE = Needs.FRAMES, Needs.WORDS | Needs.SOURCE
_PAINTED = Needs.FRAMES | Needs.PICTURES
_FILM = _PAINTED | Needs.SOURCE

FORMATS: tuple[Format, ...] = (
    Format(
        "glb", N_("glTF, binary"), ".glb", ".glb", N_("Your model with the animation in it, or the animation alone"),
        N_("words, sounds and notes"), _LINE, glb, GltfOptions,
    ),
    Format(
        "gltf", N_("glTF, text"), ".gltf", ".gltf", N_("The same as text, with separate data files"),
        N_("words, sounds and notes"), _LINE, gltf, GltfOptions,
    ),
    Format(
        "vrma", N_("VRM animation"), ".vrma", ".vrma", N_("The five vowel expressions, for any VRM character"),
        N_("the jaw, words, sounds and notes"), _LINE, vrma,
    ),
    Format(
        "usda", N_("OpenUSD"), ".usda", ".usda", N_("Shape weights and jaw, complete or as a layer over your asset"),
        N_("words, sounds and notes"), _LINE, usda, UsdOptions,
    ),
    Format(
        "bvh", N_("BVH"), ".bvh", ".bvh", N_("Jaw and channels as joint rotations in degrees"),
        N_("mouths, weights and the start frame"), _LINE, bvh, BvhOptions,
    ),
    Format(
        "keys-json", N_("Keys, JSON"), ".json", ".keys.json",
        N_("Keyframes where something changes, with words; readers available"),
        N_("nothing"), _LINE, keys_json, KeysJsonOptions,
    ),
    Format(
        "keys-csv", N_("Keys, CSV"), ".csv", ".keys.csv",
        N_("One row per frame: mouth, jaw and the rest of the pose, weights"),
        N_("the exact rate as a fraction"), _LINE, keys_csv, KeysCsvOptions,
    ),
    Format(
        "otio", N_("OpenTimelineIO"), ".otio", ".otio",
        N_("The take as a clip, with markers of words, mouths and notes"),
        N_("jaw and weights"), Needs.FRAMES | Needs.SOURCE, otio, OtioOptions, for_scene=True,
    ),
    Format(
        "cues", N_("WAV with cues"), ".wav", ".cues.wav", N_("The original recording with words and notes as markers"),
        N_("jaw and weights"), _TAKE, cues, CueOptions,
    ),
    Format(
        "textgrid", N_("TextGrid"), ".TextGrid", ".TextGrid", N_("Tiers of words, phones, mouths and notes"),
        N_("stress and confidence"),
        Needs.WORDS, textgrid, TextGridOptions,
    ),
    Format(
        "srt", N_("Subtitles, SRT"), ".srt", ".srt", N_("One subtitle per line or per word"),
        N_("phones and confidence"),
        Needs.WORDS, srt, SrtOptions, for_all=True,
    ),
    Format(
        "vtt", N_("Subtitles, WebVTT"), ".vtt", ".vtt", N_("Lines with the time of each word"),
        N_("phones and confidence"),
        Needs.WORDS, vtt, VttOptions, for_all=True,
    ),
    Format(
        "timings-json", N_("Timings, JSON"), ".json", ".timings.json", N_("Words and phones with confidence"),
        N_("nothing"),
        Needs.WORDS, timings_json, TimingsOptions, for_all=True,
    ),
    Format(
        "timings-csv", N_("Timings, CSV"), ".csv", ".timings.csv", N_("One row per speech sound"),
        N_("stress"), Needs.WORDS, timings_csv,
        TimingsCsvOptions, for_all=True,
    ),
    Format(
        "sheet-pdf", N_("Exposure sheet, PDF"), ".pdf", ".sheet.pdf", N_("Pages of frames, to print"), N_("weights"),
        _PAINTED, sheet_pdf, SheetPdfOptions,
    ),
    Format(
        "sheet-csv", N_("Exposure sheet, CSV"), ".csv", ".sheet.csv", N_("One row per frame, easy to read"),
        N_("weights and the exact rate"), _LINE, sheet_csv, SheetCsvOptions,
    ),
    Format(
        "sheet-xlsx", N_("Exposure sheet, XLSX"), ".xlsx", ".sheet.xlsx", N_("The same as a spreadsheet"),
        N_("weights"), _LINE,
        sheet_xlsx, SheetOptions,
    ),
    Format(
        "sheet-ods", N_("Exposure sheet, ODS"), ".ods", ".sheet.ods", N_("The same as an OpenDocument spreadsheet"),
        N_("weights"), _LINE,
        sheet_ods, SheetOptions,
    ),
    Format(
        "changes-txt", N_("List of changes, text"), ".txt", ".changes.txt", N_("Where mouths change, to type from"),
        N_("weights, words, sounds and notes"), _LINE, changes_text,
    ),
    Format(
        "changes-csv", N_("List of changes, CSV"), ".csv", ".changes.csv",
        N_("The same as a table: frame, mouth, drawing, number, length"),
        N_("weights, words, sounds and notes"), _LINE, changes_csv, CsvOptions,
    ),
    Format(
        "mp4", N_("Film, MP4"), ".mp4", ".mp4", N_("The mirror as a video with sound"), N_("keys"), _FILM, mp4,
        FilmOptions,
    ),
    Format(
        "webm", N_("Film, WebM"), ".webm", ".webm", N_("The same in free codecs"), N_("keys"), _FILM, webm, FilmOptions,
    ),
    Format(
        "mov", N_("Video with transparency, MOV"), ".mov", ".mov", N_("The character on a transparent background"),
        N_("keys"),
        _FILM, mov, ClearFilmOptions,
    ),
    Format(
        "png-sequence", N_("Pictures, PNG"), ".png", ".####.png",
        N_("One picture per frame, with its frame number"), N_("sound"),
        _PAINTED, png_sequence, SequenceOptions,
    ),
    Format(
        "pieces", N_("Character's pieces, PNG"), ".json", ".pieces.json",
        N_("Drawings or cut parts as PNGs of one size, with their places as JSON and CSV"), N_("keys and sound"),
        _PAINTED, pieces,
    ),
    Format(
        "contact-sheet", N_("Contact sheet, PNG"), ".png", ".contact.png", N_("All exposures on one page"),
        N_("sound"), _PAINTED,
        contact_sheet, ContactOptions,
    ),
    Format(
        "apng", N_("Animated PNG"), ".apng", ".apng", N_("Small animated picture, exact frame rate"),
        N_("sound"), _PAINTED, apng,
        ShareOptions,
    ),
    Format(
        "webp", N_("Animated WebP"), ".webp", ".webp", N_("The same, smaller, times in whole milliseconds"),
        N_("sound"), _PAINTED, webp,
        ShareOptions,
    ),
    Format(
        "review", N_("Review page"), ".html", ".review.html",
        N_("Sound, pictures and words in one page; notes can be sent back"),
        N_("keys"), _FILM, review, ReviewOptions,
    ),
    Format(
        "wav", N_("Sound, WAV"), ".wav", ".sound.wav", N_("Exactly the sound of the frames, 24 bit"), N_("everything else"),
        _LINE, sound_wav, for_all=True,
    ),
    Format(
        "midi", N_("MIDI"), ".mid", ".mid", N_("One channel as a MIDI controller"),
        N_("all other channels"), _LINE, midi,
        MidiOptions,
    ),
    Format(
        "servo", N_("Servo, CSV"), ".csv", ".servo.csv", N_("A puppet's jaw: angle and pulse every 20 ms"),
        N_("all other channels"),
        _LINE, servo_csv, ServoOptions,
    ),
)  # fmt: skip

READERS: tuple[Reader, ...] = (
    Reader("text", N_("Plain text"), (".txt",), N_("The script"), read_plain_text),
    Reader(
        "fountain", N_("Fountain"), (".fountain",), N_("The dialogue of a screenplay, one line a speech"), read_fountain
    ),
    Reader(
        "subtitles", N_("SRT, WebVTT"), (".srt", ".vtt"), N_("The script and the time of each line"), read_subtitles
    ),
    Reader(
        "textgrid",
        N_("TextGrid"),
        (".textgrid",),
        N_("The words of the tier whose name holds “word”, and when"),
        read_textgrid,
    ),
    Reader(
        "table", N_("CSV"), (".csv",), N_("Columns start (or start_s), end (or end_s), word, in seconds"), read_table
    ),
    Reader("cues", N_("WAV, AIFF"), MARKED_SOUNDS, N_("Labelled markers that are words"), read_cues),
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
    raise TargetError(
        str(path), _("files ending in “{suffix}” cannot be written", suffix=path.suffix), _("Use {known}", known=known)
    )


def read_wording(path: Path) -> Wording:
    """Read words, and their times where the file has them. Raises ScriptError when it cannot be read or holds none."""
    reader = _reader_for(path)
    try:
        wording = reader.read(path)
    except BuccaphonError:
        raise
    except UnicodeDecodeError:
        raise ScriptError(str(path), _("it is not UTF-8 text"), _("Save it as UTF-8")) from None
    except OSError as problem:
        raise ScriptError(
            str(path),
            _("it cannot be read ({reason})", reason=problem.strerror),
            _("Check the name and the folder"),
        ) from None
    except Exception as problem:  # the libraries raise whatever they like at broken files
        reason = _("it cannot be understood ({kind})", kind=type(problem).__name__)
        raise ScriptError(str(path), reason, _("Check that it is a proper {suffix} file", suffix=path.suffix)) from None
    if not script_words(wording.text):
        raise ScriptError(str(path), _("it holds no spoken words"), _("Choose the file with the dialogue"))
    return wording


def script_for(recording: Path, script: Path | None) -> Path:
    """The script named, or the .txt beside the recording."""
    found = script or recording.with_suffix(".txt")
    try:
        missing = not found.exists()
    except OSError:
        missing = False  # whoever reads it says what is the matter
    if missing:
        reason = (
            _("there is no such file")
            if script
            else _("no script is named and there is no {name} beside it", name=found.name)
        )
        raise ScriptError(str(script or recording), reason, _("Name the words with --script FILE"))
    return found


def _reader_for(path: Path) -> Reader:
    with contextlib.suppress(OSError):
        if path.exists() and not path.is_file():
            raise ScriptError(str(path), _("it is not a file"), _("Name a file"))
    for reader in READERS:
        if path.suffix.lower() in reader.suffixes:
            return reader
    known = ", ".join(sorted(WORDING_SUFFIXES))
    raise ScriptError(
        str(path), _("words cannot be read from “{suffix}” files", suffix=path.suffix), _("Use {known}", known=known)
    )
