"""Older project files brought up to date, one version at a time, before anything else looks at them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from buccaphon.kits.store import from_1_to_2 as kit_from_1_to_2
from buccaphon.mouths.rules import rule_named

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


_BANDS = {"all of it": "all", "the voice": "voice", "the upper part": "high"}
_INTERPOLATIONS = {"straight": "linear", "as the machine has it": "automatic"}
_UNITS = {"0 to 1": "share", "%": "percent", "px": "pixels"}
_ISSUES = {
    "contact not seen": "contact_not_visible", "mouth for one frame": "mouth_for_one_frame", "back and forth": "flicker",
    "open in silence": "open_in_silence", "early or late": "early_or_late", "too busy": "too_many_changes",
    "sound without a mouth": "sound_without_mouth", "mouth never used": "mouth_never_used",
    "word in doubt": "uncertain_word", "painted against its sound": "painted_against_sound",
    "word not found": "word_not_found",
}  # fmt: skip


def from_7_to_8(data: Data) -> Data:
    """Version 7 kept words of the window where ids are now, and called some entries otherwise."""
    data = _called(data, manner="mouth_settings") | {"version": 8}
    if "mouth_settings" in data:
        data["mouth_settings"] = _called(data["mouth_settings"], swallow="skip_quick_sounds")
    for entry in ("takes", "followers", "steps", "charts", "kits"):
        if entry in data:
            data[entry] = [_FROM_7[entry](record) for record in data[entry]]
    return data


def _take_from_7(take: Data) -> Data:
    take = _called(
        take, manners="mouth_ranges", left="ignored", lost="without_word", left_over="unplaced",
        steering="loudness_settings",
    )  # fmt: skip
    if "mouth_ranges" in take:
        take["mouth_ranges"] = [_with_change_from_7(part) for part in take["mouth_ranges"]]
    if "ignored" in take:
        take["ignored"] = [_with_id(issue, "kind", _ISSUES) for issue in take["ignored"]]
    if "loudness_settings" in take:
        found = _with_id(take["loudness_settings"], "band", _BANDS)
        take["loudness_settings"] = _called(
            found, side="channel", opens="gate_opens", shuts="gate_closes", bend="response", reaches="peak",
            alone="loudness_only",
        )  # fmt: skip
    if "curves" in take:
        take["curves"] = [_curve_from_7(curve) for curve in take["curves"]]
    if "unplaced" in take:
        take["unplaced"] = [_unplaced_from_7(piece) for piece in take["unplaced"]]
    return take


def from_8_to_9(data: Data) -> Data:
    """Version 8 had a gate of two levels, always."""
    return data | {"version": 9, "takes": [_take_from_8(take) for take in data.get("takes", [])]}


def _take_from_8(take: Data) -> Data:
    loudness = take.get("loudness_settings")
    if not loudness:
        return take
    kept = {name: value for name, value in loudness.items() if name not in ("gate_opens", "gate_closes")}
    opens, closes = loudness.get("gate_opens", 0.12), loudness.get("gate_closes", 0.06)
    if (opens, closes) != (0.12, 0.06):  # what was automatic stays so
        kept |= {"threshold": opens} | ({"closes_below": closes} if closes != opens else {})
    return take | {"loudness_settings": kept}


def _unplaced_from_7(piece: Data) -> Data:
    piece = _with_change_from_7(piece)
    if piece.get("curve"):
        piece["curve"] = _curve_from_7(piece["curve"])
    return piece | ({"what": ""} if piece.get("kind") == "range" else {})  # its settings say it


def _with_change_from_7(record: Data) -> Data:
    change = record.get("change")
    return record | ({"change": _called(change, swallow="skip_quick_sounds")} if change else {})


def _curve_from_7(curve: Data) -> Data:
    points = (_called(point, leads="interpolation") for point in curve.get("points", []))
    return curve | {"points": [_with_id(point, "interpolation", _INTERPOLATIONS) for point in points]}


def _chart_from_7(chart: Data) -> Data:
    mouths = (
        mouth | {"rules": [rule_named(rule) for rule in mouth.get("rules", [])]} for mouth in chart.get("mouths", [])
    )
    return chart | {"mouths": list(mouths)}


def _step_from_7(step: Data) -> Data:
    return step | {"step": step["step"].replace(" ", "_")}


def _called(record: Data, **names: str) -> Data:
    """A record in which some entries, by their names of before, have others."""
    return {names.get(name, name): value for name, value in record.items()}


def _with_id(record: Data, name: str, ids: dict[str, str]) -> Data:
    return record | {name: ids.get(record[name], record[name])} if name in record else record


_OF_A_LINE = ("takes", "shown", "script", "language")
_OF_A_ROLE = ("chart", "kit", "mouth_settings", "mixes", "followers", "steps")


def from_9_to_10(data: Data) -> Data:
    """Version 9 was one line, said by one role."""
    line, role = ({name: data[name] for name in names if name in data} for names in (_OF_A_LINE, _OF_A_ROLE))
    scene = {name: value for name, value in data.items() if name not in (*line, *role)}
    return scene | {"version": 10, "lines": [line], "roles": [role]}


_FROM_7: dict[str, Callable[[Data], Data]] = {
    "takes": _take_from_7,
    "followers": lambda follower: _with_id(follower, "unit", _UNITS),
    "steps": _step_from_7,
    "charts": _chart_from_7,
    "kits": kit_from_1_to_2,
}

UPGRADES: dict[int, Callable[[Data], Data]] = {
    1: from_1_to_2,
    2: from_2_to_3,
    3: from_3_to_4,
    4: from_4_to_5,
    5: from_5_to_6,
    6: from_6_to_7,
    7: from_7_to_8,
    8: from_8_to_9,
    9: from_9_to_10,
}
