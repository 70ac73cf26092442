"""What a format cannot hold of the channels, told before anything is written: those that it leaves out, and those whose
values it cuts off."""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.nodes import grows, names_a_way
from buccaphon.formats.registry import format_named
from buccaphon.kits.kit import Kind
from buccaphon.motion.channels import Channel
from buccaphon.motion.record import WEIGHT
from buccaphon.texts import _

_ROUNDING = 1e-4
_WITHIN_THEIR_RANGE = ("midi", "servo")
_SHARES = ("", "%")
_AS_WEIGHTS_AND_NODES = ("glb", "gltf", "usda")


def lost_channels(ident: str, own: Sequence[Channel], shapes: Collection[str] | None) -> tuple[str, ...]:
    """The names of the channels that a format of this id leaves out. own: those of one's own. shapes: those of the model;
    None where the animation goes out alone, with a shape for whatever needs one."""

    def is_held(channel: Channel) -> bool:
        is_weight = channel.unit in _SHARES and not names_a_way(channel)
        if ident in _AS_WEIGHTS_AND_NODES:
            return not is_weight or shapes is None or channel.id in shapes
        if ident == "bvh":
            return not is_weight and not grows(channel)
        return ident != "vrma" or is_weight

    return tuple(channel.id for channel in own if not is_held(channel))


def lost_of(ident: str, delivery: Delivery) -> tuple[str, ...]:
    """The same of a delivery."""
    kit = delivery.kit
    shapes = kit.own if kit is not None and kit.kind is Kind.MODEL else None
    return lost_channels(ident, delivery.own_channels().of, shapes)


def cut_off(ident: str, delivery: Delivery) -> tuple[str, ...]:
    """The names of the channels whose values a format of this id cuts off: they go beyond what it can say."""
    channels = delivery.channels()
    if ident in _WITHIN_THEIR_RANGE:
        ranges = [(channel.low, channel.high) for channel in channels.of]
    elif ident == "vrma":  # an expression's own limits (VRMC_vrm 1.0, expressions)
        ranges = [(0.0, 1.0) if channel.unit in _SHARES else (-np.inf, np.inf) for channel in channels.of]
    else:
        return ()
    return tuple(
        channel.id.removeprefix(WEIGHT)
        for channel, curve, (low, high) in zip(channels.of, channels.curves, ranges, strict=True)
        if len(curve) and (curve.min() < low - _ROUNDING or curve.max() > high + _ROUNDING)
    )


def told_of(ident: str, delivery: Delivery) -> list[str]:
    """Both, in sentences."""
    form, found = format_named(ident).title, list[str]()
    if lost := lost_of(ident, delivery):
        found.append(_("{form} cannot hold {channels}.", form=form, channels=", ".join(lost)))
    if cut := cut_off(ident, delivery):
        found.append(
            _("{form} cuts off values of {channels} that are out of range.", form=form, channels=", ".join(cut))
        )
    return found
