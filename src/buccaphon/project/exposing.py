"""A list of frames and mouths put onto a take, exactly."""

from __future__ import annotations

from buccaphon.errors import SheetError
from buccaphon.formats.in_.mouth_list import Rows
from buccaphon.kits.casting import for_chart
from buccaphon.kits.names.table import NO_NAMES, NamesTable
from buccaphon.motion.record import Bake
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.mouths import Clear, Expose
from buccaphon.project.state import State
from buccaphon.texts import N_, _
from buccaphon.timing import FURTHEST, Span

WHOLE_LINE = Span(0.0, FURTHEST)
_MOST_NAMED = 12


class Called:
    """The chart's mouths by what they can be called: their own name; their name in the host, which is that of the drawing
    where there are some; their number, the host's where there is a character. As it is written comes before another case;
    of two that are called alike, the first counts."""

    def __init__(self, state: State, *, by_host: bool) -> None:
        """by_host: whether the host's name comes before the mouth's own, as in files that have those."""
        chart, shown = state.chart_in_use, shown_as(state)
        own, host = [(name, name) for name in chart.names], [(shown[name][1], name) for name in chart.names]
        named = (*host, *own) if by_host else (*own, *host)
        self._exactly, self._anyhow = dict[str, str](), dict[str, str]()
        for called, mouth in (*named, *((str(shown[name][0]), name) for name in chart.names)):
            self._exactly.setdefault(called, mouth)
            self._anyhow.setdefault(called.lower(), mouth)

    def get(self, name: str) -> str | None:
        return self._exactly.get(name) or self._anyhow.get(name.lower())


def called(state: State, *, by_host: bool = False) -> Called:
    """The mouths of the chart in use by name."""
    return Called(state, by_host=by_host)


def shown_as(state: State) -> dict[str, tuple[int, str]]:
    """Number and name of each mouth of the chart, as sheet, keys and files have them: the name of the drawing that shows it
    where the character has drawings."""
    chart, kit = state.chart_in_use, state.kit_in_use
    if kit is None:
        return {name: (chart.counts_from + number, name) for number, name in enumerate(chart.names)}
    names = _names(state)
    return {name: (names.number_of(name, chart.names), names.names_of(name)[0]) for name in chart.names}


def number_of(mouth: str, state: State) -> int:
    """The number of a mouth as the host counts, or the chart."""
    return shown_as(state)[mouth][0]


def _names(state: State) -> NamesTable:
    kit = state.kit_in_use
    return for_chart(kit, state.chart_in_use).names if kit is not None else NO_NAMES


def expose_list(rows: Rows, state: State, bake: Bake, subject: str = N_("the list"), *, blank: bool = False) -> Edit:
    """Each mouth from its frame until the next one's, the last until the next change of what is there, or to the end of a
    blank line. rows: as from `read_mouth_list`, with the scene's numbers. bake: of the whole take. blank: with nothing from
    the machine anywhere.

    Raises SheetError for a mouth that is not known and for a frame outside the recording.
    """
    known, first = called(state), state.first_number
    found = list[tuple[int, str]]()
    for frame, name in rows:
        mouth = known.get(name)
        if mouth is None:
            there = ", ".join(f"{n} ({number_of(n, state)})" for n in state.chart_in_use.names[:_MOST_NAMED])
            remedy = _("Write a name or a number: {there}", there=there)
            raise SheetError(
                subject,
                _("frame {frame} has “{name}”, which is no mouth of the chart", frame=frame, name=name[:40]),
                remedy,
            )
        if not 0 <= frame - first < bake.frames:
            reason = _("frame {frame} lies outside the recording", frame=frame)
            raise SheetError(subject, reason, _("Its frames go from {first} to {first}", first=first + bake.frames - 1))
        found.append((frame - first, mouth))
    last = max((frame for frame, _ in found), default=0)
    there_now = exposure_at(bake.exposures, last)
    end = bake.frames if blank or there_now is None else there_now.end
    expose = Expose(tuple(found), end)
    return Together((Clear(WHOLE_LINE), expose), name=expose.name) if blank else expose
