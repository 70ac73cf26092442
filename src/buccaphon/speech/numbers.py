"""Numbers in English words, in the several ways in which they are counted, paired and shared."""

from __future__ import annotations

import re


def counted(value: int, to: str = "cardinal") -> str:
    """'one hundred and five', or with `to` the 'ordinal' or the 'year'."""
    from num2words import num2words  # noqa: PLC0415  (slow to import, seldom needed)

    return str(num2words(value, to=to)).replace(",", "").replace("-", " ")


def cardinals(value: int) -> list[str]:
    """Without and with the 'and' before the tens, and 'a hundred' for 'one hundred'."""
    full = counted(value)
    short = full.replace(" and ", " ")
    begins = re.match(r"one (?=hundred|thousand|million|billion)", short)
    return [short, full, "a " + short[begins.end() :]] if begins else [short, full]


def year(value: int) -> str:
    return counted(value, "year").replace(" and ", " ")


def digit_by_digit(text: str, zero: str = "oh") -> str:
    return " ".join(zero if digit == "0" else counted(int(digit)) for digit in text if digit.isdigit())


def tens(two: str) -> str:
    """The last two digits of a year or a time: 'oh five', 'twenty five'."""
    return f"oh {counted(int(two))}" if two[0] == "0" else counted(int(two))


def in_pairs(text: str) -> str:
    """Digits in twos from the end, as house numbers and years are said: 'one oh one', 'twelve thirty four'."""
    head, tail = text[:-2], text[-2:]
    return f"{counted(int(head))} {'hundred' if tail == '00' else tens(tail)}"


def plural(word: str) -> str:
    return word[:-1] + "ies" if word.endswith("y") else word + "s"


def shares(over: int, under: int) -> list[str]:
    """A fraction's names: 'three quarters', 'three fourths'."""
    names = {2: ["half"], 4: ["quarter", "fourth"]}.get(under) or [counted(under, "ordinal")]
    if over == 1:
        return [f"{article} {name}" for name in names for article in ("one", "a")]
    return [f"{counted(over)} {'halves' if name == 'half' else name + 's'}" for name in names]
