"""Recording and words in, timed words and phones out: the whole recipe in the order it is run.

features ─► best path through the word graph ─► chain of its phones
        ─► transforms towards the speaker ─► chain again ─► boundary times and how sure they are
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, STATES, AcousticModel, english_model
from buccaphon.alignment.adaptation import estimate_transforms
from buccaphon.alignment.best_path import best_path
from buccaphon.alignment.boundary_net import FRAMES_A_FRAME, log_mel, refined
from buccaphon.alignment.chain import FLATTENING, Chain, Occupancy, band_scores, chain_of, occupancy
from buccaphon.alignment.features import FRAME_SECONDS, Features, conditioned, features_of, frames_within
from buccaphon.alignment.graph import word_graph
from buccaphon.alignment.pieces import HUSH_COST, Edge, Piece, Window, find_pieces, scores_of
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.score.edits import Boundary, move_boundary, shifted
from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon, Pronunciation
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import ScriptWord
from buccaphon.timing import Span

Doubles = npt.NDArray[np.float64]

# The model's states answer this much late; measured on the development recordings, the same for all voices.
MODEL_LAG = 0.008
_SURE_WITHIN = 0.0417  # seconds: a frame at 24 frames a second
_OVERCONFIDENCE, _LABEL_ERROR = 2.0, 0.006  # factor, seconds

_GIVE_WAY = 3  # words on either side that may be aligned again to make room

Progress = Callable[[float, str], bool]  # share done, what is being done -> False to stop


def _unheard(_share: float, _what: str) -> bool:
    return True


@dataclass(frozen=True, slots=True)
class Pin:
    """A boundary that holds whatever is heard: before phone number `phone` of word number `word`, which had `of` phones when
    it was pinned; `of` itself is the end of the word."""

    word: int
    phone: int
    of: int
    seconds: float


@dataclass(frozen=True, slots=True)
class Guide:
    """What is known beforehand: a word starts at the earliest and ends at the latest so many seconds into the recording."""

    word: int
    earliest: float
    latest: float


@dataclass(frozen=True, slots=True)
class AlignmentRequest:
    """What to align: a recording and the words said in it, in order.

    language: what is spoken. used: the part of the recording that is looked at, all of it when None. not_speech: stretches
    without any word. lexicon: pronunciations that come before those of the dictionary. pins, guides: times that are known.
    """

    recording: Recording
    words: tuple[ScriptWord, ...]
    used: Span | None = None
    not_speech: tuple[Span, ...] = ()
    language: str = ENGLISH
    lexicon: Lexicon = NO_ENTRIES
    pins: tuple[Pin, ...] = ()
    guides: tuple[Guide, ...] = ()

    @property
    def looked_at(self) -> Span:
        return self.used or Span(0.0, self.recording.duration)


def align(request: AlignmentRequest, progress: Progress = _unheard) -> Score:
    """Find where each word and phone lies.

    Words that nothing can pronounce (signs, foreign scripts) are refused. Raises AlignmentError when the recording is
    silent, too short for its words, or has no words; Cancelled when `progress` returns False. Pins hold exactly; guides
    that no path can keep are left out of account.
    """
    recording, words, used = request.recording, request.words, request.looked_at

    def step(share: float, what: str) -> None:
        if not progress(share, what):
            raise Cancelled

    step(0.0, "Reading the words")
    spoken = spoken_ways(request)
    _refuse_hopeless(recording.part(used), words)
    step(0.05, "Listening")
    heard = listen(recording, used, request.not_speech)
    found = _placed(heard, spoken, request, Stretch(0, len(heard), 0.0), step)
    if found is None and request.guides:
        request = replace(request, guides=())
        found = _placed(heard, spoken, request, Stretch(0, len(heard), 0.0), step)
    if found is None and request.pins:  # they are put in their place below all the same
        found = _placed(heard, spoken, replace(request, pins=()), Stretch(0, len(heard), 0.0), step)
    if found is None:
        reason = f"{used.length:.1f} s are too short to say {len(words)} words"
        raise AlignmentError(recording.name, reason, "Check that the script belongs to this recording")
    placed = sum(len({owner for owner in piece.owners if owner >= 0}) for piece in found)
    if placed < len(words):
        reason = f"it ends before “{words[placed].text}”, with {len(words) - placed} words left to say"
        raise AlignmentError(recording.name, reason, "Check that the script belongs to this recording")
    step(0.98, "Writing down")
    score = shifted(_score(found, used.length, words), used.start, recording.duration)
    return _with_pins(score, request.pins)


def realign(request: AlignmentRequest, score: Score, first: int, last: int) -> Score:
    """Align some words again, and leave all others where they are.

    request: of the whole script as it is now. score: as it was; its words from number `first` up to `last` are replaced by
    as many of the request's words as those it has more. Everything outside stays exactly as it is; where the words do not
    fit between their neighbours, a few of these give way. Raises AlignmentError when there is no room even then.
    """
    spoken = spoken_ways(request)
    for wider in range(_GIVE_WAY + 1):
        begin, end = max(first - wider, 0), min(last + wider, len(score.words))
        placed = _replaced(request, spoken, score, begin, end)
        if placed is not None:
            return placed
    asked = " ".join(word.text for word in request.words[first : last + len(request.words) - len(score.words)])
    reason = f"there is no room to say “{asked}”"
    raise AlignmentError(request.recording.name, reason, "Make room by moving the words around it")


def _replaced(
    request: AlignmentRequest, spoken: Sequence[Sequence[Pronunciation]], score: Score, first: int, last: int
) -> Score | None:
    """The score with its words [first, last) aligned again; None when they do not fit between their neighbours."""
    end = last + len(request.words) - len(score.words)
    words, used = request.words[first:end], request.looked_at
    before, after = score.words[:first], score.words[last:]
    if not words:
        return Score((*before, *after), score.duration)
    room = Span(before[-1].end if before else used.start, after[0].start if after else used.end)
    heard = listen(request.recording, used, request.not_speech)
    begin = round((room.start - used.start) / FRAME_SECONDS)
    stretch = Stretch(begin, max(round((room.end - used.start) / FRAME_SECONDS), begin + 1), room.start - used.start)
    pins = tuple(replace(pin, word=pin.word - first) for pin in request.pins if first <= pin.word < end)
    inner = replace(request, pins=pins, guides=())
    ways = spoken[first:end]
    found = _placed(heard, ways, inner, stretch) or _placed(heard, ways, replace(inner, pins=()), stretch)
    if found is None:
        return None
    part = shifted(_score(found, room.length, words), room.start, score.duration)
    return Score((*before, *_with_pins(part, pins).words, *after), score.duration)


def weighed_ways(request: AlignmentRequest, score: Score, number: int, ways: Sequence[Pronunciation]) -> list[float]:
    """How well each way to say a word fits what is heard, as shares that sum to 1.

    score: as aligned; word number `number` is listened to between its neighbours. The likelihoods of the best paths are
    flattened as in the chain.
    """
    used, model = request.looked_at, english_model()
    heard = listen(request.recording, used, request.not_speech)
    before = score.words[number - 1].end if number else used.start
    after = score.words[number + 1].start if number + 1 < len(score.words) else used.end
    begin, end = (round((edge - used.start) / FRAME_SECONDS) for edge in (before, after))
    part, hush = heard.features.part(begin, max(end, begin + 1)), heard.hushed[begin : max(end, begin + 1)]
    likelihoods = []
    for way in ways:
        graph = word_graph(model, [[[arpabet_of(sound) for sound in way.sounds]]])
        path = best_path(model, graph, *scores_of(model, graph, part, hush))
        likelihoods.append(path.score if path else -np.inf)
    best = max(likelihoods, default=0.0)
    if not np.isfinite(best):
        return [1 / len(ways)] * len(ways)
    shares = np.exp(FLATTENING * (np.array(likelihoods) - best))
    return [float(share) for share in shares / shares.sum()]


def _with_pins(score: Score, pins: Sequence[Pin]) -> Score:
    """To the last digit where the hand has put them."""
    for pin in pins:
        count = len(score.words[pin.word].phones)
        if pin.phone in (0, pin.of) or count == pin.of:
            place = count if pin.phone == pin.of else pin.phone
            score = move_boundary(score, Boundary(pin.word, place), pin.seconds)
    return score


@dataclass(eq=False)
class Heard:
    """What the search works on, of the part of a recording that is looked at; begins at `start` seconds of it.

    transforms: what was learned about the voice and the room, once something was aligned.
    """

    start: float
    features: Features
    mel: npt.NDArray[np.float32]
    hushed: npt.NDArray[np.bool_]
    transforms: npt.NDArray[np.float32] | None = None

    def __len__(self) -> int:
        return len(self.features)


@lru_cache(maxsize=1)
def listen(recording: Recording, used: Span, not_speech: tuple[Span, ...]) -> Heard:
    """Features of a part of a recording. The last answer is kept, so that a word can be aligned again at once."""
    hushes = [Span(max(s.start - used.start, 0.0), s.end - used.start) for s in not_speech if s.overlap(used) > 0]
    samples = conditioned(recording.part(used))
    features = features_of(samples, hushes)
    return Heard(used.start, features, log_mel(samples), frames_within(hushes, len(features)))


@dataclass(frozen=True, slots=True)
class Stretch:
    """Frames [begin, end) of what was heard, and the seconds that are 0 there."""

    begin: int
    end: int
    zero: float


def _placed(
    heard: Heard,
    spoken: Sequence[Sequence[Pronunciation]],
    request: AlignmentRequest,
    stretch: Stretch,
    step: Callable[[float, str], None] = lambda _share, _what: None,
) -> list[_Sounds] | None:
    """The sounds of all words in a stretch, piece by piece; None when they cannot be said there."""
    model = english_model()
    features, hushed = heard.features.part(stretch.begin, stretch.end), heard.hushed[stretch.begin : stretch.end]
    mel = heard.mel[stretch.begin * FRAMES_A_FRAME : stretch.end * FRAMES_A_FRAME + 1]
    variants = [[[arpabet_of(s) for s in way.sounds] for way in ways] for ways in spoken]
    windows = _windows(request, heard.start + stretch.zero)
    found: list[_Sounds] = []

    def report(share: float) -> None:
        step(0.15 + 0.8 * share, "Finding the words")

    for piece in find_pieces(model, features, hushed, variants, report, windows):
        if piece is None:
            return None
        step(0.15 + 0.8 * (0.3 * piece.start + 0.7 * piece.end) / len(features), "Placing each sound")
        part, hush = features.part(piece.start, piece.end), hushed[piece.start : piece.end]
        chain = chain_of(piece.graph, piece.path, _limits(piece, request, heard.start + stretch.zero))
        entered, scores, heard.transforms = adapted(model, chain, part, hush, heard.transforms)
        near = mel[piece.start * FRAMES_A_FRAME : piece.end * FRAMES_A_FRAME + 1]
        times = refined(model, chain, entered, scores, near, MODEL_LAG)
        found.append(_spelled(model, piece, *times, spoken[piece.first :]))
    return found


def _windows(request: AlignmentRequest, zero: float) -> list[Window]:
    """Pins at the rims of words, and guides, in frames from `zero` seconds of the recording."""

    def frame(seconds: float) -> int:
        return round((seconds - zero) / FRAME_SECONDS)

    windows = []
    for pin in request.pins:
        if pin.phone in (0, pin.of):
            edge = Edge.END if pin.phone else Edge.START
            windows.append(Window(pin.word, edge, frame(pin.seconds), frame(pin.seconds)))
    for guide in request.guides:
        windows.append(Window(guide.word, Edge.START, frame(guide.earliest), frame(guide.latest)))
        windows.append(Window(guide.word, Edge.END, frame(guide.earliest), frame(guide.latest)))
    return windows


def _limits(piece: Piece, request: AlignmentRequest, zero: float) -> dict[int, tuple[int, int]]:
    """For the phones of a piece that a pin or guide holds: the frames of the piece between which they begin."""
    graph, nodes = piece.graph, piece.path.nodes
    owners = np.where(graph.variant[nodes] >= 0, graph.word[nodes] + piece.first, -1)

    def frame(seconds: float) -> int:
        return round((seconds - zero) / FRAME_SECONDS) - piece.start

    found: dict[int, tuple[int, int]] = {}
    for guide in request.guides:
        mine = np.flatnonzero(owners == guide.word)
        for at in (int(mine[0]), int(mine[-1]) + 1) if len(mine) else ():
            if at < len(nodes):
                found[at] = (frame(guide.earliest), frame(guide.latest))
    for pin in request.pins:
        mine = np.flatnonzero(owners == pin.word)
        if len(mine) and (pin.phone in (0, pin.of) or pin.of == len(mine)):
            at = int(mine[-1]) + 1 if pin.phone == pin.of else int(mine[0]) + pin.phone
            if at < len(nodes):
                found[at] = (frame(pin.seconds), frame(pin.seconds))
    return found


def spoken_ways(request: AlignmentRequest) -> list[tuple[Pronunciation, ...]]:
    """How each word of a request may be said."""
    times: dict[str, int] = {}
    ways = []
    for word in request.words:
        nth = times.get(word.bare.lower(), 0)
        times[word.bare.lower()] = nth + 1
        ways.append(_pronounced(word, request, nth))
    return ways


def _pronounced(word: ScriptWord, request: AlignmentRequest, nth: int) -> tuple[Pronunciation, ...]:
    ways = request.lexicon.ways(word.bare, request.language, nth)
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


def adapted(
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
    sure = [confidence_of(float(scale)) for scale in scales]
    return _Sounds(symbols, stresses, owners.tolist(), onsets + piece.start * FRAME_SECONDS, sure)


def _score(found: Sequence[_Sounds], duration: float, script: Sequence[ScriptWord]) -> Score:
    """Gather the phones of all pieces into words and settle their times."""
    symbols = [symbol for piece in found for symbol in piece.symbols]
    stresses = [stress for piece in found for stress in piece.stresses]
    confidence = [sure for piece in found for sure in piece.confidence]
    owners = np.array([owner for piece in found for owner in piece.owners])
    onsets = in_order(np.concatenate([piece.onsets for piece in found]), duration)
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


def in_order(onsets: Doubles, duration: float) -> Doubles:
    """Onsets at least SHORTEST apart, inside the recording, moved as little as keeping their order asks for."""
    steps = np.arange(len(onsets)) * SHORTEST
    upwards = np.maximum.accumulate(onsets - steps)
    downwards = np.minimum.accumulate((onsets - steps)[::-1])[::-1]
    room = max(duration - SHORTEST * len(onsets), 0.0)
    ordered: Doubles = np.clip((upwards + downwards) / 2, 0.0, room) + steps
    ordered[0] = 0.0 if len(ordered) > 1 and ordered[0] < ordered[1] else ordered[0]
    return ordered


def confidence_of(scale: float) -> float:
    """0..1: the probability that an onset lies within a frame at 24 frames a second, under a Laplace error.

    scale: what the boundary net says, in seconds. It is too sure of itself on voices unlike those it heard, hence doubled,
    and never better than the labels it learned from.
    """
    honest = np.hypot(_OVERCONFIDENCE * scale, _LABEL_ERROR)
    return float(1 - np.exp(-_SURE_WITHIN / honest))
