"""What the subcommands can be told about the recording."""

from __future__ import annotations

import os
import re
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import wraps
from pathlib import Path
from typing import Any

import click

from buccaphon.audio.reading import Damage, read_recording
from buccaphon.audio.recording import Channel, Listen, Recording
from buccaphon.errors import RecordingError
from buccaphon.project.take import Take
from buccaphon.score.records import Score
from buccaphon.texts import N_, _
from buccaphon.timing import Span

Pair = tuple[float, float]

LONGEST = 1e6  # seconds; later is the end of any recording


def sound_options(command: Callable[..., None]) -> Callable[..., None]:
    """What both commands can be told about the recording; they get it as one `Sound`."""

    @click.option("--channel", default="mix", help=N_("mix, loudest, or a channel's number from 1.  [default: mix]"))
    @click.option("--use", nargs=2, type=float, metavar="FROM TO", help=N_("Use only this part, in seconds."))
    @click.option(
        "--not-speech", nargs=2, type=float, multiple=True, metavar="FROM TO",
        help=N_("Ignore this part (music, a horn, another voice). May be given several times."),
    )  # fmt: skip
    @click.option("--keep-readable", is_flag=True, help=N_("Use what can be read of a damaged file."))
    @wraps(command)
    def taking(
        *, channel: str, use: Pair | None, not_speech: tuple[Pair, ...], keep_readable: bool, **rest: Any
    ) -> None:
        spans = tuple(_span("--not-speech", pair) for pair in not_speech)
        damage = Damage.KEEP_READABLE if keep_readable else Damage.REFUSE
        command(sound=Sound(_channel(channel), _span("--use", use) if use else None, spans, damage), **rest)

    return taking


@dataclass(frozen=True, slots=True)
class Sound:
    """channel: what is listened to. use: the part that is looked at. not_speech: where nothing is said."""

    channel: Channel
    use: Span | None
    not_speech: tuple[Span, ...]
    damage: Damage

    def read(self, path: Path) -> Recording:
        with _quiet_libraries():
            recording = read_recording(path, self.damage)
        if isinstance(self.channel, int) and self.channel >= recording.channels:
            reason = _(
                "it has no channel {channel}, only {channels}", channel=self.channel + 1, channels=recording.channels
            )
            raise RecordingError(str(path), reason, _("Choose another channel, mix or loudest"))
        return recording.listened_to(self.channel)

    def take(self, path: Path, duration: float, score: Score | None) -> Take:
        """The recording as a take of a project; frames count from its beginning whatever part is used."""
        used, marked = self.used(duration), self.marked(duration)
        if used is None:
            return Take(path, not_speech=marked, score=score)
        start = used.start
        return Take(path, not_speech=marked, score=score, offset=start, trim_in=start, trim_out=used.end)

    def used(self, duration: float) -> Span | None:
        """What of the recording is used; None for all of it."""
        return _clipped(self.use, duration) if self.use else None

    def marked(self, duration: float) -> tuple[Span, ...]:
        """What of it is not speech."""
        return tuple(_clipped(span, duration) for span in self.not_speech if span.start < duration)

    def silent(self, duration: float) -> tuple[Span, ...]:
        """Where nothing counts: outside the used part, and what is not speech."""
        used = self.used(duration) or Span(0.0, duration)
        return (Span(0.0, used.start), Span(used.end, duration), *self.marked(duration))


def _clipped(span: Span, duration: float) -> Span:
    return Span(min(span.start, duration), min(span.end, duration))


@contextmanager
def _quiet_libraries() -> Iterator[None]:
    """Decoders write notes of their own about broken files; what is to be said of them is said in one sentence."""
    sys.stderr.flush()
    try:
        kept = os.dup(2)
    except OSError:  # nobody listens anyway
        yield
        return
    with Path(os.devnull).open("wb") as nowhere:
        os.dup2(nowhere.fileno(), 2)
        try:
            yield
        finally:
            os.dup2(kept, 2)
            os.close(kept)


def _channel(text: str) -> Channel:
    if re.fullmatch("[0-9]{1,4}", text) and int(text) >= 1:
        return int(text) - 1
    try:
        return Listen(text.lower())
    except ValueError:
        raise RecordingError(
            _("channel “{text}”", text=text[:40]), _("it is not a channel"), _("Use mix, loudest, or 1, 2 …")
        ) from None


def _span(option: str, pair: Pair) -> Span:
    """The stretch between two times; to infinity means to the end."""
    start, end = pair[0], min(pair[1], LONGEST)
    if not 0 <= start < end:  # also where one of them is no number
        reason = _("{start:g} to {end:g} s is not a time range", start=start, end=end)
        raise RecordingError(option, reason, _("Give two times in seconds, the earlier first"))
    return Span(start, end)
