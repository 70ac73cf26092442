"""Refresh docs/screenshots from the demo: ./run shots, or some of them: ./run shots motion export"""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import msgspec

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.audio.reading import read_recording
from buccaphon.batch.docket import Marks
from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Outcome
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.motion.followers import Follower, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve
from buccaphon.motion.presets import starting_points
from buccaphon.motion.steps import CloseSilences, FewerKeys, Smooth
from buccaphon.project.edits.channels import PutFollower
from buccaphon.project.edits.exports import SetExports
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve, SetSteps
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.file.store import save_project
from buccaphon.project.standing import Standing
from buccaphon.speech.script import script_words

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
DIFFERENT = (
    "MARIGOLD: Warm plums, and ripe yellow pears! Five for a farthing, or four if you're fussy. Buy my beets, my marrows, "
    "my best beans, before the moon goes over the roof. Who would want more?"
)
_SEEN = (
    "Press is too short for the p of plums",
    "Open is shown in silence",
    "Round and Ajar take turns on every frame",
)
SHOTS = {
    "take": {"STEP": "Take"},
    "script": {"STEP": "Script"},
    "pronunciation": {"STEP": "Script", "WORD": "24"},
    "palette": {"STEP": "Script", "COMMANDS": "palette"},
    "night": {"STEP": "Script", "COMMANDS": "night spectrum"},
    "findings": {"STEP": "Script", "SCRIPT": DIFFERENT},
    "selection": {"STEP": "Mouths", "AT": "2.0", "COMMANDS": "select-same"},
    "mouths": {
        "STEP": "Mouths",
        "AT": "3.4",
        "COMMANDS": " ".join(["hold-longer"] * 9 + ["hold-2-here", "next-issue"]),
    },
    "specimen": {"STEP": "Mouths", "COMMANDS": "specimen"},
    "sheet": {"STEP": "Mouths", "AT": "1.2", "COMMANDS": "sheet"},
    "character": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page"},
    "cut_out": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page next-kit"},
    "head": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page next-kit next-kit"},
    "loudness": {"STEP": "Motion", "COMMANDS": "loudness", "PROJECT": "moving"},
    "followers": {"STEP": "Motion", "COMMANDS": "motion-followers more-lanes", "PROJECT": "moving"},
    "curves": {"STEP": "Motion", "COMMANDS": "motion-drawing", "PROJECT": "moving"},
    "scene": {"STEP": "Script", "AT": "5.0", "COMMANDS": "mirror-company", "DEMO": "scene"},
    "docket": {"STEP": "Take", "COMMANDS": "docket", "PROJECT": "season"},
    "export": {"STEP": "Export", "PROJECT": "moving"},
}


def moving_project(path: Path) -> None:
    """The demo's line, aligned, with followers, a clean-up and something drawn by hand."""
    project, recording = demo_project(), read_recording(recording_path())
    score = align(AlignmentRequest(recording, script_words(script_text())))
    sets = starting_points("aperture")
    followers = (*sets["Lantern that flickers with the voice"], *sets["Puppet jaw, two axes"])
    points = [CurvePoint(at, value) for at, value in ((1.0, 0.15), (1.35, 0.9), (1.65, 0.75), (2.05, 0.1))]
    for edit in (
        TakeAlignment(score, project.state.script),
        *(PutFollower(follower) for follower in followers),
        PutFollower(Follower("cheek", "jaw drop", (0.0, 14.0), (0.0, -5.0), Unit.PIXELS, smoothing=0.04)),
        SetSteps((CloseSilences(), Smooth(frames=1.5), FewerKeys(error=3.0))),
        ChangeLoudness(LoudnessSettings(attack=0.02, release=0.12, response=1.4, floor=-36.0)),
        SetCurve(HandCurve("jaw", tuple(points))),
        SetExports(
            ExportList(tuple(Entry(ident) for ident in ("glb", "keys-json", "sheet-pdf", "mp4", "review")), "host")
        ),
    ):
        project.apply(edit)
    save_project(project.state, path)


def season(first: Path) -> None:
    """A folder of scenes as a batch leaves it, some of which were looked at."""
    folder = first.parent
    folder.mkdir()
    moving_project(first)
    ledger = Ledger(folder)
    for number in range(1, 25):
        path = folder / f"call {number:02}.buccaphon"
        if path != first:
            shutil.copy(first, path)
        issues = tuple(f"{0.8 + 1.3 * n:.2f} s: {_SEEN[(number + n) % len(_SEEN)]}" for n in range(number % 4))
        name, doubts, speakers = path.stem, number % 3, ("Marigold", "Timo")[: 1 + number % 2]
        found = Outcome(name, name, "call.flac", "", 34, doubts, issues, 4.0 + number / 3, (path.name,), path.name)
        ledger.put(msgspec.structs.replace(found, speakers=speakers))
    ledger.close()
    for number, who in ((2, "odile"), (5, "bruno"), (6, "odile"), (9, "odile")):
        Marks(folder, who).put(f"call {number:02}.buccaphon", Standing.LOOKED_AT, 1_796_000_000.0 + 4000 * number)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:  # nobody's settings, and none left behind
        projects = {
            "moving": Path(home) / "stall call.buccaphon",
            "season": Path(home) / "market week" / "call 03.buccaphon",
        }
        moving_project(projects["moving"])
        season(projects["season"])
        for name, wanted in SHOTS.items():
            if len(sys.argv) > 1 and name not in sys.argv[1:]:
                continue
            target = FOLDER / f"{name}.png"
            environment = os.environ | {
                "QT_QPA_PLATFORM": "offscreen",
                "XDG_CONFIG_HOME": f"{home}/{name}",
                "XDG_DATA_HOME": f"{home}/{name}",
                "BUCCAPHON_SHOT": str(target),
                **{f"BUCCAPHON_SHOT_{key}": value for key, value in wanted.items()},
            }
            what = ["open", str(projects[wanted["PROJECT"]])] if "PROJECT" in wanted else ["demo"]
            what += ["--scene"] if wanted.get("DEMO") == "scene" else []
            subprocess.run([sys.executable, "-m", "buccaphon", *what], env=environment, check=True)
            print(target)


if __name__ == "__main__":
    main()
