"""The library's own two-pass align, as its documentation shows; as a script as short as it can be, to be timed as a process.

python -m benchmarks.library SOUND.flac WORDS.txt
"""

import re
import sys
from pathlib import Path

import numpy as np
import pocketsphinx


def decoder_for(rate: int) -> pocketsphinx.Decoder:
    return pocketsphinx.Decoder(lm=None, samprate=rate, loglevel="FATAL")


def two_passes(decoder: pocketsphinx.Decoder, samples: np.ndarray, words: list[str]) -> list[tuple[str, float]]:
    """Words first, then phones: each with the second it begins."""
    decoder.set_align_text(" ".join(words))
    for again in (False, True):
        if again:
            decoder.set_alignment()
        decoder.start_utt()
        decoder.process_raw((np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes(), full_utt=True)
        decoder.end_utt()
    return [(entry.name, entry.start / 100) for entry in decoder.get_alignment().phones()]


def main() -> None:
    import soundfile  # noqa: PLC0415  (who imports this module reads by other means)

    samples, rate = soundfile.read(sys.argv[1], dtype="float32")
    decoder = decoder_for(rate)
    words = [word.lower() for word in re.findall("[A-Za-z']+", Path(sys.argv[2]).read_text("utf-8"))]
    print(two_passes(decoder, samples, [word for word in words if decoder.lookup_word(word) is not None]))


if __name__ == "__main__":
    main()
