"""Words are looked up where they stand."""

import random
from pathlib import Path

import pocketsphinx

from buccaphon.speech.dictionary import all_listed, is_listed, listed, words_listed

FILE = Path(pocketsphinx.__file__).parent / "model" / "en-us" / "cmudict-en-us.dict"


def test_what_is_found_is_what_reading_all_of_it_finds():
    everything: dict[str, list[list[str]]] = {}
    for line in FILE.read_text("utf-8").splitlines():
        word, *sounds = line.split()
        everything.setdefault(word.split("(")[0], []).append(sounds)
    assert words_listed() == sorted(everything), "it is looked up by bisection"
    assert sum(1 for _ in all_listed()) == sum(map(len, everything.values()))
    several = [word for word, ways in everything.items() if len(ways) > 2]
    for word in [*random.Random(1).sample(sorted(everything), 2000), *several[:500], min(everything), max(everything)]:
        assert listed(word) == everything[word], word


def test_words_that_it_lacks_are_not_there():
    for word in ("", "a(", "zzzzzz", "qwx", "plum(2)", "Plums", "\U0001f34f"):
        assert not is_listed(word), word
        assert listed(word) == []
    assert listed("marigold's") == [[*listed("marigold")[0], "Z"]]
