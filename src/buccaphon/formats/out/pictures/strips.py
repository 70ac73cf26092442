"""Pictures one by one: a numbered sequence, a sheet of all exposures, and pictures that move in a message."""

from __future__ import annotations

import io
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from typing import IO, Any

import numpy as np

from buccaphon.errors import Cancelled
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Files, Stream
from buccaphon.formats.out.pictures.shots import SIDE, PictureOptions, Shooting
from buccaphon.formats.pictures import Pixels, Shot
from buccaphon.progress import Progress
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

_PAPER, _LINE = (251, 247, 236), 20  # its colour, and pixels of a line of text


@dataclass(frozen=True, slots=True)
class SequenceOptions(PictureOptions):
    """A picture a frame."""

    clear: bool = setting(True, N_("Transparent background"), N_("Leave the background transparent"))


def png_sequence(delivery: Delivery, options: SequenceOptions) -> Files:
    """NAME.0101.png and so on by the scene's numbers, every frame, also where a mouth is held: hosts count files. Each says
    its frame and mouth in text entries."""
    shooting = Shooting(delivery, options, clear=options.clear)
    bake = shooting.bake
    last = bake.start_frame + bake.frames - 1
    digits = max(4, len(str(abs(last))))
    mouths = [e.mouth for e in bake.exposures for _ in range(e.length)]

    def write(file: IO[bytes], _progress: Progress, number: int) -> None:
        texts = {"frame": str(number + bake.start_frame), "mouth": delivery.called(mouths[number])}
        file.write(as_png(shooting.picture(number), texts))

    stem = delivery.place.name
    return {
        f"{stem}.{number + bake.start_frame:0{digits}d}.png": partial(write, number=number)
        for number in range(bake.frames)
    }


def as_png(pixels: Pixels, texts: dict[str, str] | None = None) -> bytes:
    from PIL import Image, PngImagePlugin  # noqa: PLC0415

    told = PngImagePlugin.PngInfo()
    for name, text in (texts or {}).items():
        told.add_itxt(name, text)
    made = io.BytesIO()
    Image.fromarray(pixels).save(made, "PNG", pnginfo=told, compress_level=3)
    return made.getvalue()


@dataclass(frozen=True, slots=True)
class ContactOptions:
    """How the exposures are laid out."""

    columns: int = setting(10, N_("Columns"), N_("Pictures per row"), least=1, most=100)
    across: int = setting(
        160, N_("Picture width"), N_("Width of each picture"), least=40, most=1000, unit="px", step=10
    )

    def __post_init__(self) -> None:
        require_valid_settings(self)


def contact_sheet(delivery: Delivery, options: ContactOptions) -> Stream:
    """A cell an exposure: its picture, its first frame, the mouth and for how many frames it is held."""
    bake, pictures = delivery.bake, delivery.pictures
    assert bake is not None
    assert pictures is not None
    across = options.across
    down = round(across * 0.8)
    rows = max(-(-len(bake.exposures) // options.columns), 1)

    def write(file: IO[bytes], progress: Progress) -> None:
        gap = 6
        cell_width, cell_height = across + gap, down + _LINE + gap
        size = (rows * cell_height + gap, options.columns * cell_width + gap, 4)
        page = np.full(size, (*_PAPER, 255), np.uint8)
        for number, exposure in enumerate(bake.exposures):
            if not progress(number / len(bake.exposures), _("Painting exposures")):
                raise Cancelled
            y, x = gap + number // options.columns * cell_height, gap + number % options.columns * cell_width
            page[y : y + down, x : x + across] = pictures.frame(exposure.start, Shot(across, down))
            held = f"{delivery.called(exposure.mouth)} x{exposure.length}"
            label = pictures.label(str(exposure.start + bake.start_frame), held, across, _LINE)
            page[y + down : y + down + _LINE, x : x + across] = label
        file.write(as_png(page, {"title": delivery.title}))

    return write


@dataclass(frozen=True, slots=True)
class ShareOptions(PictureOptions):
    """A moving picture without sound, small."""

    width: int = setting(320, N_("Width"), N_("Width of the picture"), **SIDE)
    height: int = setting(180, N_("Height"), N_("Height of the picture"), **SIDE)
    clear: bool = setting(False, N_("Transparent background"), N_("Leave the background transparent"))


def apng(delivery: Delivery, options: ShareOptions) -> Stream:
    """An animated PNG that repeats; its rate is exact."""
    rate = _rate(delivery)
    return _moving(delivery, options, "apng", "apng", "rgba", {"pred": "mixed"},
                   {"plays": "0", "final_delay": f"{rate.denominator}/{rate.numerator}"}, 1 / rate)  # fmt: skip


def webp(delivery: Delivery, options: ShareOptions) -> Stream:
    """An animated WebP that repeats; it counts in whole milliseconds."""
    return _moving(delivery, options, "webp", "libwebp_anim", "yuva420p", {"quality": "85", "loop": "0"}, {"loop": "0"},
                   Fraction(1, 1000))  # fmt: skip


def _rate(delivery: Delivery) -> Fraction:
    assert delivery.bake is not None
    return delivery.bake.rate.value


def _moving(
    delivery: Delivery, options: ShareOptions, container: str, codec: str, pixels: str, how: dict[str, str],
    container_how: dict[str, str], tick: Fraction,
) -> Stream:  # fmt: skip
    shooting = Shooting(delivery, options, clear=options.clear)
    rate, frames = _rate(delivery), shooting.bake.frames

    def write(file: IO[bytes], progress: Progress) -> None:
        import av  # noqa: PLC0415  (half a second, only for these)

        with av.open(file, "w", format=container, options=container_how) as out:
            stream: Any = out.add_stream(codec, rate=rate, options=how)
            stream.width, stream.height, stream.pix_fmt = options.width, options.height, pixels
            stream.time_base = stream.codec_context.time_base = tick
            for number in range(frames):
                if not progress(number / frames, _("Frame {number} of {frames}", number=number + 1, frames=frames)):
                    raise Cancelled
                pixels_here = np.ascontiguousarray(shooting.picture(number))
                frame: Any = av.VideoFrame.from_ndarray(pixels_here, format="rgba").reformat(format=pixels)
                frame.pts, frame.time_base = round(number / rate / tick), tick
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))

    return write
