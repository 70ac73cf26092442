"""Train the speech net on invented sentences of free synthesisers. Needs PyTorch, `flite` and `festival`, see voices.py.

    python -m tools.train_speech_net --speak DATA.npz                            speak, spoil, look (10 minutes)
    python -m tools.train_speech_net --train DATA.npz NET.npz [--without slt kal16]  [--from NET] [--steps 3700]

The first writes what the net sees; the second trains it without some voices (45 minutes on one core) and writes its weights.
"""

import argparse
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import soxr
from tools import voices
from tools.acting import acted
from tools.spoiling import spoil

from buccaphon.alignment.speech_net import BANDS, SOUNDS, STEP, log_mels

RATE = voices.RATE
COPIES = 4  # the first is spoiled lightly
ACTED = 0.6  # of the copies are said as by an actor
SPREAD = 0.005  # seconds: a boundary is heard this much around where it is
ESPEAK_WEIGHT = 0.35
UNNAMED, NOTHING = 254, 255  # labels: some sound or other; not to be learned from
DILATIONS = (1, 2, 4, 8, 16, 4, 1)
CHANNELS = 128
BATCH, CROP = 32, 400  # frames of 5 ms


def tasks() -> list[tuple[str, int, int]]:
    """(voice, number of sentences, seed), in parts of about equal work."""
    made = [(f"flite {voice}", 100, n) for voice in voices.FLITE for n in range(6)]
    made += [("festival ked_diphone", 100, n) for n in range(4)]
    made += [(f"festival {voice}", 80, 0) for voice in voices.FESTIVAL[1:]]
    return made + [("espeak", 120, n) for n in range(10)]


def spoken(task: tuple[str, int, int]) -> list[voices.Spoken]:
    (engine, _, voice), count, seed = task[0].partition(" "), task[1], task[2]
    rng = np.random.default_rng([seed, *task[0].encode()])
    if engine == "flite":
        with tempfile.TemporaryDirectory() as folder:
            return [voices.flite(voice, text, Path(folder)) for text in voices.sentences(rng, count)]
    if engine == "festival":
        english = voice == "ked_diphone"
        texts = voices.sentences(rng, count) if english else [voices.syllables(rng) for _ in range(count)]
        return voices.festival(voice, texts)
    made, speaker = [], voices.espeak()
    for _ in range(count):
        name = str(rng.choice(voices.ESPEAK)) if rng.random() < 0.5 else voices.ESPEAK[0]
        text = voices.sentences(rng, 1)[0] if name.startswith("gmw/en") else voices.syllables(rng)
        variant = str(rng.choice(speaker.variants))
        try:
            made.append(speaker.say(name, variant, text, int(rng.integers(120, 220)), int(rng.integers(25, 75))))
        except ValueError as problem:
            print(problem)
    return [one for one in made if len(one.samples) > RATE // 2 and len(one.sounds) > 5]


def collect(task: tuple[str, int, int]) -> dict[str, np.ndarray]:
    """mels: (frames of 5 ms, BANDS) float16. labels: (frames,) uint8. boundary: (frames,) float16."""
    rng = np.random.default_rng([task[2], 7, *task[0].encode()])
    said = spoken(task)
    seen, labels, boundaries = [], [], []
    for one in said:
        for copy in range(COPIES):
            as_said = acted(one, said, rng) if rng.random() < ACTED else one
            worse = looked_at(as_said, said, rng, heavily=copy > 0)
            for kept, made in zip((seen, labels, boundaries), worse, strict=True):
                kept.append(made)
    print(task, f"{sum(len(x) for x in labels) * STEP / 3600:.2f} h", flush=True)
    return {"mels": np.concatenate(seen), "labels": np.concatenate(labels), "boundary": np.concatenate(boundaries)}


def looked_at(one: voices.Spoken, others: list[voices.Spoken], rng: np.random.Generator, *, heavily: bool):
    samples, stretch = one.samples, 1.0
    if rng.random() < 0.6:
        stretch = (
            float(np.exp(rng.uniform(np.log(0.65), np.log(1.5))))
            if rng.random() < 0.4
            else float(rng.uniform(0.84, 1.18))
        )
        samples = soxr.resample(samples, RATE, RATE * stretch).astype(np.float32)
    before, after = (round(rng.uniform(0, 1.5) * RATE) if rng.random() < 0.6 else 0 for _ in range(2))
    starts = np.array([at * stretch + before / RATE for _, at in one.sounds])
    names = [name for name, _ in one.sounds]
    ends = np.append(starts[1:], (before + len(samples)) / RATE)
    whole = np.concatenate([np.zeros(before), samples, np.zeros(after)])
    count = len(whole) // round(STEP * RATE) + 1
    label = np.full(count, SOUNDS.index("SIL"), np.uint8)
    at = np.arange(count) * STEP
    for name, start, end in zip(names, starts, ends, strict=True):
        named = SOUNDS.index(name) if name in SOUNDS else UNNAMED
        label[np.searchsorted(at, start) : np.searchsorted(at, end)] = named
    real = ends > starts
    changes = [s for k, s in enumerate(starts) if real[k] and (k or names[0] != "SIL")]
    distance = np.abs(at[:, None] - np.array(changes)).min(1)
    boundary = np.exp(-0.5 * (distance / SPREAD) ** 2)
    speaking = np.zeros(len(whole), bool)
    for name, start, end in zip(names, starts, ends, strict=True):
        speaking[round(start * RATE) : round(end * RATE)] = name != "SIL"
    worse = spoil(whole, speaking, [other.samples for other in others], rng, heavily)
    worse = 16384 * worse / np.abs(worse).max()
    worse += 2 * rng.standard_normal(len(worse))
    warp = round(float(rng.uniform(0.9, 1.12)), 2) if rng.random() < 0.5 else 1.0
    return log_mels(worse.astype(np.float32), warp).astype(np.float16), label, boundary.astype(np.float16)


def speak(target: Path) -> None:
    with ProcessPoolExecutor(2) as pool:
        gathered: dict[str, list[dict[str, np.ndarray]]] = {}
        listed = tasks()
        for task, found in zip(listed, pool.map(collect, listed), strict=True):
            gathered.setdefault(task[0], []).append(found)
    arrays = {
        f"{voice}.{part}": np.concatenate([one[part] for one in parts])
        for voice, parts in gathered.items()
        for part in ("mels", "labels", "boundary")
    }
    np.savez(target, **arrays)


def train(source: Path, target: Path, without: list[str], begun: Path | None, steps: int, seed: int = 0) -> None:
    import torch  # noqa: PLC0415
    from torch import nn  # noqa: PLC0415

    class Block(nn.Module):
        def __init__(self, dilation: int) -> None:
            super().__init__()
            self.taps = nn.Conv1d(CHANNELS, CHANNELS, 3, dilation=dilation, padding=dilation)
            self.norm = nn.BatchNorm1d(CHANNELS)
            self.mix = nn.Conv1d(CHANNELS, CHANNELS, 1)
            nn.init.normal_(self.mix.weight, 0, 0.02)

        def forward(self, x):
            return x + self.mix(torch.relu(self.norm(self.taps(x))))

    class Net(nn.Module):
        def __init__(self) -> None:
            super().__init__()
            self.entrance = nn.Conv1d(BANDS, CHANNELS, 6, stride=2, padding=2)
            self.blocks = nn.ModuleList(Block(d) for d in DILATIONS)
            self.head = nn.Conv1d(CHANNELS, 2 * (len(SOUNDS) + 1), 1)

        def forward(self, x):
            x = torch.relu(self.entrance(x))
            for block in self.blocks:
                x = block(x)
            return self.head(torch.relu(x))

    torch.set_num_threads(1)
    torch.manual_seed(seed)
    rng = np.random.default_rng(seed)
    data = np.load(source)
    left_out = {f"flite {voice}" for voice in without}
    heard = [name.removesuffix(".labels") for name in data.files if name.endswith(".labels")]
    heard = [name for name in heard if name not in left_out]
    parts = {name: [data[f"{name}.{part}"] for part in ("mels", "labels", "boundary")] for name in heard}
    sizes = np.array([len(parts[name][1]) for name in heard], float)
    shares = sizes / sizes.sum()
    print("hears", {name: f"{size * STEP / 3600:.2f} h" for name, size in zip(heard, sizes, strict=True)}, flush=True)

    net = Net()
    if begun and begun.suffix == ".npz":
        take_over(net, begun, torch.from_numpy(crops(parts, heard, shares, rng)[0]))
    elif begun:
        net.load_state_dict(torch.load(begun))
    best = torch.optim.AdamW(net.parameters(), lr=3e-3, weight_decay=1e-2)
    peak = 3e-3 if begun is None else 1e-3
    began, total = time.time(), 0.0
    for step in range(steps):
        warm = min((step + 1) / 150, 1.0)
        for group in best.param_groups:
            group["lr"] = peak * warm * (1 - step / steps) + 1e-5
        x, label, boundary, weight = crops(parts, heard, shares, rng)
        out = net(torch.from_numpy(x)).transpose(1, 2).reshape(BATCH, CROP, -1)
        sounds, odds = out[..., :-1], out[..., -1]
        wanted = torch.from_numpy(label.astype(np.int64))
        rate = torch.log_softmax(sounds, -1)
        named = wanted < UNNAMED
        chosen = rate.gather(-1, torch.where(named, wanted, 0)[..., None])[..., 0]
        smooth = 0.95 * chosen + 0.05 * rate.mean(-1)
        any_sound = torch.log1p(-rate[..., 0].exp().clamp(max=1 - 1e-6))
        pull = torch.from_numpy(weight)[:, None]
        loss = -(torch.where(named, smooth, any_sound) * pull).mean()
        edge = nn.functional.binary_cross_entropy_with_logits(odds, torch.from_numpy(boundary), reduction="none")
        loss = loss + 2 * (edge * pull).mean()
        best.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0)
        best.step()
        total += loss.item()
        if step % 100 == 99:
            print(step + 1, f"{total / 100:.4f}", f"{time.time() - began:.0f} s", flush=True)
            total = 0.0
        if step % 500 == 499 or step == steps - 1:
            write(net, target)
            torch.save(net.state_dict(), target.with_suffix(".pt"))


def crops(parts, heard, shares, rng):
    """A batch of stretches, with other channels' colours and some bands or moments hidden."""
    x = np.empty((BATCH, BANDS, CROP), np.float32)
    label, boundary = np.empty((BATCH, CROP), np.uint8), np.empty((BATCH, CROP), np.float32)
    weight = np.ones(BATCH, np.float32)
    for row in range(BATCH):
        name = heard[rng.choice(len(heard), p=shares)]
        mels, labels, edges = parts[name]
        at = 2 * rng.integers((len(labels) - CROP) // 2)
        seen = mels[at : at + CROP].astype(np.float32)
        colour = np.interp(np.arange(BANDS), np.linspace(0, BANDS - 1, 5), rng.normal(0, 0.25, 5))
        seen = seen + colour
        if rng.random() < 0.3:
            low = rng.integers(BANDS - 6)
            seen[:, low : low + rng.integers(1, 7)] = rng.normal(-0.5, 0.5)
        x[row], label[row], boundary[row] = seen.T, labels[at : at + CROP], edges[at : at + CROP]
        weight[row] = ESPEAK_WEIGHT if name == "espeak" else 1.0
    return x, label, boundary, weight


def take_over(net, source: Path, x) -> None:
    """Go on from weights as `write` left them: the normalisation that was folded away is measured on x (batch, bands,
    frames)."""
    import torch  # noqa: PLC0415

    with np.load(source) as data:
        arrays = {name: torch.from_numpy(data[name].astype(np.float32)) for name in data.files}
    with torch.no_grad():
        net.entrance.weight.copy_(arrays["entrance"].reshape(6, BANDS, CHANNELS).permute(2, 1, 0))
        net.entrance.bias.copy_(arrays["entrance.bias"])
        net.eval()
        x = torch.relu(net.entrance(x))
        for n, block in enumerate(net.blocks):
            block.taps.weight.copy_(arrays[f"{n}.taps"].permute(2, 1, 0))
            block.taps.bias.zero_()
            block.mix.weight.copy_(arrays[f"{n}.weight"].T[:, :, None])
            block.mix.bias.copy_(arrays[f"{n}.offset"])
            seen = block.taps(x)
            block.norm.running_mean.copy_(seen.mean((0, 2)))
            block.norm.running_var.copy_(seen.var((0, 2)))
            block.norm.weight.copy_(torch.sqrt(block.norm.running_var + block.norm.eps))
            block.norm.bias.copy_(arrays[f"{n}.bias"] + block.norm.running_mean)
            x = block(x)
        net.head.weight.copy_(arrays["head"].T[:, :, None])
        net.head.bias.copy_(arrays["head.bias"])
        net.train()


def write(net, target: Path) -> None:
    """Weights as `speech_net.unpack` reads them, the normalisation folded into the taps."""
    arrays = {"dilations": np.array(DILATIONS)}

    def number(tensor) -> np.ndarray:
        return tensor.detach().numpy()

    entrance = number(net.entrance.weight)  # (channels, bands, 6)
    arrays["entrance"] = entrance.transpose(2, 1, 0).reshape(-1, CHANNELS)
    arrays["entrance.bias"] = number(net.entrance.bias)
    for n, block in enumerate(net.blocks):
        factor = number(block.norm.weight) / np.sqrt(number(block.norm.running_var) + block.norm.eps)
        arrays[f"{n}.taps"] = (number(block.taps.weight) * factor[:, None, None]).transpose(2, 1, 0)
        arrays[f"{n}.bias"] = (number(block.taps.bias) - number(block.norm.running_mean)) * factor + number(
            block.norm.bias
        )
        arrays[f"{n}.weight"], arrays[f"{n}.offset"] = number(block.mix.weight)[:, :, 0].T, number(block.mix.bias)
    arrays["head"], arrays["head.bias"] = number(net.head.weight)[:, :, 0].T, number(net.head.bias)
    small = {name: a if a.dtype.kind == "i" else a.astype(np.float16) for name, a in arrays.items()}
    np.savez_compressed(target, **small)


def main() -> None:
    cli = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    cli.add_argument("--speak", type=Path)
    cli.add_argument("--train", type=Path, nargs=2)
    cli.add_argument("--without", nargs="*", default=[])
    cli.add_argument("--from", dest="begun", type=Path)
    cli.add_argument("--steps", type=int, default=3700)
    args = cli.parse_args()
    if args.speak:
        speak(args.speak)
    if args.train:
        source, target = args.train
        train(source, target, args.without, args.begun, args.steps)


if __name__ == "__main__":
    main()
