"""How much each number in the numerics matters: the same measure with it a fifth less and a quarter more.

Lines aligned against exact onset times (clean, under pink noise at 10 dB, in a room with 0.4 s of reverberation), mouths and
motion of the demo's line against themselves. Of a folder named by BUCCAPHON_SPEECH (every sixth line of it) it writes
docs/thresholds.md. What a number is for is said beside it, in the module; whoever changes one compares with this page.
"""

import ast
import json
import os
import re
import sys
from collections.abc import Callable, Iterable, Iterator
from contextlib import ExitStack
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules
from unittest.mock import patch

import numpy as np

from benchmarks.ablation import aligned, clean, in_a_room, noisy
from benchmarks.align import FOLDER, errors, reference
from buccaphon.alignment.aligner import align
from buccaphon.alignment.hearing import forget_what_was_heard
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.checks.facts import Facts
from buccaphon.checks.finding import find_issues
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.kits.names.matching import match_chart, match_pose
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.settings import MouthSettings
from buccaphon.project.derived import Derived
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.state import State
from buccaphon.speech.script import script_words
from buccaphon.timing import FrameRate, Span

PAGE = Path(__file__).parents[1] / "docs" / "thresholds.md"
FOLDER_OF_TESTS = Path(__file__).parents[1] / "tests" / "data"
LESS, MORE = 0.8, 1.25
_FIXED = re.compile(
    r"(RATE|HOP|FFT|BANDS|STATES|CEPSTRA|BLOCK|AT_ONCE|BITS|FRAMES?_SECONDS|MOST_(CHANNELS|MIXES|POINTS)|TICK)$"
)


_HEAD = """# What each number in the numerics does

<!-- Written by `BUCCAPHON_SPEECH=folder ./run bench thresholds`. -->

The same measure as shipped, with the number a fifth less, and with it a quarter more. What a number is for is said beside it
in its module, with its unit. Where nothing changes, the number is a bound against rare or hostile input, a matter of speed,
or these recordings do not reach it; on strangers' voices others may count.
"""


@dataclass(frozen=True)
class Threshold:
    """A number of a module: its name there, its value, and what stands beside it."""

    module: str
    name: str
    value: float
    why: str


def thresholds(room: str) -> Iterator[Threshold]:
    """The numbers of a room's modules that could be others, in the order of the source."""
    package = import_module(f"buccaphon.{room}")
    for found in sorted(iter_modules(package.__path__), key=lambda each: each.name):
        name = f"buccaphon.{room}.{found.name}"
        path = Path(import_module(name).__file__ or "")
        text = path.read_text("utf-8")
        for node in ast.parse(text).body:
            if isinstance(node, ast.Assign) and node.lineno == node.end_lineno:
                _code, _sign, why = text.splitlines()[node.lineno - 1].partition("#")
                for each, value in _numbers(node):
                    yield Threshold(name, each, value, why.strip())


def _numbers(node: ast.Assign) -> Iterator[tuple[str, float]]:
    try:
        value = ast.literal_eval(node.value)
    except ValueError:
        return  # made from others
    target = node.targets[0]
    targets, values = (target.elts, value) if isinstance(target, ast.Tuple) else ([target], [value])
    names = [each.id for each in targets if isinstance(each, ast.Name)]
    for name, each in zip(names, values, strict=True):
        is_number = isinstance(each, int | float) and not isinstance(each, bool)
        if is_number and name.isupper() and not _FIXED.search(name):
            yield name, each


def with_it(one: Threshold, factor: float) -> ExitStack:
    """The number times a factor, wherever it is known by its name."""
    value = one.value * factor
    if isinstance(one.value, int):
        value = max(round(value), 1) if round(value) != one.value else one.value + (1 if factor > 1 else -1)
    stack = ExitStack()
    for module in list(sys.modules.values()):
        if (module.__name__ or "").startswith("buccaphon.") and vars(module).get(one.name) == one.value:
            stack.enter_context(patch.object(module, one.name, value))
    return stack


# --- measures --------------------------------------------------------------------------------------------------------------


@cache
def _lines() -> list[tuple]:
    paths = sorted(FOLDER.glob("*.flac"))
    return [
        (
            spoil(read_recording(path), n),
            path.with_suffix(".txt").read_text("utf-8"),
            reference(path.with_suffix(".phones.csv")),
        )
        for n, path in enumerate(paths[:: 6 if len(paths) > 12 else 1])
        for spoil in (clean, noisy, in_a_room)
    ]


def of_alignment() -> str:
    """Mean error of onsets in milliseconds, and the share of them within a frame at 24 fps."""
    forget_what_was_heard()
    sizes = 1000 * np.abs(errors(list(aligned(_lines())), [truth for *_, truth in _lines()]))
    return f"{sizes.mean():.2f} ms, {np.mean(sizes < 41.7):.4f}"


@cache
def _line() -> tuple[State, Derived]:
    sound = read_recording(recording_path())
    score = align(AlignmentRequest(sound, script_words(script_text())))
    return TakeAlignment(score, script_text()).apply(demo_project().state), Derived(sound, build_peaks(sound))


def _bakes() -> list[Bake]:
    """At 24 fps on ones and twos, and at 60."""
    state, derived = _line()
    ways = ((24, 1), (24, 2), (60, 1))
    states = [
        replace(state, rate=FrameRate(Fraction(rate))).with_role(mouth_settings=MouthSettings(hold=hold))
        for rate, hold in ways
    ]
    return [Derived(derived.recording, derived.peaks).bake(each) for each in states]


@cache
def _usual_bakes() -> list[Bake]:
    return _bakes()


def of_mouths() -> str:
    """The share of frames of the demo's line that show another mouth than with the number as it is."""
    usual, now = (
        [each.mouth for bake in bakes for each in bake.exposures for _ in range(each.length)]
        for bakes in (_usual_bakes(), _bakes())
    )
    return f"{np.mean([a != b for a, b in zip(usual, now, strict=True)]):.1%}"


def of_motion() -> str:
    """The largest change of a channel of the pose, of its range."""
    pairs = zip(_usual_bakes(), _bakes(), strict=True)
    return f"{max(float(np.abs(a.channels.values - b.channels.values).max()) for a, b in pairs):.3f}"


def of_checks() -> str:
    """Issues found on the demo's line."""
    state, _derived = _line()
    whole = Span(0.0, state.score.duration if state.score else 0.0)
    return str(sum(len(list(find_issues(Facts(state, bake, whole)))) for bake in _bakes()))


def of_names() -> str:
    """Answers that are wrong, in the tests' lists of hosts' names."""
    wrong = 0
    for case in json.loads((FOLDER_OF_TESTS / "host_names.json").read_text("utf-8")):
        pose = case["to"] == "parts"
        chart = shipped_charts()[case["to"]] if not pose else None
        found = match_pose(case["names"]) if chart is None else match_chart(case["names"], chart)
        first = {match.target: match.name for match in reversed(found.found)}
        wrong += sum(first.get(target) not in right for target, right in case["right"].items() if right)
    return str(wrong)


GROUPS: dict[str, tuple[Callable[[], str], str]] = {
    "mouths": (of_mouths, "frames of the demo's line that show another mouth"),
    "motion": (of_motion, "largest change of a channel on the demo's line, of its range"),
    "checks": (of_checks, "issues on the demo's line"),
    "kits.names": (of_names, "wrong answers in lists of hosts' names"),
    "alignment": (of_alignment, "mean error of onsets, and share within a frame at 24 fps"),
}


def rows(room: str) -> Iterator[str]:
    measure, what = GROUPS[room]
    yield f"\n## {room.capitalize()}\n\nMeasured: {what}. As shipped: {measure()}.\n"
    yield "| module | number | value | what it is | a fifth less | a quarter more |\n|---|---|---|---|---|---|"
    for one in thresholds(room):
        cells = []
        for factor in (LESS, MORE):
            with with_it(one, factor):
                try:
                    cells.append(measure())
                except Exception as problem:  # a number that must fit others: that is the answer
                    cells.append(f"does not work ({type(problem).__name__})")
        yield f"| {one.module.removeprefix('buccaphon.')} | `{one.name}` | {one.value:g} | {one.why} | {' | '.join(cells)} |"


def page(parts: Iterable[str]) -> str:
    """docs/thresholds.md of its parts."""
    return _HEAD + "\n".join(parts) + "\n"


def run() -> None:
    told = []
    for room in GROUPS:
        for row in rows(room):
            print(f"# {row}", flush=True)
            told.append(row)
    if "BUCCAPHON_SPEECH" in os.environ:
        PAGE.write_text(page(told), "utf-8")
