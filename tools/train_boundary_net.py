"""Train the boundary net on invented sentences spoken by free synthesisers, whose phone times are exact.

    python -m tools.train_boundary_net --examples EXAMPLES.npz --unheard slt=A.npz rms=B.npz …   speak, spoil, align, collect
    python -m tools.train_boundary_net --train EXAMPLES.npz         train on all voices and write the weights
    python -m tools.train_boundary_net --leave-out EXAMPLES.npz DIR   for each voice: train without it, score it on DIR

DIR holds <voice><number>.flac/.txt/.phones.csv. Sentences are drawn from the dictionary; every recording is used clean, and
spoiled: resampled, tilted, with coloured noise, reverberation or band limits. A third of the spoiled ones carry each.
--unheard: for each voice a speech net that has not heard it. Needs `flite` and `festival`, see voices.py.
"""

import argparse
import csv
import difflib
import tempfile
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise
from pathlib import Path

import numpy as np
from scipy import signal
from tools.acting import drawn_out, paced
from tools.voices import FLITE, PAUSE, RATE, Spoken, festival, flite, sentences

from buccaphon.alignment import aligner, boundary_net, hearing, placing, speech_net
from buccaphon.alignment.acoustic_model import english_model
from buccaphon.alignment.features import FRAME_SECONDS
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

VOICES = (*FLITE, "ked_diphone")
SENTENCES = 110  # for each voice
SPOILED = 4  # spoiled copies of each
JITTER = 0.012  # seconds that anchors are moved at random
FURTHEST = 0.080  # seconds; onsets further off than this are mistakes of another kind
HIDDEN = (128, 48)
SEEDS = (0, 1, 2, 3)  # a net each; their answers are averaged
EPOCHS, BATCH, PACE, DECAY, DROPOUT = 14, 256, 2e-3, 0.04, 0.3


def speak(voice: str, rng: np.random.Generator) -> list[tuple[str, Spoken]]:
    """Sentences with what was said; voices that Flite has not are Festival's."""
    texts = sentences(rng, SENTENCES)
    if voice not in FLITE:
        return list(zip(texts, festival(voice, texts), strict=True))
    with tempfile.TemporaryDirectory() as folder:
        return [(text, flite(voice, text, Path(folder))) for text in texts]


def spoil(samples: np.ndarray, rate: int, rng: np.random.Generator) -> tuple[np.ndarray, float]:
    """A worse recording of the same, and by how much its times are stretched."""
    stretch = 1.0
    if rng.random() < 0.6:
        stretch = float(rng.uniform(0.82, 1.22))
        samples = signal.resample(samples, round(len(samples) * stretch)).astype(np.float32)
    if rng.random() < 0.4:
        samples = signal.lfilter([1, float(rng.uniform(-0.7, 0.7))], [1], samples)
    if rng.random() < 0.33:
        tail = round(rng.uniform(0.2, 0.6) * rate)
        room = rng.standard_normal(tail) * np.exp(-6.9 * np.arange(tail) / tail) * rng.uniform(0.02, 0.06)
        room[0] = 1.0
        samples = signal.fftconvolve(samples, room)[: len(samples)]
    if rng.random() < 0.25:
        band = float(rng.uniform(60, 300)), float(rng.uniform(3200, 7000))
        samples = signal.sosfilt(signal.butter(4, band, "bandpass", fs=rate, output="sos"), samples)
    if rng.random() < 0.6:
        spectrum = np.fft.rfft(rng.standard_normal(len(samples)))
        spectrum /= np.maximum(np.arange(len(spectrum)), 1) ** float(rng.uniform(0, 0.7))
        noise = np.fft.irfft(spectrum, len(samples))
        level = np.sqrt(np.mean(samples**2) / np.mean(noise**2) / 10 ** (rng.uniform(5, 28) / 10))
        samples = samples + noise * level
    return (samples / max(1.0, np.abs(samples).max())).astype(np.float32), stretch


def looked_at(samples: np.ndarray, rate: int, text: str, truth: list[tuple[str, float]], rng: np.random.Generator):
    """Inputs and offsets (in 10 ms) for the onsets that alignment and truth both have."""
    seen: list = []
    original = placing.refine  # type: ignore[attr-defined]

    def spy(model, chain, entered, scores, mel, lag):
        seen.append((chain, entered, scores, mel))
        return original(model, chain, entered, scores, mel, lag)

    recording = Recording(samples[:, None], rate, "x")
    placing.refine = spy  # type: ignore[attr-defined]
    try:
        aligner.align(AlignmentRequest(recording, script_words(text)))
    finally:
        placing.refine = original  # type: ignore[attr-defined]
    (chain, entered, scores, mel) = seen[-1]  # slow speech is heard twice, then at its pace
    pace = hearing.listen(recording, Span(0.0, recording.duration), ()).pace
    model = english_model()
    names = [model.phones[p] for p in chain.phone]
    spoken = [k for k, name in enumerate(names) if name != "SIL"]
    matcher = difflib.SequenceMatcher(None, [names[k] for k in spoken], [name for name, _ in truth], autojunk=False)
    wanted = np.full(len(names), np.nan)
    for i, j, n in matcher.get_matching_blocks():
        for step in range(n):
            wanted[spoken[i + step]] = truth[j + step][1] / pace
    anchors = entered.onset[1:] * FRAME_SECONDS + rng.uniform(-JITTER, JITTER, len(names) - 1)
    anchors = np.round(anchors / boundary_net.STEP) * boundary_net.STEP
    inputs = boundary_net.inputs_at(model, chain, entered, scores, mel, anchors)
    off = wanted[1:] - anchors
    fine = np.abs(off) < FURTHEST
    return inputs[fine].astype(np.float16), (off[fine] / 0.010).astype(np.float32)


def collect(voice: str, net: Path | None) -> tuple[np.ndarray, np.ndarray]:
    """net: the speech net that listens; one that has not heard the voice, or it would hear better than it does in use."""
    rng = np.random.default_rng(VOICES.index(voice))
    if net is not None:
        with np.load(net) as data:
            heard = speech_net.unpack({name: data[name] for name in data.files})
        hearing.shipped_net = lambda: heard  # type: ignore[attr-defined,assignment]
    gathered = []
    for text, spoken in speak(voice, rng):
        phones = [(name, at) for name, at in spoken.sounds if name != PAUSE]
        try:
            gathered.append(looked_at(spoken.samples, RATE, text, phones, rng))
            for _ in range(SPOILED):
                said = drawn_out(spoken, rng) if rng.random() < 0.3 else spoken
                said = paced(said, rng) if rng.random() < 0.3 else said
                worse, stretch = spoil(said.samples, RATE, rng)
                moved = [(name, at * stretch) for name, at in said.sounds if name != PAUSE]
                gathered.append(looked_at(worse, RATE, text, moved, rng))
        except BuccaphonError as problem:  # one odd sentence more or less
            print(voice, "skipped:", problem, flush=True)
    return np.concatenate([x for x, _ in gathered]), np.concatenate([y for _, y in gathered])


def train(inputs: np.ndarray, offsets: np.ndarray, seed: int) -> dict[str, np.ndarray]:
    """Adam on the Laplace likelihood, dropout on the first layer, decoupled weight decay."""
    rng = np.random.default_rng(seed)
    mean, spread = inputs.mean(0, dtype=np.float64), inputs.astype(np.float32).std(0) + 0.1
    sizes = (inputs.shape[1], *HIDDEN, 2)
    weights = [rng.normal(0, np.sqrt(2 / a), (a, b)).astype(np.float32) for a, b in pairwise(sizes)]
    weights[-1] *= 0.1
    biases = [np.zeros(b, np.float32) for b in sizes[1:]]
    parameters = weights + biases
    first: list = [np.zeros_like(p) for p in parameters]
    second: list = [np.zeros_like(p) for p in parameters]
    steps = EPOCHS * (len(inputs) // BATCH)
    step = 0
    for _ in range(EPOCHS):
        order = rng.permutation(len(inputs))
        for at in range(0, len(order) - BATCH + 1, BATCH):
            rows = order[at : at + BATCH]
            x = ((inputs[rows].astype(np.float32) - mean) / spread).astype(np.float32)
            gradients = backwards(x, offsets[rows], weights, biases, rng)
            step += 1
            rate = PACE * (1 - step / (steps + 1))
            for i, (p, g) in enumerate(zip(parameters, gradients, strict=True)):
                first[i] = 0.9 * first[i] + 0.1 * g
                second[i] = 0.999 * second[i] + 0.001 * g * g
                change = rate * (first[i] / (1 - 0.9**step)) / (np.sqrt(second[i] / (1 - 0.999**step)) + 1e-8)
                np.subtract(p, change + rate * DECAY * p * (i < len(weights)), out=p)
    named = {f"weight{i}": w for i, w in enumerate(weights)} | {f"bias{i}": b for i, b in enumerate(biases)}
    return named | {"mean": mean.astype(np.float32), "spread": spread.astype(np.float32)}


def backwards(x, y, weights, biases, rng) -> list[np.ndarray]:
    values, kept = [x], (rng.random((len(x), HIDDEN[0])) > DROPOUT) / (1 - DROPOUT)
    for i, (w, b) in enumerate(zip(weights[:-1], biases[:-1], strict=True)):
        h = np.maximum(values[-1] @ w + b, 0)
        values.append((h * kept if i == 0 else h).astype(np.float32))
    out = values[-1] @ weights[-1] + biases[-1]
    log_scale = np.clip(out[:, 1], -3, 3)
    difference = out[:, 0] - y
    size, scale = np.sqrt(difference**2 + 0.01), np.exp(log_scale)
    grad = np.stack([difference / size / scale, (1 - size / scale) * (np.abs(out[:, 1]) < 3)], 1).astype(
        np.float32
    ) / len(x)
    grads_w: list[np.ndarray] = []
    grads_b: list[np.ndarray] = []
    for i in range(len(weights) - 1, -1, -1):
        grads_w.insert(0, values[i].T @ grad)
        grads_b.insert(0, grad.sum(0))
        if i:
            grad = (grad @ weights[i].T) * (values[i] > 0)
            if i == 1:
                grad = (grad * kept).astype(np.float32)
    return grads_w + grads_b


def packed(nets: list[dict[str, np.ndarray]]) -> dict[str, np.ndarray]:
    data = {f"{n}.{name}": value.astype(np.float16) for n, net in enumerate(nets) for name, value in net.items()}
    return data | {"nets": np.array(len(nets))}


def onset_errors(folder: Path, voice: str) -> np.ndarray:
    errors = []
    for path in sorted(folder.glob(f"{voice}*.flac")):
        score = aligner.align(
            AlignmentRequest(read_recording(path), script_words(path.with_suffix(".txt").read_text()))
        )
        found = [(arpabet_of(phone.symbol), phone.start) for phone in score.phones()]
        with path.with_name(f"{path.stem}.phones.csv").open(newline="") as rows:
            truth = [(row["phone"], float(row["start_s"])) for row in csv.DictReader(rows) if row["phone"]]
        matcher = difflib.SequenceMatcher(None, [n for n, _ in found], [n for n, _ in truth], autojunk=False)
        errors += [found[i + k][1] - truth[j + k][1] for i, j, n in matcher.get_matching_blocks() for k in range(n)]
    return np.array(errors)


def summary(errors: np.ndarray) -> str:
    sizes = 1000 * np.abs(errors)
    shares = " ".join(f"<{limit:g} ms {np.mean(sizes < limit):.3f}" for limit in (10, 20, 41.7))
    return f"{len(errors)} onsets, mean {sizes.mean():.1f} ms, {shares}, signed {1000 * errors.mean():+.1f} ms"


def main() -> None:
    cli = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    cli.add_argument("--examples", type=Path)
    cli.add_argument("--unheard", nargs="*", default=[], metavar="VOICE=NET")
    cli.add_argument("--train", type=Path)
    cli.add_argument("--leave-out", type=Path, nargs=2)
    args = cli.parse_args()
    if args.examples:
        nets = {voice: Path(net) for voice, net in (each.split("=") for each in args.no_progress)}
        with ProcessPoolExecutor(2) as pool:
            listening = pool.map(collect, VOICES, [nets.get(voice) for voice in VOICES])
            found = dict(zip(VOICES, listening, strict=True))
        np.savez(args.examples, **{f"{v}.{k}": a for v, pair in found.items() for k, a in zip("xy", pair, strict=True)})
        print({voice: len(y) for voice, (_, y) in found.items()})
    if args.leave_out:
        data, everything = np.load(args.leave_out[0]), []
        for left in FLITE:
            rest = [voice for voice in VOICES if voice != left]
            x, y = (np.concatenate([data[f"{voice}.{k}"] for voice in rest]) for k in "xy")
            made = packed([train(x, y, seed) for seed in SEEDS])
            aligner_nets = tuple(boundary_net.unpack(made, n) for n in range(len(SEEDS)))
            boundary_net.shipped_nets = lambda nets=aligner_nets: nets  # type: ignore[assignment]
            errors = onset_errors(args.leave_out[1], left.removesuffix("16"))
            print(f"{left:6s} {summary(errors)}", flush=True)
            everything.append(errors)
        print(f"{'all':6s} {summary(np.concatenate(everything))}")
    if args.train:
        data = np.load(args.train)
        x, y = (np.concatenate([data[f"{voice}.{k}"] for voice in VOICES]) for k in "xy")
        made = packed([train(x, y, seed) for seed in SEEDS])
        target = Path(boundary_net.__file__).with_name("boundary_net.npz")
        np.savez_compressed(target, **made)
        print(target, target.stat().st_size, "bytes")


if __name__ == "__main__":
    main()
