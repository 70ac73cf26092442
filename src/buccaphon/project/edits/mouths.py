"""Edits of how mouths are chosen, and of those painted by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.files import whole_text
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.pose import Pose
from buccaphon.mouths.settings import SettingsChange, SettingsRange
from buccaphon.project.edits import Edit, TakeEdit, Touched
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.texts import N_, _
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class Paint(TakeEdit):
    """Put a mouth on a stretch of time by hand. pose, contact: what it looks like where it comes from, for a chart that has
    none of its name."""

    TOUCHES = Touched.MOUTHS

    span: Span
    mouth: str
    pose: Pose | None = None
    contact: bool = False

    @property
    def default_name(self) -> str:
        return _("Paint {mouth}", mouth=self.mouth)

    def on(self, take: Take, state: State) -> Take:
        found = next((mouth for mouth in state.chart_in_use.mouths if mouth.name == self.mouth), None)
        if found is None and self.pose is None:  # nobody knows what it looks like, and no file could keep it
            return take
        looks = (found.pose, found.contact) if found else (self.pose, self.contact)
        painted = Painted(self.span, whole_text(self.mouth), *looks)
        return replace(take, painted=(*_without(state, self.span), painted))


@dataclass(frozen=True, slots=True)
class Unpaint(TakeEdit):
    """Give a stretch of time back to the machine."""

    TITLE = N_("Reset the mouth")
    TOUCHES = Touched.MOUTHS

    span: Span

    def on(self, take: Take, state: State) -> Take:
        return replace(take, painted=_without(state, self.span))


@dataclass(frozen=True, slots=True)
class Clear(TakeEdit):
    """Take the automatic mouths off a stretch of time; what is painted there stays. holds: each painted mouth stays until the
    next one; else the rest mouth is between them."""

    TITLE = N_("Clear the automatic mouths")
    TOUCHES = Touched.MOUTHS

    span: Span
    holds: bool = False

    def on(self, take: Take, _state: State) -> Take:
        if self.span.length <= 0:
            return take
        blanks = (*_blanks_outside(take, self.span), Blank(self.span, self.holds))
        return replace(take, blanks=tuple(sorted(blanks, key=lambda blank: blank.span)))


@dataclass(frozen=True, slots=True)
class LetChoose(TakeEdit):
    """Have mouths chosen again in a stretch of time that was cleared; what is painted there stays."""

    TITLE = N_("Bring back automatic mouths")
    TOUCHES = Touched.MOUTHS

    span: Span

    def on(self, take: Take, _state: State) -> Take:
        return replace(take, blanks=_blanks_outside(take, self.span))


def _blanks_outside(take: Take, span: Span) -> tuple[Blank, ...]:
    return tuple(replace(blank, span=part) for blank in take.blanks for part in blank.span.outside(span))


@dataclass(frozen=True, slots=True)
class Expose(Edit):
    """A list of mouths, each painted from its frame until the next, the last one until frame `end`. Frames count from 0 at
    the start of the recording, at the scene's rate; of two mouths on one frame the later counts.
    Rows that say the same mouth again, as a sheet has them, make one drawing."""

    TITLE = N_("Paint mouths from a list")
    TOUCHES = Touched.MOUTHS

    mouths: tuple[tuple[int, str], ...]
    end: int

    def apply(self, state: State) -> State:
        every = sorted(dict(self.mouths).items())
        rows = [row for n, row in enumerate(every) if n == 0 or row[1] != every[n - 1][1]]
        if not rows:
            return state
        edges = [*(frame for frame, _ in rows), max(self.end, every[-1][0] + 1)]
        seconds = [state.rate.seconds(frame) for frame in edges]
        for (_rest, mouth), start, end in zip(rows, seconds, seconds[1:], strict=False):
            state = Paint(Span(start, end), mouth).apply(state)
        return state


@dataclass(frozen=True, slots=True)
class ChangeMouthSettings(Edit):
    """Change mouth settings: of the whole line, or of a range of the shown take."""

    TITLE = N_("Change mouth settings")
    TOUCHES = Touched.MOUTHS

    change: SettingsChange
    span: Span | None = None

    def apply(self, state: State) -> State:
        change = self.change.within_ranges()
        if self.span is None:
            return state.with_role(mouth_settings=change.on(state.mouth_settings))
        if state.take is None or self.span.length <= 0:
            return state
        here, at = list[SettingsRange](), self.span.start
        for part in state.take.mouth_ranges:
            if part.span.overlap(self.span) <= 0:
                continue
            inside = Span(max(part.span.start, self.span.start), min(part.span.end, self.span.end))
            if inside.start > at:
                here.append(SettingsRange(Span(at, inside.start), change))
            here.append(SettingsRange(inside, change.over(part.change)))
            at = inside.end
        if at < self.span.end:
            here.append(SettingsRange(Span(at, self.span.end), change))
        return _with_manners(state, state.take, (*_manners_outside(state.take, self.span), *here))


@dataclass(frozen=True, slots=True)
class UseLineSettings(Edit):
    """Choose mouths in a stretch of the shown take as everywhere else."""

    TITLE = N_("Use the line's settings")
    TOUCHES = Touched.MOUTHS

    span: Span

    def apply(self, state: State) -> State:
        return (
            state if state.take is None else _with_manners(state, state.take, _manners_outside(state.take, self.span))
        )


def _manners_outside(take: Take, span: Span) -> tuple[SettingsRange, ...]:
    return tuple(replace(part, span=rest) for part in take.mouth_ranges for rest in part.span.outside(span))


def _with_manners(state: State, take: Take, parts: tuple[SettingsRange, ...]) -> State:
    """In order of time; neighbours that differ alike are one."""
    found: list[SettingsRange] = []
    for part in sorted(parts, key=lambda part: part.span):
        if found and found[-1].change == part.change and found[-1].span.end >= part.span.start:
            found[-1] = SettingsRange(Span(found[-1].span.start, part.span.end), part.change)
        else:
            found.append(part)
    return state.with_take(replace(take, mouth_ranges=tuple(found)))


def _without(state: State, span: Span) -> tuple[Painted, ...]:
    """What is painted outside a span; what lies across its ends is cut there, and gone when less than half a frame is
    left."""
    least = state.rate.seconds(0.5)
    return tuple(
        paint if part == paint.span else replace(paint, span=part)
        for paint in state.painted
        for part in paint.span.outside(span)
        if part == paint.span or part.length >= least
    )
