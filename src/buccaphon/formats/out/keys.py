"""Keys out: what every frame shows, as CSV (one row a frame) or JSON (keys only where something changes)."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import dataclass, field
from typing import Any

from buccaphon.arrays import Floats
from buccaphon.formats.delivery import Delivery
from buccaphon.motion.keys import reduce_keys

_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True, slots=True)
class CsvOptions:
    """How a table is written."""

    guarded: bool = field(
        default=False, metadata={"says": "put ' before words and names that a spreadsheet would run, such as =1+1"}
    )

    def cell(self, text: str) -> str:
        """A word or a name as it is written."""
        return f"'{text}" if self.guarded and text.startswith(_RUN_BY_SPREADSHEETS) else text


@dataclass(frozen=True, slots=True)
class KeysJsonOptions:
    """How channels become keys."""

    tolerance: float = field(
        default=0.005, metadata={"says": "how far from the bake keys may lie, in the units of the channel"}
    )

    def __post_init__(self) -> None:
        if not 0 <= self.tolerance <= 1:
            raise ValueError(f"a tolerance of {self.tolerance} is not between 0 and 1")


def keys_csv(delivery: Delivery, options: CsvOptions) -> bytes:
    """Columns frame, seconds, mouth, phone (IPA), word, then one a channel: jaw, aperture and the rest of the pose,
    weight:<mouth> …, by the host's names. Seconds count from the recording's start, frames from the start frame."""
    bake = delivery.bake
    assert bake is not None
    channels = delivery.channels()
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["frame", "seconds", "mouth", "phone", "word", *map(options.cell, channels.ids)])
    for exposure in bake.exposures:
        for frame in range(exposure.start, exposure.end):
            writer.writerow(
                [
                    frame + bake.start_frame,
                    f"{bake.rate.seconds(frame + bake.first):.6f}",
                    options.cell(delivery.called(exposure.mouth)),
                    bake.phones[frame],
                    options.cell(bake.words[frame]),
                    *(f"{value:.4f}" for value in channels.values[frame]),
                ]
            )
    return text.getvalue().encode()


def keys_json(delivery: Delivery, options: KeysJsonOptions) -> bytes:
    """Held mouths as keys where they change; channels as keys joined by straight lines, each within the tolerance of the
    bake."""
    bake = delivery.bake
    assert bake is not None
    start = bake.start_frame
    channels = delivery.channels()
    values = channels.values
    data = {
        "rate": {"numerator": bake.rate.value.numerator, "denominator": bake.rate.value.denominator},
        "start_frame": start,
        "length": bake.frames,
        "chart": bake.chart.name,
        "mouths": [{"frame": e.start + start, "mouth": delivery.called(e.mouth)} for e in bake.exposures],
        "channels": [_channel(c.id, values[:, n], start, options.tolerance) for n, c in enumerate(channels.of)],
    }
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def _channel(name: str, values: Floats, start: int, tolerance: float) -> dict[str, Any]:
    keys = [{"frame": key.frame + start, "value": key.value} for key in reduce_keys(values, tolerance)]
    return {"name": name, "interpolation": "linear", "tolerance": tolerance, "keys": keys}
