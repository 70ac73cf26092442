"""Preview films: the mirror frame by frame with the sound, at the exact rate (FFmpeg's libraries, through PyAV)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import IO, Any

import numpy as np

from buccaphon.audio.film import Film
from buccaphon.audio.reading import FILM_SUFFIXES
from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled, TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Stream
from buccaphon.formats.options import TOGETHER
from buccaphon.formats.out.pictures.shots import PictureOptions, Shooting, SideBySide
from buccaphon.formats.out.scene_time import all_roles
from buccaphon.formats.pictures import Pixels
from buccaphon.progress import Progress
from buccaphon.setting import setting
from buccaphon.texts import N_, _

_SOUND_RATE = 48_000
_BT709 = 1  # as H.264 and MP4 number it


@dataclass(frozen=True, slots=True)
class FilmOptions(PictureOptions):
    """A film with sound."""

    sound: bool = setting(True, N_("With sound"), N_("Include the sound"))
    over: bool = setting(
        False, N_("Over the actor"), N_("The character over the actor's picture, where the take is a film")
    )
    together: bool = all_roles(N_("All roles of the scene side by side in one film"), usual=False)


@dataclass(frozen=True, slots=True)
class ClearFilmOptions(PictureOptions):
    """A film with transparent background."""

    sound: bool = setting(True, N_("With sound"), N_("Include the sound"))
    clear: bool = setting(True, N_("Transparent background"), N_("Leave the background transparent"))
    together: bool = all_roles(N_("All roles of the scene side by side in one film"), usual=False)


@dataclass(frozen=True, slots=True)
class _Kind:
    """How a film is encoded."""

    container: str
    codec: str
    pixels: str
    options: Mapping[str, str]
    sound: str
    container_options: Mapping[str, str] = field(default_factory=dict)


_MP4 = _Kind(
    "mp4", "libx264", "yuv420p", {"crf": "18", "preset": "veryfast", "g": "12", "bf": "0"}, "aac",
    {"movflags": "+faststart"},
)  # fmt: skip
_VP9 = {"crf": "30", "b": "0", "deadline": "realtime", "cpu-used": "8", "row-mt": "1"}
_WEBM = _Kind("webm", "libvpx-vp9", "yuv420p", _VP9, "libopus")
_MOV = _Kind("mov", "png", "rgba", {"pred": "none", "compression_level": "1"}, "pcm_s16le")


def mp4(delivery: Delivery, options: FilmOptions) -> Stream:
    """H.264 with AAC; a key frame every 12, so that players step quickly."""
    return _film(delivery, options, _MP4, over=options.over, sound=options.sound)


def webm(delivery: Delivery, options: FilmOptions) -> Stream:
    """VP9 with Opus."""
    return _film(delivery, options, _WEBM, over=options.over, sound=options.sound)


def mov(delivery: Delivery, options: ClearFilmOptions) -> Stream:
    """PNG pictures with straight opacity, and the sound as it is."""
    return _film(delivery, options, _MOV, clear=options.clear, sound=options.sound)


def _film(
    delivery: Delivery, options: PictureOptions, kind: _Kind, *, sound: bool, over: bool = False, clear: bool = False
) -> Stream:
    source = delivery.source
    if over and (source is None or source.file.suffix.lower() not in FILM_SUFFIXES):
        raise TargetError(_("the film"), _("the take has no picture to put the character over"), _("Switch “over” off"))
    together: bool = getattr(options, TOGETHER, False)
    if together and delivery.voices and (over or options.artwork):
        raise TargetError(
            _("the film"),
            _("several roles have no one picture to be over, and no one size"),
            _("Switch “All roles together” off, or the other"),
        )
    has_halves = kind.pixels == "yuv420p"
    if has_halves and not options.artwork and (options.width % 2 or options.height % 2):
        raise TargetError(
            _("the film"),
            _("{width} x {height} is not even", width=options.width, height=options.height),
            _("Choose an even width and height"),
        )
    shooting: Shooting | SideBySide = Shooting(delivery, options, clear=clear or over, corner=over, even=has_halves)
    if together and delivery.voices:
        shooting = SideBySide(delivery, options, clear=clear)

    def write(file: IO[bytes], progress: Progress) -> None:
        actor = Film(source.file, shooting.width) if over and source is not None else None
        try:
            _encode(file, kind, shooting, delivery.sound if sound else None, actor, progress)
        finally:
            if actor is not None:
                actor.close()

    return write


def _encode(
    file: IO[bytes], kind: _Kind, shooting: Shooting | SideBySide, sound: Recording | None, actor: Film | None,
    progress: Progress,
) -> None:  # fmt: skip
    import av  # noqa: PLC0415  (half a second, only for films)

    bake, rate = shooting.bake, shooting.bake.rate.value
    # by its name: a film is put in order at its end, for which it is opened again
    with av.open(file.name, "w", format=kind.container, options=dict(kind.container_options)) as out:
        pictures: Any = out.add_stream(kind.codec, rate=rate, options=dict(kind.options))
        pictures.width, pictures.height, pictures.pix_fmt = shooting.width, shooting.height, kind.pixels
        pictures.time_base = 1 / rate
        pictures.codec_context.thread_count = 2
        if kind.pixels == "yuv420p":
            context = pictures.codec_context
            context.color_range = context.colorspace = context.color_primaries = context.color_trc = _BT709
        track: Any = None
        waiting: list[Any] = []
        if sound is not None:
            track = out.add_stream(kind.sound, rate=_SOUND_RATE, layout="mono")
            if kind.sound == "aac":
                track.bit_rate = 160_000
            waiting = _resampled(av, track, kind.sound, _heard(sound, bake.first, bake.frames, rate), sound.rate)
        written = 0
        for number in range(bake.frames):
            if not progress(
                number / bake.frames, _("Frame {number} of {frames}", number=number + 1, frames=bake.frames)
            ):
                raise Cancelled
            pixels = shooting.picture(number)
            if actor is not None:
                pixels = _over(pixels, actor.picture_at(bake.rate.seconds(number + bake.first)))
            frame = _as_frame(av, pixels, kind.pixels)
            frame.pts, frame.time_base = number, 1 / rate
            out.mux(pictures.encode(frame))
            while waiting and written / _SOUND_RATE <= (number + 1) / rate:
                part = waiting.pop(0)
                written += part.samples
                out.mux(track.encode(part))
        for part in waiting:
            out.mux(track.encode(part))
        out.mux(pictures.encode(None))
        if track is not None:
            out.mux(track.encode(None))


def _as_frame(av: Any, pixels: Pixels, wanted: str) -> Any:
    if wanted == "rgba":
        return av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgba")
    frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels[:, :, :3]), format="rgb24")
    return frame.reformat(format=wanted, dst_colorspace="ITU709")


def _over(pixels: Pixels, behind: Pixels | None) -> Pixels:
    """A picture with opacity over the actor's, which is fitted into its height."""
    if behind is None:
        behind = np.zeros((0, pixels.shape[1], 3), np.uint8)
    height = pixels.shape[0]
    spare = height - len(behind)
    fitted = np.pad(behind, ((max(spare // 2, 0), max(spare - spare // 2, 0)), (0, 0), (0, 0)))
    top = max(-spare // 2, 0)
    fitted = fitted[top : top + height]
    share = pixels[:, :, 3:].astype(np.uint16)
    mixed = (pixels[:, :, :3] * share + fitted * (255 - share) + 127) // 255
    return np.concatenate([mixed.astype(np.uint8), np.full((*pixels.shape[:2], 1), 255, np.uint8)], axis=2)


def _heard(sound: Recording, first: int, frames: int, rate: Fraction) -> Any:
    """(n,) the sound of the frames, as long as they are: cut, or with silence at its end."""
    start, count = math.floor(first / rate * sound.rate + 0.5), math.floor(frames / rate * sound.rate + 0.5)
    part = np.asarray(sound.samples[start : start + count]).mean(axis=1)
    return np.pad(part, (0, count - len(part))).astype(np.float32)


def _resampled(av: Any, track: Any, codec: str, samples: Any, rate: int) -> list[Any]:
    plain = codec == "pcm_s16le"
    size = 1024 if plain else track.codec_context.frame_size or 1024
    form = "s16" if plain else track.codec_context.format
    resampler = av.AudioResampler(format=form, layout="mono", rate=_SOUND_RATE, frame_size=size)
    frame = av.AudioFrame.from_ndarray(samples.reshape(1, -1), format="flt", layout="mono")
    frame.sample_rate, frame.pts, frame.time_base = rate, 0, Fraction(1, rate)
    return [*resampler.resample(frame), *resampler.resample(None)]
