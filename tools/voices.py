"""Invented sentences, and free synthesisers that say them with exact times for every sound.

Flite (`flite`), Festival (`festival` with its voices) and eSpeak NG (the `espeakng-loader` wheel).
"""

import ctypes
import subprocess
import tempfile
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
import soundfile
import soxr

from buccaphon.speech.dictionary import listed, words_listed
from buccaphon.speech.phones import arpabet_of

RATE = 16000
PAUSE, UNNAMED = "SIL", "?"
FLITE = ("slt", "rms", "awb", "kal16")
FESTIVAL = (
    "ked_diphone", "czech_dita", "czech_krb", "czech_machac", "lp_diphone", "pc_diphone", "suo_fi_lj_diphone",
    "hy_fi_mv_diphone", "upc_ca_ona_hts",
)  # fmt: skip
ESPEAK = (
    "gmw/en-US", "gmw/en", "gmw/en-GB-scotland", "gmw/en-GB-x-rp", "roa/es", "roa/it", "gmw/de", "roa/fr", "zlw/cs", "urj/fi",
    "gmw/nl", "zlw/pl", "roa/pt", "gmq/sv",
)  # fmt: skip

SMALL_WORDS = [*("the", "a", "and", "of", "to", "in", "for", "with", "my", "your", "we", "they", "is", "was", "over")]
SMALL_WORDS += [*("under", "after", "more")]


@dataclass(frozen=True, eq=False)
class Spoken:
    """samples at 16 kHz. sounds: ARPAbet, SIL or ?, and the second each begins."""

    samples: np.ndarray
    sounds: list[tuple[str, float]]


def sentences(rng: np.random.Generator, count: int) -> list[str]:
    words = [w for w in words_listed() if w.isalpha() and 2 <= len(w) <= 9 and len(listed(w)) == 1]
    made = []
    for _ in range(count):
        lists = (words if rng.random() < 0.65 else SMALL_WORDS for _ in range(rng.integers(5, 12)))
        picked = [str(rng.choice(listed)) for listed in lists]
        if rng.random() < 0.4:
            picked[len(picked) // 2] += ","
        made.append(" ".join(picked) + ".")
    return made


def syllables(rng: np.random.Generator) -> str:
    """A sentence of no language, for voices whose letters are their sounds."""

    def word() -> str:
        return "".join(
            str(rng.choice(list("bdfghjklmnprstvz")))
            + str(rng.choice(list("aeiou")))
            + str(rng.choice(["", "", "", "n", "s", "r", "l"]))
            for _ in range(rng.integers(1, 5))
        )

    picked = [word() for _ in range(rng.integers(4, 10))]
    if rng.random() < 0.4:
        picked[len(picked) // 2] += ","
    return " ".join(picked) + "."


def flite(voice: str, text: str, folder: Path) -> Spoken:
    path = folder / "spoken.wav"
    command = ["flite", "-voice", voice, "-psdur", "-t", text, "-o", str(path)]
    said = subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()
    at, sounds = 0.0, []
    for entry in said:
        name, end = entry.rsplit(":", 1)
        sounds.append((_flite_name(name), at))
        at = float(end)
    return Spoken(_read(path), sounds)


def _flite_name(name: str) -> str:
    return PAUSE if name == "pau" else {"ax": "AH", "axr": "ER", "dx": "D"}.get(name, name.upper())


_SAY = """
(voice_{voice})
(define (say text file)
  (set! made (eval (list 'Utterance 'Text text)))
  (utt.synth made)
  (utt.save.wave made (string-append file ".wav") 'riff)
  (set! fd (fopen (string-append file ".txt") "w"))
  (mapcar (lambda (s) (format fd "%s %f\\n" (item.name s) (item.feat s 'segment_end))) (utt.relation.items made 'Segment))
  (fclose fd))
"""


def festival(voice: str, texts: list[str]) -> list[Spoken]:
    """All in one go: starting it takes longer than a sentence."""
    with tempfile.TemporaryDirectory() as folder:
        script = Path(folder) / "say.scm"
        calls = [f'(say "{text}" "{folder}/{n}")' for n, text in enumerate(texts)]
        script.write_text("\n".join([_SAY.format(voice=voice), *calls]))
        subprocess.run(["festival", "-b", str(script)], capture_output=True, check=False)
        made = []
        for n in range(len(texts)):
            path = Path(folder) / f"{n}.wav"
            if path.is_file() and path.with_suffix(".txt").is_file():
                rows = [
                    line.rsplit(" ", 1) for line in path.with_suffix(".txt").read_text().splitlines() if " " in line
                ]
                starts = [0.0] + [float(end) for _, end in rows[:-1]]
                names = [_festival_name(voice, name) for name, _ in rows]
                made.append(Spoken(_read(path), list(zip(names, starts, strict=True))))
        return made


def _festival_name(voice: str, name: str) -> str:
    if name in ("pau", "#", "_", "h#", "sil", "brth"):
        return PAUSE
    return _flite_name(name) if voice == "ked_diphone" else UNNAMED


class _Event(ctypes.Structure):
    """espeak_EVENT of speak_lib.h."""

    _fields_ = (
        ("type", ctypes.c_int), ("identifier", ctypes.c_uint), ("position", ctypes.c_int), ("length", ctypes.c_int),
        ("milliseconds", ctypes.c_int), ("sample", ctypes.c_int), ("user", ctypes.c_void_p), ("name", ctypes.c_char * 8),
    )  # fmt: skip


_CALLBACK = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.POINTER(ctypes.c_short), ctypes.c_int, ctypes.POINTER(_Event))
_LIST_END, _END, _PHONEME = 0, 5, 7


class ESpeak:
    """One a process: the library keeps global state."""

    def __init__(self) -> None:
        import espeakng_loader  # noqa: PLC0415

        self.library = ctypes.CDLL(espeakng_loader.get_library_path())
        self.rate = self.library.espeak_Initialize(2, 200, espeakng_loader.get_data_path().encode(), 0x8000 | 1 | 2)
        self._kept = _CALLBACK(self._take)
        self.library.espeak_SetSynthCallback(self._kept)
        folder = Path(espeakng_loader.get_data_path()) / "voices" / "!v"
        self.variants = sorted(path.name for path in folder.iterdir() if " " not in path.name)

    def _take(self, samples, count, events) -> int:
        if samples and count > 0:
            self.sound += ctypes.string_at(samples, 2 * count)
        n = 0
        while events[n].type != _LIST_END:
            event = events[n]
            if event.type in (_PHONEME, _END):
                raw = ctypes.string_at(ctypes.addressof(event) + _Event.name.offset, 8).split(b"\0")[0]
                self.events.append((raw.decode("utf-8", "ignore") if event.type == _PHONEME else "", event.sample))
            n += 1
        return 0

    def say(self, voice: str, variant: str, text: str, speed: int, pitch: int) -> Spoken:
        if self.library.espeak_SetVoiceByName(f"{voice}+{variant}".encode()) != 0:
            raise ValueError(f"no voice {voice}+{variant}")
        self.library.espeak_SetParameter(1, speed, 0)
        self.library.espeak_SetParameter(3, pitch, 0)
        self.sound, self.events = bytearray(), []
        encoded = text.encode() + b"\0"
        self.library.espeak_Synth(encoded, ctypes.c_size_t(len(encoded)), 0, 1, 0, 1, None, None)
        self.library.espeak_Synchronize()
        samples = np.frombuffer(bytes(self.sound), "<i2").astype(np.float32) / 32768
        sounds = [(_espeak_name(name), at / self.rate) for name, at in self.events if not name.startswith("(")]
        if sounds and sounds[0][1] > 0:
            sounds.insert(0, (PAUSE, 0.0))
        return Spoken(soxr.resample(samples, self.rate, RATE).astype(np.float32), sounds)


def _espeak_name(name: str) -> str:
    plain = name.strip("ˈˌ',-")
    if not plain.strip("_: "):
        return PAUSE
    try:
        return arpabet_of(plain)
    except (KeyError, ValueError):
        return UNNAMED


@lru_cache(maxsize=1)
def espeak() -> ESpeak:
    return ESpeak()


def _read(path: Path) -> np.ndarray:
    samples, rate = soundfile.read(path, dtype="float32")
    return samples if rate == RATE else soxr.resample(samples, rate, RATE).astype(np.float32)
