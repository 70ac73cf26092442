"""A page to review: one HTML file with sound, pictures and words; notes that a director types in it come back as a file."""

from __future__ import annotations

import base64
import html
import io
import json
from dataclasses import dataclass
from importlib import resources
from typing import IO, Any

import numpy as np

from buccaphon.errors import Cancelled
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Stream
from buccaphon.formats.out.pictures.shots import SIDE, PictureOptions, Shooting
from buccaphon.formats.pictures import Pixels
from buccaphon.motion.record import Bake
from buccaphon.progress import Progress
from buccaphon.setting import setting
from buccaphon.texts import N_, _
from buccaphon.timing import timecode


@dataclass(frozen=True, slots=True)
class ReviewOptions(PictureOptions):
    """How large the pictures in it are."""

    width: int = setting(640, N_("Width"), N_("Width of the picture"), **SIDE)
    height: int = setting(360, N_("Height"), N_("Height of the picture"), **SIDE)


def review(delivery: Delivery, options: ReviewOptions) -> Stream:
    """Needs nothing but a browser, and no network. Pictures that are alike stand in it once."""
    shooting = Shooting(delivery, options)

    def write(file: IO[bytes], progress: Progress) -> None:
        pictures: dict[bytes, int] = {}
        shown = []
        for number in range(shooting.bake.frames):
            if not progress(
                number / shooting.bake.frames,
                _("Frame {number} of {frames}", number=number + 1, frames=shooting.bake.frames),
            ):
                raise Cancelled
            shown.append(pictures.setdefault(_as_webp(shooting.picture(number)), len(pictures)))
        data = _data(delivery, shooting.bake) | {
            "width": options.width,
            "height": options.height,
            "pictures": [f"data:image/webp;base64,{_text(picture)}" for picture in pictures],
            "shown": shown,
            "sound": _text(_sound(delivery, shooting.bake)),
        }
        page = resources.files(__package__).joinpath("review.html").read_text("utf-8")
        told = json.dumps(data, ensure_ascii=False, separators=(",", ":")).replace("<", "\\u003c")
        before, after = page.split("{{data}}")  # a title may be called so, too
        title = html.escape(delivery.title)
        file.write(f"{before.replace('{{title}}', title)}{told}{after.replace('{{title}}', title)}".encode())

    return write


def _data(delivery: Delivery, bake: Bake) -> dict[str, Any]:
    """All that is said in it, by frames counted from 0 and seconds of the recording."""
    begins, ends = bake.rate.seconds(bake.first), bake.rate.seconds(bake.first + bake.frames)
    names = list(dict.fromkeys(delivery.called(exposure.mouth) for exposure in bake.exposures))
    words = delivery.score.words if delivery.score else ()
    return {
        "title": delivery.title,
        "stem": delivery.place.name,
        "take": delivery.source.take if delivery.source else delivery.title,
        "rate": {"numerator": bake.rate.value.numerator, "denominator": bake.rate.value.denominator},
        "fps": bake.rate.label,
        "start_frame": bake.start_frame,
        "length": bake.frames,
        "begins": begins,
        "clock": [timecode(number + bake.start_frame, bake.rate) for number in range(bake.frames)],
        "mouths": names,
        "mouth": [names.index(delivery.called(e.mouth)) for e in bake.exposures for _ in range(e.length)],
        "edges": [exposure.start for exposure in bake.exposures],
        "words": [
            {"text": word.text, "start": word.start, "end": word.end}
            for word in words
            if word.text and word.end > begins and word.start < ends
        ],
        "notes": [
            {"frame": frame, "text": note.text}
            for note in delivery.notes
            if 0 <= (frame := bake.rate.nearest(note.span.start) - bake.first) < bake.frames
        ],
    }


def _as_webp(pixels: Pixels) -> bytes:
    from PIL import Image  # noqa: PLC0415

    made = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels[:, :, :3])).save(made, "WEBP", quality=80, method=2)
    return made.getvalue()


def _sound(delivery: Delivery, bake: Bake) -> bytes:
    """The used part as FLAC, which every browser plays, and which begins where it begins."""
    import soundfile  # noqa: PLC0415  (loads libsndfile)

    sound = delivery.sound
    assert sound is not None
    start = round(bake.first / bake.rate.value * sound.rate)
    count = round(bake.frames / bake.rate.value * sound.rate)
    part = np.asarray(sound.samples[start : start + count]).mean(axis=1)
    made = io.BytesIO()
    soundfile.write(made, np.pad(part, (0, count - len(part))), sound.rate, "PCM_16", format="FLAC")
    return made.getvalue()


def _text(content: bytes) -> str:
    return base64.b64encode(content).decode()
