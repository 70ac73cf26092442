"""Keys out: what every frame shows, as CSV (one row a frame) or JSON (keys only where something changes)."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from buccaphon.motion.bake import Bake
from buccaphon.motion.keys import reduce_keys

KEY_TOLERANCE = 0.005  # of the range 0..1: below what can be seen


def keys_csv(bake: Bake) -> bytes:
    """Columns frame, seconds, mouth, phone (IPA), word, jaw, then one weight:<mouth> a mouth. Seconds count from the
    recording's start, frames from the start frame."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    weights = [f"weight:{name}" for name in bake.chart.names]
    writer.writerow(["frame", "seconds", "mouth", "phone", "word", "jaw", *weights])
    for exposure in bake.exposures:
        for frame in range(exposure.start, exposure.end):
            writer.writerow(
                [
                    frame + bake.start_frame,
                    f"{bake.rate.seconds(frame + bake.first):.6f}",
                    exposure.mouth,
                    bake.phones[frame],
                    bake.words[frame],
                    f"{bake.jaw[frame]:.4f}",
                    *(f"{weight:.4f}" for weight in bake.weights[frame]),
                ]
            )
    return text.getvalue().encode()


def keys_json(bake: Bake) -> bytes:
    """Held mouths as keys where they change; channels as keys joined by straight lines, each within 0.005 of the bake."""
    start = bake.start_frame
    channels: list[dict[str, Any]] = [_channel("jaw", bake.jaw, start)]
    channels += [_channel(f"weight:{name}", bake.weights[:, i], start) for i, name in enumerate(bake.chart.names)]
    data = {
        "rate": {"numerator": bake.rate.value.numerator, "denominator": bake.rate.value.denominator},
        "start_frame": start,
        "length": bake.frames,
        "chart": bake.chart.name,
        "mouths": [{"frame": e.start + start, "mouth": e.mouth} for e in bake.exposures],
        "channels": channels,
    }
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def _channel(name: str, values: Any, start: int) -> dict[str, Any]:
    keys = [{"frame": key.frame + start, "value": key.value} for key in reduce_keys(values, KEY_TOLERANCE)]
    return {"name": name, "interpolation": "linear", "tolerance": KEY_TOLERANCE, "keys": keys}
