"""Sounds with labelled markers, written byte by byte as their formats say."""

import struct

import numpy as np

RATE = 48_000


def _tone(seconds):
    return (8000 * np.sin(np.arange(round(seconds * RATE)) * 0.03)).astype(np.int16)


def wav_with(path, marks, seconds=2.0, samples=None, rate=RATE):
    """marks: (seconds, label). RIFF with the chunks `cue ` and `LIST adtl`."""
    data = (_tone(seconds) if samples is None else samples).astype("<i2").tobytes()
    points = [
        struct.pack("<II4sIII", n, round(at * rate), b"data", 0, 0, round(at * rate))
        for n, (at, _) in enumerate(marks, 1)
    ]
    labels = b"adtl"
    for number, (_at, text) in enumerate(marks, 1):
        body = struct.pack("<I", number) + text.encode() + b"\0"
        labels += b"labl" + struct.pack("<I", len(body)) + body + b"\0" * (len(body) % 2)
    chunks = [
        (b"fmt ", struct.pack("<HHIIHH", 1, 1, rate, rate * 2, 2, 16)),
        (b"data", data),
        (b"cue ", struct.pack("<I", len(points)) + b"".join(points)),
        (b"LIST", labels),
    ]
    body = b"".join(name + struct.pack("<I", len(content)) + content for name, content in chunks)
    path.write_bytes(b"RIFF" + struct.pack("<I", 4 + len(body)) + b"WAVE" + body)


def aiff_with(path, marks, seconds=2.0, samples=None, rate=RATE, encoding="utf-8"):
    """marks: (seconds, label). FORM AIFF with the chunk `MARK`."""
    samples = _tone(seconds) if samples is None else samples
    mantissa = rate << (63 - (rate.bit_length() - 1))
    extended = struct.pack(">HQ", 16383 + rate.bit_length() - 1, mantissa)
    listed = struct.pack(">H", len(marks))
    for number, (at, label) in enumerate(marks, 1):
        text = label.encode(encoding)
        text = bytes([len(text)]) + text
        listed += struct.pack(">HI", number, round(at * rate)) + text + b"\0" * (len(text) % 2)
    chunks = [
        (b"COMM", struct.pack(">HIH", 1, len(samples), 16) + extended),
        (b"MARK", listed),
        (b"SSND", struct.pack(">II", 0, 0) + samples.astype(">i2").tobytes()),
    ]
    body = b"".join(name + struct.pack(">I", len(c)) + c + b"\0" * (len(c) % 2) for name, c in chunks)
    path.write_bytes(b"FORM" + struct.pack(">I", 4 + len(body)) + b"AIFF" + body)
