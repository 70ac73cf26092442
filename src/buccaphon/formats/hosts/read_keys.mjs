// Reads Buccaphon keys (.keys.json) in any JavaScript engine, without another library.
// No rights reserved (CC0 1.0): copy, change and ship it freely.

const before = (keys, frame) => {
  let low = 0, high = keys.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keys[middle].frame <= frame) low = middle + 1; else high = middle;
  }
  return low - 1;
};

export class Keys {
  /** data: the file's JSON. first, last: its frames, as the scene numbers them. rate: frames a second. */
  constructor(data) {
    if (data.format !== "buccaphon.keys" || data.version > 1) throw new Error("these are no keys that this reader knows");
    this.data = data;
    this.rate = data.rate.numerator / data.rate.denominator;
    this.first = data.start_frame;
    this.last = data.start_frame + data.length - 1;
    this.channels = new Map(data.channels.map((channel) => [channel.name, channel]));
  }

  /** [frame, name] of each held mouth, in order. */
  mouths() { return this.data.mouths.map((key) => [key.frame, key.mouth]); }

  /** The mouth on show at a frame. */
  mouth(frame) { return this.data.mouths[Math.max(before(this.data.mouths, frame), 0)].mouth; }

  /** The number of a mouth in the host's order. */
  index(mouth) { return this.data.palette.find((entry) => entry.name === mouth).index; }

  channelNames() { return [...this.channels.keys()]; }

  /** [frame, value] of each key of a channel, in order. */
  channelKeys(name) {
    const channel = this.channels.get(name);
    if (channel.values) return channel.values.map((value, number) => [this.first + number, value]);
    return channel.keys.map((key) => [key.frame, key.value]);
  }

  /** A channel's value at a frame, also between two frames. */
  value(name, frame) {
    const channel = this.channels.get(name);
    if (channel.values) return channel.values[Math.min(Math.max(Math.floor(frame) - this.first, 0), channel.values.length - 1)];
    const keys = channel.keys, at = before(keys, frame);
    if (at < 0 || at === keys.length - 1 || channel.interpolation === "held") return keys[Math.max(at, 0)].value;
    const a = keys[at], b = keys[at + 1], length = b.frame - a.frame, t = (frame - a.frame) / length;
    if (channel.interpolation === "linear") return a.value + (b.value - a.value) * t;
    const value = (2 * t ** 3 - 3 * t ** 2 + 1) * a.value + (3 * t ** 2 - 2 * t ** 3) * b.value;
    return value + length * ((t ** 3 - 2 * t ** 2 + t) * (a.out ?? 0) + (t ** 3 - t ** 2) * (b.in ?? 0));
  }
}
