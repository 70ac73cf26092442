"""The scene that rows of a manifest make together: a line for each name, its takes, and a role for each speaker."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from buccaphon.api import align
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.batch.manifest import Row
from buccaphon.formats.registry import read_wording, script_for
from buccaphon.kits.kit import Kit
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.chart_making import free_name
from buccaphon.project.derived import Derived
from buccaphon.project.lines import Look, state_of
from buccaphon.project.motion_file import open_motion
from buccaphon.project.scene import Ensemble
from buccaphon.project.state import Line, Role, State
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate


@dataclass(slots=True)
class _Cast:
    """What the rows bring with them, each once."""

    roles: dict[str, Role]
    kits: dict[object, Kit]


def scene_of(rows: Sequence[Row]) -> Ensemble:
    """Read and align all of them. Raises a BuccaphonError where something given cannot be used."""
    cast, lines, sounds, charts = _Cast({}, {}), dict[str, Line](), dict[int, Derived](), dict[str, ChartDocument]()
    first = rows[0]
    state = State(rate=FrameRate.parse(first.rate), start_frame=first.start_frame)
    for row in rows:
        heard = read_recording(row.recording)
        words = _words(row)
        score = align(heard, words, language=row.language)
        take = Take(row.recording, row.take, score=score, aligned_script=words, offset=row.offset)
        alone = _alone(take, row, cast)
        if row.speaker not in cast.roles:  # as the first row of a speaker has it
            cast.roles[row.speaker] = replace(alone.role, name=row.speaker)
        charts |= {chart.name: chart for chart in alone.charts}
        known = lines.get(row.title)
        if known is not None:
            lines[row.title] = replace(known, takes=(*known.takes, *alone.takes))
            continue
        derived = Derived(heard, build_peaks(heard))
        if row.motion is not None:
            derived = derived.knowing_all(alone)
        key = len(lines)
        name = row.title if row.scene else ""
        lines[row.title] = Line(alone.takes, 0, words, row.language, name, row.speaker, key=key)
        sounds[key] = derived
    whole = replace(
        state,
        lines=tuple(lines.values()),
        roles=tuple(cast.roles.values()),
        charts=tuple(charts.values()),
        kits=tuple(cast.kits.values()),
    )
    return Ensemble(whole, sounds)


def _alone(take: Take, row: Row, cast: _Cast) -> State:
    """One row as a scene of its own; a character that several rows name is one."""
    chart = find_chart(row.chart)
    kit = cast.kits.get((row.kit, row.chart)) if row.kit is not None else None
    if row.kit is not None and kit is None:
        from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt is loaded only when there is a character)

        kit = load_character(row.kit, chart)
        kit = replace(kit, name=free_name(kit.name, [each.name for each in cast.kits.values()]))
        cast.kits[row.kit, row.chart] = kit
    motion = open_motion(row.motion) if row.motion is not None else None
    look = Look(FrameRate.parse(row.rate), chart, row.start_frame, row.hold, (), kit, motion=motion)
    return state_of(take, look)


def _words(row: Row) -> str:
    """The words themselves, of a file, or of the one beside the recording."""
    if row.script and not Path(row.script).is_file():
        return row.script
    return read_wording(Path(row.script) if row.script else script_for(row.recording, None)).text
