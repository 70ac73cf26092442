"""An hour of 48 kHz stereo in the window: opening, memory, scrolling and zooming; and how soon a key is heard."""

import os
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import soundfile
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication

from benchmarks.report import bar
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.sound.sources import ScrubGrains
from buccaphon.app.start import make_window
from buccaphon.audio.recording import Recording

_RATE, _MINUTES = 48_000, 60


def run() -> None:
    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "hour.wav"
        write_hour(path)
        os.sync()  # or the disk would still be busy with writing it
        decoding = decoding_time(path)
        now = [0.0]
        window = make_window(SimulatedDevice(lambda: now[0]))
        window.resize(1280, 800)
        window.show()
        app.processEvents()
        start = time.perf_counter()
        window.open(path)
        while window.document.recording is None:
            app.processEvents()
            time.sleep(0.002)
        window.grab()
        bar("recording.open_over_decoding", time.perf_counter() - start - decoding, "s", 2)
        while window.session.jobs.busy():
            app.processEvents()
            time.sleep(0.01)
        bar("recording.memory_hour", resident(), "MB", 700)
        scrolled, zoomed = scrolling(app, window), zooming(app, window)
        bar("recording.scroll_p95", 1000 * np.percentile(scrolled, 95), "ms", 16)
        bar("recording.zoom_p95", 1000 * np.percentile(zoomed, 95), "ms", 16)
        bar("recording.memory_after_scrolling", resident(), "MB", 700)
        bar("recording.key_to_sound", first_sample(window, now), "ms", 30)
        bar("recording.scrub_to_sound", grain_delay(), "ms", 20)
        window.document.project.settle()
        window.close()


def write_hour(path: Path) -> None:
    """Noise that swells and pauses like speech."""
    rng = np.random.default_rng(0)
    t = np.arange(_RATE * 60) / _RATE
    swell = np.clip(np.sin(2 * np.pi * 0.31 * t), 0, 1) * (0.6 + 0.4 * np.sin(2 * np.pi * 3.1 * t))
    minute = (0.3 * rng.standard_normal((len(t), 2)).clip(-3, 3) * swell[:, None]).astype(np.float32)
    with soundfile.SoundFile(str(path), "w", _RATE, 2, "PCM_16") as file:
        for _ in range(_MINUTES):
            file.write(minute)


def decoding_time(path: Path) -> float:
    """Decoding and nothing else."""
    start = time.perf_counter()
    with soundfile.SoundFile(str(path)) as file:
        while len(file.read(1 << 18, dtype="float32", always_2d=True)):
            pass
    return time.perf_counter() - start


def resident() -> float:
    """Megabytes of this process that are in memory now."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmRSS"))
    return int(line.split()[1]) / 1024


def scrolling(app, window) -> list[float]:
    bar_down = window.galley.verticalScrollBar()
    taken = []
    for step in range(120):
        start = time.perf_counter()
        bar_down.setValue(bar_down.maximum() // 3 + 53 * step)
        app.processEvents()
        taken.append(time.perf_counter() - start)
    return taken


def zooming(app, window) -> list[float]:
    """Every frame of a zoom, from the gesture to its paint, and of the frames that finish the page after it."""
    taken = []
    for step in range(60):
        start = time.perf_counter()
        window.galley.zoom_at(1.06 if step < 30 else 1 / 1.06, QPoint(300, 300))
        app.processEvents()
        taken.append(time.perf_counter() - start)
        while not window.galley.settled:
            start = time.perf_counter()
            app.processEvents()
            if time.perf_counter() - start > 0.0005:  # a frame, not a look at the clock
                taken.append(time.perf_counter() - start)
    return taken


def first_sample(window, now: list[float]) -> float:
    """Milliseconds of device time until a sample sounds, at the player's own pace."""
    player = window.document.player
    player.seek(60.8)
    player.play()
    begun = now[0]
    while not np.abs(player.device.output).any():
        now[0] += 0.001
        if round((now[0] - begun) * 1000) % player._timer.interval() == 0:
            player.tick()
    player.stop()
    return 1000 * (now[0] - begun)


def grain_delay() -> float:
    """Milliseconds from the hand's move until sound of the new place is in the output."""
    samples = np.concatenate([np.zeros(_RATE), np.full(_RATE, 0.5)]).astype(np.float32)[:, None]
    grains = ScrubGrains(Recording(samples, _RATE, "step"), 0.5)
    grains.read(_RATE // 10)
    grains.aim(1.5)
    heard = np.flatnonzero(grains.read(_RATE // 10)[:, 0] > 0.01)
    return 1000 * heard[0] / _RATE
