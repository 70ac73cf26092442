"""Script against recording when the actor did not keep to it: words left out, said again, or not in the script.

The same search as for alignment, through a graph that allows all of this at a price. It only reports: what is found is
written into the script, or not, by the user, and then aligned like any other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import Enum

import numpy as np

from buccaphon.alignment.acoustic_model import english_model
from buccaphon.alignment.graph import GARBAGE, Looseness
from buccaphon.alignment.hearing import listen
from buccaphon.alignment.pieces import Piece, find_pieces
from buccaphon.alignment.request import AlignmentRequest, costs_of, model_phones, spoken_ways
from buccaphon.errors import Cancelled
from buccaphon.progress import Progress, no_progress
from buccaphon.speech.script import ScriptWord
from buccaphon.texts import N_, _
from buccaphon.timing import Span

_LEAST_OTHER = 0.06  # seconds of speech that is not in the script
_BELONGS = 0.5  # share of the words that are found when script and recording belong together


class Difference(Enum):
    """What differs from the script."""

    NOT_FOUND = N_("not found")
    AGAIN = N_("said again")
    OTHER = N_("other words")


@dataclass(frozen=True, slots=True)
class Finding:
    """A place where the actor did not keep to the script.

    first, end: numbers of the script's words that it is about; for other speech the word it comes before, twice. span:
    where it lies in the sound; for words that are missing, the place between their neighbours.
    """

    kind: Difference
    first: int
    end: int
    span: Span


@dataclass(frozen=True, slots=True)
class Comparison:
    """findings: in order of time. belongs: False when so little was found that the script must be another one's."""

    findings: tuple[Finding, ...]
    belongs: bool


@dataclass(frozen=True, slots=True)
class _Said:
    """A word, or other speech (`word` is -1), from `start` to `end` seconds of the part that was looked at."""

    word: int
    start: float
    end: float


def compare(request: AlignmentRequest, progress: Progress = no_progress) -> Comparison:
    """Find the words that were left out, said again, or are others. Raises as `align` does, but not for want of time."""
    sayings = spoken_ways(request)
    ways = [[model_phones(way) for way in each] for each in sayings]

    def report(share: float) -> None:
        if not progress(share, _("Comparing with the script")):
            raise Cancelled

    heard = listen(request.recording, request.looked_at, request.not_speech, lambda _share: report(0.0))
    said: list[_Said] = []
    model = english_model()
    features = replace(
        heard.features, entering=np.zeros_like(heard.features.entering)
    )  # other speech has no sounds to enter
    for piece in find_pieces(model, features, ways, report, (), Looseness.LOOSE, costs_of(sayings)):
        if piece is not None:
            said += _said(piece, heard.frame_seconds)
    findings = _findings(said, len(request.words), request.looked_at)
    missing = sum(finding.end - finding.first for finding in findings if finding.kind is Difference.NOT_FOUND)
    others = sum(finding.span.length for finding in findings if finding.kind is Difference.OTHER)
    spoken = sum(each.end - each.start for each in said if each.word >= 0)
    belongs = missing <= (1 - _BELONGS) * len(request.words) and others <= max(spoken, 0.5)
    return Comparison(tuple(findings), belongs)


def _said(piece: Piece, frame_seconds: float) -> list[_Said]:
    graph, nodes = piece.graph, piece.path.nodes
    starts = (piece.start + piece.path.starts) * frame_seconds
    ends = np.append(starts[1:], piece.end * frame_seconds)
    found: list[_Said] = []
    variants, words = graph.variant[nodes], graph.word[nodes] + piece.first
    for k in range(len(nodes)):
        if variants[k] == GARBAGE:
            found.append(_Said(-1, float(starts[k]), float(ends[k])))
        elif variants[k] >= 0:
            goes_on = k > 0 and variants[k - 1] >= 0 and words[k - 1] == words[k]
            if goes_on and found:
                found[-1] = _Said(int(words[k]), found[-1].start, float(ends[k]))
            else:
                found.append(_Said(int(words[k]), float(starts[k]), float(ends[k])))
    return found


def _findings(said: Sequence[_Said], count: int, used: Span) -> list[Finding]:
    found: list[Finding] = []
    due, at = 0, 0.0  # the word that comes next by the script, and where the last one ended
    repeated: list[_Said] = []

    def finding(kind: Difference, first: int, end: int, start: float, stop: float) -> None:
        found.append(Finding(kind, first, end, Span(used.start + start, used.start + max(stop, start))))

    def close_repeat() -> None:
        if repeated:
            finding(Difference.AGAIN, repeated[0].word, repeated[-1].word + 1, repeated[0].start, repeated[-1].end)
            repeated.clear()

    for each in said:
        if each.word < 0:
            if each.end - each.start >= _LEAST_OTHER:
                finding(Difference.OTHER, due, due, each.start, each.end)
            continue
        if each.word < due:
            if repeated and each.word != repeated[-1].word + 1:
                close_repeat()
            repeated.append(each)
        else:
            close_repeat()
            if each.word > due:
                finding(Difference.NOT_FOUND, due, each.word, at, each.start)
            due = each.word + 1
        at = each.end
    close_repeat()
    if due < count:
        finding(Difference.NOT_FOUND, due, count, at, used.length)
    return sorted(found, key=lambda each: each.span)


def mend_script(text: str, words: Sequence[ScriptWord], findings: Sequence[Finding]) -> str:
    """The script as it was said: words that were not found in brackets, words that were said again written again.

    Other speech cannot be written down; it is up to the caller to mark it as not speech.
    """
    inserted: list[tuple[int, str]] = []
    for finding in findings:
        if finding.kind is Difference.OTHER:
            continue
        first, last = words[finding.first], words[finding.end - 1]
        if finding.kind is Difference.NOT_FOUND:
            inserted += [(word.start, "[") for word in words[finding.first : finding.end]]
            inserted += [(word.end, "]") for word in words[finding.first : finding.end]]
        else:
            inserted.append((last.end, " " + text[first.start : last.end].rstrip(".!?…")))
    for at, piece in sorted(inserted, key=lambda each: -each[0]):
        text = text[:at] + piece + text[at:]
    return text
