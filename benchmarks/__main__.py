"""Runs the benchmarks, or those named: ./run bench [align] [ablation] [loose] [languages] [recording] [window] ...

BAR name value unit limit ok|short, and for each time
REL name value python-kernels: in units of how fast this machine is, which MACHINE says
"""

import importlib
import subprocess
import sys

from benchmarks.report import tell_machine

NAMES = (
    "align",
    "acted",
    "ablation",
    "loose",
    "languages",
    "recording",
    "window",
    "project",
    "mouths",
    "hand",
    "kits",
    "own_drawings",
    "motion",
    "loudness",
    "scenes",
    "export",
)
LONG = ("hour", "faults", "batch", "scale", "thresholds")  # only when named


def main() -> None:
    names = sys.argv[1:] or NAMES
    for name in names:
        if name not in NAMES + LONG:
            sys.exit(f"no benchmark {name!r}; there are {', '.join(NAMES + LONG)}")
    if len(names) == 1:
        tell_machine()
        importlib.import_module(f"benchmarks.{names[0]}").run()
        return
    for name in names:  # each in a process of its own: what one leaves in memory is nothing to the next
        subprocess.run([sys.executable, "-m", "benchmarks", name], check=True)


if __name__ == "__main__":
    main()
