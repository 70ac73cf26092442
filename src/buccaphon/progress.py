"""Progress reports and cancelling."""

from collections.abc import Callable

Progress = Callable[[float, str], bool]
"""Is given the share that is done, 0..1, and what is being done; False asks the work to stop, which then raises Cancelled."""


def no_progress(_share: float, _what: str) -> bool:
    """For work that nobody follows: it is never asked to stop."""
    return True
