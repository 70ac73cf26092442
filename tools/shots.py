"""Refresh docs/screenshots from the demo: ./run shots"""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
DIFFERENT = (
    "MARIGOLD: Warm plums, and ripe yellow pears! Five for a farthing, or four if you're fussy. Buy my beets, my marrows, "
    "my best beans, before the moon goes over the roof. Who would want more?"
)
SHOTS = {
    "take": {"STEP": "Take"},
    "script": {"STEP": "Script"},
    "pronunciation": {"STEP": "Script", "WORD": "24"},
    "palette": {"STEP": "Script", "COMMANDS": "palette"},
    "night": {"STEP": "Script", "COMMANDS": "night spectrum"},
    "findings": {"STEP": "Script", "SCRIPT": DIFFERENT},
    "selection": {"STEP": "Mouths", "AT": "2.0", "COMMANDS": "select-same"},
    "mouths": {"STEP": "Mouths", "AT": "3.4", "COMMANDS": " ".join(["hold-longer"] * 9 + ["hold-2-here", "next-mark"])},
    "specimen": {"STEP": "Mouths", "COMMANDS": "specimen"},
    "sheet": {"STEP": "Mouths", "AT": "1.2", "COMMANDS": "sheet"},
    "character": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page"},
    "cut_out": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page next-kit"},
    "head": {"STEP": "Mouths", "AT": "1.3", "COMMANDS": "kit-page next-kit next-kit"},
    "export": {"STEP": "Export"},
}


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:  # nobody's settings, and none left behind
        for name, wanted in SHOTS.items():
            target = FOLDER / f"{name}.png"
            environment = os.environ | {
                "QT_QPA_PLATFORM": "offscreen",
                "XDG_CONFIG_HOME": f"{home}/{name}",
                "XDG_DATA_HOME": f"{home}/{name}",
                "BUCCAPHON_SHOT": str(target),
                **{f"BUCCAPHON_SHOT_{key}": value for key, value in wanted.items()},
            }
            subprocess.run([sys.executable, "-m", "buccaphon", "demo"], env=environment, check=True)
            print(target)


if __name__ == "__main__":
    main()
