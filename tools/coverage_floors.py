"""Coverage of each room against its floor: `python -m tools.coverage_floors` after `./run test --cov`."""

from __future__ import annotations

import sys
from collections import Counter

from coverage import Coverage

# Percent of statements. Threads of Qt are not traced, so rooms that work in them have a lower one.
_FLOORS = {"app": 92, "painting": 90, "batch": 90, "cli": 94, "kits": 96, "(single modules)": 92}
_FLOOR = 97  # of all other rooms
_SINGLE = "(single modules)"


def main() -> int:
    """Print a line for each room. Returns 1 where one is below its floor."""
    data = Coverage()
    data.load()
    statements, missing = Counter[str](), Counter[str]()
    for file in data.get_data().measured_files():
        _path, lines, _excluded, unseen, _text = data.analysis2(file)
        parts = file.split("/buccaphon/")[-1].split("/")
        room = parts[0] if len(parts) > 1 else _SINGLE
        statements[room] += len(lines)
        missing[room] += len(unseen)
    below = False
    for room in sorted(statements):
        share, floor = 100 * (1 - missing[room] / max(statements[room], 1)), _FLOORS.get(room, _FLOOR)
        below |= share < floor
        print(f"COVERAGE {room:<18} {share:5.1f} % of {statements[room]} statements, floor {floor} %")
    whole = 100 * (1 - missing.total() / max(statements.total(), 1))
    print(f"COVERAGE all                {whole:5.1f} % of {statements.total()} statements")
    return int(below)


if __name__ == "__main__":
    sys.exit(main())
