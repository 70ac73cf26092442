"""Channels of one's own, mixed from the pose: `smile = spread - 0.3 jaw`, `form = round - spread`."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from buccaphon.errors import ChannelError
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.motion.record import WEIGHT
from buccaphon.texts import N_, _

MOST_MIXES = 200  # a bound for files, not for people
_LONGEST_NAME = 40
_LARGEST = 1000.0  # of a factor
_TERM = re.compile(r"\s*([+-]?)\s*(?:([0-9]+(?:\.[0-9]+)?|\.[0-9]+)\s*\*?\s*)?([a-z]+)?\s*")
_OF_SHEETS = ("loudness", "frame", "seconds", "mouth", "phone", "word")  # what else is a column where keys are written
_TRY = N_("Write it like this: smile = spread - 0.3 jaw")


@dataclass(frozen=True, slots=True)
class Mix:
    """name: of the channel. terms: channels of the pose, each with the factor it counts by. plus: what is added to them. The
    sum is held between -1 and 1."""

    name: str
    terms: tuple[tuple[str, float], ...]
    plus: float = 0.0

    @property
    def says(self) -> str:
        """As it is written; `read_mix` reads it again."""
        parts = [(factor, channel) for channel, factor in self.terms]
        if self.plus or not parts:
            parts.append((self.plus, ""))
        written = ""
        for factor, channel in parts:
            sign = ("-" if factor < 0 else "") if not written else (" - " if factor < 0 else " + ")
            much = "" if channel and abs(factor) == 1 else np.format_float_positional(abs(factor), trim="-")
            written += f"{sign}{much}{' ' if much and channel else ''}{channel}"
        return f"{self.name} = {written}"

    @property
    def low(self) -> float:
        """The least that it can be."""
        return _held(self.plus + sum(min(factor, 0.0) for _, factor in self.terms))

    @property
    def high(self) -> float:
        """The most that it can be."""
        return _held(self.plus + sum(max(factor, 0.0) for _, factor in self.terms))

    @property
    def rest(self) -> float:
        """What it is while nothing is said: then all of the pose is 0."""
        return _held(self.plus)


def _held(value: float) -> float:
    return min(max(value, -1.0), 1.0)


def read_mix(text: str) -> Mix:
    """A mix as it is written: a name, `=`, and channels of the pose, each with a factor or none, added or taken off.

    Raises ChannelError when it is none.
    """
    name, equals, rest = text.partition("=")
    name = name.strip()
    if not equals or not name:
        raise ChannelError(text.strip() or _("the channel"), _("it needs a name, = and what it is made of"), _TRY)
    require_name(name)
    factors: dict[str, float] = {}
    plus, at = 0.0, 0
    while at < len(rest):
        found = _TERM.match(rest, at)
        if found is None or found.end() == at or not (found[2] or found[3]) or (at and not found[1]):
            raise ChannelError(text.strip(), _("“{text}” is not understood", text=rest[at:].strip()[:40]), _TRY)
        factor = float(found[2] or 1) * (-1 if found[1] == "-" else 1)
        if not abs(factor) <= _LARGEST:
            raise ChannelError(
                text.strip(),
                _("{found} is too large", found=found[2]),
                _("Use factors up to {largest:g}", largest=_LARGEST),
            )
        if not found[3]:
            plus += factor
        elif found[3] in POSE_CHANNELS:
            factors[found[3]] = factors.get(found[3], 0.0) + factor
        else:
            raise ChannelError(
                text.strip(),
                _("there is no {found}", found=found[3]),
                _("There are {channels}", channels=", ".join(POSE_CHANNELS)),
            )
        at = found.end()
    if not factors:
        raise ChannelError(text.strip(), _("it uses no channel"), _TRY)
    return Mix(name, tuple(factors.items()), plus)


def require_name(name: str) -> None:
    """Raises ChannelError for what is no name of a channel of one's own."""
    if not name.strip() or len(name) > _LONGEST_NAME or not name.isprintable() or any(mark in name for mark in ',;"\t'):
        raise ChannelError(
            name,
            _("it is not a valid channel name"),
            _("Use up to {most} letters, figures and signs", most=_LONGEST_NAME),
        )
    if name in (*POSE_CHANNELS, *_OF_SHEETS) or name.startswith(WEIGHT):
        raise ChannelError(name, _("there is one of that name already"), _("Give it another name"))
