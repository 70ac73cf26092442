"""Which channels of one's own a format cannot hold, told before anything is written."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.nodes import grows, names_a_way
from buccaphon.kits.kit import Kind
from buccaphon.motion.channels import Channel

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
