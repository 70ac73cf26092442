"""Charts as TOML files: those that come with Buccaphon, and a user's own."""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib import resources
from pathlib import Path
from typing import Annotated

import msgspec

from buccaphon.errors import ChartError
from buccaphon.files import quoted, read_text
from buccaphon.mouths.chart import Chart, ChartDocument, Mouth
from buccaphon.mouths.pose import Pose
from buccaphon.mouths.rules import rule_named
from buccaphon.texts import _

MOST_MOUTHS = 1000  # of a chart
SUFFIX = ".toml"


class _MouthEntry(msgspec.Struct, forbid_unknown_fields=True):
    name: str
    pose: Pose
    sounds: str = ""
    contact: bool = False
    rules: list[str] = []


class _ChartEntry(msgspec.Struct, forbid_unknown_fields=True):
    name: str
    mouth: list[_MouthEntry] = []
    about: str = ""
    counts_from: Annotated[int, msgspec.Meta(ge=0, le=1)] = 0
    rest: str | None = None


def parse_chart(text: str, subject: str) -> ChartDocument:
    """Read a chart, whole or half done, from TOML. `subject` names it in messages. Raises ChartError."""
    try:
        data = msgspec.convert(tomllib.loads(text), _ChartEntry)
    except tomllib.TOMLDecodeError as problem:
        raise ChartError(
            subject, _("it is not valid TOML ({reason})", reason=problem), _("Correct that line")
        ) from None
    except (ValueError, RecursionError) as problem:
        raise ChartError(
            subject, _("an entry is missing or wrong ({reason})", reason=problem), _("Compare it with a built-in chart")
        ) from None
    mouths = (
        Mouth(entry.name, entry.pose, tuple(entry.sounds.split()), entry.contact, tuple(map(rule_named, entry.rules)))
        for entry in data.mouth
    )
    if len(data.mouth) > MOST_MOUTHS:
        raise ChartError(
            subject,
            _("it has more than {most} mouths", most=MOST_MOUTHS),
            _("Leave out what is never drawn"),
        )
    names = [entry.name for entry in data.mouth]
    if data.rest is not None and data.rest not in names:
        raise ChartError(
            subject,
            _("its resting mouth “{name}” is none of its mouths", name=data.rest),
            _("Write the name of one of them"),
        )
    rests = 0 if data.rest is None else names.index(data.rest)
    return ChartDocument(data.name, data.about, tuple(mouths), data.counts_from, rests)


def read_chart(path: Path) -> ChartDocument:
    """A chart in a file. Raises ChartError when it cannot be read."""
    return parse_chart(read_text(path, ChartError), str(path))


def chart_as_text(chart: ChartDocument) -> str:
    """The chart as a TOML file, as `parse_chart` reads it."""
    lines = [f"name = {quoted(chart.name)}", f"about = {quoted(chart.about)}"]
    lines += [f"counts_from = {chart.counts_from}"] if chart.counts_from else []
    lines += [f"rest = {quoted(chart.mouths[chart.rests].name)}"] if chart.rests else []
    for mouth in chart.mouths:
        parts = (f"{part} = {value:g}" for part, value in zip(Pose.__slots__, mouth.pose.parts, strict=True) if value)
        lines += ["", "[[mouth]]", f"name = {quoted(mouth.name)}"]
        lines += [f"sounds = {quoted(' '.join(mouth.sounds))}"] if mouth.sounds else []
        lines += [f"rules = [{', '.join(map(quoted, mouth.rules))}]"] if mouth.rules else []
        lines += ["contact = true"] if mouth.contact else []
        lines.append(f"pose = {{ {', '.join(parts)} }}")
    return "\n".join(lines) + "\n"


@lru_cache(maxsize=1)
def shipped_charts() -> dict[str, Chart]:
    """The charts that come with Buccaphon by name, fewest mouths first."""
    folder = resources.files("buccaphon.mouths").joinpath("charts")
    files = (file for file in folder.iterdir() if file.name.endswith(SUFFIX))
    charts = [parse_chart(file.read_text("utf-8"), file.name).whole() for file in files]
    return {chart.name: chart for chart in sorted(charts, key=lambda chart: len(chart.mouths))}


def find_chart(name: str) -> Chart:
    """A shipped chart by name in any case, or the chart in a .toml file. Raises ChartError."""
    for chart in shipped_charts().values():
        if chart.name.lower() == name.lower():
            return chart
    path = Path(name)
    if path.suffix == SUFFIX:
        return read_chart(path).whole()
    known = ", ".join(shipped_charts())
    raise ChartError(
        _("chart “{name}”", name=name),
        _("there is no chart of that name"),
        _("Choose {known}, or name a .toml file", known=known),
    )
