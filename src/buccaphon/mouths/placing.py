"""Putting a plan on exposures: each boundary on the nearest edge among those that keep every shortest length."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from buccaphon.mouths.segments import Exposed, Kind, Segment, tidied
from buccaphon.mouths.settings import SettingsTrack

_FINE = 0.06  # seconds; on exposures shorter than this a contact may take two
_LONG_ENOUGH = 1.5  # exposures that a contact is planned for to be given two
_GRIP = 8.0  # how much more than others a contact's boundary weighs


class Placed(NamedTuple):
    """A mouth from a cell on, counted from the start of its passage, until the next."""

    mouth: int
    cell: int
    kind: Kind


def place(segments: Sequence[Segment], exposed: Exposed, mouth_settings: SettingsTrack) -> list[Placed]:
    """The segments of a passage on its exposures. Where there is no room for all, the least goes: chosen before rest, before
    stressed vowel, before contact; among equals what reads less, then the shorter."""
    where = [exposed.place(segment.start) for segment in segments]
    found: list[Placed] = []
    at = 0
    while at < len(segments):
        end = at + 1
        while end < len(segments) and segments[end].kind is not Kind.REST:
            end += 1
        low = _nearest(where[at]) if at else 0
        high = _nearest(where[end]) if end < len(segments) else exposed.cells
        if found and found[-1].cell >= low:
            low = found[-1].cell + 1
        found += _in_room(list(segments[at:end]), where[at:end], low, high, exposed, mouth_settings)
        at = end
    return found


def _nearest(place: float) -> int:
    return math.floor(place + 0.5)


def shortest_length(seconds: float, exposed: Exposed, mouth_settings: SettingsTrack) -> int:
    """How many exposures a mouth is seen at least, at a moment."""
    return _exposures_for(mouth_settings.at(seconds).seen_at_least, exposed.size(seconds))


@lru_cache(maxsize=256)
def _exposures_for(shortest: float, size: float) -> int:
    return max(math.ceil(shortest * 0.96 / size - 0.21), 1)


def _in_room(
    segments: list[Segment],
    where: Sequence[float],
    low: int,
    high: int,
    exposed: Exposed,
    mouth_settings: SettingsTrack,
) -> list[Placed]:
    """Segments between two cells."""
    known = dict(zip((segment.start for segment in segments), where, strict=True))
    if high <= low:
        return []
    while True:
        places = [*(known[segment.start] for segment in segments), float(high)]
        least = _least(segments, places, exposed, mouth_settings)
        if sum(least) <= high - low or len(segments) == 1:
            break
        spare = min(range(len(segments)), key=lambda n: (segments[n].kind, segments[n].reads, segments[n].length))
        del segments[spare]
        segments = tidied(segments)
    cuts = [low, *_boundaries(segments, places, least, low, high)]
    return [Placed(segment.mouth, cut, segment.kind) for segment, cut in zip(segments, cuts, strict=True)]


def _least(
    segments: Sequence[Segment], places: Sequence[float], exposed: Exposed, mouth_settings: SettingsTrack
) -> list[int]:
    """How many exposures each segment takes at least."""
    least = []
    alike = exposed.step is not None and not mouth_settings.here
    usual = shortest_length(0.0, exposed, mouth_settings) if alike else None
    for number, segment in enumerate(segments):
        if segment.kind is Kind.CONTACT:
            fine = exposed.size(segment.start) < _FINE
            least.append(2 if fine and places[number + 1] - places[number] >= _LONG_ENOUGH else 1)
        else:
            least.append(usual or shortest_length(segment.start, exposed, mouth_settings))
    alone = len(segments) == 1
    if alone or segments[0].kind is Kind.REST:
        least[0] = 1
    if alone or segments[-1].kind is Kind.REST:
        least[-1] = 1
    return least


def _boundaries(
    segments: Sequence[Segment], places: Sequence[float], least: Sequence[int], low: int, high: int
) -> list[int]:
    """Where all but the first begin: isotonic regression of the boundaries less the lengths before them (Barlow et al.
    1972)."""
    before, sums = 0, []
    for length in least[:-1]:
        before += length
        sums.append(before)
    blocks: list[tuple[float, float, int]] = []  # mean, weight, how many
    for segment, place_, sum_ in zip(segments[1:], places[1:-1], sums, strict=True):
        block = (place_ - sum_, _GRIP if segment.kind is Kind.CONTACT else 1.0, 1)
        while blocks and blocks[-1][0] > block[0]:
            mean, weight, count = blocks.pop()
            together = weight + block[1]
            block = ((mean * weight + block[0] * block[1]) / together, together, count + block[2])
        blocks.append(block)
    most = high - sum(least)
    levels = [level for level, _, count in blocks for _ in range(count)]
    return [min(max(math.floor(level + 0.5), low), most) + sum_ for level, sum_ in zip(levels, sums, strict=True)]
