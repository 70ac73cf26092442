"""All formats in one place: the command line, the export panel, the documentation and the contract test read from here."""

from __future__ import annotations

import contextlib
from pathlib import Path

from buccaphon.errors import BuccaphonError, ScriptError, TargetError
from buccaphon.formats.format import Format, Needs, Reader
from buccaphon.formats.in_.text import read_fountain, read_plain_text
from buccaphon.formats.in_.timed import read_cues, read_subtitles, read_table, read_textgrid
from buccaphon.formats.in_.wording import Wording
from buccaphon.formats.out.keys import (
    CsvOptions,
    KeysJsonOptions,
    keys_csv,
    keys_json,
)
from buccaphon.formats.out.servo import ServoOptions, servo_csv
from buccaphon.formats.out.sheet import sheet_csv, sheet_ods, sheet_xlsx
from buccaphon.formats.out.subtitles import SrtOptions, srt
from buccaphon.formats.out.timings import TextGridOptions, textgrid, timings_csv, timings_json
from buccaphon.speech.script import script_words

FORMATS: tuple[Format, ...] = (
    Format(
        "keys-csv", "Keys, CSV", ".csv", ".keys.csv", "One row a frame: mouth, jaw and the rest of the pose, weights",
        "the exact rate as a fraction", Needs.FRAMES, keys_csv, CsvOptions,
    ),
    Format(
        "keys-json", "Keys, JSON", ".json", ".keys.json", "Keys where something changes", "phones and words",
        Needs.FRAMES, keys_json, KeysJsonOptions,
    ),
    Format(
        "sheet-csv", "Exposure sheet, CSV", ".csv", ".sheet.csv", "A row a frame, for people",
        "weights and the exact rate", Needs.FRAMES, sheet_csv, CsvOptions,
    ),
    Format(
        "sheet-xlsx", "Exposure sheet, XLSX", ".xlsx", ".sheet.xlsx", "The same for a spreadsheet", "weights",
        Needs.FRAMES, sheet_xlsx,
    ),
    Format(
        "sheet-ods", "Exposure sheet, ODS", ".ods", ".sheet.ods", "The same as an open document", "weights",
        Needs.FRAMES, sheet_ods,
    ),
    Format(
        "textgrid", "TextGrid", ".TextGrid", ".TextGrid", "Tiers of words, phones, mouths and notes", "stress and confidence",
        Needs.WORDS, textgrid, TextGridOptions,
    ),
    Format(
        "timings-json", "Timings, JSON", ".json", ".timings.json", "Words and phones with confidence", "nothing",
        Needs.WORDS, timings_json,
    ),
    Format(
        "timings-csv", "Timings, CSV", ".csv", ".timings.csv", "One row a phone", "stress", Needs.WORDS, timings_csv,
        CsvOptions,
    ),
    Format(
        "srt", "Subtitles, SRT", ".srt", ".srt", "Lines, or words, as players read them", "phones and confidence",
        Needs.WORDS, srt, SrtOptions,
    ),
    Format(
        "servo", "Servo, CSV", ".csv", ".servo.csv", "A puppet's jaw: angle and pulse every 20 ms", "all other channels",
        Needs.FRAMES, servo_csv, ServoOptions,
    ),
)  # fmt: skip

READERS: tuple[Reader, ...] = (
    Reader("text", "Plain text", (".txt",), "The script", read_plain_text),
    Reader("fountain", "Fountain", (".fountain",), "The dialogue of a screenplay, one line a speech", read_fountain),
    Reader("subtitles", "SRT, WebVTT", (".srt", ".vtt"), "The script, and when each line is said", read_subtitles),
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


def format_for(path: Path, needs: Needs) -> Format:
    """The format that a file name asks for, of those made from words or from frames; TargetError names the known suffixes
    when there is none."""
    candidates = [form for form in FORMATS if form.needs is needs]
    for candidate in candidates:
        if candidate.suffix.lower() == path.suffix.lower():
            return candidate
    known = ", ".join(candidate.suffix for candidate in candidates)
    raise TargetError(str(path), f"“{path.suffix}” is not a suffix that can be written here", f"Use {known}")


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


def _reader_for(path: Path) -> Reader:
    with contextlib.suppress(OSError):
        if path.exists() and not path.is_file():
            raise ScriptError(str(path), "it is no file", "Name a file")
    for reader in READERS:
        if path.suffix.lower() in reader.suffixes:
            return reader
    known = ", ".join(sorted(WORDING_SUFFIXES))
    raise ScriptError(str(path), f"words cannot be read from “{path.suffix}” files", f"Use {known}")
