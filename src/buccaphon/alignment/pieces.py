"""Long recordings piece by piece: a window is searched with the words that could be in it, and kept up to a pause.

The end of a window is free: the path may stop anywhere in the graph. Only what lies well before it is trusted. Memory is
bounded by the window, whatever the recording's length.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import Enum

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, AcousticModel
from buccaphon.alignment.best_path import End, Gate, Path, best_path
from buccaphon.alignment.features import FRAME_SECONDS, Features
from buccaphon.alignment.graph import Graph, Looseness, Variants, word_graph
from buccaphon.alignment.sounding import by_senone

WINDOW = round(20.0 / FRAME_SECONDS)  # frames that are searched at a time
LAST_WINDOW = round(30.0 / FRAME_SECONDS)  # what is at most this long is searched in one go
_FASTEST = 6.0  # words a second that anybody says for a whole window
_UNSURE = round(4.0 / FRAME_SECONDS)  # frames before the free end that are not trusted
_PAUSE = 8  # frames; the shortest pause to part a recording in

_GARBAGE_BEST, _GARBAGE_BEHIND = (
    8,
    1.0,
)  # unlisted speech sounds like the mean of so many best sounds, less a nat a frame


class Edge(Enum):
    """Which end of a word."""

    START = "start"
    END = "end"


@dataclass(frozen=True, slots=True)
class Window:
    """When a word (by number) starts or ends at the earliest and at the latest, in frames; the same for a pin."""

    word: int
    edge: Edge
    earliest: int
    latest: int


@dataclass(frozen=True, eq=False)
class Piece:
    """Frames [start, end) of a recording, in which the words [first, last) were found.

    graph: of the words from `first` on, numbered from 0. path: through it, in frames counted from `start`. scores, column: as
    `scores_of` gives them for the graph.
    """

    start: int
    end: int
    first: int
    last: int
    graph: Graph
    path: Path
    scores: npt.NDArray[np.float32]
    column: npt.NDArray[np.int32]

    @property
    def begins_sound(self) -> npt.NDArray[np.bool_]:
        """(phones,) where a sound of a word begins: not in pauses, nor where a stop bursts that was held in silence."""
        nodes = self.path.nodes
        bursts = np.append(False, self.graph.held[nodes[:-1]])
        return np.asarray((self.graph.variant[nodes] >= 0) & ~bursts)


def find_pieces(
    model: AcousticModel,
    heard: Features,
    words: Sequence[Variants],
    report: Callable[[float], None],
    windows: Sequence[Window] = (),
    looseness: Looseness = Looseness.EXACT,
    costs: Sequence[Sequence[float]] | None = None,
) -> Iterator[Piece | None]:
    """Go through a recording from the start. words: each word's pronunciations; costs: nats for taking each of them. report:
    is told the share that is done.

    Yields None, and ends, when the words that are left cannot be said in the time that is left, or not in their windows.
    """
    start, first = 0, 0
    while start < len(heard):
        report(start / len(heard))
        whole = len(heard) - start <= LAST_WINDOW
        end = len(heard) if whole else start + WINDOW
        budget = len(words) if whole else first + round(WINDOW * FRAME_SECONDS * _FASTEST)
        if first >= len(words):  # all are found; the rest is a pause
            return
        mine = costs[first:budget] if costs is not None else None
        graph = word_graph(model, words[first:budget], looseness, mine)
        part = heard.part(start, end)
        scores, column = scores_of(model, graph, part)
        gates = _gates(graph, windows, first, budget, start)
        path = best_path(model, graph, scores, column, part.entering, End.LAST if whole else End.ANYWHERE, gates)
        if path is None:
            yield None
            return
        piece = Piece(start, end, first, first + _words_in(graph, path), graph, path, scores, column)
        if not whole:
            piece = trusted(model, piece)
        yield piece
        start, first = piece.end, piece.last
    if first < len(words):
        yield None


def _gates(graph: Graph, windows: Sequence[Window], first: int, end: int, start: int) -> list[Gate]:
    """The windows of the words [first, end) as gates of their graph, from frame `start` on."""
    return [
        Gate(
            graph.start_of(window.word - first) if window.edge is Edge.START else graph.end_of(window.word - first),
            window.earliest - start,
            window.latest - start,
        )
        for window in windows
        if first <= window.word < end
    ]


def scores_of(
    model: AcousticModel, graph: Graph, heard: Features
) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.int32]]:
    """(frames, columns) how well each frame fits the senones of a graph, and senone number -> column."""
    anything = len(model.senone_phone)
    senones = np.unique(graph.senones)
    senones = senones[senones < anything]
    column = np.zeros(anything + 1, np.int32)
    column[senones] = np.arange(len(senones))
    scores = model.scores(heard.streams, senones)
    if (
        heard.sounding is not None and not graph.is_loose
    ):  # beside any speech, of which it says nothing, it would be unfair
        scores += by_senone(model, heard.sounding, senones)
    silent = model.senone_phone[senones] == model.index[SILENCE]
    if graph.is_loose:
        column[anything] = len(senones)
        scores = np.concatenate([scores, any_speech(model, heard)[:, None]], axis=1)
        silent = np.append(silent, False)
    scores -= heard.pausing[:, None]
    scores[:, silent] += heard.pausing[:, None]  # few columns: quicker than picking all the others
    return scores, column


def any_speech(model: AcousticModel, heard: Features) -> npt.NDArray[np.float32]:
    """(frames,) how well each frame fits speech of whatever kind: the mean of the best plain sounds, less a little."""
    sounds = [model.index[name] for name in model.phones if name.isalpha() and name != SILENCE]
    senones = np.unique(model.triples[model.plain[sounds]])
    best = np.partition(model.scores(heard.streams, senones), -_GARBAGE_BEST, axis=1)[:, -_GARBAGE_BEST:]
    return np.asarray(best.mean(1) - _GARBAGE_BEHIND, np.float32)


def _words_in(graph: Graph, path: Path) -> int:
    """How many words of the graph a path has been through or is in."""
    spoken = path.nodes[graph.variant[path.nodes] >= 0]
    return int(graph.word[spoken[-1]]) + 1 if len(spoken) else 0


def trusted(model: AcousticModel, piece: Piece) -> Piece:
    """The part of a piece up to the last good pause before its unsure end; else up to the last word that begins there."""
    path, graph = piece.path, piece.graph
    ends = np.append(path.starts[1:], path.frames)
    limit = path.frames - _UNSURE
    pause = (graph.phone[path.nodes] == model.index[SILENCE]) & (graph.variant[path.nodes] < 0)
    good = np.flatnonzero(pause & (np.minimum(ends, limit) - path.starts >= _PAUSE))
    if len(good):
        at = int(good[-1])
        cut = int((path.starts[at] + min(int(ends[at]), limit)) // 2)
        if ends[at] > limit:  # a pause that goes on: all of it that is trusted is kept
            cut = limit
        return _cut(piece, at + 1, cut)
    begins = np.flatnonzero(
        (np.diff(graph.word[path.nodes], prepend=-1) != 0) & (path.starts <= limit) & (path.starts > 0)
    )
    at = int(begins[-1]) if len(begins) else len(path.nodes) - 1
    return _cut(piece, at, int(path.starts[at]))


def _cut(piece: Piece, phones: int, frames: int) -> Piece:
    """A piece shortened to so many phones and frames."""
    path = replace(piece.path, nodes=piece.path.nodes[:phones], starts=piece.path.starts[:phones], frames=frames)
    return replace(piece, end=piece.start + frames, last=piece.first + _words_in(piece.graph, path), path=path)
