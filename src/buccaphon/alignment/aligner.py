"""Recording and words in, timed words and phones out: the whole recipe in the order it is run.

features ─► best path through the word graph ─► chain of its phones
        ─► transforms towards the speaker ─► chain again ─► boundary times and how sure they are
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, STATES, AcousticModel, english_model
from buccaphon.alignment.adaptation import estimate_transforms
from buccaphon.alignment.best_path import best_path
from buccaphon.alignment.chain import Chain, Occupancy, band_scores, chain_of, occupancy
from buccaphon.alignment.features import FRAME_SECONDS, Features, features, frames_within
from buccaphon.alignment.graph import Graph, word_graph
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.score.edits import shifted
from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.speech.lexicon import Pronunciation, pronunciations
from buccaphon.speech.phones import arpabet_of, class_of
from buccaphon.speech.script import ScriptWord
from buccaphon.timing import Span

Doubles = npt.NDArray[np.float64]

# The model's states answer this much late; measured on the development recordings, the same for all voices.
MODEL_LAG = 0.008
HUSH_COST = np.float32(200.0)  # nats a frame for any sound but a pause where nothing is said
_SURE_AT = 0.040  # seconds: the calibration of confidence asks for a start within about one frame at 24 fps

Progress = Callable[[float, str], bool]  # share done, what is being done -> False to stop


def _unheard(_share: float, _what: str) -> bool:
    return True


@dataclass(frozen=True, slots=True)
class AlignmentRequest:
    """What to align: a recording and the words said in it, in order.

    used: the part of the recording that is looked at, all of it when None. not_speech: stretches without any word.
    """

    recording: Recording
    words: tuple[ScriptWord, ...]
    used: Span | None = None
    not_speech: tuple[Span, ...] = ()


def align(request: AlignmentRequest, progress: Progress = _unheard) -> Score:
    """Find where each word and phone lies.

    Words that nothing can pronounce (signs, foreign scripts) are refused. Raises AlignmentError when the recording is
    silent, too short for its words, or has no words; Cancelled when `progress` returns False.
    """
    whole, words = request.recording, request.words
    used = request.used or Span(0.0, whole.duration)
    recording = whole.part(used)
    hushes = [
        Span(max(s.start - used.start, 0.0), s.end - used.start) for s in request.not_speech if s.overlap(used) > 0
    ]

    def step(share: float, what: str) -> None:
        if not progress(share, what):
            raise Cancelled

    step(0.0, "Reading the words")
    spoken = [_pronounced(word) for word in words]
    _refuse_hopeless(recording, words)
    model = english_model()
    step(0.1, "Listening")
    heard = features(recording, hushes)
    hushed = frames_within(hushes, len(heard))
    graph = word_graph(model, [[[arpabet_of(s) for s in way.sounds] for way in ways] for ways in spoken])
    step(0.25, "Comparing the sounds")
    senones = np.unique(graph.senones)
    column = np.zeros(len(model.senone_phone), np.int32)
    column[senones] = np.arange(len(senones))
    scores = model.scores(heard.streams, senones)
    silent = model.senone_phone[senones] == model.index[SILENCE]
    scores[np.ix_(hushed, ~silent)] -= HUSH_COST
    step(0.5, "Finding the words")
    path = best_path(model, graph, scores, column)
    if path is None:
        raise AlignmentError(
            recording.name,
            f"{recording.duration:.1f} s are too short to say {len(words)} words",
            "Check that the script belongs to this recording",
        )
    step(0.7, "Placing each sound")
    chain = chain_of(graph, path)
    found = _adapted(model, chain, heard, hushed)
    step(0.95, "Writing down")
    score = _score(model, graph, chain, found, path.nodes, recording.duration, words, spoken)
    return shifted(score, used.start, whole.duration)


def _pronounced(word: ScriptWord) -> tuple[Pronunciation, ...]:
    ways = pronunciations(word.bare)
    if not ways:
        raise AlignmentError(
            f"“{word.text}”", "no pronunciation is known for it", "Write it as it is said, in English letters"
        )
    return ways


def _refuse_hopeless(recording: Recording, words: Sequence[ScriptWord]) -> None:
    if not words:
        raise AlignmentError(recording.name, "there are no words to look for", "Type what is said in it")
    if recording.is_silent:
        raise AlignmentError(recording.name, "it holds only silence", "Choose the channel or the take with the voice")


def _adapted(model: AcousticModel, chain: Chain, heard: Features, hushed: npt.NDArray[np.bool_]) -> Occupancy:
    """Occupancy of the chain after bending the features towards the model, as far as there is speech to learn from."""
    pauses = np.repeat(chain.phone == model.index[SILENCE], STATES)

    def look(transforms: npt.NDArray[np.float32] | None) -> Occupancy:
        scores = band_scores(model, chain, heard.streams, transforms)
        for t in np.flatnonzero(hushed):
            inside = pauses[chain.low[t] : chain.high[t]]
            scores[t, : len(inside)] -= np.where(inside, np.float32(0), HUSH_COST)
        return occupancy(model, chain, scores)

    found = look(None)
    transforms = estimate_transforms(model, heard.streams, chain.senones[found.state], heard.speech)
    if transforms is None:
        return found
    return look(transforms)


def _score(
    model: AcousticModel,
    graph: Graph,
    chain: Chain,
    found: Occupancy,
    nodes: npt.NDArray[np.int32],
    duration: float,
    script: Sequence[ScriptWord],
    spoken: Sequence[Sequence[Pronunciation]],
) -> Score:
    """Gather the chain's phones into words and settle their times."""
    silence = model.index[SILENCE]
    is_pause = chain.phone == silence
    symbols, stresses, owners = _spelled(graph, nodes, is_pause, spoken)
    onsets = found.onset * FRAME_SECONDS - MODEL_LAG + _corrections(symbols)
    onsets = _in_order(onsets, duration)
    ends = np.append(onsets[1:], duration)
    words: list[Word] = []
    for number, script_word in enumerate(script):
        phones = tuple(
            Phone(symbols[k], float(onsets[k]), float(ends[k]), stresses[k], _confidence(found, int(k)))
            for k in np.flatnonzero(owners == number)
        )
        words.append(Word(script_word.text, phones))
    return Score(tuple(words), duration)


def _spelled(
    graph: Graph,
    nodes: npt.NDArray[np.int32],
    is_pause: npt.NDArray[np.bool_],
    spoken: Sequence[Sequence[Pronunciation]],
) -> tuple[list[str], list[int], npt.NDArray[np.int_]]:
    """For each phone of the chain its IPA symbol ('' for a pause), stress and word number (-1 for a pause)."""
    symbols, stresses = [""] * len(nodes), [0] * len(nodes)
    owners = np.where(is_pause, -1, graph.word[nodes])
    place = 0
    for k, node in enumerate(nodes):
        if is_pause[k]:
            continue
        place = place + 1 if k and owners[k] == owners[k - 1] else 0
        way = spoken[graph.word[node]][graph.variant[node]]
        symbols[k], stresses[k] = way.sounds[place], way.stresses[place]
    return symbols, stresses, owners


def _corrections(symbols: Sequence[str]) -> Doubles:
    """Seconds to add to the onset of each phone, by the classes of the sounds that meet there."""
    table = _onset_corrections()
    classes = [class_of(symbol).value for symbol in symbols]
    pairs = zip(["X", *classes], classes, strict=False)
    return np.array([table.get(left + right, 0.0) for left, right in pairs]) / 1000


@lru_cache(maxsize=1)
def _onset_corrections() -> dict[str, float]:
    text = resources.files("buccaphon.alignment").joinpath("onset_corrections.json").read_text("utf-8")
    table: dict[str, float] = json.loads(text)["milliseconds"]
    return table


def _in_order(onsets: Doubles, duration: float) -> Doubles:
    """Onsets at least SHORTEST apart, inside the recording, moved as little as keeping their order asks for."""
    steps = np.arange(len(onsets)) * SHORTEST
    upwards = np.maximum.accumulate(onsets - steps)
    downwards = np.minimum.accumulate((onsets - steps)[::-1])[::-1]
    room = max(duration - SHORTEST * len(onsets), 0.0)
    ordered: Doubles = np.clip((upwards + downwards) / 2, 0.0, room) + steps
    ordered[0] = 0.0 if len(ordered) > 1 and ordered[0] < ordered[1] else ordered[0]
    return ordered


def _confidence(found: Occupancy, k: int) -> float:
    """0..1: the share of the entry probability close by, under a Laplace error of the spread found."""
    spread = max(float(found.spread[k]) * FRAME_SECONDS, 0.002)
    return float(np.clip(found.mass[k] * (1 - np.exp(-_SURE_AT / spread)), 0.0, 1.0))
