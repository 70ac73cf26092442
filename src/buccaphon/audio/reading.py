"""Reading a recording: whatever a recordist or an editor sends, decoded completely before anything is shown.

libsndfile reads WAV, FLAC, AIFF, OGG, Opus, MP3 and CAF; FFmpeg's libraries read M4A and the sound of films.
"""

from __future__ import annotations

import os
import re
import tempfile
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from enum import Enum
from pathlib import Path
from typing import IO, Any

import numpy as np

from buccaphon.audio.recording import MappedSamples, Recording, Samples, finite
from buccaphon.errors import Cancelled, DamagedRecordingError, RecordingError
from buccaphon.files import printable
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

SOUND_SUFFIXES = (".wav", ".flac", ".aiff", ".aif", ".ogg", ".oga", ".opus", ".mp3", ".caf", ".m4a", ".aac")
FILM_SUFFIXES = (".mp4", ".mov", ".mkv", ".webm")
SUFFIXES = (*SOUND_SUFFIXES, *FILM_SUFFIXES)

_SHORTEST = 0.05  # seconds; below that there is not even one speech sound
_MOST_CHANNELS = 8  # of a recording; field recorders have up to eight
_RATES = (1000, 768_000)  # samples a second that a recorder can have
_BLOCK = 1 << 17  # frames decoded between two reports
_SMALL_BLOCK = 1 << 9
_MOST_WAITING = 4  # blocks that decoding may be ahead
_LONG = 128 << 20  # bytes; longer recordings are kept in a file
_IN_PLACE = ("WAV", "WAVEX", "AIFF", "CAF", "RF64", "W64")  # uncompressed: any moment is read at once
_CUT_SHORT = re.compile(r"\bdata : (\d+) \(should be (\d+)\)")


class Damage(Enum):
    """What to do with a file that cannot be read to its end."""

    REFUSE = "refuse"
    KEEP_READABLE = "keep what can be read"


def _unwatched(_block: Samples) -> None:
    """Nobody looks."""


def read_recording(
    path: Path,
    damage: Damage = Damage.REFUSE,
    progress: Progress = no_progress,
    watch: Callable[[Samples], None] = _unwatched,
) -> Recording:
    """Decode a sound file, or the sound of a film, completely.

    Raises RecordingError when the file is missing, unreadable, not sound, or shorter than 50 ms; DamagedRecordingError,
    which says how much can be read, when it breaks off and `damage` is REFUSE; Cancelled when `progress` returns False.
    watch: is called with every decoded block in order, in another thread, so that what it does costs no time of its own.
    Samples that are not numbers become silence.
    """
    subject = str(path)
    _refuse_what_is_no_file(path)
    decoded = _decode_plain(path, progress, watch) or _decode_with_ffmpeg(path, progress, watch)
    if decoded.duration < _SHORTEST:
        reason = _("it holds only {duration:.3f} s of sound", duration=decoded.duration)
        raise RecordingError(subject, reason, _("The file may be cut off; get it again"))
    if decoded.missing and damage is Damage.REFUSE:
        raise DamagedRecordingError(subject, decoded.duration, decoded.missing)
    return decoded


def _refuse_what_is_no_file(path: Path) -> None:
    subject = str(path)
    try:
        if path.is_dir():
            raise RecordingError(subject, _("it is a folder, not a recording"), _("Name a sound file in it"))
        if not path.exists():
            raise RecordingError(subject, _("there is no such file"), _("Check the name and the folder"))
        if not path.is_file():
            raise RecordingError(subject, _("it is a pipe or device, not a file"), _("Name a sound file"))
        if path.stat().st_size == 0:
            raise RecordingError(subject, _("the file is empty (0 bytes)"), _("Ask for the file again"))
        with path.open("rb"):
            pass
    except OSError as problem:
        reason = _("it cannot be opened ({reason})", reason=problem.strerror)
        raise RecordingError(subject, reason, _("Change its permissions or copy it")) from None


def _decode_plain(path: Path, progress: Progress, watch: Callable[[Samples], None]) -> Recording | None:
    """With libsndfile; None when it does not know the kind of file."""
    import soundfile  # noqa: PLC0415  (loads libsndfile; not needed to show the first window)

    try:
        with soundfile.SoundFile(os.fsencode(path)) as file:
            _check_shape(path, file.samplerate, file.channels)
            stays = file.format in _IN_PLACE and file.frames * file.channels * 4 > _LONG
            keeper = _Keeper(file.channels, printable(path), file.samplerate, watch, path if stays else None)
            missing = _seconds_cut_off(file)
            try:
                while len(block := file.read(_BLOCK, dtype="float32", always_2d=True)):
                    keeper.add(block)
                    _report(progress, keeper.length / max(file.frames, 1))
            except soundfile.LibsndfileError:
                _add_what_is_left(path, keeper)
                missing = max((file.frames - keeper.length) / file.samplerate, 0.001)
            return keeper.recording(missing)
    except soundfile.LibsndfileError:
        return None


def _add_what_is_left(path: Path, keeper: _Keeper) -> None:
    """A block that breaks off is lost whole: go through its place again in small steps."""
    import soundfile  # noqa: PLC0415

    try:
        with soundfile.SoundFile(os.fsencode(path)) as file:
            file.seek(keeper.length)
            while len(block := file.read(_SMALL_BLOCK, dtype="float32", always_2d=True)):
                keeper.add(block)
    except soundfile.LibsndfileError:
        return


def _seconds_cut_off(file: Any) -> float:
    """What the header of a WAV or AIFF promises beyond the end of the file."""
    found = _CUT_SHORT.search(file.extra_info)
    if not found:
        return 0.0
    promised, there = int(found[1]), int(found[2])
    if there <= 0 or promised >= 2**31 - 4096:  # a recorder that never came back to write the length: all is there
        return 0.0
    return float(max(promised / there - 1, 0.0) * file.frames / file.samplerate)


def _decode_with_ffmpeg(path: Path, progress: Progress, watch: Callable[[Samples], None]) -> Recording:
    import av  # noqa: PLC0415  (half a second, only for films and M4A)

    subject = str(path)
    remedy = _("Use a file that plays in other programs")
    try:
        with av.open(for_ffmpeg(path)) as container:
            if not container.streams.audio:
                raise RecordingError(subject, _("it has no sound"), _("Choose a file with a sound track"))
            stream = container.streams.audio[0]
            if stream.codec_context is None:
                raise RecordingError(subject, _("its audio codec is not supported"), remedy)
            _check_shape(path, stream.rate, stream.channels)
            keeper = _Keeper(stream.channels, printable(path), stream.rate, watch)
            expected = float(getattr(container, "duration", None) or 0) / av.time_base
            missing = 0.0
            try:
                for block in _ffmpeg_blocks(av, container, stream):
                    keeper.add(block)
                    _report(progress, keeper.length / stream.rate / expected if expected else 0.5)
            except av.error.FFmpegError:
                missing = max(expected - keeper.length / stream.rate, 0.001)
            return keeper.recording(missing)
    except (av.error.FFmpegError, OSError, ValueError) as problem:
        reason = str(getattr(problem, "strerror", "") or problem).rstrip(".")
        raise RecordingError(subject, _("it cannot be read as sound ({reason})", reason=reason), remedy) from None


def for_ffmpeg(path: Path) -> str | IO[bytes]:
    """A file as FFmpeg's libraries take it: by name, or opened where its name is not UTF-8."""
    try:
        str(path).encode()
    except UnicodeEncodeError:
        return path.open("rb")
    return str(path)


def _ffmpeg_blocks(av: Any, container: Any, stream: Any) -> Iterator[Samples]:
    layout = stream.layout.name
    resampler = av.AudioResampler(format="fltp", layout=layout, rate=stream.rate)
    for frame in container.decode(stream):
        for part in resampler.resample(frame):
            yield part.to_ndarray().T
    for part in resampler.resample(None):
        yield part.to_ndarray().T


def _check_shape(path: Path, rate: int, channels: int) -> None:
    low, high = _RATES
    if not low <= rate <= high:
        reason = _("its header claims a sample rate of {rate}", rate=rate)
        raise RecordingError(str(path), reason, _("The file is damaged; get it again"))
    if not 1 <= channels <= _MOST_CHANNELS:
        reason = _(
            "it has {channels} channels, but at most {most} can be read",
            channels=channels,
            most=_MOST_CHANNELS,
        )
        raise RecordingError(str(path), reason, _("Export the channels with the voice"))


def _report(progress: Progress, share: float) -> None:
    if not progress(min(share, 1.0), _("Reading the sound")):
        raise Cancelled


class _Keeper:
    """Collects decoded blocks: in memory while they are few, in a temporary file without a name once they are many; or not
    at all, when they can be read again from the file `stays`.

    Cleaning, writing and watching go on in a thread of their own while the next block is decoded.
    """

    def __init__(
        self, channels: int, name: str, rate: int, watch: Callable[[Samples], None], stays: Path | None = None
    ) -> None:
        self._channels, self._name, self._rate, self._watch, self._stays = channels, name, rate, watch, stays
        self._blocks: list[Samples] = []
        self._file: Any = None
        self._thread = ThreadPoolExecutor(1)
        self._waiting: list[Future[None]] = []
        self.length = 0

    def add(self, block: Samples) -> None:
        self.length += len(block)
        self._waiting.append(self._thread.submit(self._keep, np.asarray(block, np.float32)))
        while len(self._waiting) > _MOST_WAITING:
            self._waiting.pop(0).result()

    def _keep(self, block: Samples) -> None:
        block = finite(block)
        self._watch(block)
        if self._stays is not None:
            return
        self._blocks.append(block)
        if self._file is None and sum(map(len, self._blocks)) * self._channels * 4 > _LONG:
            self._file = tempfile.TemporaryFile(prefix="buccaphon-")  # noqa: SIM115  (lives as long as the recording)
        if self._file is not None:
            for waiting in self._blocks:
                self._file.write(np.ascontiguousarray(waiting).data)
            self._blocks.clear()

    def recording(self, missing: float) -> Recording:
        for waiting in self._waiting:
            waiting.result()
        self._thread.shutdown()
        shape = (self.length, self._channels)
        samples: Samples | MappedSamples
        if self._stays is not None:
            samples = MappedSamples(self._stays, shape)
        elif self._file is not None:
            self._file.flush()
            samples = np.memmap(self._file, np.float32, "r", shape=shape)
            self._file.close()  # the map keeps what it needs
        elif self._blocks:
            samples = np.concatenate(self._blocks)
        else:
            samples = np.zeros(shape, np.float32)
        return Recording(samples, self._rate, self._name, missing)
