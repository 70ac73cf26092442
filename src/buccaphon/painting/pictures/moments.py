"""What is to be seen at a frame of a bake, for code that paints a character."""

from __future__ import annotations

from buccaphon.kits.kit import Kind, Kit
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.motion.record import APERTURE, JAW, WEIGHT, Bake
from buccaphon.mouths.chart import Chart
from buccaphon.painting.characters.character import Moment


def moment_of(bake: Bake, chart: Chart, kit: Kit | None, frame: int, mouth: str, *, still: bool = False) -> Moment:
    """frame: counted from 0 in the bake. mouth: the one on show there. still: nothing moves, so that there is time to draw it
    finer."""
    shown = mouth if mouth in chart.names else chart.rest.name
    values = [curve[frame] for curve in bake.channels.kept]
    found = dict(zip(bake.channels.ids, values, strict=True))
    shares = tuple((name, found[f"{WEIGHT}{name}"]) for name in chart.names if found.get(f"{WEIGHT}{name}"))
    is_model = kit is not None and kit.kind is Kind.MODEL
    drop = found[JAW if is_model else APERTURE]  # a chin follows the bone; a cut-out's lips meet where lips meet
    own = bake.channels.of[len(POSE_CHANNELS) + len(bake.chart.names) :]
    others = tuple((channel.id, found[channel.id], channel.unit) for channel in own)
    return Moment(shown, chart.mouths[chart.index(shown)].pose, drop, shares, still, others)
