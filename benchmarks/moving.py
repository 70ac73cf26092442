"""Motion in the window, in ten minutes with twelve followers and four steps: an edit, sliders, a curve under the hand; a take
carried over; memory over many edits; and sixty channels made at once, keys and all."""

import os
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtWidgets import QApplication

from benchmarks.mouths import again_and_again, repeated
from benchmarks.project import opened, settle, ten_minutes
from benchmarks.recording import resident
from benchmarks.report import bar, best
from benchmarks.window import dragging
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.commands.desk import Step
from buccaphon.app.window.window import MainWindow
from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import STALL_CALL_AGAIN, recording_path, script_text
from buccaphon.motion.followers import LOUDNESS, Follower, Shake, Switch, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve, with_point
from buccaphon.motion.keys import kept_of_all
from buccaphon.motion.making import make_channels
from buccaphon.motion.mixes import Mix
from buccaphon.motion.steps import CloseSilences, FewerKeys, LimitSpeed, Smooth
from buccaphon.mouths.laying import Painted
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Edit
from buccaphon.project.edits.channels import PutFollower
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve, SetSteps
from buccaphon.project.edits.takes import CarryOver
from buccaphon.project.project import DEEPEST, Project
from buccaphon.project.state import one_line
from buccaphon.project.take import BoundaryPin, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note
from buccaphon.speech.script import script_words
from buccaphon.timing import FrameRate, Span

_TEN_MINUTES, _EDITS = 600.0, 10_000
_PINS = 200


def run() -> None:
    sixty_channels()
    carried_over()
    in_the_window()


def twelve_followers() -> tuple[Follower, ...]:
    drivers = ("jaw", "aperture", LOUDNESS, "round")
    return tuple(
        Follower(
            f"f{n}",
            drivers[n % 4] if n < 8 else f"f{n - 8}",
            (0.1, 0.7),
            (0.0, 12.0),
            Unit.PIXELS,
            lag=0.03 if n % 2 else 0.0,
            smoothing=0.04 if n % 3 == 0 else 0.0,
            switch=Switch() if n == 5 else None,
            shake=Shake(1.0) if n == 6 else None,
        )
        for n in range(12)
    )


def sixty_channels() -> None:
    """The pose, ten mouths and forty-two mixes of it at 60 frames a second, with the keys of all of them."""
    line = read_recording(recording_path())
    score = align(AlignmentRequest(line, script_words(script_text())))
    sound = again_and_again(line, _TEN_MINUTES)
    peaks = build_peaks(sound)
    mixes = tuple(Mix(f"m{n}", (("jaw", 0.5 + n / 100), ("spread", 0.3), ("round", -n / 50))) for n in range(42))
    take = Take(recording_path(), score=repeated(score, _TEN_MINUTES))
    state = one_line((take,), rate=FrameRate.parse("60"), mixes=mixes)
    warm = Derived(sound, peaks)
    whole = warm.bake(state)

    def keys() -> None:
        kept_of_all(whole.channels.curves, [0.005] * len(whole.channels.of))

    def motion() -> None:
        made = warm._made
        make_channels(made.plan, made.passages, made.bake.exposures)

    bar("motion.bake_60_channels", best(lambda: (motion(), keys()), 3), "s", 0.3)


def carried_over() -> None:
    """Thirty seconds with two hundred things made by hand, to another take."""
    takes = []
    for name in ("stall call", "stall call again"):
        path = recording_path() if name == "stall call" else recording_path(STALL_CALL_AGAIN)
        line = read_recording(path)
        found = align(AlignmentRequest(line, script_words(script_text())))
        takes.append(Take(path, name, score=repeated(found, 30.0 * line.duration / 11.37)))
    score = takes[0].score
    assert score is not None
    words = score.words
    pins = tuple(
        BoundaryPin(Boundary(n % len(words), 0), words[n % len(words)].start) for n in range(min(50, len(words)))
    )
    painted = tuple(Painted(Span(0.5 * n, 0.5 * n + 0.2), "Open") for n in range(50))
    notes = tuple(Note(Span(0.6 * n, 0.6 * n + 0.3), "so") for n in range(40))
    curve = HandCurve("jaw", tuple(CurvePoint(0.4 * n + 0.2, 0.5) for n in range(_PINS - 50 - 40 - len(pins))))
    full = replace(takes[0], pins=pins, painted=painted, notes=notes, curves=(curve,))
    state = one_line((full, takes[1]), shown=1)
    bar("motion.take_carried", 1000 * best(lambda: CarryOver(0).apply(state)), "ms", 50)


def in_the_window() -> None:
    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        window, _ = opened(app, ten_minutes(Path(folder)))
        settle(app, window)
        document = window.document
        _drag_the_threshold(app, window)
        for follower in twelve_followers():
            document.apply(PutFollower(follower))
        document.apply(SetSteps((CloseSilences(), Smooth(), LimitSpeed(), FewerKeys())))
        window.show_step(Step.MOTION)
        document.player.seek(300.0)
        window.galley.show_time(300.0)
        settle(app, window)
        number = document.score.word_at(302.0) or 0
        drag = dragging(app, window, number)
        bar("motion.edit_median", 1000 * np.median(drag), "ms", 10)
        bar("motion.edit_p95", 1000 * np.percentile(drag, 95), "ms", 16)

        first = document.state.followers[0]

        def turn(n: int) -> PutFollower:
            return PutFollower(replace(first, gives=(0.0, 12.0 + 0.1 * n)), first.name, gesture="turn")

        slider = _seen(app, window, turn)
        bar("motion.follower_slider", 1000 * np.median(slider), "ms", 33)
        slider = _seen(app, window, lambda n: ChangeLoudness(LoudnessSettings(floor=-40.0 + 0.2 * n), gesture="drag"))
        bar("motion.loudness_slider", 1000 * np.median(slider), "ms", 33)
        points = tuple(CurvePoint(290 + 0.1 * n, 0.5) for n in range(_PINS))
        document.apply(SetCurve(HandCurve("jaw", points)))
        settle(app, window)

        def move(n: int) -> SetCurve:
            curve = document.state.curve_over("jaw")
            return SetCurve(with_point(curve, replace(curve.points[110], value=0.3 + 0.01 * n)), gesture="draw")

        curve = _seen(app, window, move, 40)
        bar("motion.curve_drag_median", 1000 * np.median(curve), "ms", 10)
        bar("motion.curve_drag_p95", 1000 * np.percentile(curve, 95), "ms", 16)
        window.document.project.settle()
        window.close()
    bar("motion.memory_growth_10000_edits", growth(), "MB", 40)


def _seen(app: QApplication, window: MainWindow, edit: Callable[[int], Edit], count: int = 20) -> list[float]:
    """Seconds that each of some edits takes until the page shows it."""
    taken = []
    for step in range(count):
        start = time.perf_counter()
        window.document.apply(edit(step))
        app.processEvents()
        taken.append(time.perf_counter() - start)
    return taken


def _drag_the_threshold(app: QApplication, window: MainWindow) -> None:
    """With loudness alone, shown over the wave."""
    alone = LoudnessSettings(loudness_only=True)
    window.do("loudness")
    window.document.apply(ChangeLoudness(alone))
    settle(app, window)
    taken = _seen(
        app, window, lambda n: ChangeLoudness(replace(alone, threshold=0.1 + 0.02 * n), gesture="drag the threshold")
    )
    bar("motion.threshold_drag", 1000 * np.median(taken), "ms", 33)
    window.document.apply(ChangeLoudness(LoudnessSettings()))
    window.do("loudness")
    settle(app, window)


def growth() -> float:
    """Megabytes that edits of motion keep in memory once the history is as deep as it gets."""
    take = Take(recording_path(), curves=(HandCurve("jaw", tuple(CurvePoint(0.1 * n, 0.5) for n in range(50))),))
    project = Project(one_line((take,), followers=twelve_followers()))
    before = 0.0
    for step in range(_EDITS):
        if step == DEEPEST + 1000:
            before = resident()
        if step % 2:
            curve = project.state.curve_over("jaw")
            project.apply(SetCurve(with_point(curve, replace(curve.points[step % 50], value=step / _EDITS))))
        else:
            first = project.state.followers[0]
            project.apply(PutFollower(replace(first, gives=(0.0, step / 100)), first.name))
    return resident() - before
