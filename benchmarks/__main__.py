"""Runs the benchmarks, or those named: ./run bench [align] [ablation] [loose] [languages] [recording] [window] ...

BAR name value unit limit ok|short, and for each time
REL name value python-kernels: in units of how fast this machine is, which MACHINE says
"""

import importlib
import sys

from benchmarks.report import tell_machine

NAMES = ("align", "ablation", "loose", "languages", "recording", "window", "project", "mouths")
LONG = ("hour", "faults")  # only when named


def main() -> None:
    tell_machine()
    for name in sys.argv[1:] or NAMES:
        if name not in NAMES + LONG:
            sys.exit(f"no benchmark {name!r}; there are {', '.join(NAMES + LONG)}")
        importlib.import_module(f"benchmarks.{name}").run()


if __name__ == "__main__":
    main()
