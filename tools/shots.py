"""Refresh docs/screenshots from the demo: ./run shots"""

import os
import subprocess
import sys
from pathlib import Path

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
SHOTS = {"take": "Take", "script": "Script", "mouths": "Mouths", "export": "Export"}


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, step in SHOTS.items():
        target = FOLDER / f"{name}.png"
        environment = os.environ | {
            "QT_QPA_PLATFORM": "offscreen",
            "BUCCAPHON_SHOT": str(target),
            "BUCCAPHON_SHOT_STEP": step,
        }
        subprocess.run([sys.executable, "-m", "buccaphon", "demo"], env=environment, check=True)
        print(target)


if __name__ == "__main__":
    main()
