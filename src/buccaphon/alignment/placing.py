"""From words to placed sounds: search, chain, adaptation and boundary net over one stretch of a recording."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, STATES, AcousticModel, english_model, transform
from buccaphon.alignment.adaptation import estimate_transforms
from buccaphon.alignment.boundary_net import FRAMES_A_FRAME, refine
from buccaphon.alignment.chain import Chain, band_scores, chain_of, in_band, occupancy
from buccaphon.alignment.closures import bounded
from buccaphon.alignment.features import FRAME_SECONDS, Features
from buccaphon.alignment.hearing import HUSH, NOBODY, RecordingFeatures
from buccaphon.alignment.pieces import Edge, Piece, Window, find_pieces
from buccaphon.alignment.request import AlignmentRequest, costs_of, model_phones
from buccaphon.alignment.sounding import PLACING, SEARCHING, by_state
from buccaphon.alignment.vocal_tract import fit_voice
from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.speech.lexicon import Pronunciation
from buccaphon.speech.script import ScriptWord

Doubles = npt.NDArray[np.float64]

# The states answer this much late; measured on the development recordings, the same for all voices.
MODEL_LAG = 0.004  # seconds that the times of forward-backward are late, before the boundary net looks
_MOST_WORDS = 8.0  # a second, that anybody says
_SURE_WITHIN = 0.0417  # seconds: a frame at 24 fps
_NO_SOUND = Pronunciation(("",), (0,))
_OVERCONFIDENCE, _LABEL_ERROR = 2.0, 0.006  # factor, seconds


@dataclass(frozen=True, slots=True)
class Stretch:
    """Frames [begin, end) of what was heard, and the seconds that are 0 there."""

    begin: int
    end: int
    zero: float


def place(
    heard: RecordingFeatures,
    spoken: Sequence[Sequence[Pronunciation]],
    request: AlignmentRequest,
    stretch: Stretch,
    step: Callable[[float, str], None] = lambda _share, _what: None,
) -> list[Sounds] | None:
    """The sounds of all words in a stretch, piece by piece; None when they cannot be said there."""
    model = english_model()
    features = _with_room(heard.features.part(stretch.begin, stretch.end), len(spoken) / heard.pace)
    transforms: npt.NDArray[np.float32] | None = None
    mel = heard.mel[stretch.begin * FRAMES_A_FRAME : stretch.end * FRAMES_A_FRAME + 1]
    variants = [[model_phones(way) for way in ways] for ways in spoken]
    windows = _windows(request, heard, stretch.zero)
    found: list[Sounds] = []

    def report(share: float) -> None:
        step(0.15 + 0.8 * share, "Finding the words")

    for piece in find_pieces(model, features, variants, report, windows, costs=costs_of(spoken)):
        if piece is None:
            return None
        step(0.15 + 0.8 * (0.3 * piece.start + 0.7 * piece.end) / len(features), "Timing each sound")
        part = features.part(piece.start, piece.end)
        chain = chain_of(piece.graph, piece.path, _limits(piece, request, heard, stretch.zero))
        if fit_voice(model, heard, request, stretch.begin + piece.start, chain.senones[chain.first_states()]):
            return place(heard, spoken, request, stretch, step)
        if len(features) == len(heard):
            transforms = learn_voice(model, chain, part, transforms)
            scores = look_closely(model, chain, bend(part, transforms))
        else:  # too little to learn from, and wanted at once
            scores = in_band(chain, piece.scores, piece.column)
            if part.sounding is not None:
                scores += by_state(model, chain, part.sounding, PLACING - SEARCHING)
        entered = occupancy(model, chain, scores, part.entering)
        near = mel[piece.start * FRAMES_A_FRAME : piece.end * FRAMES_A_FRAME + 1]
        times = refine(model, chain, entered, scores, near, MODEL_LAG)
        said = _bounded(_spell(piece, *times, spoken[piece.first :]), piece, near, begins=not found)
        found.append(replace(said, onsets=said.onsets * heard.pace))
    return found


def _with_room(features: Features, words: float) -> Features:
    """Without what the speech net says of pauses when it leaves too little time for the words: it is mistaken then."""
    nobody = (features.pausing >= NOBODY) & (features.pausing < HUSH)
    if (len(features) - int(nobody.sum())) * FRAME_SECONDS >= words / _MOST_WORDS:
        return features
    return replace(features, pausing=np.where(features.pausing >= HUSH, features.pausing, np.float32(0)))


def _windows(request: AlignmentRequest, heard: RecordingFeatures, zero: float) -> list[Window]:
    """Pins at the rims of words, and guides, in frames from `zero` seconds of what was heard."""

    def frame(seconds: float) -> int:
        return round((seconds - heard.start - zero) / heard.frame_seconds)

    windows = []
    for pin in request.pins:
        if pin.phone in (0, pin.of):
            edge = Edge.END if pin.phone else Edge.START
            windows.append(Window(pin.word, edge, frame(pin.seconds), frame(pin.seconds)))
    for guide in request.guides:
        windows.append(Window(guide.word, Edge.START, frame(guide.earliest), frame(guide.latest)))
        windows.append(Window(guide.word, Edge.END, frame(guide.earliest), frame(guide.latest)))
    return windows


def _limits(
    piece: Piece, request: AlignmentRequest, heard: RecordingFeatures, zero: float
) -> dict[int, tuple[int, int]]:
    """For the phones of a piece that a pin or guide holds: the frames of the piece between which they begin."""
    graph, nodes = piece.graph, piece.path.nodes
    owners = np.where(graph.variant[nodes] >= 0, graph.word[nodes] + piece.first, -1)
    begins = piece.begins_sound

    def frame(seconds: float) -> int:
        return round((seconds - heard.start - zero) / heard.frame_seconds) - piece.start

    found: dict[int, tuple[int, int]] = {}
    for guide in request.guides:
        mine = np.flatnonzero(owners == guide.word)
        for at in (int(mine[0]), int(mine[-1]) + 1) if len(mine) else ():
            if at < len(nodes):
                found[at] = (frame(guide.earliest), frame(guide.latest))
    for pin in request.pins:
        mine = np.flatnonzero(owners == pin.word)
        sounds = mine[begins[mine]]
        if len(mine) and (pin.phone in (0, pin.of) or pin.of == len(sounds)):
            at = int(mine[-1]) + 1 if pin.phone == pin.of else int(sounds[pin.phone])
            if at < len(nodes):
                found[at] = (frame(pin.seconds), frame(pin.seconds))
    return found


def learn_voice(
    model: AcousticModel, chain: Chain, heard: Features, before: npt.NDArray[np.float32] | None = None
) -> npt.NDArray[np.float32] | None:
    """The transforms that bend what was heard towards the model, learned from the path that was found: those of the piece
    before where there is too little speech to learn from."""
    transforms = estimate_transforms(model, heard.streams, chain.senones[chain.first_states()], heard.speech)
    return before if transforms is None else transforms


def bend(heard: Features, transforms: npt.NDArray[np.float32] | None) -> Features:
    """What was heard, bent towards the model as far as it is known how."""
    return heard if transforms is None else replace(heard, streams=transform(heard.streams, transforms))


def look_closely(model: AcousticModel, chain: Chain, heard: Features) -> npt.NDArray[np.float32]:
    """The band scores of a chain."""
    scores = band_scores(model, chain, heard.streams)
    pauses = np.repeat(chain.phone == model.index[SILENCE], STATES)
    states = np.minimum(chain.low[:, None] + np.arange(scores.shape[1]), len(pauses) - 1)
    scores -= np.where(pauses[states], np.float32(0), heard.pausing[:, None])
    if heard.sounding is not None:
        scores += by_state(model, chain, heard.sounding, PLACING)
    return scores


@dataclass(frozen=True, eq=False)
class Sounds:
    """The phones of a piece: IPA symbols ('' for a pause), stresses, the numbers of their words in the script (-1 for a
    pause), onsets in seconds of the recording, and confidence."""

    symbols: list[str]
    stresses: list[int]
    owners: list[int]
    onsets: Doubles
    confidence: list[float]

    def lasting(self) -> Iterator[tuple[str, float]]:
        """All but the pauses and the last, with their seconds."""
        for symbol, owner, seconds in zip(self.symbols, self.owners, np.diff(self.onsets).tolist(), strict=False):
            if owner >= 0:
                yield symbol, seconds


def _spell(piece: Piece, onsets: Doubles, scales: Doubles, spoken: Sequence[Sequence[Pronunciation]]) -> Sounds:
    """What a piece's path says, in the pronunciations that it went through. onsets, scales: seconds, one a phone."""
    graph, nodes, begins = piece.graph, piece.path.nodes, piece.begins_sound
    kept = np.flatnonzero(begins | (graph.variant[nodes] < 0))  # a sound begins, or a pause
    symbols: list[str] = []
    stresses: list[int] = []
    owners: list[int] = []
    place = 0
    for node in nodes[kept]:
        is_pause = graph.variant[node] < 0
        owner = -1 if is_pause else int(graph.word[node]) + piece.first
        place = place + 1 if owners and owners[-1] == owner else 0
        way = _NO_SOUND if is_pause else spoken[graph.word[node]][graph.variant[node]]
        symbols.append(way.sounds[place])
        stresses.append(way.stresses[place])
        owners.append(owner)
    sure = [confidence_of(float(scale)) for scale in scales[kept]]
    return Sounds(symbols, stresses, owners, onsets[kept] + piece.start * FRAME_SECONDS, sure)


def _bounded(said: Sounds, piece: Piece, mel: npt.NDArray[np.float32], *, begins: bool) -> Sounds:
    """No stop after a pause held too long. begins: whether the piece is the first that is said."""
    zero = piece.start * FRAME_SECONDS
    until = (piece.end - piece.start) * FRAME_SECONDS
    onsets = bounded(said.symbols, said.onsets - zero, until, mel, begins=begins)
    return replace(said, onsets=onsets + zero)


def write_down(found: Sequence[Sounds], duration: float, script: Sequence[ScriptWord]) -> Score:
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
    return ordered


def confidence_of(scale: float) -> float:
    """0..1: the probability that an onset lies within a frame at 24 frames a second, under a Laplace error.

    scale: what the boundary net says, in seconds. It is too sure of itself on voices unlike those it heard, hence doubled,
    and never better than the labels it learned from.
    """
    honest = np.hypot(_OVERCONFIDENCE * scale, _LABEL_ERROR)
    return float(1 - np.exp(-_SURE_WITHIN / honest))
