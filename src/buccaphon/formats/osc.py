"""Open Sound Control 1.0: bundles of messages with a time tag, as bytes, and back."""

from __future__ import annotations

import math
import re
import struct
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

Argument = int | float | str
_SINCE_1900 = 2_208_988_800  # seconds to the epoch of Unix, as NTP counts
_BUNDLE = b"#bundle\0"
_UNFIT = re.compile(r"[\s#*,/?\[\]{}]|[^\x21-\x7e]")  # what an address must not hold
FITS = 1432  # bytes that go over Ethernet in one piece


@dataclass(frozen=True, slots=True)
class Message:
    """address: such as /buccaphon/jaw."""

    address: str
    arguments: tuple[Argument, ...] = ()


@dataclass(frozen=True, slots=True)
class Bundle:
    """seconds: since the epoch of Unix, when it is to count; 0 for at once."""

    seconds: float
    messages: tuple[Message, ...]


def part_of_address(name: str) -> str:
    """A name as a part of an address: lower case, ASCII, with _ for what must not be there."""
    return _UNFIT.sub("_", name.lower()) or "_"


def encoded(message: Message) -> bytes:
    """Raises ValueError for a number that is none."""
    kinds, body = ",", b""
    for argument in message.arguments:
        if isinstance(argument, str):
            kinds += "s"
            body += _padded(argument.encode())
        elif isinstance(argument, int):
            kinds += "i"
            body += struct.pack(">i", argument)
        elif math.isfinite(argument):
            kinds += "f"
            body += struct.pack(">f", argument)
        else:
            raise ValueError(f"{message.address} cannot be {argument}")
    return _padded(message.address.encode("ascii")) + _padded(kinds.encode()) + body


def bundles(seconds: float, messages: Iterable[Message], most: int = FITS) -> list[bytes]:
    """As few bundles as hold the messages, none longer than goes over the net in one piece, unless one message is."""
    head = _BUNDLE + _time_tag(seconds)
    found, body = [], b""
    for message in messages:
        each = encoded(message)
        if body and len(head) + len(body) + 4 + len(each) > most:
            found.append(head + body)
            body = b""
        body += struct.pack(">i", len(each)) + each
    return [*found, head + body] if body else found


def decoded(data: bytes) -> Bundle:
    """A bundle, or a message alone as one. Raises ValueError for what is neither."""
    try:
        if not data.startswith(_BUNDLE):
            return Bundle(0.0, (_message(data),))
        whole, part = struct.unpack_from(">II", data, 8)
        messages, at = [], 16
        while at < len(data):
            (length,) = struct.unpack_from(">i", data, at)
            if length <= 0 or at + 4 + length > len(data):
                raise ValueError("a message goes beyond its bundle")
            messages.append(_message(data[at + 4 : at + 4 + length]))
            at += 4 + length
        seconds = 0.0 if (whole, part) == (0, 1) else whole - _SINCE_1900 + part / 2**32
        return Bundle(seconds, tuple(messages))
    except (struct.error, UnicodeDecodeError, IndexError) as problem:
        raise ValueError(f"no Open Sound Control: {problem}") from None


def _message(data: bytes) -> Message:
    address, at = _string(data, 0)
    kinds, at = _string(data, at)
    if not address.startswith("/") or not kinds.startswith(","):
        raise ValueError("no message")
    arguments: list[Argument] = []
    for kind in kinds[1:]:
        if kind == "s":
            text, at = _string(data, at)
            arguments.append(text)
        elif kind in "if":
            arguments.append(struct.unpack_from(f">{kind}", data, at)[0])
            at += 4
        else:
            raise ValueError(f"an argument of the kind {kind}")
    return Message(address, tuple(arguments))


def _string(data: bytes, at: int) -> tuple[str, int]:
    end = data.index(b"\0", at)
    return data[at:end].decode(), end + 4 - end % 4


def _time_tag(seconds: float) -> bytes:
    if seconds <= 0:
        return struct.pack(">II", 0, 1)  # at once
    whole = math.floor(seconds)
    return struct.pack(">II", whole + _SINCE_1900, int((seconds - whole) * 2**32))


def _padded(text: bytes) -> bytes:
    return text + b"\0" * (4 - len(text) % 4)


@dataclass(frozen=True, eq=False)
class Live:
    """What is sent of a line, by its frames counted from 0. start_frame: the scene's number of the first. mouths: on show,
    with their numbers. addresses: of jaw, weights and channels of one's own. values: of each of them, a row a frame."""

    prefix: str
    start_frame: int
    rate: float
    mouths: Sequence[tuple[str, int]]
    addresses: Sequence[str]
    values: Sequence[Sequence[float]]

    def frame(self, number: int, seconds: float) -> list[Message]:
        """What is said of a frame, counted from 0."""
        name, index = self.mouths[number]
        told = [
            Message(f"{self.prefix}/frame", (number + self.start_frame, seconds)),
            Message(f"{self.prefix}/mouth", (name, index)),
        ]
        row = self.values[number]
        return [*told, *(Message(address, (value,)) for address, value in zip(self.addresses, row, strict=True))]
