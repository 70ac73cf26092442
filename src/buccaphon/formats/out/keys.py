"""Keys out: what every frame shows, as CSV (one row a frame) or JSON (keys only where something changes)."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from buccaphon.choice import Choice
from buccaphon.files import relative_name
from buccaphon.formats.delivery import Delivery
from buccaphon.motion.channels import Channel, Channels
from buccaphon.motion.keys import FrameKey, reduce_all
from buccaphon.motion.record import LOUDNESS_CURVES, Bake
from buccaphon.mouths.chart import Mouth
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.pose import Pose
from buccaphon.score.records import Note
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_

_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")


class LoudnessWritten(Choice):
    """Which curves of loudness are written besides the channels."""

    NONE = "none", N_("none")
    IN_USE = "in-use", N_("in use")
    MAPPED = "mapped", N_("before the threshold")
    RAW = "raw", N_("as measured")
    ALL = "all", N_("all three")

    def of(self, bake: Bake) -> Channels:
        found = bake.loudness
        names = _LOUDNESS[self]
        kept = [number for number, ident in enumerate(found.ids) if ident in names]
        return Channels(tuple(found.of[n] for n in kept), tuple(found.kept[n] for n in kept))


_IN_USE, _MAPPED, _RAW = (each.id for each in LOUDNESS_CURVES)
_LOUDNESS: dict[LoudnessWritten, tuple[str, ...]] = {
    LoudnessWritten.NONE: (),
    LoudnessWritten.IN_USE: (_IN_USE,),
    LoudnessWritten.MAPPED: (_MAPPED,),
    LoudnessWritten.RAW: (_RAW,),
    LoudnessWritten.ALL: (_IN_USE, _MAPPED, _RAW),
}
_LOUDNESS_SETTING: dict[str, Any] = {
    "choices": LoudnessWritten,
    "words": N_("loudness amplitude envelope level volume"),
}


@dataclass(frozen=True, slots=True)
class CsvOptions:
    """How a table is written."""

    guarded: bool = setting(
        False, N_("Guard formulas"), N_("Put ' before words and names that a spreadsheet would run, such as =1+1")
    )

    def cell(self, text: str) -> str:
        """A word or a name as it is written."""
        return f"'{text}" if self.guarded and text.startswith(_RUN_BY_SPREADSHEETS) else text


@dataclass(frozen=True, slots=True)
class KeysCsvOptions(CsvOptions):
    """The same for keys."""

    loudness: LoudnessWritten = setting(
        LoudnessWritten.NONE, N_("Loudness"), N_("Columns of loudness, 0 to 1"), **_LOUDNESS_SETTING
    )


@dataclass(frozen=True, slots=True)
class KeysJsonOptions:
    """How channels become keys."""

    tolerance: float = setting(
        0.005,
        N_("Tolerance"),
        N_("Largest error of the keys, as a share of the range of the channel"),
        least=0.0,
        most=1.0,
        scale=100,
        unit="%",
        step=0.1,
        decimals=1,
    )

    loudness: LoudnessWritten = setting(
        LoudnessWritten.NONE, N_("Loudness"), N_("Channels of loudness, 0 to 1"), **_LOUDNESS_SETTING
    )

    def __post_init__(self) -> None:
        require_valid_settings(self)


def keys_csv(delivery: Delivery, options: KeysCsvOptions) -> bytes:
    """Columns frame, seconds, mouth, phone (IPA), word, then one a channel: jaw, aperture and the rest of the pose,
    weight:<mouth> …, by the host's names. Seconds count from the recording's start, frames from the start frame."""
    bake = delivery.bake
    assert bake is not None
    channels = delivery.channels().beside(options.loudness.of(bake))
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["frame", "seconds", "mouth", "phone", "word", *map(options.cell, channels.ids)])
    for exposure in bake.exposures:
        for frame in range(exposure.start, exposure.end):
            writer.writerow(
                [
                    frame + bake.start_frame,
                    f"{bake.rate.seconds(frame + bake.first):.6f}",
                    options.cell(delivery.called(exposure.mouth)),
                    bake.phones[frame],
                    options.cell(bake.words[frame]),
                    *(f"{value:.4f}" for value in channels.values[frame]),
                ]
            )
    return text.getvalue().encode()


def keys_json(delivery: Delivery, options: KeysJsonOptions) -> bytes:
    """Held mouths as keys where they change; channels as keys joined by straight lines, each within the tolerance of the
    bake; words, sounds and notes with their seconds. Its schema is keys.schema.json beside this."""
    bake = delivery.bake
    assert bake is not None
    start, channels = bake.start_frame, delivery.channels().beside(options.loudness.of(bake))
    # the tolerance is of a share; of a channel with a greater range it is as much of that
    within = [options.tolerance * max(channel.high - channel.low, 1.0) for channel in channels.of]
    keys = reduce_all(channels.curves, within)
    data: dict[str, Any] = {
        "format": "buccaphon.keys",
        "version": 1,
        "rate": {"numerator": bake.rate.value.numerator, "denominator": bake.rate.value.denominator},
        "start_frame": start,
        "length": bake.frames,
        "first": bake.first,
        "take": _take(delivery),
        "chart": bake.chart.name,
        "palette": [_mouth(delivery, mouth) for mouth in bake.chart.mouths],
        "mouths": [{"frame": e.start + start, "mouth": delivery.called(e.mouth)} for e in _changing(delivery, bake)],
        "channels": [_channel(*each, start) for each in zip(channels.of, keys, within, strict=True)],
        "words": [{"word": w.text, **_timed(w.start, w.end, w.confidence)} for w in bake.said],
        "phones": [{"ipa": p.symbol, **_timed(p.start, p.end, p.confidence)} for w in bake.said for p in w.phones],
        "notes": [_note(note, bake) for note in delivery.notes],
    }
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def _take(delivery: Delivery) -> dict[str, Any]:
    found: dict[str, Any] = {"name": delivery.source.take if delivery.source else delivery.title}
    if delivery.source is not None:
        plain, _ = relative_name(delivery.source.file, delivery.place.parent.resolve())
        found["file"] = plain.replace("\\", "/")
    if delivery.score is not None:
        found["duration"] = round(delivery.score.duration, 4)
    return found


def _mouth(delivery: Delivery, mouth: Mouth) -> dict[str, Any]:
    """A mouth of the palette, by the name that its keys have."""
    pose = {part: getattr(mouth.pose, part) for part in Pose.__slots__ if getattr(mouth.pose, part)}
    index = delivery.number_of(mouth.name)
    return {"name": delivery.called(mouth.name), "chart_name": mouth.name, "index": index, "pose": pose}


def _changing(delivery: Delivery, bake: Bake) -> list[Exposure]:
    """The exposures where another name is shown: two mouths may have one in the host."""
    found: list[Exposure] = []
    for exposure in bake.exposures:
        if not found or delivery.called(exposure.mouth) != delivery.called(found[-1].mouth):
            found.append(exposure)
    return found


def _timed(start: float, end: float, confidence: float) -> dict[str, float]:
    return {"start": round(start, 4), "end": round(end, 4), "confidence": round(confidence, 3)}


def _note(note: Note, bake: Bake) -> dict[str, Any]:
    first = bake.rate.nearest(note.span.start) - bake.first
    length = max(bake.rate.nearest(note.span.end) - bake.first - first, 1)
    return {"frame": first + bake.start_frame, "length": length, "text": note.text}


def _channel(channel: Channel, keys: Sequence[FrameKey], tolerance: float, start: int) -> dict[str, Any]:
    unit = {"": "share", "%": "percent", "px": "pixels"}.get(channel.unit, channel.unit)
    told = [{"frame": key.frame + start, "value": key.value} for key in keys]
    return {"name": channel.id, "unit": unit, "interpolation": "linear", "tolerance": tolerance, "keys": told}
