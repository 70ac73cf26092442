"""Which of a host's names stands for which mouth of a chart, or makes which part of a pose; each with a score and a reason.

The best assignment over all pairs (Kuhn 1955, as in `scipy.optimize.linear_sum_assignment`); mouths that are left over share
a name. A plain alphabet or plain numbers say nothing of what their mouths look like, and are never guessed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.kits.names.evidence import Evidence, Listing, ReadList, read_names
from buccaphon.kits.names.reasons import Reason, Reasons
from buccaphon.kits.names.tokens import bare, fold, tokens
from buccaphon.mouths.chart import Chart, Mouth, nearest_mouth
from buccaphon.mouths.pose import PARTS, Pose
from buccaphon.numerics import scipy_part

SURE = 0.5  # from here on a match needs no look
_LEAST, _LEAST_SHARED = (
    0.3,
    0.2,
)  # what is less is no match: for a mouth, and for one that shares another's name
_SAME_WORD, _SAME_BUT, _BY_ORDER, _BY_POSE = 1.2, 0.45, 0.45, 0.15  # its name; with others; number; look
_LEFT_OVER, _MAY_REST = 0.6, 0.35  # for the mouth of what no other mouth answers to; a word for closed lips, for rest
_SOUNDS, _OWN, _FIRST = (
    0.9,
    0.15,
    0.1,
)  # for the share of its sounds that lead here, of the mouth's, and for its first one
_POSE, _NEAR = 0.95, 0.45  # a word for a look, and the visible distance over which it falls off


@dataclass(frozen=True, slots=True)
class Match:
    """One target (a mouth's name, or a part of a pose) and a name of the host's. score: 0..1. why: the reasons. shared:
    another target has the same name."""

    target: str
    name: str
    score: float
    why: Reasons
    shared: bool = False

    @property
    def sure(self) -> bool:
        return self.score >= SURE and not self.shared


@dataclass(frozen=True)
class Matches:
    """found: in the order of the targets, the best of each first. unused: names that nothing is driven by. listing: what the
    list is."""

    found: tuple[Match, ...]
    unused: tuple[str, ...]
    listing: Listing


def match_chart(names: Sequence[str], chart: Chart) -> Matches:
    """Match names to the mouths of a chart."""
    read = read_names(names)
    scores, why = _scores(read, chart)
    best = float(scores.max(initial=0.0))
    if best < _LEAST and read.listing in (Listing.NUMBERS, Listing.ALPHABET) and len(names) == len(chart.mouths):
        by_order = zip(chart.mouths, _counted(names), strict=True)
        found = [Match(mouth.name, name, _BY_ORDER, (Reason("same_number"),)) for mouth, name in by_order]
        return Matches(tuple(found), (), read.listing)
    found = _assign(read, chart, scores, why)
    found += _halves(read, found)
    found += _share(read, chart, scores, why, found)
    return _matches(found, chart.names, names, read.listing)


def match_pose(names: Sequence[str]) -> Matches:
    """Match names to the parts of a pose; a part may be made by several, left and right together."""
    read = read_names(names)
    found = []
    for told in read.names:
        if told.never or not told.pose:
            continue
        part, value = max(told.pose.items(), key=lambda entry: (entry[1], -PARTS.index(entry[0])))
        stated = told.mouth or any(reason.id == "action_unit" for reason in told.why)
        found.append(Match(part, told.name, value * (1.0 if stated else 0.8), tuple(told.why) or (Reason("together"),)))
    found.sort(key=lambda match: -match.score)
    return _matches(found, PARTS, names, read.listing)


def _matches(found: list[Match], targets: Sequence[str], names: Sequence[str], listing: Listing) -> Matches:
    order = {target: number for number, target in enumerate(targets)}
    used = {match.name for match in found}
    unused = tuple(name for name in names if name not in used)
    return Matches(tuple(sorted(found, key=lambda match: order[match.target])), unused, listing)


def _counted(names: Sequence[str]) -> list[str]:
    """Numbered or lettered names in their order: 2 before 10."""
    return sorted(
        names, key=lambda name: [piece.zfill(9) if piece.isdigit() else fold(piece) for piece in tokens(name)]
    )


# --- scores -----------------------------------------------------------------------------------------------------------


def _scores(read: ReadList, chart: Chart) -> tuple[Doubles, list[list[Reasons]]]:
    """(mouths, names): how well each name stands for each mouth, and why."""
    scores = np.zeros((len(chart.mouths), len(read.names)))
    why: list[list[Reasons]] = [[()] * len(read.names) for _ in chart.mouths]
    bares = [bare(mouth.name) for mouth in chart.mouths]
    for column, told in enumerate(read.names):
        answers = [chart.answer(sound) for sound in told.sounds]
        pieces = {fold(piece) for piece in told.pieces}
        pose = Pose(**told.pose) if told.pose and not told.sounds and not told.rest else None
        if not (pieces & set(bares) or told.sounds or pose or told.rest or told.closed or told.remainder):
            continue
        for row, mouth in enumerate(chart.mouths):
            same = bares[row] in pieces
            scores[row, column], why[row][column] = _score(told, answers, pose, mouth, row, chart, same)
    return scores, why


def _score(
    told: Evidence, answers: list[int], pose: Pose | None, mouth: Mouth, row: int, chart: Chart, same: bool
) -> tuple[float, Reasons]:
    if told.never and not (told.sounds and told.mouth):
        return 0.0, ()
    tried: list[tuple[float, Reasons]] = []
    why = tuple(told.why)
    if same:  # unless sounds beside it say that it is another's
        others = bool(answers) and row not in answers and len(bare(mouth.name)) > 2
        tried.append((_SAME_BUT if others else _SAME_WORD, (Reason("same_word", (mouth.name,)),)))
    if told.rest and mouth is chart.rest:
        tried.append((told.rest, why))
    if told.closed and mouth is chart.rest and not told.sounds:
        tried.append((_MAY_REST, (*why, Reason("may_rest"))))
    if told.remainder and chart.answer("ə") == row:
        tried.append((_LEFT_OVER, why))
    if told.sounds:
        weights = [1 / (number + 1) for number in range(len(told.sounds))]
        hit = sum(w for w, answer in zip(weights, answers, strict=True) if answer == row) / sum(weights)
        own = len(set(mouth.sounds) & set(told.sounds)) / max(len(mouth.sounds), 1)
        first = bool(mouth.sounds) and told.sounds[0] == mouth.sounds[0]
        tried.append((_SOUNDS * hit + (_OWN * own + _FIRST * first if hit else 0.0), why))
    if pose is not None:
        away = pose.distance(mouth.pose)
        tried.append((_POSE * math.exp(-((away / _NEAR) ** 2)), (*why, Reason("near_pose", (mouth.name,)))))
    return max(tried, key=lambda entry: entry[0], default=(0.0, ()))


# --- assignment -------------------------------------------------------------------------------------------------------


def _assign(read: ReadList, chart: Chart, scores: Doubles, why: list[list[Reasons]]) -> list[Match]:
    gain = np.where(scores >= _LEAST, scores, 0.0)
    rows = gain.max(axis=1, initial=0.0).nonzero()[0]
    columns = gain[rows].argmax(axis=1) if len(rows) else rows
    if len(set(columns.tolist())) < len(columns):  # some want the same name
        rows, columns = scipy_part("optimize").linear_sum_assignment(-gain)
    return [
        Match(chart.mouths[row].name, read.names[column].name, min(float(scores[row, column]), 1.0), why[row][column])
        for row, column in zip(rows.tolist(), columns.tolist(), strict=True)
        if gain[row, column] > 0
    ]


def _halves(read: ReadList, found: list[Match]) -> list[Match]:
    """The other side of names that are one side of a pair: both drive the mouth."""
    told = {evidence.name: evidence for evidence in read.names}
    taken = {match.name for match in found}
    halves = []
    for match in found:
        own = told[match.name]
        stem = [fold(piece) for piece in own.pieces[:-1]]
        for other in read.names if own.side else ():
            alike = other.side and other.side != own.side and [fold(piece) for piece in other.pieces[:-1]] == stem
            if alike and other.name not in taken:
                halves.append(Match(match.target, other.name, match.score, (Reason("pair", (other.side, match.name)),)))
                taken.add(other.name)
    return halves


def _share(read: ReadList, chart: Chart, scores: Doubles, why: list[list[Reasons]], found: list[Match]) -> list[Match]:
    """For mouths that nothing was found for: the best name all the same, or that of the mouth that looks most like it."""
    by_target = {match.target: match for match in reversed(found)}
    shared = []
    for row, mouth in enumerate(chart.mouths):
        if mouth.name in by_target or not read.names:
            continue
        column = int(scores[row].argmax())
        if scores[row, column] >= _LEAST_SHARED:
            score, reason = 0.8 * float(scores[row, column]), (*why[row][column], Reason("shared"))
            shared.append(Match(mouth.name, read.names[column].name, min(score, 1.0), reason, shared=True))
        elif by_target:
            known = [chart.mouths[chart.index(target)] for target in by_target]
            near = known[nearest_mouth(known, mouth.pose, mouth.contact)].name
            reason = (Reason("nearest_pose", (near,)),)
            shared.append(Match(mouth.name, by_target[near].name, _BY_POSE, reason, shared=True))
    return shared
