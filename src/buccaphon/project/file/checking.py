"""Validating a project file: every value in range, every word index existing."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

from buccaphon.audio.loudness_settings import require_valid_loudness
from buccaphon.errors import BuccaphonError, ChannelError
from buccaphon.formats.listing import require_valid_list
from buccaphon.motion.followers import MOST_FOLLOWERS, in_order, require_valid_follower
from buccaphon.motion.hand import require_valid_curve
from buccaphon.motion.mixes import MOST_MIXES, require_name
from buccaphon.motion.steps import require_valid_step
from buccaphon.mouths.settings import DEFAULT_SETTINGS
from buccaphon.project.state import MOST_LINES, MOST_ROLES, Line, Role, State, chart_of
from buccaphon.project.take import MOST_CHANNELS, HandWork, Take
from buccaphon.score.records import Score
from buccaphon.setting import require_valid_settings
from buccaphon.speech.languages import find_language
from buccaphon.speech.phones import sound_of
from buccaphon.timing import FURTHEST, Span

_ROUNDING = 1e-6  # seconds


def require_valid(state: State) -> None:
    """Raises ValueError, which names the entry, for what no version of the window could have brought about."""
    require_valid_settings(state)
    if not state.lines or not state.roles:
        raise ValueError("it has no line, or no role")
    if not 0 <= state.open_line < len(state.lines):
        raise ValueError(f"line {state.open_line} is open, but there are {len(state.lines)}")
    if len(state.lines) > MOST_LINES or len(state.roles) > MOST_ROLES:
        raise ValueError(f"it may have at most {MOST_LINES} lines and {MOST_ROLES} roles")
    names = [role.name.casefold() for role in state.roles]
    if len(set(names)) != len(names):
        raise ValueError("two of its roles have the same name")
    kits = [kit.name for kit in state.kits]
    if len(set(kits)) != len(kits):
        raise ValueError("two of its kits have the same name")
    for role in state.roles:
        _require_valid_role(role, state)
    require_valid_list(state.exports)
    for number, line in enumerate(state.lines):
        try:
            _require_valid_line(line)
        except ValueError as problem:
            raise ValueError(f"line {number}: {problem}" if len(state.lines) > 1 else str(problem)) from None


def _require_valid_role(role: Role, state: State) -> None:
    try:
        chart_of(role.chart, state.charts)
    except BuccaphonError as problem:
        raise ValueError(f"{problem.subject}: {problem.reason}") from None
    if role.kit and role.kit not in (kit.name for kit in state.kits):
        raise ValueError(f"the kit “{role.kit}” is selected but does not exist")
    mixes = [mix.name for mix in role.mixes]
    if len(set(mixes)) != len(mixes) or len(mixes) > MOST_MIXES:
        raise ValueError(f"it may have at most {MOST_MIXES} mixes, each with its own name")
    followers = [follower.name for follower in role.followers]
    if len({*mixes, *followers}) != len(mixes) + len(followers) or len(followers) > MOST_FOLLOWERS:
        raise ValueError(f"it may have at most {MOST_FOLLOWERS} followers, each with its own name")
    try:
        for follower in role.followers:
            require_name(follower.name)
            require_valid_follower(follower)
        in_order(role.followers)
        for step in role.steps:
            require_valid_step(step)
    except ChannelError as problem:
        raise ValueError(f"{problem.subject}: {problem.reason}") from None


def _require_valid_line(line: Line) -> None:
    require_valid_settings(line)
    if line.takes and not 0 <= line.shown < len(line.takes):
        raise ValueError(f"take {line.shown} is shown, but there are {len(line.takes)}")
    try:
        find_language(line.language)
    except BuccaphonError as problem:
        raise ValueError(f"{problem.subject}: {problem.reason}") from None
    for number, take in enumerate(line.takes):
        try:
            _require_valid_take(take)
            _require_valid_motion(take)
        except ValueError as problem:
            raise ValueError(f"take {number}: {problem}") from None


def _require_valid_motion(take: Take) -> None:
    try:
        require_valid_loudness(take.loudness_settings)
        for curve in (*take.curves, *(curve for work in take.others for curve in work.curves)):
            require_valid_curve(curve)
    except ChannelError as problem:
        raise ValueError(f"{problem.subject}: {problem.reason}") from None


def _require_valid_take(take: Take) -> None:
    if "\0" in str(take.path):
        raise ValueError("its path contains a character that paths cannot have")
    if isinstance(take.channel, int):
        _within("channel", take.channel, 0, MOST_CHANNELS - 1)
    require_valid_settings(take)
    if take.trim_out is not None:
        _within("trim_out", take.trim_out, take.trim_in, FURTHEST)
    _require_inside("not_speech", take.not_speech)
    _require_inside("notes", (note.span for note in take.notes))
    if len({work.role for work in take.others}) != len(take.others):
        raise ValueError("two of its others are of the same role")
    _require_valid_hand_work(take)
    for work in take.others:
        _require_valid_hand_work(work)
    for lost in take.without_word:
        _within("lost", lost.seconds, -FURTHEST, FURTHEST)
    if take.score is not None:
        _require_valid_score(take.score)
    _require_valid_pins(take)


def _require_valid_hand_work(work: Take | HandWork) -> None:
    _require_inside("left", (left.span for left in work.ignored))
    _require_inside("mouth_ranges", (part.span for part in work.mouth_ranges))
    for before, after in pairwise(work.mouth_ranges):
        _within("start of mouth_ranges", after.span.start, before.span.end - _ROUNDING, FURTHEST)
    for part in work.mouth_ranges:
        part.change.on(DEFAULT_SETTINGS)  # ValueError when it is none
    _require_inside("painted", (paint.span for paint in work.painted))
    _require_inside("blanks", (blank.span for blank in work.blanks))
    if len({curve.channel for curve in work.curves}) != len(work.curves):
        raise ValueError("two of its curves are for the same channel")
    _require_inside("left_over", (piece.span for piece in work.unplaced))


def _require_valid_score(score: Score) -> None:
    _within("duration", score.duration, _ROUNDING, FURTHEST)
    for symbol in {phone.symbol for phone in score.phones()}:
        sound_of(symbol)  # ValueError when it is none
    for phone in score.phones():
        _within("stress", phone.stress, 0, 2)
        _within("confidence", phone.confidence, 0.0, 1.0)
    if score.words:
        _within("start", score.words[0].start, 0.0, score.duration)
        _within("end", score.words[-1].end, 0.0, score.duration + _ROUNDING)


def _require_valid_pins(take: Take) -> None:
    words = take.score.words if take.score else ()
    for pin in take.pins:
        _within("pins", pin.seconds, -_ROUNDING, FURTHEST)
        if not 0 <= pin.boundary.word < len(words):
            raise ValueError(f"a pin sits on word {pin.boundary.word}, but there are {len(words)}")
        _within("phone of a pin", pin.boundary.phone, 0, len(words[pin.boundary.word].phones))


def _require_inside(name: str, spans: Iterable[Span]) -> None:
    for span in spans:
        _within(name, span.start, -_ROUNDING, FURTHEST)
        _within(name, span.end, -_ROUNDING, FURTHEST)


def _within(name: str, value: float, low: float, high: float) -> None:
    if not low <= value <= high:  # what is no number is not within either
        raise ValueError(f"{name} is {str(value)[:20]}, but goes from {low:g} to {high:g}")
