"""Mouths: choosing them for ten minutes, finding marks, opening the chart's page, scrolling the exposure sheet of an hour."""

import os
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtWidgets import QApplication

from benchmarks.report import bar, best
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.commands.desk import View
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.checks.facts import Facts
from buccaphon.checks.finding import find_issues
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.choosing import choose_mouths
from buccaphon.mouths.passages import part_into_passages
from buccaphon.mouths.settings import MouthSettings, SettingsTrack
from buccaphon.project.derived import Derived
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import shifted
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.timing import FrameRate, Span

_TEN_MINUTES, _HOUR = 600.0, 3600.0


def run() -> None:
    line = read_recording(recording_path())
    score = align(AlignmentRequest(line, script_words(script_text())))
    ten = repeated(score, _TEN_MINUTES)
    for rate, hold in (("24", 1), ("24", 2), ("60", 1)):
        bar(f"mouths.choose_ten_minutes_{rate}_{hold}", choosing(ten, rate, hold), "s", 0.15)
    sound = again_and_again(line, _TEN_MINUTES)
    derived = Derived(sound, build_peaks(sound))
    state = one_line((Take(recording_path(), score=ten),))
    baked = derived.bake(state)
    bar(
        "mouths.marks_ten_minutes",
        1000 * best(lambda: find_issues(Facts(state, baked, Span(0, ten.duration)))),
        "ms",
        100,
    )
    in_the_window(score, line)


def again_and_again(line: Recording, seconds: float) -> Recording:
    """A line again and again, for so long."""
    return Recording(np.resize(line.mono, round(seconds * line.rate))[:, None], line.rate, f"{seconds:.0f} s")


def repeated(score: Score, seconds: float) -> Score:
    """A score again and again, for so long."""
    words, at = [], 0.0
    while at + score.duration <= seconds:
        words += shifted(score, at, seconds).words
        at += score.duration
    return Score(tuple(words), seconds)


def choosing(score: Score, rate_text: str, hold: int) -> float:
    rate, mouth_settings, chart = FrameRate.parse(rate_text), SettingsTrack(MouthSettings(hold=hold)), find_chart("Ten")
    grid = mouth_settings.grid(rate.covering(score.duration), rate)

    def work() -> None:
        choose_mouths(part_into_passages(score, rate, grid, mouth_settings), chart, rate, grid, mouth_settings)

    return best(work)


def in_the_window(score: Score, line: Recording) -> None:
    app = QApplication.instance() or QApplication([])
    window = make_window(SimulatedDevice(lambda: 0.0))
    window.resize(1280, 800)
    window.show()
    window.session.opening.open_prepared(demo_project())
    while window.document.score is None or window.session.jobs.busy():
        app.processEvents()
    start = time.perf_counter()
    window.show_view(View.SPECIMEN)
    app.processEvents()
    window.specimen.grab()
    bar("mouths.open_specimen", 1000 * (time.perf_counter() - start), "ms", 100)
    window.show_view(View.GALLEY)
    hour = again_and_again(line, _HOUR)
    take = Take(recording_path(), score=repeated(score, _HOUR))
    window.document.project.state = one_line((take,))
    window.document.take_sound(Derived(hour, build_peaks(hour)))
    window.show_view(View.SHEET)
    app.processEvents()
    scroll, taken = window.sheet.verticalScrollBar(), []
    for step in range(120):
        start = time.perf_counter()
        scroll.setValue((step * 977) % scroll.maximum() if step % 10 == 0 else scroll.value() + 60)
        app.processEvents()
        taken.append(time.perf_counter() - start)
    bar("mouths.sheet_scroll_hour_p95", 1000 * float(np.percentile(taken, 95)), "ms", 16)
    window.document.project.settle()
    window.close()
