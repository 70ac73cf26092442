"""Edits of the scene: rate, numbering and chart; and of the notes on it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.files import whole_text
from buccaphon.kits.charting import with_renamed_mouth
from buccaphon.kits.kit import Kit
from buccaphon.mouths.chart import ChartDocument
from buccaphon.project.edits import Edit, TakeEdit, Touched
from buccaphon.project.standing import Standing
from buccaphon.project.state import FIRST_FRAMES, LONGEST_SCENE, State, chart_of
from buccaphon.project.take import IgnoredIssue, Take
from buccaphon.score.records import Note
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate, Span

_SAME = 1e-9  # seconds


@dataclass(frozen=True, slots=True)
class SetScene(Edit):
    """Change rate, numbering, length or chart. Seconds stay; only the bake follows. length: 0 for that of the sound."""

    TITLE = N_("Change the scene")
    TOUCHES = Touched.SCENE | Touched.MOUTHS

    rate: FrameRate | None = None
    start_frame: int | None = None
    length: int | None = None
    chart: str | None = None

    def apply(self, state: State) -> State:
        scene = replace(
            state,
            rate=self.rate or state.rate,
            start_frame=state.start_frame if self.start_frame is None else _between(self.start_frame, *FIRST_FRAMES),
            length=state.length if self.length is None else min(self.length, LONGEST_SCENE) or None,
        )
        return scene.with_role(chart=self.chart) if self.chart else scene


@dataclass(frozen=True, slots=True)
class SetStanding(Edit):
    """Say how far somebody has come with the scene."""

    TITLE = N_("Mark the scene")
    TOUCHES = Touched.NOTES

    standing: Standing

    def apply(self, state: State) -> State:
        return replace(state, standing=self.standing)


def _between(value: int, low: int, high: int) -> int:
    return min(max(value, low), high)


@dataclass(frozen=True, slots=True)
class KeepChart(Edit):
    """Make a chart the project's own, in the place of one of that name, and use it."""

    TOUCHES = Touched.SCENE | Touched.MOUTHS

    chart: ChartDocument

    @property
    def default_name(self) -> str:
        return _("Add chart {name}", name=self.chart.name)

    def apply(self, state: State) -> State:
        others = tuple(chart for chart in state.charts if chart.name != self.chart.name)
        return replace(state, charts=(*others, self.chart.document)).with_role(chart=self.chart.name)


@dataclass(frozen=True, slots=True)
class ChangeChart(Edit):
    """Put another chart in the place of one of the project's own. One that ships stays, and the project gets its own."""

    TITLE = N_("Change the chart")
    TOUCHES = Touched.SCENE | Touched.MOUTHS

    before: str
    chart: ChartDocument

    def apply(self, state: State) -> State:
        document = self.chart.document
        gone = (self.before, self.chart.name)
        charts = (*(chart for chart in state.charts if chart.name not in gone), document)
        renamed = state.chart == self.before or all(chart.name != state.chart for chart in charts)
        kits = (
            _with_renamed_mouths(state.kits, chart_of(self.before, state.charts), document) if renamed else state.kits
        )
        there = replace(state, charts=charts, kits=kits)
        if not renamed:
            return there
        # what other roles use goes with it as well
        roles = (replace(role, chart=document.name) if role.chart == self.before else role for role in there.roles)
        return replace(there, roles=tuple(roles)).with_role(chart=document.name)


def _with_renamed_mouths(kits: tuple[Kit, ...], before: ChartDocument, after: ChartDocument) -> tuple[Kit, ...]:
    """What shows a mouth, and what the host calls it, stays with it under its new name."""
    if len(before.mouths) != len(after.mouths):
        return kits
    names = [(old.name, new.name) for old, new in zip(before.mouths, after.mouths, strict=True) if old.name != new.name]
    if len(names) != 1:  # moved, and not renamed
        return kits
    return tuple(with_renamed_mouth(kit, *names[0]) for kit in kits)


@dataclass(frozen=True, slots=True)
class IgnoreIssues(TakeEdit):
    """Leave findings of the checks as they are, and say no more of them."""

    TITLE = N_("Ignore an issue")
    TOUCHES = Touched.NOTES

    issues: tuple[IgnoredIssue, ...]

    def on(self, take: Take, _state: State) -> Take:
        return replace(take, ignored=(*take.ignored, *self.issues))


@dataclass(frozen=True, slots=True)
class PutNote(TakeEdit):
    """Write a note at a stretch of time, in the place of one that begins there; an empty one takes it away."""

    TITLE = N_("Note")
    TOUCHES = Touched.NOTES

    span: Span
    text: str

    def on(self, take: Take, _state: State) -> Take:
        others = [note for note in take.notes if abs(note.span.start - self.span.start) > _SAME]
        written = [Note(self.span, whole_text(self.text))] if self.text else []
        return replace(take, notes=tuple(sorted((*others, *written), key=lambda note: note.span)))
