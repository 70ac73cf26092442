"""The manifest: one row a line, as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from buccaphon.errors import BuccaphonError, ListError
from buccaphon.files import read_text
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import LONGEST_HOLD
from buccaphon.speech.languages import ENGLISH, find_language
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate, seconds_of

COLUMNS = {
    "recording": N_("the sound file, from the manifest's folder"),
    "script": N_("a file with the words, or the words themselves; empty for the .txt beside the recording"),
    "language": N_("a code such as en-us, es; empty for American English"),
    "character": N_("a .buccakit, a model or drawings; empty for none"),
    "motion": N_("a .buccamotion file: loudness, followers and clean-up; empty for none"),
    "chart": N_("a mouth chart's name or file; empty for Ten"),
    "fps": N_("frame rate"),
    "hold": N_("frames each drawing is held: 2 is “on twos”; empty for 1"),
    "start_frame": N_("the number of the first frame; empty for 0"),
    "name": N_("what its files are called, or its line in a scene; empty for the recording's name"),
    "scene": N_("the scene that it is a line of: rows of one scene make one file"),
    "begins": N_("where it begins in the scene: seconds, f101 or timecode; empty for the start"),
    "speaker": N_("the role that says it; empty for the only one"),
    "take": N_("what this take is called: rows of one scene and name are takes of one line"),
}
_NEEDED = ("recording", "fps")
_EARLIER = {"kit": "character", "rate": "fps"}  # names of columns, of tables of earlier versions
_MOST_ROWS = 200_000


@dataclass(frozen=True, slots=True)
class Row:
    """One line. number: of its row in the manifest, as a spreadsheet counts."""

    number: int
    recording: Path
    script: str = ""
    language: str = ENGLISH
    kit: Path | None = None
    chart: str = "Ten"
    rate: str = "24"
    hold: int = 1
    start_frame: int = 0
    name: str = ""
    motion: Path | None = None
    scene: str = ""
    begins: str = ""
    speaker: str = ""
    take: str = ""

    @property
    def title(self) -> str:
        return self.name or self.recording.stem

    @property
    def offset(self) -> float:
        """Where it begins in the scene, in seconds."""
        return seconds_of(self.begins, FrameRate.parse(self.rate), self.start_frame) if self.begins else 0.0


def read_manifest(path: Path) -> tuple[Row, ...]:
    """Raises ListError for a manifest that cannot be; a row that names a missing file is found out when it is its turn."""
    text = read_text(path, ListError)
    lines = csv.DictReader(io.StringIO(text, newline=""), delimiter=max(",;\t", key=text.split("\n", 1)[0].count))
    named = [head.strip().lower() for head in lines.fieldnames or ()]
    heads = [_EARLIER.get(head, head) for head in named]
    missing = [name for name in _NEEDED if name not in heads]
    if missing:
        raise ListError(
            str(path),
            _("it has no column {missing}", missing=" and ".join(missing)),
            _("Its columns are {columns}", columns=", ".join(COLUMNS)),
        )
    unknown = [head for head in heads if head and head not in COLUMNS]
    if unknown:
        raise ListError(
            str(path),
            _("there is no column {unknown}", unknown=unknown[0]),
            _("Its columns are {columns}", columns=", ".join(COLUMNS)),
        )
    lines.fieldnames = heads
    rows = []
    for number, cells in enumerate(lines, 2):
        if number > _MOST_ROWS:
            raise ListError(str(path), _("it has more than {most} rows", most=_MOST_ROWS), _("Split it"))
        filled = {name: (value or "").strip() for name, value in cells.items() if isinstance(name, str)}
        if any(filled.values()):
            rows.append(_row(path, number, filled))
    if not rows:
        raise ListError(str(path), _("it has no rows"), _("Name one recording a row"))
    _require_apart(path, rows)
    return tuple(rows)


def _row(path: Path, number: int, cells: dict[str, str]) -> Row:
    subject, folder = _("{path}, row {number}", path=path, number=number), path.parent
    if not cells["recording"]:
        raise ListError(subject, _("it names no recording"), _("Name one, or delete the row"))
    chart = cells.get("chart") or "Ten"
    if chart.lower().endswith(".toml"):
        chart = str(folder / chart)
    script = cells.get("script", "")
    if script and _is_file(folder / script):
        script = str(folder / script)
    try:
        FrameRate.parse(cells["fps"])
        find_chart(chart)
        language = find_language(cells.get("language") or ENGLISH).code
    except ListError:
        raise
    except BuccaphonError as problem:  # each says what is the matter in its own words
        raise ListError(subject, str(problem), _("Correct the row")) from None
    row = Row(
        number,
        folder / cells["recording"],
        script,
        language,
        folder / cells["character"] if cells.get("character") else None,
        chart,
        cells["fps"],
        _whole(subject, "hold", cells.get("hold", ""), 1, 1, LONGEST_HOLD),
        _whole(subject, "start_frame", cells.get("start_frame", ""), 0, -100_000, 1_000_000),
        cells.get("name", ""),
        folder / cells["motion"] if cells.get("motion") else None,
        *(cells.get(name, "") for name in ("scene", "begins", "speaker", "take")),
    )
    try:
        _offset = row.offset
    except ValueError:
        raise ListError(
            subject,
            _("it begins at “{text}”", text=row.begins[:20]),
            _("Write seconds, a frame such as f101, or timecode"),
        ) from None
    return row


def _is_file(path: Path) -> bool:
    try:
        return path.is_file()
    except OSError:  # the words themselves can be too long for a name
        return False


def _whole(subject: str, name: str, text: str, usual: int, least: int, most: int) -> int:
    if not text:
        return usual
    if not text.lstrip("-").isdecimal() or not least <= int(text) <= most:
        raise ListError(
            subject,
            _("its {name} is “{text}”", name=name, text=text[:20]),
            _("Write a whole number from {least} to {most}", least=least, most=most),
        )
    return int(text)


def _require_apart(path: Path, rows: list[Row]) -> None:
    known: dict[tuple[str, str, str], int] = {}
    for row in rows:
        called = (row.scene, row.title, row.take if row.scene else "")
        if called in known:
            reason = _(
                "rows {known} and {number} are both called {title}",
                known=known[called],
                number=row.number,
                title=row.title,
            )
            raise ListError(str(path), reason, _("Give one another name in the column name"))
        known[called] = row.number
    for scene in {row.scene for row in rows if row.scene}:
        of_scene = [row for row in rows if row.scene == scene]
        unlike = next((row for row in of_scene if (row.rate, row.start_frame) != _of_first(of_scene)), None)
        if unlike is not None:
            reason = _(
                "rows {known} and {number} of the scene {scene} differ in fps or start_frame",
                known=of_scene[0].number,
                number=unlike.number,
                scene=scene,
            )
            raise ListError(str(path), reason, _("Give all rows of a scene the same"))


def _of_first(rows: list[Row]) -> tuple[str, int]:
    return rows[0].rate, rows[0].start_frame


def in_scenes(rows: Sequence[Row]) -> list[tuple[Row, ...]]:
    """The rows that make a file together, in the order in which the first of each comes."""
    found: dict[object, list[Row]] = {}
    for row in rows:
        found.setdefault(row.scene or row.number, []).append(row)
    return [tuple(each) for each in found.values()]
