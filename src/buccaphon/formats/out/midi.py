"""A standard MIDI file of one channel: a controller that follows it, one tick a frame (MIDI 1.0, Standard MIDI Files)."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.motion.record import JAW
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

_LONGEST, _SHORTEST = 0xFFFFFF, 100_000  # microseconds of a quarter
_CONTROL = 0xB0


@dataclass(frozen=True, slots=True)
class MidiOptions:
    """Which channel, and by which controller."""

    channel: str = setting(JAW, N_("Channel"), N_("The channel to write"), is_text=True)
    controller: int = setting(
        1, N_("Controller"), N_("MIDI controller number: 0 to 119, or 0 to 31 with “fine”"), least=0, most=119
    )
    fine: bool = setting(False, N_("Fine"), N_("14 bits instead of 7, using this controller and the one 32 above it"))

    def __post_init__(self) -> None:
        require_valid_settings(self)
        if self.fine and self.controller > 31:
            raise ValueError(f"controller {self.controller} is not between 0 and 31")


def midi(delivery: Delivery, options: MidiOptions) -> bytes:
    """Format 0. A tick is a frame exactly, at every rate; values are sent where they change, over the channel's range."""
    bake = delivery.bake
    assert bake is not None
    found = delivery.find(options.channel)
    if found is None:
        reason = _("there is no channel {channel}", channel=options.channel)
        raise TargetError(_("MIDI"), reason, _("There are {names} …", names=", ".join(delivery.channels().ids[:12])))
    channel, values = found
    share = np.clip((values - channel.low) / max(channel.high - channel.low, 1e-9), 0.0, 1.0)
    most = (1 << 14) - 1 if options.fine else 127
    division, tempo = ticks(bake.rate.value)
    name = options.channel.encode("ascii", "replace")
    track = b"\0\xff\x51\x03" + struct.pack(">I", tempo)[1:] + b"\0\xff\x03" + _length(len(name)) + name
    before, waited = -1, 0
    for value in np.rint(share * most).astype(int).tolist():
        if value != before:
            sent = [(options.controller, value >> 7), (options.controller + 32, value & 127)]
            for controller, byte in sent if options.fine else [(options.controller, value)]:
                track += _length(waited) + bytes([_CONTROL, controller, byte])
                waited = 0
        before, waited = value, waited + 1
    track += _length(waited) + b"\xff\x2f\0"
    head = b"MThd" + struct.pack(">IHHH", 6, 0, 1, division)
    return head + b"MTrk" + struct.pack(">I", len(track)) + track


def ticks(rate: Fraction) -> tuple[int, int]:
    """Ticks a quarter, and microseconds a quarter, such that a tick is a frame: 3 and 125125 at 24000/1001. Where no whole
    number of microseconds does so, the nearest."""
    for division in range(1, 0x8000):
        tempo = Fraction(1_000_000 * division) / rate
        if tempo.denominator == 1 and _SHORTEST <= tempo <= _LONGEST:
            return division, int(tempo)
    division = max(int(rate), 1)
    return division, round(Fraction(1_000_000 * division) / rate)


def _length(ticks_: int) -> bytes:
    """A number in as many bytes of 7 bits as it needs."""
    found = [ticks_ & 127]
    while ticks_ := ticks_ >> 7:
        found.append(ticks_ & 127 | 128)
    return bytes(reversed(found))
