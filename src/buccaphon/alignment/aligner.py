"""Recording and words in, timed words and phones out: the whole recipe in the order it is run.

features ─► best path through the word graph ─► chain of its phones
        ─► transforms towards the speaker ─► chain again ─► boundary times and how sure they are
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, STATES, AcousticModel, english_model
from buccaphon.alignment.adaptation import estimate_transforms
from buccaphon.alignment.boundary_net import FRAMES_A_FRAME, log_mel, refined
from buccaphon.alignment.chain import Chain, Occupancy, band_scores, chain_of, occupancy
from buccaphon.alignment.features import FRAME_SECONDS, Features, conditioned, features_of, frames_within
from buccaphon.alignment.pieces import HUSH_COST, Piece, find_pieces
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.score.edits import shifted
from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import Pronunciation, pronunciations
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import ScriptWord
from buccaphon.timing import Span

Doubles = npt.NDArray[np.float64]

# The model's states answer this much late; measured on the development recordings, the same for all voices.
MODEL_LAG = 0.008
_SURE_WITHIN = 0.0417  # seconds: a frame at 24 frames a second
_OVERCONFIDENCE, _LABEL_ERROR = 2.0, 0.006  # factor, seconds

Progress = Callable[[float, str], bool]  # share done, what is being done -> False to stop


def _unheard(_share: float, _what: str) -> bool:
    return True


@dataclass(frozen=True, slots=True)
class AlignmentRequest:
    """What to align: a recording and the words said in it, in order.

    language: what is spoken. used: the part of the recording that is looked at, all of it when None. not_speech: stretches
    without any word.
    """

    recording: Recording
    words: tuple[ScriptWord, ...]
    used: Span | None = None
    not_speech: tuple[Span, ...] = ()
    language: str = ENGLISH


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
    spoken = [_pronounced(word, request.language) for word in words]
    _refuse_hopeless(recording, words)
    model = english_model()
    step(0.05, "Listening")
    samples = conditioned(recording)
    heard, mel = features_of(samples, hushes), log_mel(samples)
    del samples
    hushed = frames_within(hushes, len(heard))
    variants = [[[arpabet_of(s) for s in way.sounds] for way in ways] for ways in spoken]
    found: list[_Sounds] = []
    first, transforms = 0, None
    for piece in find_pieces(
        model, heard, hushed, variants, lambda share: step(0.15 + 0.8 * share, "Finding the words")
    ):
        if piece is None:
            reason = f"{recording.duration:.1f} s are too short to say {len(words)} words"
            raise AlignmentError(recording.name, reason, "Check that the script belongs to this recording")
        step(0.15 + 0.8 * (0.3 * piece.start + 0.7 * piece.end) / len(heard), "Placing each sound")
        part, hush = heard.part(piece.start, piece.end), hushed[piece.start : piece.end]
        chain = chain_of(piece.graph, piece.path)
        entered, scores, transforms = _adapted(model, chain, part, hush, transforms)
        near = mel[piece.start * FRAMES_A_FRAME : piece.end * FRAMES_A_FRAME + 1]
        times = refined(model, chain, entered, scores, near, MODEL_LAG)
        found.append(_spelled(model, piece, *times, spoken[piece.first :]))
        first = piece.last
    if first < len(words):
        reason = f"it ends before “{words[first].text}”, with {len(words) - first} words left to say"
        raise AlignmentError(recording.name, reason, "Check that the script belongs to this recording")
    step(0.98, "Writing down")
    return shifted(_score(found, recording.duration, words), used.start, whole.duration)


def _pronounced(word: ScriptWord, language: str) -> tuple[Pronunciation, ...]:
    ways = pronunciations(word.bare, language)
    if not ways:
        raise AlignmentError(
            f"“{word.text}”",
            "no pronunciation is known for it",
            "Write it as it is said, in the letters of the language",
        )
    return ways


def _refuse_hopeless(recording: Recording, words: Sequence[ScriptWord]) -> None:
    if not words:
        raise AlignmentError(recording.name, "there are no words to look for", "Type what is said in it")
    if recording.is_silent:
        raise AlignmentError(recording.name, "it holds only silence", "Choose the channel or the take with the voice")


def _adapted(
    model: AcousticModel,
    chain: Chain,
    heard: Features,
    hushed: npt.NDArray[np.bool_],
    before: npt.NDArray[np.float32] | None,
) -> tuple[Occupancy, npt.NDArray[np.float32], npt.NDArray[np.float32] | None]:
    """Occupancy of the chain and its band scores after bending the features towards the model, and the transforms that do
    it: those of the piece before where there is too little speech to learn from."""
    pauses = np.repeat(chain.phone == model.index[SILENCE], STATES)

    def look(transforms: npt.NDArray[np.float32] | None) -> tuple[Occupancy, npt.NDArray[np.float32]]:
        scores = band_scores(model, chain, heard.streams, transforms)
        for t in np.flatnonzero(hushed):
            inside = pauses[chain.low[t] : chain.high[t]]
            scores[t, : len(inside)] -= np.where(inside, np.float32(0), HUSH_COST)
        return occupancy(model, chain, scores), scores

    plain = look(None)
    learned = estimate_transforms(model, heard.streams, chain.senones[plain[0].state], heard.speech)
    transforms = before if learned is None else learned
    entered, scores = plain if transforms is None else look(transforms)
    return entered, scores, transforms


@dataclass(frozen=True, eq=False)
class _Sounds:
    """The phones of a piece: IPA symbols ('' for a pause), stresses, the numbers of their words in the script (-1 for a
    pause), onsets in seconds of the recording, and confidence."""

    symbols: list[str]
    stresses: list[int]
    owners: list[int]
    onsets: Doubles
    confidence: list[float]


def _spelled(
    model: AcousticModel, piece: Piece, onsets: Doubles, scales: Doubles, spoken: Sequence[Sequence[Pronunciation]]
) -> _Sounds:
    """What a piece's path says, in the pronunciations that it went through. onsets, scales: seconds, one a phone."""
    graph, nodes = piece.graph, piece.path.nodes
    is_pause = graph.phone[nodes] == model.index[SILENCE]
    symbols, stresses = [""] * len(nodes), [0] * len(nodes)
    owners = np.where(is_pause, -1, graph.word[nodes] + piece.first)
    place = 0
    for k, node in enumerate(nodes):
        if is_pause[k]:
            continue
        place = place + 1 if k and owners[k] == owners[k - 1] else 0
        way = spoken[graph.word[node]][graph.variant[node]]
        symbols[k], stresses[k] = way.sounds[place], way.stresses[place]
    sure = [_confidence(float(scale)) for scale in scales]
    return _Sounds(symbols, stresses, owners.tolist(), onsets + piece.start * FRAME_SECONDS, sure)


def _score(found: Sequence[_Sounds], duration: float, script: Sequence[ScriptWord]) -> Score:
    """Gather the phones of all pieces into words and settle their times."""
    symbols = [symbol for piece in found for symbol in piece.symbols]
    stresses = [stress for piece in found for stress in piece.stresses]
    confidence = [sure for piece in found for sure in piece.confidence]
    owners = np.array([owner for piece in found for owner in piece.owners])
    onsets = _in_order(np.concatenate([piece.onsets for piece in found]), duration)
    ends = np.append(onsets[1:], duration)
    words = []
    for number, (first, last) in enumerate(_stretches(owners, len(script))):
        phones = tuple(
            Phone(symbols[k], float(onsets[k]), float(ends[k]), stresses[k], confidence[k]) for k in range(first, last)
        )
        words.append(Word(script[number].text, phones))
    return Score(tuple(words), duration)


def _stretches(owners: npt.NDArray[np.int_], count: int) -> Iterator[tuple[int, int]]:
    """Where in the list of phones each word's begin and end; they stand in order, with pauses between."""
    spoken = np.flatnonzero(owners >= 0)
    numbers = owners[spoken]
    for number in range(count):
        low, high = np.searchsorted(numbers, (number, number + 1))
        yield int(spoken[low]), int(spoken[high - 1]) + 1


def _in_order(onsets: Doubles, duration: float) -> Doubles:
    """Onsets at least SHORTEST apart, inside the recording, moved as little as keeping their order asks for."""
    steps = np.arange(len(onsets)) * SHORTEST
    upwards = np.maximum.accumulate(onsets - steps)
    downwards = np.minimum.accumulate((onsets - steps)[::-1])[::-1]
    room = max(duration - SHORTEST * len(onsets), 0.0)
    ordered: Doubles = np.clip((upwards + downwards) / 2, 0.0, room) + steps
    ordered[0] = 0.0 if len(ordered) > 1 and ordered[0] < ordered[1] else ordered[0]
    return ordered


def _confidence(scale: float) -> float:
    """0..1: the probability that an onset lies within a frame at 24 frames a second, under a Laplace error.

    scale: what the boundary net says, in seconds. It is too sure of itself on voices unlike those it heard, hence doubled,
    and never better than the labels it learned from.
    """
    honest = np.hypot(_OVERCONFIDENCE * scale, _LABEL_ERROR)
    return float(1 - np.exp(-_SURE_WITHIN / honest))
