"""Reads Buccaphon keys (.keys.json) in any host that has Python 3, without another library.

No rights reserved (CC0 1.0): copy, change and ship it freely.
"""

import json
from bisect import bisect_right


class Keys:
    """One line's keys. first, last: its frames, as the scene numbers them. rate: fps."""

    def __init__(self, path):
        with open(path, encoding="utf-8") as file:  # noqa: PTH123  (a file to be copied into old hosts)
            self.data = data = json.load(file)
        if data.get("format") != "buccaphon.keys" or data["version"] > 1:
            raise ValueError(f"{path} holds no keys that this reader knows")
        self.rate = data["rate"]["numerator"] / data["rate"]["denominator"]
        self.first, self.last = data["start_frame"], data["start_frame"] + data["length"] - 1
        self.channels = {channel["name"]: channel for channel in data["channels"]}
        self._mouth_frames = [key["frame"] for key in data["mouths"]]
        self._frames = {
            name: [key["frame"] for key in channel["keys"]]
            for name, channel in self.channels.items()
            if "keys" in channel
        }

    def mouths(self):
        """(frame, name) of each held mouth, in order."""
        return [(key["frame"], key["mouth"]) for key in self.data["mouths"]]

    def mouth(self, frame):
        """The mouth on show at a frame."""
        return self.data["mouths"][max(bisect_right(self._mouth_frames, frame) - 1, 0)]["mouth"]

    def index(self, mouth):
        """The number of a mouth in the host's order."""
        return next(entry["index"] for entry in self.data["palette"] if entry["name"] == mouth)

    def channel_keys(self, name):
        """(frame, value) of each key of a channel, in order."""
        channel = self.channels[name]
        if "values" in channel:
            return list(enumerate(channel["values"], self.first))
        return [(key["frame"], key["value"]) for key in channel["keys"]]

    def value(self, name, frame):
        """A channel's value at a frame, also between two frames."""
        channel = self.channels[name]
        if "values" in channel:
            return channel["values"][min(max(int(frame) - self.first, 0), len(channel["values"]) - 1)]
        keys, at = channel["keys"], bisect_right(self._frames[name], frame) - 1
        if at < 0 or at == len(keys) - 1 or channel["interpolation"] == "held":
            return keys[max(at, 0)]["value"]
        a, b = keys[at], keys[at + 1]
        length = b["frame"] - a["frame"]
        t = (frame - a["frame"]) / length
        if channel["interpolation"] == "linear":
            return a["value"] + (b["value"] - a["value"]) * t
        value = (2 * t**3 - 3 * t**2 + 1) * a["value"] + (3 * t**2 - 2 * t**3) * b["value"]
        return value + length * ((t**3 - 2 * t**2 + t) * a.get("out", 0) + (t**3 - t**2) * b.get("in", 0))
