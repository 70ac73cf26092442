"""Finishing a plan: no flicker, no second with too many changes, and a mouth between on the way to rest."""

from __future__ import annotations

import math
from collections.abc import Sequence

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.cores import ONE
from buccaphon.mouths.segments import COARSE, Exposed, Kind, Segment, tidied
from buccaphon.mouths.settings import SettingsTrack

RETURNING = 0.125  # seconds that a mouth between two of the same is seen at least
_NEARLY = 0.04  # seconds more in which it is looked at at all
_FAR = 0.6  # visible distance from rest that needs a mouth between
_HALF_WAY = 0.8  # how far a mouth between may be from either, as a share of the whole distance
_MORE_IN_A_SECOND = 2.0  # changes that a single second may have beyond what a passage may on the average
_HAIR = 1e-6  # seconds: rounding


def mended(segments: list[Segment], chart: Chart, exposed: Exposed, mouth_settings: SettingsTrack) -> list[Segment]:
    """All of it, in order. segments: tidied."""
    segments = without_blinks(segments, exposed, mouth_settings)
    return calmed(tidied(settled(segments, chart, exposed, mouth_settings)), exposed, mouth_settings)


def without_blinks(segments: list[Segment], exposed: Exposed, mouth_settings: SettingsTrack) -> list[Segment]:
    """A-B-A with a short B: a stressed vowel is stretched where the A's can give, anything else but a contact goes."""
    at = 1
    while at < len(segments) - 1:
        before, here, after = segments[at - 1], segments[at], segments[at + 1]
        if before.mouth != after.mouth or not (here.kind is Kind.CHOSEN or here.kind is Kind.STRESSED):
            at += 1
            continue
        settings = mouth_settings.at(here.start)
        returning = RETURNING * (1 - settings.detail)
        size = exposed.size(here.start)
        lack = _in_whole_cells(returning, size) - here.length
        if lack <= _HAIR or here.length >= returning + _NEARLY:
            at += 1
        elif here.kind is Kind.STRESSED:
            segments[at - 1 : at + 2] = _stretched(before, here, after, lack, max(settings.seen_at_least, size), size)
            at += 1
        else:
            kind = max(before.kind, after.kind)
            segments[at - 1 : at + 2] = [Segment(before.mouth, before.start, after.end, kind)]
            at = max(at - 1, 1)
    return segments


def _in_whole_cells(seconds: float, size: float) -> float:
    return math.ceil(seconds / size - 0.01) * size if size >= COARSE else seconds


def _stretched(before: Segment, here: Segment, after: Segment, lack: float, least: float, size: float) -> list[Segment]:
    """The middle one longer by what it lacks, if its neighbours can give as much; else as they are."""
    coarse = size >= COARSE
    gives = []
    for side in (before, after):
        keep = max(2 * ONE if side.kind is Kind.CONTACT else least, size)
        give = max(side.length - keep, 0.0)
        gives.append(math.floor(give / size + 0.01) * size if coarse else give)
    if sum(gives) < lack - _HAIR:
        return [before, here, after]
    fore = min(gives[0], max(0.0 if coarse else lack / 2, lack - gives[1]))
    start, end = here.start - fore, here.end + lack - fore
    return [before._replace(end=start), here._replace(start=start, end=end), after._replace(start=end)]


def settled(
    segments: Sequence[Segment], chart: Chart, exposed: Exposed, mouth_settings: SettingsTrack
) -> list[Segment]:
    """Between an open mouth and the rest of a pause the mouth nearest to half way, where the pause has room for both."""
    found: list[Segment] = []
    for segment in segments:
        before = found[-1] if found else None
        if segment.kind is Kind.REST and before is not None and before.kind is not Kind.CONTACT:
            settings, size = mouth_settings.at(segment.start), exposed.size(segment.start)
            length = max(settings.settle, size)
            between = _half_way(before.mouth, chart) if settings.settle > 0 else None
            if between is not None and segment.length >= length + max(settings.seen_at_least, size):
                found.append(Segment(between, segment.start, segment.start + length))
                found.append(segment._replace(start=segment.start + length))
                continue
        found.append(segment)
    return found


def _half_way(mouth: int, chart: Chart) -> int | None:
    """The mouth between another and rest, the least far from both; None where there is none nearer than rest itself."""
    distances = chart.distances
    whole = float(distances[mouth, chart.rests])
    if whole <= _FAR:
        return None
    others = [n for n in range(len(chart.mouths)) if n not in (mouth, chart.rests)]
    between = [n for n in others if not chart.touching[n]]
    far = {n: max(float(distances[n, chart.rests]), float(distances[n, mouth])) for n in between}
    best = min(between, key=far.__getitem__, default=None)
    return best if best is not None and far[best] <= _HALF_WAY * whole else None


def calmed(segments: list[Segment], exposed: Exposed, mouth_settings: SettingsTrack) -> list[Segment]:
    """No single second with many more changes than a passage may have: what matters least there goes, contacts never."""
    at = 0
    usual = None if mouth_settings.here else int(mouth_settings.everywhere.ceiling + _MORE_IN_A_SECOND)
    while at < len(segments):
        start = segments[at].start
        most = usual or int(mouth_settings.at(start).ceiling + _MORE_IN_A_SECOND)
        last = at + most
        if last >= len(segments):
            if usual:
                break
            at += 1
            continue
        if segments[last].start - start >= 1.0 + exposed.size(start):
            at += 1
            continue
        spare = [
            n for n in range(at, last) if segments[n].kind < Kind.CONTACT and segments[n].kind is not Kind.REST and n
        ]
        if not spare:
            at += 1
            continue
        goes = min(spare, key=lambda n: (segments[n].kind, segments[n].length))
        before = segments[goes - 1]
        joined = [*segments[: goes - 1], before._replace(end=segments[goes].end), *segments[goes + 1 :]]
        segments = tidied(joined)
        at = max(at - most, 0)
    return segments
