"""The take as a WAV with cue markers: its own bytes, with words, mouths and notes as labels (RIFF 1.0, Multimedia
Programming Interface and Data Specifications, 1991)."""

from __future__ import annotations

import io
import struct
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.scene_time import from_first_frame, in_time
from buccaphon.formats.out.sound import LARGEST, sound_wav
from buccaphon.setting import setting
from buccaphon.texts import N_, _

MOUTH, NOTE = "mouth: ", "note: "  # labels that are no words begin so: markers have no kinds in WAV
_UTF8 = 65001


@dataclass(frozen=True, slots=True)
class CueOptions:
    """Which markers there are."""

    words: bool = setting(True, N_("Words"), N_("A marker spanning each word"))
    mouths: bool = setting(False, N_("Mouths"), N_("A marker where each mouth begins, labelled “mouth: …”"))
    notes: bool = setting(True, N_("Notes"), N_("A marker for each note, labelled “note: …”"))
    scene: bool = from_first_frame()


@dataclass(frozen=True, slots=True, order=True)
class Mark:
    """at, length: in samples."""

    at: int
    length: int
    label: str


def cues(delivery: Delivery, options: CueOptions) -> bytes:
    """The take's own file where it is a WAV, else its sound with 24 bits; older markers in it are replaced. From the first
    frame: the sound of the frames alone."""
    source, sound = delivery.source, delivery.sound
    if (options.scene or delivery.lines) and sound is not None and delivery.bake is not None:
        wav, rate = sound_wav(delivery, None), sound.rate
        last = round(delivery.bake.frames / delivery.bake.rate.value * rate)
        delivery = in_time(delivery, of_scene=True)
    else:
        assert source is not None
        wav, rate, last = _as_wav(source.file)
    assert delivery.score is not None
    marks: list[Mark] = []

    def mark(start: float, end: float, label: str) -> None:
        at = round(start * rate)
        if at <= last:  # a note can be beyond the end
            marks.append(Mark(at, min(max(round(end * rate) - at, 0), last - at), label))

    if options.words:
        for word in delivery.score.words:
            if word.text:
                mark(word.start, word.end, word.text)
    if options.mouths and delivery.bake is not None:
        bake = delivery.bake
        for exposure in bake.exposures:
            start = bake.rate.seconds(exposure.start + bake.first)
            mark(start, start, MOUTH + delivery.called(exposure.mouth))
    if options.notes:
        for note in delivery.notes:
            mark(note.span.start, note.span.end, NOTE + " ".join(note.text.split()))
    return with_cues(wav, marks, source.file.name if source is not None else delivery.title)


def with_cues(wav: bytes, marks: list[Mark], subject: str = "the recording") -> bytes:
    """A RIFF file with other markers: old ones go, every other chunk stays, the new ones come last."""
    at, kept = 12, bytearray()
    while at + 8 <= len(wav):
        kind, size = wav[at : at + 4], struct.unpack_from("<I", wav, at + 4)[0]
        body = wav[at + 8 : at + 8 + size]
        if kind != b"cue " and not (kind == b"LIST" and body[:4] == b"adtl"):
            kept += _chunk(kind, body)
        at += 8 + size + size % 2
    if marks:
        kept += _marked(sorted(marks))
    if len(kept) + 4 > LARGEST:
        raise TargetError(
            subject, _("with its markers it would be over 4 GB"), _("Cut the take, or write OTIO instead")
        )
    return b"RIFF" + struct.pack("<I", len(kept) + 4) + b"WAVE" + bytes(kept)


def _marked(marks: list[Mark]) -> bytes:
    points, texts = bytearray(), bytearray()
    for number, mark in enumerate(marks, 1):
        points += struct.pack("<II4sIII", number, mark.at, b"data", 0, 0, mark.at)
        texts += _chunk(b"labl", struct.pack("<I", number) + mark.label.replace("\0", "").encode() + b"\0")
        if mark.length:
            texts += _chunk(b"ltxt", struct.pack("<II4sHHHH", number, mark.length, b"rgn ", 0, 0, 0, _UTF8))
    return _chunk(b"cue ", struct.pack("<I", len(marks)) + points) + _chunk(b"LIST", b"adtl" + texts)


def _chunk(kind: bytes, body: bytes) -> bytes:
    return kind + struct.pack("<I", len(body)) + body + (b"\0" if len(body) % 2 else b"")


def _as_wav(path: Path) -> tuple[bytes, int, int]:
    """The bytes of a WAV, or what another recording sounds like as one; its samples a second, and how many there are."""
    import soundfile  # noqa: PLC0415  (loads libsndfile)

    try:
        content = path.read_bytes()
        if content[:4] == b"RIFF" and content[8:12] == b"WAVE":
            info = soundfile.info(io.BytesIO(content))
            return content, int(info.samplerate), int(info.frames)
    except (OSError, soundfile.LibsndfileError) as problem:
        raise TargetError(
            str(path), _("the take cannot be read ({reason})", reason=problem), _("Check that it is in its place")
        ) from None
    from buccaphon.audio.reading import read_recording  # noqa: PLC0415

    heard = read_recording(path)
    made = io.BytesIO()
    soundfile.write(made, np.asarray(heard.samples), heard.rate, "PCM_24", format="WAV")
    return made.getvalue(), heard.rate, len(heard.samples)
