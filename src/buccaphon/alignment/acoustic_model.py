"""The acoustic model: what each speech sound looks like in the feature streams.

Data of the US-English model in the `pocketsphinx` wheel (BSD licence), read here directly. It is a phonetically tied
mixture model: each base phone has one codebook of 128 Gaussians for each of the three streams; each of the 5126
senones (tied triphone states) weighs the Gaussians of its base phone's codebook.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache
from pathlib import Path

import numpy as np
import numpy.typing as npt

from buccaphon.threads import share

Array = npt.NDArray[np.float32]
Ints = npt.NDArray[np.int32]

SILENCE = "SIL"
STATES = 3  # emitting states of every phone, left to right without skips
BEGIN, END, SINGLE, INSIDE = 1, 2, 3, 0  # where in its word a triphone stands

_WEIGHT_STEP = 0.1024  # natural log of one step of the stored 8-bit mixture weights
_LEAST_VARIANCE = 1e-4  # as the model was trained
FAINTEST = np.float32(-60.0)  # nats behind the likeliest Gaussian: less would be denormal, and slow to reckon with
_BLOCK = 256  # frames at most that are scored at once; larger blocks fall out of the processor's cache


@dataclass(frozen=True, eq=False)
class AcousticModel:
    """phones: base phone names. senone_phone: (senones,) base phone of each. mixture: (3, senones, 128) weights.

    means, variances: (phones, 3, 128, 13). transitions: (phones, 3, 2) natural log probabilities of staying in a state
    and of leaving it. triples: (n, 3) senone triples. triphones: (base, left, right, position) to a row of `triples`, -1
    where the model has none. plain: (phones,) the row of each phone without context.
    """

    phones: tuple[str, ...]
    senone_phone: Ints
    mixture: Array
    means: Array
    variances: Array
    transitions: Array
    triples: Ints
    triphones: Ints
    plain: Ints

    @cached_property
    def index(self) -> dict[str, int]:
        return {name: i for i, name in enumerate(self.phones)}

    @cached_property
    def gauss(self) -> Array:
        """(phones, 3, 128, 27): log N(f) = gauss @ [f, f*f, 1], for diagonal Gaussians."""
        precise = 1.0 / self.variances.astype(np.float64)
        constant = -0.5 * (np.log(2 * np.pi * self.variances).sum(-1) + (self.means**2 * precise).sum(-1))
        linear, square = self.means * precise, -0.5 * precise
        stacked = np.concatenate([linear, square, constant[..., None]], axis=-1)
        return stacked.astype(np.float32)

    def senones(self, base: int, left: int, right: int, position: int) -> tuple[int, ...]:
        """The three senones of a phone in context; falls back over positions, then to the plain phone."""
        for place in (position, INSIDE, BEGIN, END, SINGLE):
            found = self.triphones[base, left, right, place]
            if found >= 0:
                return tuple(int(s) for s in self.triples[found])
        return tuple(int(s) for s in self.triples[self.plain[base]])

    def gaussian_scores(self, stream: Array, phone: int, which: int) -> Array:
        """(frames, 128) log densities of the Gaussians of one phone's codebook for stream number `which`."""
        return np.asarray((self.gauss[phone, which] @ _augment(stream[:, None])[0]).T, np.float32)

    def scores(self, streams: Array, senones: Ints) -> Array:
        """Log likelihoods of frames under senones.

        streams: (frames, 3, 13). senones: (n,) distinct, in any order. Returns (frames, n) float32, natural logarithms
        of densities.
        """
        output = np.empty((len(streams), len(senones)), np.float32)
        phones = self.senone_phone[senones]
        columns = [(int(phone), np.flatnonzero(phones == phone)) for phone in np.unique(phones)]
        mixtures = [self.mixture_of(senones[where]) for _, where in columns]

        def fill(part: slice) -> None:
            block = self._block(streams[part])
            for (phone, where), mixture in zip(columns, mixtures, strict=True):
                output[part, where] = self._mix(block, phone, mixture)

        share(fill, _blocks(len(streams)))
        return output

    def phone_scores(self, streams: Array, phone: int, senones: Ints) -> Array:
        """As `scores`, for senones that all belong to one base phone; on the calling thread."""
        mixture = self.mixture_of(senones)
        blocks = [self._mix(self._block(streams[part]), phone, mixture) for part in _blocks(len(streams))]
        return np.concatenate(blocks)

    def mixture_of(self, senones: Ints) -> Array:
        """(3, n, 128) Gaussian weights of senones."""
        return np.ascontiguousarray(self.mixture[:, senones])

    def _block(self, streams: Array) -> tuple[Array, Array]:
        """Frames as `_mixed` wants them, and FAINTEST for each Gaussian and frame: numbers are compared several times as fast
        with as many others as with one."""
        frames, count, _ = streams.shape
        return _augment(streams), np.full((count, self.means.shape[2], frames), FAINTEST)

    def _mix(self, block: tuple[Array, Array], phone: int, mixture: Array) -> Array:
        """(frames, n); frames come last on the way, where the maximum over Gaussians is quickest."""
        frames, faintest = block
        density = self.gauss[phone] @ frames
        top = density.max(1, keepdims=True)
        density -= top
        np.exp(np.maximum(density, faintest, out=density), out=density)
        return np.asarray((np.log(mixture @ density) + top).sum(0).T)


def _blocks(frames: int) -> list[slice]:
    """All frames in parts of one size."""
    size = -(-frames // max(-(-frames // _BLOCK), 1))
    return [slice(start, start + size) for start in range(0, frames, max(size, 1))]


def transform(streams: Array, transforms: Array) -> Array:
    """Apply one affine transform [A b] a stream: (frames, 3, 13) and (3, 13, 14) to (frames, 3, 13)."""
    moved = np.einsum("tsd,sed->tse", streams, transforms[:, :, :-1], optimize=True) + transforms[:, :, -1]
    return np.asarray(moved, np.float32)


def _augment(features: Array) -> Array:
    """(frames, 3, 13) to (3, 27, frames): each stream's values, their squares and 1."""
    frames, streams, size = features.shape
    augmented = np.ones((streams, 2 * size + 1, frames), np.float32)
    augmented[:, :size] = features.transpose(1, 2, 0)
    augmented[:, size : 2 * size] = augmented[:, :size] ** 2
    return augmented


@lru_cache(maxsize=1)
def english_model() -> AcousticModel:
    """The model that ships with the `pocketsphinx` wheel, loaded once."""
    return load_model(model_folder() / "en-us")


def model_folder() -> Path:
    """Where the wheel keeps its models. The library itself is not imported: its files are all that is used."""
    from importlib.util import find_spec  # noqa: PLC0415

    spec = find_spec("pocketsphinx")
    if spec is None or spec.origin is None:
        raise FileNotFoundError("the pocketsphinx package, which carries the acoustic model, is not installed")
    return Path(spec.origin).parent / "model" / "en-us"


def load_model(folder: Path) -> AcousticModel:
    """Read `mdef`, `means`, `variances`, `transition_matrices` and `sendump` from a model folder."""
    phones, senone_phone, triples, triphones, plain, matrices = _read_definition((folder / "mdef").read_bytes())
    means, variances = _read_gaussians(folder / "means"), _read_gaussians(folder / "variances")
    return AcousticModel(
        phones=phones,
        senone_phone=senone_phone,
        mixture=_read_mixture((folder / "sendump").read_bytes(), len(senone_phone)),
        means=means,
        variances=np.maximum(variances, _LEAST_VARIANCE),
        transitions=_read_transitions(folder / "transition_matrices")[matrices],
        triples=triples,
        triphones=triphones,
        plain=plain,
    )


def _read_definition(data: bytes) -> tuple[tuple[str, ...], Ints, Ints, Ints, Ints, Ints]:
    """The binary model definition. Its header text documents the layout."""
    text_length = int(np.frombuffer(data, "<i4", 1, 8)[0])
    at = 12 + text_length
    sizes = np.frombuffer(data, "<i4", 10, at)
    base_count, phone_count, sequence_count, tree_nodes = sizes[0], sizes[1], sizes[6], sizes[8]
    at += 40
    names: list[str] = []
    while len(names) < base_count:
        end = data.index(b"\0", at)
        names.append(data[at:end].decode("ascii"))
        at = end + 1
    at += -at % 4 + int(tree_nodes) * 8
    entry = np.dtype([("sequence", "<i4"), ("matrix", "<i4"), ("position", "u1"), ("context", "u1", 3)])
    entries = np.frombuffer(data, entry, phone_count, at)
    at += int(phone_count) * entry.itemsize + 4
    triples = np.frombuffer(data, "<u2", sequence_count * STATES, at).reshape(-1, STATES).astype(np.int32)

    plain = entries[:base_count]["sequence"].astype(np.int32)
    contextual = entries[base_count:]
    base, left, right = contextual["context"].T
    triphones = np.full((base_count, base_count, base_count, 4), -1, np.int32)
    triphones[base, left, right, contextual["position"]] = contextual["sequence"]
    senone_phone = np.zeros(int(sizes[4]), np.int32)
    senone_phone[triples[contextual["sequence"]]] = base[:, None]
    senone_phone[triples[plain]] = np.arange(base_count)[:, None]
    return tuple(names), senone_phone, triples, triphones, plain, entries[:base_count]["matrix"].astype(np.int32)


def _body(path: Path) -> bytes:
    """The binary part of a file with the text header `s3 ... endhdr` and a byte-order word."""
    data = path.read_bytes()
    return data[data.index(b"endhdr\n") + 11 :]


def _read_gaussians(path: Path) -> Array:
    """(phones, 3, 128, 13)."""
    data = _body(path)
    books, streams, gaussians = np.frombuffer(data, "<i4", 3)
    sizes = np.frombuffer(data, "<i4", streams, 12)
    values = np.frombuffer(data, "<f4", books * gaussians * sizes.sum(), 16 + 4 * int(streams))
    return np.array(values.reshape(books, streams, gaussians, sizes[0]))


def _read_transitions(path: Path) -> Array:
    """(matrices, 3, 2) log probabilities of staying and leaving, from counts."""
    data = _body(path)
    count, states = (int(n) for n in np.frombuffer(data, "<i4", 2))
    rows = np.frombuffer(data, "<f4", count * states * (states + 1), 16).reshape(count, states, states + 1)
    probability = rows / rows.sum(-1, keepdims=True)
    each = np.arange(STATES)
    kept = np.stack([probability[:, each, each], probability[:, each, each + 1]], axis=-1)
    return np.asarray(np.log(kept), np.float32)


def _read_mixture(data: bytes, senones: int) -> Array:
    """(3, senones, 128) mixture weights, each senone's summing to 1 over the Gaussians of a stream."""
    at = 0
    while length := int(np.frombuffer(data, "<i4", 1, at)[0]):
        at += 4 + length
    gaussians, count = (int(n) for n in np.frombuffer(data, "<i4", 2, at + 4))
    if count != senones:
        raise ValueError(f"mixture weights for {count} senones, but the model defines {senones}")
    stored = np.frombuffer(data, "u1", 3 * gaussians * senones, at + 12).reshape(3, gaussians, senones)
    weights = np.exp(-_WEIGHT_STEP * np.arange(256, dtype=np.float32))[np.ascontiguousarray(np.swapaxes(stored, 1, 2))]
    return np.asarray(weights / weights.sum(-1, keepdims=True), np.float32)
