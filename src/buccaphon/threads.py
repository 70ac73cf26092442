"""How many threads share the work of one line."""

import os

_NAME = "BUCCAPHON_THREADS"
_USUAL = 2


def threads() -> int:
    """Two, or what the environment says: one, where other processes work on other lines."""
    told = os.environ.get(_NAME, "")
    return max(int(told), 1) if told.isdecimal() else _USUAL


def work_alone() -> None:
    """One thread from now on in this process."""
    os.environ[_NAME] = "1"
