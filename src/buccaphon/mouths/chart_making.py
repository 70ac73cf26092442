"""Making a chart of one's own: every step gives a new document, half done or whole."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import replace

from buccaphon.errors import ChartError
from buccaphon.mouths.chart import ChartDocument, Mouth, nearest_mouth
from buccaphon.mouths.pose import Pose
from buccaphon.mouths.rules import RULES, rule_label
from buccaphon.speech.articulation import letters_of
from buccaphon.speech.phones import SOUNDS, ipa_of
from buccaphon.texts import _

MOST_MOUTHS = 10_000  # a bound for lists of names, not for people
_ARPABET = {sound.arpabet: ipa for ipa, sound in SOUNDS.items()}
_REST = Mouth("Rest", Pose(spread=0.1), ())


def empty_chart(name: str) -> ChartDocument:
    """A chart with nothing but a mouth to rest."""
    return ChartDocument(name, "", (_REST,))


def chart_from_names(name: str, typed: str, pattern: ChartDocument) -> ChartDocument:
    """A chart of the names in a text, one a line or parted by commas. Those that the pattern has come with its poses and
    sounds; the others are drawn plainly until they are given a pose."""
    parts = (part.strip() for part in re.split(r"[\n,;\t]", typed))
    names = {part.lower(): part for part in parts if part}.values()
    known = {mouth.name.lower(): mouth for mouth in pattern.mouths}
    mouths = [
        replace(known[each.lower()], name=each) if each.lower() in known else Mouth(each, Pose(), ()) for each in names
    ]
    return ChartDocument(name, "", tuple(mouths[:MOST_MOUTHS]))


def copy_of(chart: ChartDocument, taken: Iterable[str]) -> ChartDocument:
    """The same under a name that is free."""
    return replace(chart.document, name=free_name(chart.name, taken))


def free_name(name: str, taken: Iterable[str]) -> str:
    """The name, or with a number behind it."""
    used = {each.lower() for each in taken}
    if name.lower() not in used:
        return name
    return next(f"{name} {number}" for number in range(2, 10_000) if f"{name} {number}".lower() not in used)


def with_mouth(chart: ChartDocument, number: int, **changes: object) -> ChartDocument:
    """One mouth changed: its name, pose, sounds, rules or whether it is a contact."""
    mouths = list(chart.mouths)
    mouths[number] = replace(mouths[number], **changes)  # type: ignore[arg-type]  # as the fields are
    return chart.with_mouths(mouths)


def add_mouth(chart: ChartDocument) -> ChartDocument:
    """A new mouth at the end."""
    name = free_name("Mouth", (mouth.name for mouth in chart.mouths))
    made = Mouth(name, Pose(jaw=0.4), ())
    if len(chart.mouths) >= MOST_MOUTHS:
        raise ChartError(
            _("chart {name}", name=chart.name),
            _("it has {most} mouths, the maximum", most=MOST_MOUTHS),
            _("Remove one first"),
        )
    return chart.with_mouths((*chart.mouths, made))


def without_mouth(chart: ChartDocument, number: int) -> ChartDocument:
    return chart.with_mouths((*chart.mouths[:number], *chart.mouths[number + 1 :]))


def moved(chart: ChartDocument, number: int, to: int) -> ChartDocument:
    """A mouth at another place: order decides numbers and keys; the same mouth rests as before."""
    mouths = list(chart.mouths)
    mouths.insert(min(max(to, 0), len(mouths) - 1), mouths.pop(number))
    return chart.with_mouths(mouths)


def give_sounds(chart: ChartDocument, number: int, sounds: Sequence[str]) -> ChartDocument:
    """Let a mouth answer to some sounds more; no other does then."""
    given = [sound for sound in dict.fromkeys(sounds) if sound not in chart.mouths[number].sounds]
    mouths = [replace(mouth, sounds=tuple(s for s in mouth.sounds if s not in given)) for mouth in chart.mouths]
    mouths[number] = replace(mouths[number], sounds=(*mouths[number].sounds, *given))
    return chart.with_mouths(mouths)


def take_sounds(chart: ChartDocument, sounds: Sequence[str]) -> ChartDocument:
    """Let no mouth answer to some sounds."""
    mouths = [replace(mouth, sounds=tuple(s for s in mouth.sounds if s not in sounds)) for mouth in chart.mouths]
    return chart.with_mouths(mouths)


def place_the_rest(chart: ChartDocument, pattern: ChartDocument) -> ChartDocument:
    """Give every English sound that no mouth answers to to the one that looks most like that of a pattern."""
    if not chart.mouths:
        return chart
    wanted = {sound: mouth for mouth in pattern.mouths for sound in mouth.sounds}
    for sound in chart.missing:
        mouth = wanted[sound]
        chart = give_sounds(chart, nearest_mouth(chart.mouths, mouth.pose, mouth.contact), (sound,))
    return chart


def parse_sounds(typed: str) -> tuple[str, ...]:
    """Sounds in IPA or ARPAbet, and rules by their names are left to `parse_rules`. Raises ChartError."""
    found: list[str] = []
    for part in re.split(r"[\s,/]+", typed.strip()):
        plain = part.rstrip("012").upper()
        if part and part.isascii() and plain in _ARPABET and part.upper() == part:
            found.append(ipa_of(plain, int(part[-1]) if part[-1] in "012" else 1))
            if part[-1] not in "012" and plain in ("AH", "ER"):
                found.append(ipa_of(plain, 0))
        elif part and letters_of(part):
            found.append(part)
        elif part:
            raise ChartError(f"“{part[:20]}”", _("it is not a sound in IPA or ARPAbet"), _("Type p b m, or P B M"))
    return tuple(dict.fromkeys(found))


def parse_answers(typed: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Sounds and rules as they are typed together: `p b m`, `AA AE`, `rounded vowels`."""
    rules, sounds = list[str](), typed
    for rule in RULES:
        for name in {rule, rule_label(rule)}:
            without = re.sub(re.escape(name), " ", sounds, flags=re.IGNORECASE)
            rules += [rule] if without != sounds and rule not in rules else []
            sounds = without
    return parse_sounds(sounds), tuple(rules)
