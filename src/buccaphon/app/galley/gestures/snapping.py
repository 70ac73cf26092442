"""What dragged boundaries snap to: on frames, on onsets of energy, on the words beside them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from buccaphon.app.session.document import Document
from buccaphon.audio.onsets import onsets_within
from buccaphon.timing import Span

_NEAR = 3  # pixels


def snap(document: Document, seconds: float, scale: float, beside: Iterable[float] = ()) -> float:
    """A moment brought to the nearest place to rest, if one is near.

    scale: pixels a second. beside: where the words on either side end and start.
    """
    within = _NEAR / scale
    near = [place for place in (*beside, *_resting_places(document, seconds, within)) if abs(place - seconds) <= within]
    return min(near, key=lambda place: abs(place - seconds), default=seconds)


def _resting_places(document: Document, seconds: float, within: float) -> Iterator[float]:
    rate = document.state.rate
    yield rate.seconds(rate.nearest(seconds))
    if document.recording is not None:
        yield from onsets_within(document.recording, Span(seconds - within, seconds + within))
