"""A hand on the mouths: random paintings on four grids are shown on exactly their frames and move nothing else, lists
are exposed exactly, and edits of ten minutes with paint and blanks on them are as quick as without."""

import random
import statistics
import time
from collections.abc import Callable
from dataclasses import replace

from benchmarks.mouths import again_and_again, repeated
from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.demo.line import NIGHT_CALL, STALL_CALL, STALL_CALL_AGAIN, Line, recording_path, script_text
from buccaphon.mouths.exposures import Exposure
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Edit
from buccaphon.project.edits.mouths import Clear, Expose, Paint, Unpaint
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.timing import FURTHEST, FrameRate, Span

GRIDS = (("24", 1), ("24", 2), ("60", 1), ("25", 3))
CHARTS = ("Ten", "Five", "Flap", "Fourteen")
_PAINTINGS, _IN_A_ROW, _LISTS = 250, 3, 60  # on each grid; on a line before it is begun anew
_EDITS = 60
_LEFTOVER = 0.036  # seconds of a neighbour that go to the one beyond


def run() -> None:
    lines = [_line(each) for each in (STALL_CALL, STALL_CALL_AGAIN, NIGHT_CALL)]
    for rate, hold in GRIDS:
        exact, elsewhere, alone = paintings(lines, rate, hold)
        bar(f"hand.shown_on_its_frames_{rate}_{hold}", exact, "", 1.0, at_least=True)
        bar(f"hand.changes_beyond_a_neighbour_{rate}_{hold}", elsewhere, "paintings", 0.5)
        bar(f"hand.given_back_alone_{rate}_{hold}", alone, "", 1.0, at_least=True)
    bar("hand.lists_exposed_exactly", lists(lines), "", 1.0, at_least=True)
    recording, score = lines[0]
    for name, seconds in speed(recording, score).items():
        bar(f"hand.{name}", 1000 * seconds, "ms", 16)


def _line(line: Line) -> tuple[Recording, Score]:
    recording = read_recording(recording_path(line))
    return recording, align(AlignmentRequest(recording, script_words(script_text(line)), language=line.language))


def _row(exposures: tuple[Exposure, ...]) -> list[str]:
    return [each.mouth for each in exposures for _ in range(each.length)]


def _scene(score: Score, rate: str, hold: int, chart: str) -> State:
    state = one_line((Take(recording_path(), score=score),), rate=FrameRate.parse(rate), chart=chart)
    return state.with_role(mouth_settings=replace(state.mouth_settings, hold=hold))


def paintings(lines: list[tuple[Recording, Score]], rate: str, hold: int) -> tuple[float, int, float]:
    """The share that is shown on exactly the frames that were painted, how many changed anything but the neighbours that were
    cut, and the share of frames inside them that Delete gives back alone."""
    hand = random.Random(f"{rate} {hold}")
    exact = elsewhere = alone = done = 0
    while done < _PAINTINGS:
        recording, score = hand.choice(lines)
        state = _scene(score, rate, hold, hand.choice(CHARTS))
        derived = Derived(recording, build_peaks(recording))
        for _ in range(_IN_A_ROW):
            before = _row(derived.bake(state).exposures)
            first = hand.randrange(len(before) - 1)
            end = min(first + hand.choice([1, 1, 2, 3, 5, 9, 20]), len(before))
            mouth = hand.choice(state.chart_in_use.names)
            seconds = state.rate.seconds
            painted = Paint(Span(seconds(first), seconds(end)), mouth).apply(state)
            after = _row(derived.bake(painted).exposures)
            exact += after[first:end] == [mouth] * (end - first)
            changed = [n for n, (a, b) in enumerate(zip(before, after, strict=True)) if a != b and not first <= n < end]
            near = int(_LEFTOVER * float(state.rate.value))
            elsewhere += any(not first - near <= n < end + near for n in changed)
            inside = hand.randrange(first, end)
            given = Unpaint(Span(seconds(inside), seconds(inside + 1))).apply(painted)
            back = _row(derived.bake(given).exposures)
            other = [n for n, (a, b) in enumerate(zip(after, back, strict=True)) if a != b]
            alone += all(inside - near <= n <= inside + near for n in other)
            done += 1
            state = painted
    return exact / done, elsewhere, alone / done


def lists(lines: list[tuple[Recording, Score]]) -> float:
    """The share of lists of ten that are exposed exactly on a blank line."""
    hand, exact = random.Random(7), 0
    for number in range(_LISTS):
        recording, score = lines[number % len(lines)]
        rate, hold = GRIDS[number % len(GRIDS)]
        state = _scene(score, rate, hold, "Ten")
        derived = Derived(recording, build_peaks(recording))
        frames = derived.bake(state).frames
        rows = tuple((frame, hand.choice(state.chart_in_use.names)) for frame in sorted(hand.sample(range(frames), 10)))
        state = Expose(rows, frames).apply(Clear(Span(0.0, FURTHEST)).apply(state))
        wanted = [state.chart_in_use.rest.name] * rows[0][0]
        for (first, mouth), (end, _) in zip(rows, [*rows[1:], (frames, "")], strict=True):
            wanted += [mouth] * (end - first)
        exact += _row(derived.bake(state).exposures) == wanted
    return exact / _LISTS


def speed(line: Recording, score: Score) -> dict[str, float]:
    """Seconds of one edit of ten minutes: the median of some."""
    ten, sound = repeated(score, 600.0), again_and_again(line, 600.0)
    derived = Derived(sound, build_peaks(sound))
    whole = one_line((Take(recording_path(), score=ten),))
    hand = random.Random(3)

    def paint(_number: int) -> Edit:
        at = hand.uniform(1.0, 598.0)
        return Paint(Span(at, at + 0.2), hand.choice(whole.chart_in_use.names))

    def move(number: int) -> Edit:
        return MoveBoundary(Boundary(5 * number + 5, 0), ten.words[5 * number + 5].start + 0.01)

    return {
        "paint_ten_minutes": _timed(derived, whole, paint),
        "paint_blank_ten_minutes": _timed(derived, Clear(Span(0.0, FURTHEST)).apply(whole), paint),
        "move_beside_paint": _timed(derived, Paint(Span(300.0, 300.2), "Open").apply(whole), move),
    }


def _timed(derived: Derived, state: State, edit: Callable[[int], Edit]) -> float:
    derived.bake(state)
    taken = []
    for number in range(_EDITS):
        begun = time.perf_counter()
        state = edit(number).apply(state)
        derived.bake(state)
        taken.append(time.perf_counter() - begun)
    return statistics.median(taken)
