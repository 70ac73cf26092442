"""A character's own drawings: how soon they are sorted, by names and by pictures, and how well few of them are used."""

import os
import tempfile
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtWidgets import QApplication

from benchmarks.report import bar, best
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.kits.casting import with_drawings
from buccaphon.kits.kit import Drawn, Kit, OtherFile
from buccaphon.kits.own.entries import Entry
from buccaphon.kits.own.looks import VOWELS
from buccaphon.kits.own.sorting import sort_drawings
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.pixels import from_array
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.speech.script import script_words

WIDTH, HEIGHT = 1440, 1920
SIZES = ((360, 16), (360, 400), (180, 200), (520, 160), (360, 200), (380, 90), (240, 330), (150, 150), (420, 240), (300, 120),
         (460, 300), (200, 260), (330, 60))  # fmt: skip  # pixels of thirteen mouths, the first shut
MOUTHS, WAYS = ("A", "E", "O", "U", "MBP", "FV", "L", "S", "R", "rest"), ("plain", "happy", "sad")
MOODS = [f"{mouth}_{mood}" for mouth in MOUTHS for mood in WAYS]
FEW = ("zu auf", "closed half open", "u w o ai r lth tds mbp e", "A E I O U L R S W MBP FV TH rest")


def run() -> None:
    _app = QApplication.instance() or QApplication([])
    bar("own.thirty_names", 1000 * best(partial(sort_drawings, [Entry(name) for name in MOODS])), "ms", 30)
    with tempfile.TemporaryDirectory() as folder:
        numbered = drawings(Path(folder))
        bar("own.read_thirteen_numbered", best(partial(read_folder, numbered), 3), "s", 3.0)
        bar(
            "own.shut_one_rests", float(kit_of(read_folder(numbered)).table.rest.name == "1"), "share", 1, at_least=True
        )
    wrong = sum(shut_vowels(names.split()) for names in FEW)
    bar("own.vowels_on_shut_lips", wrong, "sounds", 0)
    open_share()


def drawings(folder: Path) -> Path:
    """Mouths as ellipses on large clear drawings, named by numbers alone."""
    ys, xs = np.mgrid[:HEIGHT, :WIDTH]
    x, y = xs - WIDTH / 2, ys - 1300
    for number, (wide, high) in enumerate(SIZES, 1):
        picture = np.zeros((HEIGHT, WIDTH, 4), np.uint8)
        for less, color in ((0, (40, 10, 10)), (8, (90, 20, 30))):
            inside = (x / max(wide / 2 - less, 1)) ** 2 + (y / max(high / 2 - less, 1)) ** 2 <= 1
            picture[inside] = (*color, 255)
        from_array(picture).save(str(folder / f"{number}.png"))
    return folder


def kit_of(art: Artwork) -> Kit:
    return with_drawings(Kit("own", OtherFile(Path("own")), Drawn()), art.all, has_mouth=art.has_mouth)


def named(names: list[str]) -> Kit:
    found = sort_drawings([Entry(name) for name in names])
    return with_drawings(Kit("own", OtherFile(Path("own")), Drawn()), list(found.drawings.values()), has_mouth=False)


def shut_vowels(names: list[str]) -> int:
    table = named(names).table
    shut = {row.name for row in table.mouths if row.shut}
    return sum(table.answers[sound].name in shut for sound in VOWELS)


def open_share() -> None:
    """Of the demo's line: how long two drawings stand open with chart Ten, beside chart Flap, which is made for two."""
    recording = read_recording(recording_path())
    score = align(AlignmentRequest(recording, script_words(script_text())))
    state = TakeAlignment(score, script_text()).apply(demo_project().state)
    state = PutKit(named(["closed", "open"])).apply(state)
    derived, shares = Derived(recording, build_peaks(recording)), {}
    for chart in ("Ten", "Flap"):
        delivery = deliver(state.with_role(chart=chart), derived, "line")
        bake = delivery.bake
        assert bake is not None
        shown = [delivery.called(e.mouth) for e in bake.exposures for _ in range(e.length)]
        shares[chart] = shown.count("open") / len(shown)
    bar("own.open_share_beside_flap", abs(shares["Ten"] / shares["Flap"] - 1), "share", 0.1)
