"""Characters: how soon the first picture is there, how long the window stands still meanwhile, the mirror's repaint, the
matching of names, and the memory of large drawings."""

import os
import tempfile
import time
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication

from benchmarks.report import bar, best
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.app.window.window import MainWindow
from buccaphon.demo.line import demo_project
from buccaphon.kits.model.head import Head, Part
from buccaphon.kits.model.skeleton import Skeleton
from buccaphon.kits.names.matching import match_chart, match_pose
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.characters.light import Polygons, renderer_of
from buccaphon.project.edits.kits import UseKit

NAMES = ("rest", "mbp", "fv", "th", "s", "uh", "ah", "ee", "oh", "oo")
LISTS = (
    [f"mouth_{name}" for name in NAMES],
    [f"viseme_{n:02d}" for n in range(15)],
    [
        "jawOpen",
        "mouthClose",
        "mouthFunnel",
        "mouthPucker",
        "mouthSmileLeft",
        "mouthSmileRight",
        "tongueOut",
        "browDown",
    ],
    [f"Face_M_{name}" for name in ("A", "I", "U", "E", "O", "Close")] + [f"Face_E_{n}" for n in range(46)],
)
_RGBA = QImage.Format.Format_RGBA8888
_REFRESH = 1 / 60  # seconds


def run() -> None:
    app = QApplication.instance() or QApplication([])
    matching()
    with tempfile.TemporaryDirectory() as folder:
        first_picture(app, drawings(Path(folder) / "hd", 1920, 1080))
        large = read_folder(drawings(Path(folder) / "uhd", 3840, 2160))
        bar("kits.memory_ten_4k", large.size_in_bytes / 1e6, "MB", 150)
    mirror(app)


def drawings(folder: Path, width: int, height: int) -> Path:
    """Ten PNG of a painted mouth each, with grain as paint has it, and nothing cropped away."""
    folder.mkdir()
    rng = np.random.default_rng(1)
    grain = rng.integers(0, 60, (height // 3, width // 3, 4), dtype=np.uint8)
    for number, name in enumerate(NAMES):
        image = QImage(width, height, QImage.Format.Format_ARGB32)
        image.fill(0)
        painter = QPainter(image)
        wide, high = width // 3, height // 3
        painter.drawImage(wide, height // 2, QImage(grain.tobytes(), wide, high, 4 * wide, _RGBA))
        painter.fillRect(width // 3, height // 2, 200 + 20 * number, 100, QColor("#902030"))
        painter.fillRect(0, 0, 4, 4, QColor("#102030"))
        painter.fillRect(width - 4, height - 4, 4, 4, QColor("#102030"))
        painter.end()
        image.save(str(folder / f"{name}.png"))
    return folder


def matching() -> None:
    ten = shipped_charts()["Ten"]
    match_chart(list(LISTS[0]), ten)  # the library that assigns is loaded once
    ways = [partial(way, each) for each in LISTS for way in (match_pose, partial(match_chart, chart=ten))]
    slowest = max(map(best, ways))
    bar("kits.match_list", 1000 * slowest, "ms", 10)


def first_picture(app: QApplication, folder: Path) -> None:
    """Ten drawings brought into the window: until the first is seen, and the longest time that the window stood still."""
    window = opened(app)
    still = []
    start = last = time.perf_counter()
    window.open(folder)
    while window.session.characters.kit is None or window.session.characters.kit.name != folder.name:
        app.processEvents()
        now = time.perf_counter()
        still.append(now - last)
        last = now
        time.sleep(0.001)
    window.mirror.face.repaint()
    bar("kits.first_picture_ten_hd", time.perf_counter() - start, "s", 1.0)
    for _ in range(50):
        begun = time.perf_counter()
        app.processEvents()
        still.append(time.perf_counter() - begun)
    bar("kits.window_stands_still", 1000 * max(still), "ms", 50)
    shut(window)


def mirror(app: QApplication) -> None:
    """Repaints of the face frame by frame, for each kind; and how many mouths came later than one refresh."""
    window = opened(app)
    document, face = window.document, window.mirror.face
    for kit, limit in (("drawn", 4), ("cut-out", 6), ("head", 16)):
        document.apply(UseKit(f"Marigold, {kit}"))
        settle(app, window)
        bake = document.bake()
        times = []
        for frame in range(bake.frames):
            document.player.seek(bake.rate.seconds(frame + 0.5))
            start = time.perf_counter()
            face.repaint()
            times.append(time.perf_counter() - start)
        bar(f"kits.mirror_{kit.replace('-', '_')}_p95", 1000 * float(np.percentile(times, 95)), "ms", limit)
        bar(f"kits.late_{kit.replace('-', '_')}", 100 * float(np.mean(np.array(times) > _REFRESH)), "%", 1)
    shut(window)
    head_of(4000)


def head_of(triangles: int) -> None:
    """A model of so many triangles with 52 shapes, by OpenGL and by the painter."""
    side = round((triangles / 2) ** 0.5) + 1
    u, v = np.meshgrid(np.linspace(-np.pi, np.pi, side), np.linspace(0.05, np.pi - 0.05, side))
    points = np.stack([np.sin(v) * np.sin(u), np.cos(v), np.sin(v) * np.cos(u)], -1).reshape(-1, 3).astype(np.float32)
    at = np.arange(side * side).reshape(side, side)
    a, b, c, d = (x.ravel() for x in (at[:-1, :-1], at[1:, :-1], at[:-1, 1:], at[1:, 1:]))
    corners = np.concatenate([np.stack([a, b, c], 1), np.stack([c, b, d], 1)]).astype(np.uint32)
    rng = np.random.default_rng(2)
    moved = tuple(np.sort(rng.choice(len(points), len(points) // 5, replace=False)) for _ in range(52))
    deltas = tuple((0.05 * rng.normal(size=(len(m), 3))).astype(np.float32) for m in moved)
    names = tuple(f"shape {n}" for n in range(52))
    part = Part(0, points, corners, (0.8, 0.6, 0.4), moved, deltas, names, None)
    head = Head((part,), Skeleton(("root",), (np.eye(4),), (-1,)), names, {}, None, False)
    weights = dict.fromkeys(names, 0.3)
    view = np.eye(4, dtype=np.float32)
    for name, renderer, limit in (("gl", renderer_of(head), 16), ("painter", Polygons(head), 2000 * _REFRESH)):
        times = []
        for _ in range(40 if name == "gl" else 8):
            start = time.perf_counter()
            renderer.draw(head.pose(weights), view, 262, 230, finer=False)
            times.append(time.perf_counter() - start)
        bar(f"kits.model_4000_{name}_p95", 1000 * float(np.percentile(times, 95)), "ms", limit)


def opened(app: QApplication) -> MainWindow:
    window = make_window(SimulatedDevice())
    window.resize(1280, 800)
    window.show()
    window.session.opening.open_prepared(demo_project())
    settle(app, window)
    return window


def settle(app: QApplication, window: MainWindow) -> None:
    while window.session.jobs.busy() or window.document.score is None:
        app.processEvents()
        time.sleep(0.002)
    for _ in range(20):
        app.processEvents()
        time.sleep(0.01)


def shut(window: MainWindow) -> None:
    window.document.project.settle()
    window.close()
