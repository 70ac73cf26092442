"""Delivery: all formats of times of thirty seconds, sixty channels of ten minutes at 60, the printed sheet, a film while the
window lives, and how well what is sent live keeps its time."""

import os
import tempfile
import threading
import time
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtWidgets import QApplication

from benchmarks.mouths import again_and_again, repeated
from benchmarks.project import settle
from benchmarks.report import bar, best
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.live.peer import Peer
from buccaphon.app.session.jobs import Slot
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.formats.pictures import Paper
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.motion.mixes import Mix
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.speech.script import script_words
from buccaphon.timing import FrameRate, Span

_TIMES = ("textgrid", "srt", "vtt", "timings-json", "timings-csv", "cues", "otio", "keys-json", "keys-csv")


def run() -> None:
    app = QApplication.instance() or QApplication([])
    line = read_recording(recording_path())
    score = align(AlignmentRequest(line, script_words(script_text())))
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        short = delivered(line, score, 30.0, "24")
        bar("export.times_of_30_s", sum(written(short, ident, place) for ident in _TIMES), "s", 0.5)
        long = delivered(line, score, 600.0, "60", sixty=True)
        for ident in ("glb", "usda"):
            bar(f"export.{ident}_60_channels_10_min", written(long, ident, place, runs=3), "s", 1.5)
        in_the_window(app, line, score, place)


def delivered(line, score, seconds: float, rate: str, *, sixty: bool = False):
    """A line of so many seconds; with sixty channels, all of which a host's shapes follow."""
    sound = again_and_again(line, seconds)
    count = 50 if sixty else 0
    mixes = tuple(Mix(f"m{n}", (("jaw", 0.5 + n / 100), ("spread", 0.3), ("round", -n / 50))) for n in range(count))
    take = Take(recording_path(), score=repeated(score, seconds))
    return deliver(
        one_line((take,), rate=FrameRate.parse(rate), mixes=mixes), Derived(sound, build_peaks(sound)), "line"
    )


def written(delivery, ident: str, place: Path, runs: int = 5) -> float:
    """Seconds for making and writing one file anew."""
    form, there = format_named(ident), replace(delivery, place=place / "line")

    def work() -> None:
        for path in place.glob("line*"):
            path.unlink()
        write_files(form.files(there), place)

    return best(work, runs)


def in_the_window(app, line, score, place: Path) -> None:
    window = make_window(SimulatedDevice())
    window.resize(1280, 800)
    window.show()
    window.session.opening.open_prepared(demo_project())
    settle(app, window)
    while window.document.score is None or window.session.jobs.busy():
        app.processEvents()
    window.document.apply(ChangeTake(used=Span(0.0, 10.0)))
    settle(app, window)
    window.session.exporting.put(ExportList((Entry("mp4"),), str(place), each=False), "A film")
    gaps, start = [], time.perf_counter()
    window.session.exporting.export()
    last = time.perf_counter()
    while window.session.jobs.busy(Slot.EXPORT):
        app.processEvents()
        now = time.perf_counter()
        gaps.append(now - last)
        last = now
        time.sleep(0.001)
    bar("export.film_10_s", time.perf_counter() - start, "s", 15)
    bar("export.window_stands_still", 1000 * max(gaps), "ms", 50)
    live(app, window)
    sound = again_and_again(line, 600.0)
    state = one_line((Take(recording_path(), score=repeated(score, 600.0)),))
    derived = Derived(sound, build_peaks(sound))
    sheet = replace(deliver(state, derived, "line"))
    pictures = window.session.exporting.studio.pictures(sheet, derived.peaks)
    bar("export.sheet_pdf_10_min", best(lambda: pictures.sheet(Paper.A4, False), 3), "s", 3)
    window.document.project.settle()
    window.close()
    window.session.shut_down()


def live(app, window) -> None:
    """How far from the time in its tag each bundle comes, as far as it comes late; and whether all come, in order."""
    heard = []
    peer = Peer(lambda bundle, when: heard.append((bundle, when)))
    peer.start()
    sending, player = window.session.sending, window.document.player
    sending.set_address(f"127.0.0.1:{peer.port}/line")
    sending.switch_on()
    player.seek(0.0)
    player.play()
    while player.playing:
        app.processEvents()
        time.sleep(0.002)
    time.sleep(0.2)
    sending.switch_off()
    peer.finish()
    tagged = [(bundle, when) for bundle, when in heard if bundle.seconds]
    frames = [message.arguments[0] for b, _ in tagged for message in b.messages if message.address.endswith("/frame")]
    late = np.array([when - bundle.seconds for bundle, when in tagged])
    bar("export.osc_late_p95", 1000 * max(np.percentile(late, 95), 0.0), "ms", 5)
    steps = np.abs(np.diff([bundle.seconds for bundle, _ in tagged]) - 1 / 24)
    bar("export.osc_step_p95", 1000 * np.percentile(steps, 95), "ms", 5)
    whole = window.document.state.rate.nearest(10.0)
    bar("export.osc_frames_heard", len(set(frames)) / whole, "share", 0.98, at_least=True)
    assert frames == sorted(frames)
    assert threading.active_count() < 30
