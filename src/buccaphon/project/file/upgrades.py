"""Older project files brought up to date, one version at a time, before anything else looks at them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Data = dict[str, Any]


def from_1_to_2(data: Data) -> Data:
    """Version 1 had a single recording at the top."""
    ours = ("duration", "aligned_script", "words", "pins", "painted")
    moved = {name: data.pop(name) for name in ours if name in data}
    path = data.pop("recording", None)
    takes = [] if path is None else [{"path": path, **moved}]
    return data | {"version": 2, "takes": takes, "shown": 0}


def from_2_to_3(data: Data) -> Data:
    """Version 2 wrote stretches, boundaries and sounds in ways of its own; charts were none of the project's."""
    return data | {"version": 3, "takes": [_take_from_2(take) for take in data.get("takes", [])]}


def _take_from_2(take: Data) -> Data:
    take = dict(take)
    words, duration = take.pop("words", None), take.pop("duration", 0.0)
    if words is not None:
        take["score"] = {"words": [_word_from_2(word) for word in words], "duration": duration}
    take["not_speech"] = [{"start": start, "end": end} for start, end in take.get("not_speech", [])]
    take["pins"] = [_renamed(pin, boundary=("word", "phone")) for pin in take.get("pins", [])]
    for name in ("painted", "notes"):
        take[name] = [_renamed(entry, span=("start", "end")) for entry in take.get(name, [])]
    return take


def _word_from_2(word: Data) -> Data:
    phones = [{"symbol" if name == "ipa" else name: value for name, value in phone.items()} for phone in word["phones"]]
    return word | {"phones": phones}


def _renamed(entry: Data, **groups: tuple[str, ...]) -> Data:
    """An entry in which some values stand together in a group of their own."""
    moved = {name for names in groups.values() for name in names}
    kept = {name: value for name, value in entry.items() if name not in moved}
    return kept | {group: {name: entry[name] for name in names} for group, names in groups.items()}


def from_3_to_4(data: Data) -> Data:
    """Version 3 knew of the manner no more than hold and lead, at the top."""
    data = data | {"version": 4}
    told = {name: data.pop(name) for name in ("hold", "lead") if name in data}
    return data | {"manner": told}


def from_4_to_5(data: Data) -> Data:
    """Version 4 had no characters of its own."""
    return data | {"version": 5}


def from_5_to_6(data: Data) -> Data:
    """Version 5 knew nothing of followers, clean-up, steering and curves by hand."""
    return data | {"version": 6}


def from_6_to_7(data: Data) -> Data:
    """Version 6 kept no export list."""
    return data | {"version": 7}


UPGRADES: dict[int, Callable[[Data], Data]] = {
    1: from_1_to_2,
    2: from_2_to_3,
    3: from_3_to_4,
    4: from_4_to_5,
    5: from_5_to_6,
    6: from_6_to_7,
}
