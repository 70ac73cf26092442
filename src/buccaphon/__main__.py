"""The program's entry: `buccaphon`, or `python -m buccaphon`."""

import sys


def run() -> None:
    """Ctrl+C is told in a sentence even while the program is still being loaded."""
    try:
        from buccaphon.cli import main  # noqa: PLC0415

        main()
    except KeyboardInterrupt:
        print("buccaphon: stopped; nothing was written.", file=sys.stderr)
        sys.exit(2)


if __name__ == "__main__":
    run()
