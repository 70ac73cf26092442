"""Speech sounds without a script: a loop of all sounds, weighed by how often one follows the other in the dictionary."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, AcousticModel, english_model
from buccaphon.alignment.best_path import best_path
from buccaphon.alignment.boundary_net import FRAMES_A_FRAME, refine
from buccaphon.alignment.chain import chain_of, in_band, occupancy
from buccaphon.alignment.features import FRAME_SECONDS, Features
from buccaphon.alignment.graph import Graph, phone_loop
from buccaphon.alignment.hearing import RecordingFeatures, listen
from buccaphon.alignment.pieces import LAST_WINDOW, WINDOW, Piece, scores_of, trusted
from buccaphon.alignment.placing import MODEL_LAG, bend, confidence_of, in_order, learn_voice
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.alignment.vocal_tract import fit_voice
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.progress import Progress, no_progress
from buccaphon.score.edits import shifted
from buccaphon.score.records import Phone, Score, Word
from buccaphon.speech.dictionary import all_listed
from buccaphon.speech.phones import ipa_of
from buccaphon.texts import _

Doubles = npt.NDArray[np.float64]


def recognise(request: AlignmentRequest, progress: Progress = no_progress) -> Score:
    """The speech sounds of a recording as words without text, one for each stretch between pauses.

    The request's words are not looked at. English sounds are looked for. Raises AlignmentError when nothing is heard.
    """
    recording, used = request.recording, request.looked_at
    if recording.part(used).is_silent:
        raise AlignmentError(
            recording.name, _("it holds only silence"), _("Choose the channel or the take with the voice")
        )
    model = english_model()

    def report(share: float) -> None:
        if not progress(share, _("Listening for sounds")):
            raise Cancelled

    heard = listen(recording, used, request.not_speech, lambda _share: report(0.0))
    heard.reset_voice()
    graph = phone_loop(model, phone_order(model))
    symbols: list[str] = []
    onsets: list[Doubles] = []
    sure: list[float] = []
    start = 0
    while start < len(heard):
        report(start / len(heard))
        piece = _best_piece(model, graph, heard, request, start)
        if piece is None:
            break
        part, chain = heard.features.part(piece.start, piece.end), chain_of(piece.graph, piece.path)
        scores = in_band(chain, piece.scores, piece.column)
        entered = occupancy(model, chain, scores, part.entering)
        near = heard.mel[piece.start * FRAMES_A_FRAME : piece.end * FRAMES_A_FRAME + 1]
        times, scales = refine(model, chain, entered, scores, near, MODEL_LAG)
        symbols += [model.phones[phone] for phone in graph.phone[piece.path.nodes]]
        onsets.append(times + piece.start * FRAME_SECONDS)
        sure += [confidence_of(float(scale)) for scale in scales]
        start = piece.end
    if not any(symbol != SILENCE for symbol in symbols):
        raise AlignmentError(recording.name, _("no speech is heard in it"), _("Choose the take with the voice"))
    times = in_order(np.concatenate(onsets), used.length)
    return shifted(_group(symbols, times, sure, used.length), used.start, recording.duration)


def _best_piece(
    model: AcousticModel, graph: Graph, heard: RecordingFeatures, request: AlignmentRequest, start: int
) -> Piece | None:
    """The sounds from frame `start` on; looked for once more after the features were bent towards the model."""
    end = len(heard) if len(heard) - start <= LAST_WINDOW else start + WINDOW
    part = heard.features.part(start, end)
    piece = _piece(model, graph, part, start)
    if piece is None:
        return None
    chain = chain_of(graph, piece.path)
    if fit_voice(model, heard, request, start, chain.senones[chain.first_states()]):
        return _best_piece(model, graph, heard, request, start)
    piece = _piece(model, graph, bend(part, learn_voice(model, chain, part)), start) or piece
    return piece if end == len(heard) else trusted(model, piece)


def _piece(model: AcousticModel, graph: Graph, part: Features, start: int) -> Piece | None:
    scores, column = scores_of(model, graph, part)
    path = best_path(model, graph, scores, column, part.entering)
    return Piece(start, start + len(part), 0, 0, graph, path, scores, column) if path else None


def _group(symbols: list[str], onsets: Doubles, sure: list[float], duration: float) -> Score:
    ends = np.append(onsets[1:], duration)
    words: list[Word] = []
    phones: list[Phone] = []
    for symbol, start, end, confidence in zip(
        [*symbols, SILENCE], [*onsets, 0.0], [*ends, 0.0], [*sure, 0.0], strict=True
    ):
        if symbol != SILENCE:
            phones.append(Phone(ipa_of(symbol, 0), float(start), float(end), 0, confidence))
        elif phones:
            words.append(Word("", tuple(phones)))
            phones = []
    return Score(tuple(words), duration)


@lru_cache(maxsize=1)
def phone_order(model: AcousticModel) -> Doubles:
    """(phones, phones) log probability that one sound follows another, silence at the rims of words; from the dictionary,
    every word once. -inf for what is no speech sound."""
    counts = np.full((len(model.phones), len(model.phones)), np.nan)
    sounds = [number for number, name in enumerate(model.phones) if name.isalpha()]
    counts[np.ix_(sounds, sounds)] = 1.0
    for way in all_listed():
        path = [model.index[SILENCE], *(model.index[name] for name in way), model.index[SILENCE]]
        np.add.at(counts, (path[:-1], path[1:]), 1.0)
    # words are said without a pause between them, so the end of a word is mostly followed by the start of another
    silence = model.index[SILENCE]
    ends, starts = counts[:, silence].copy(), counts[silence].copy()
    counts += 0.85 * np.nan_to_num(ends)[:, None] * np.nan_to_num(starts)[None, :] / np.nansum(starts)
    counts[silence, silence] = np.nan
    order: Doubles = np.log(counts / np.nansum(counts, axis=1, keepdims=True))
    return np.where(np.isfinite(order), order, -np.inf)
