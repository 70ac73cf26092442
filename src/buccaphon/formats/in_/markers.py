"""Labelled moments and stretches of a recording: markers in WAV and AIFF files, and lists of regions as text or a table.

Markers of WAV (chunks `cue ` and `LIST adtl`) are read by `wavinfo`; those of AIFF (chunk `MARK`, Audio Interchange File
Format 1.3) here, for no library that is kept up reads them.
"""

from __future__ import annotations

import csv
import io
import math
import re
import struct
from collections.abc import Iterator, Sequence
from pathlib import Path

from buccaphon.errors import BuccaphonError, MarkersError
from buccaphon.files import read_text, whole_text
from buccaphon.formats.in_.mouth_list import Rows, read_mouth_list
from buccaphon.formats.in_.wording import Timed
from buccaphon.texts import N_, _

AIFF = (".aif", ".aiff", ".aifc")
SOUNDS = (".wav", *AIFF)
LISTS = (".txt", ".csv", ".tsv")
_STARTS = ("start", "start_s", "begin", "from", "in", "time", "position", "seconds")
_ENDS = ("end", "end_s", "to", "out")
_LENGTHS = ("length", "duration")
_LABELS = ("label", "name", "text", "marker", "region")
_CLOCK = re.compile(r"(?:(\d{1,3}):)?(?:(\d{1,3}):)?(\d{1,9}(?:[.,]\d+)?)s?")
_COMMENT = re.compile(r"\s*#(?![\t;,])")  # “#” alone may be a heading
_LONGEST_MARK, _MOST_BYTES = 1 << 24, 4 << 20  # bytes of a chunk of marks, and of a list
_LIST_REMEDY = N_("Write start, end and label a row, times in seconds such as 1.25, or as 0:01.250")


def read_markers(path: Path) -> tuple[Timed, ...]:
    """All that have a label, in order of time, in seconds of the recording; a moment ends where it starts. Raises
    MarkersError."""
    suffix, subject = path.suffix.lower(), str(path)
    try:
        if suffix not in SOUNDS:
            found = parse_regions(read_text(path, MarkersError), subject)
        else:
            found = _of_aiff(path) if suffix in AIFF else _of_wav(path)
    except BuccaphonError:
        raise
    except OSError as problem:
        reason = _("it cannot be read ({reason})", reason=problem.strerror)
        raise MarkersError(subject, reason, _("Check the name and the folder")) from None
    except Exception as problem:  # the libraries raise whatever they like at broken files
        reason = _("it cannot be understood ({kind})", kind=type(problem).__name__)
        raise MarkersError(subject, reason, _("Save it as WAV or AIFF again")) from None
    labelled = [Timed(text, m.start, m.end) for m in found if (text := whole_text(m.text).strip("\0 \t\r\n"))]
    return tuple(sorted(labelled, key=lambda marker: marker.start))


def read_painted(path: Path) -> tuple[Rows, tuple[Timed, ...]]:
    """Mouths to paint: the rows of a list of frames, or the labels of a recording or a list of regions. Raises MarkersError
    and SheetError."""
    suffix = path.suffix.lower()
    listed = suffix in LISTS and is_region_list(read_text(path, MarkersError))
    if suffix not in SOUNDS and not listed:
        return read_mouth_list(path), ()
    markers = read_markers(path)
    if not markers:
        reason = _("it has no labelled markers")
        raise MarkersError(str(path), reason, _("Label them with sounds or mouths first"))
    return (), markers


def has_markers(path: Path) -> int:
    """How many labelled markers a recording has; 0 for a file that cannot say."""
    if path.suffix.lower() not in SOUNDS:
        return 0
    try:
        return len(read_markers(path))
    except Exception:
        return 0


# --- in sound ------------------------------------------------------------------------------------------------------------


def _of_wav(path: Path) -> list[Timed]:
    from wavinfo import WavInfoReader  # noqa: PLC0415  (only when markers are read)

    info = WavInfoReader(str(path), info_encoding="utf-8")
    rate, cues = info.fmt.sample_rate, info.cues
    if not cues:
        return []
    labels: dict[int, str] = {}
    for label in cues.labels:
        labels.setdefault(label.name, label.text or "")  # the first where it has several
    lengths = {each.name: each.length for each in cues.ranges}
    return [
        Timed(labels.get(number, ""), offset / rate, (offset + lengths.get(number, 0)) / rate)
        for number, offset in cues.each_cue()
    ]


def _of_aiff(path: Path) -> list[Timed]:
    rate, marks = 0.0, b""
    with path.open("rb") as file:
        head = file.read(12)
        if head[:4] != b"FORM" or head[8:12] not in (b"AIFF", b"AIFC"):
            raise MarkersError(str(path), _("it is no AIFF file"), _("Save it as AIFF or WAV again"))
        while len(chunk := file.read(8)) == 8:
            name, size = chunk[:4], struct.unpack(">I", chunk[4:])[0]
            if name == b"COMM":
                rate = _extended(file.read(size)[8:18])
            elif name == b"MARK" and size <= _LONGEST_MARK:
                marks = file.read(size)
            else:
                file.seek(size, io.SEEK_CUR)
            file.seek(size % 2, io.SEEK_CUR)
    if marks and not rate:
        raise MarkersError(str(path), _("it does not say its sample rate"), _("Save it as AIFF or WAV again"))
    return [Timed(label, frame / rate, frame / rate) for frame, label in _marks(marks)]


def _marks(chunk: bytes) -> Iterator[tuple[int, str]]:
    """Sample frames and labels: a count, then for each an id, a position and a string that says its length in front and is
    filled up to an even one with it."""
    at = 2
    for _number in range(int.from_bytes(chunk[:2], "big")):
        if at + 7 > len(chunk):
            return
        position, length = struct.unpack(">I", chunk[at + 2 : at + 6])[0], chunk[at + 6]
        text = chunk[at + 7 : at + 7 + length]
        try:
            yield position, text.decode("utf-8")
        except UnicodeDecodeError:
            yield position, text.decode("mac_roman")  # what the format was made for
        at += 7 + length + (length + 1) % 2


def _extended(ten: bytes) -> float:
    """Of an IEEE 754 extended number of 80 bits, as AIFF writes rates."""
    if len(ten) < 10:
        return 0.0
    exponent, mantissa = struct.unpack(">HQ", ten)
    return math.ldexp(mantissa, (exponent & 0x7FFF) - 16383 - 63)


# --- as a list -----------------------------------------------------------------------------------------------------------


def parse_regions(text: str, subject: str) -> list[Timed]:
    """Rows of start, end and label, or start and label; or a table whose heading says which column is what. Columns are
    parted by tabs, semicolons or commas. Raises MarkersError with the row."""
    rows = _rows(text, subject)
    columns, head = _columns(rows, subject)
    found = []
    for number, row in enumerate(rows[head:], 1 + head):
        start, end = (_cell(row, column) for column in columns[:2])
        begins = _seconds(start)
        if begins is None:
            raise MarkersError(
                subject, _("row {number} has no time but “{said}”", number=number, said=start[:20]), _(_LIST_REMEDY)
            )
        ends = _seconds(end)
        if ends is None and end:
            raise MarkersError(
                subject, _("row {number} has no time but “{said}”", number=number, said=end[:20]), _(_LIST_REMEDY)
            )
        length = _seconds(_cell(row, columns[2]))
        if ends is None:
            ends = begins + (length or 0.0)
        if ends < begins:
            raise MarkersError(subject, _("row {number} ends before it starts", number=number), _("Correct that row"))
        found.append(Timed(_cell(row, columns[3]).removeprefix("'"), begins, ends))
    return found


def is_region_list(text: str) -> bool:
    """Whether a text is such a list, rather than words or a list of frames."""
    try:
        rows = _rows(text, "")
        heads = [cell.strip().lower() for cell in rows[0]]
        if "frame" in heads or ("word" in heads and not set(heads) & set(_LABELS)):
            return False
        parse_regions(text, "")
    except MarkersError:
        return False
    whole = all(row[0].strip().isdigit() for row in rows)
    return len(rows[0]) > 2 or not whole  # two columns of whole numbers are frames


def _rows(text: str, subject: str) -> list[list[str]]:
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip() and not _COMMENT.match(line)]
    mark = next((mark for mark in "\t;," if lines and all(mark in line for line in lines)), None)
    if mark is None or len(text) > _MOST_BYTES:
        raise MarkersError(subject, _("it is no list of times and labels"), _(_LIST_REMEDY))
    return list(csv.reader(io.StringIO("\n".join(lines)), delimiter=mark))


def _columns(rows: Sequence[Sequence[str]], subject: str) -> tuple[tuple[int, int, int, int], int]:
    """Which columns are start, end, length and label, -1 for none; and how many rows are heading."""
    heads = [cell.strip().lower() for cell in rows[0]]

    def named(*names: str) -> int:
        return next((heads.index(name) for name in names if name in heads), -1)

    if _seconds(heads[0]) is None:
        start, label = named(*_STARTS), named(*_LABELS)
        if start < 0 or label < 0:
            raise MarkersError(subject, _("it has no columns start and label"), _(_LIST_REMEDY))
        return (start, named(*_ENDS), named(*_LENGTHS), label), 1
    with_end = len(heads) > 2 and _seconds(heads[1]) is not None
    return (0, 1 if with_end else -1, -1, 2 if with_end else 1), 0


def _cell(row: Sequence[str], column: int) -> str:
    return row[column].strip() if 0 <= column < len(row) else ""


def _seconds(text: str) -> float | None:
    """Of a number of seconds, or a clock with minutes or hours."""
    found = _CLOCK.fullmatch(text.strip())
    if found is None:
        return None
    first, second, last = found[1], found[2], float(found[3].replace(",", "."))
    parts = [float(part) for part in (first, second) if part is not None]
    return last + sum(part * 60.0 ** (place + 1) for place, part in enumerate(reversed(parts)))
