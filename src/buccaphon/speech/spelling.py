"""Written forms spelled out as they are said: numbers, money, times, dates, measures, abbreviations, capitals.

Most can be said in more than one way: 1984 as a year or a number, $3.50 with or without its cents. All that are usual are
given, likeliest first; the aligner hears which it was.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from itertools import islice, product

from buccaphon.speech.dictionary import is_listed
from buccaphon.speech.numbers import cardinals, counted, digit_by_digit, in_pairs, plural, shares, tens, year

Match = re.Match[str]

_MOST = 6  # readings of one written word

_ABBREVIATIONS = {
    "mr": "mister", "mrs": "missus", "ms": "miz", "dr": "doctor|drive", "st": "saint|street", "vs": "versus",
    "etc": "et cetera", "prof": "professor", "capt": "captain", "sgt": "sergeant", "lt": "lieutenant", "jr": "junior",
    "sr": "senior", "ave": "avenue", "blvd": "boulevard", "rd": "road", "mt": "mount", "approx": "approximately",
    "dept": "department", "inc": "inc|incorporated", "ltd": "limited", "jan": "january|jan", "feb": "february",
    "apr": "april", "aug": "august", "sept": "september", "oct": "october", "nov": "november", "dec": "december",
    "mon": "monday", "tue": "tuesday", "tues": "tuesday", "wed": "wed|wednesday", "thu": "thursday", "thurs": "thursday",
    "fri": "friday", "sat": "sat|saturday", "col": "colonel|col", "gen": "general|gen", "rev": "reverend|rev",
    "n": "n|and", "&": "and", "+": "plus", "=": "equals", "%": "percent", "@": "at", "°": "degrees",
}  # fmt: skip
_CURRENCIES = {
    "$": ("dollar", "dollars", "cent", "cents"), "£": ("pound", "pounds", "penny", "pence"),
    "€": ("euro", "euros", "cent", "cents"), "¥": ("yen", "yen", "sen", "sen"),
}  # fmt: skip
_THOUSANDS = {"k": "thousand", "m": "million", "bn": "billion", "b": "billion"}
_UNITS = {
    "kg": ("kilogram", "kilograms"), "g": ("gram", "grams"), "mg": ("milligram", "milligrams"), "lb": ("pound", "pounds"),
    "lbs": ("pound", "pounds"), "oz": ("ounce", "ounces"), "km": ("kilometer", "kilometers"), "m": ("meter", "meters"),
    "cm": ("centimeter", "centimeters"), "mm": ("millimeter", "millimeters"), "ft": ("foot", "feet"),
    "in": ("inch", "inches"), "mi": ("mile", "miles"), "yd": ("yard", "yards"), "l": ("liter", "liters"),
    "ml": ("milliliter", "milliliters"), "s": ("second", "seconds"), "ms": ("millisecond", "milliseconds"),
    "min": ("minute", "minutes"), "h": ("hour", "hours"), "hr": ("hour", "hours"), "hrs": ("hour", "hours"),
    "mph": ("mile per hour", "miles per hour"), "km/h": ("kilometer per hour", "kilometers per hour"),
    "hz": ("hertz", "hertz"), "khz": ("kilohertz", "kilohertz"), "kb": ("kilobyte", "kilobytes"),
    "mb": ("megabyte", "megabytes"), "gb": ("gigabyte", "gigabytes"), "fps": ("frame per second", "frames per second"),
    "%": ("percent", "percent"), "°": ("degree", "degrees"), "°c": ("degree", "degrees"), "°f": ("degree", "degrees"),
    "¢": ("cent", "cents"), "p": ("penny", "pence"), "x": ("time", "times"),
}  # fmt: skip
_BARE_UNITS = ("kg", "km", "cm", "mm", "lbs", "oz", "mph", "km/h", "hz", "khz", "fps")  # said whole even alone
_MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december",
)  # fmt: skip
_PARTS = {
    "½": (1, 2),
    "⅓": (1, 3),
    "⅔": (2, 3),
    "¼": (1, 4),
    "¾": (3, 4),
    "⅛": (1, 8),
    "⅜": (3, 8),
    "⅝": (5, 8),
    "⅞": (7, 8),
}
_LONG = re.compile(r"\d{16}")
_ROMAN = {"I": 1, "V": 5, "X": 10}
_PIECES = re.compile(r"\d+|[^\W\d_]+(?:'[^\W\d_]+)*|[&+=%@°]")
_NUMBER = r"\d[\d,]*(?:\.\d+)?|\.\d+"


def spoken_words(bare: str) -> tuple[str, ...]:
    """How a written word is most likely said, as lower-case words without digits: '25' -> ('twenty', 'five')."""
    return readings(bare)[0]


def readings(bare: str) -> tuple[tuple[str, ...], ...]:
    """The ways in which a written word may be meant, each as lower-case words, likeliest first; one at least, which is empty
    when there is nothing to say.

    Words that are said as they are written come back alone; hyphens and slashes part them.
    """
    said = [tuple(re.findall(r"[^\W\d_]+(?:'[^\W\d_]+)*", text.lower())) for text in _said(bare.replace("’", "'"))]
    return tuple(dict.fromkeys(words for words in said if words))[:_MOST] or ((),)


def _said(text: str) -> list[str]:
    if _LONG.search(text.replace(",", "")):  # nobody counts that far
        return [digit_by_digit(text)]
    if text.lower() in _ABBREVIATIONS:
        return _ABBREVIATIONS[text.lower()].split("|")
    for pattern, say in _FORMS:
        if match := pattern.fullmatch(text):
            return say(match)
    parts = [part for part in re.split(r"[-–/]", text) if part]
    if len(parts) > 1:
        return _each(parts)
    pieces = _PIECES.findall(text)
    return _each(pieces) if len(pieces) > 1 else pieces


def _each(parts: Sequence[str]) -> list[str]:
    return [" ".join(choice) for choice in islice(product(*map(_said, parts)), _MOST)]


def _integer(digits: str) -> int:
    return int(digits.replace(",", ""))


def _whole(match: Match) -> list[str]:
    text = match[0]
    value = _integer(text)
    if "," in text:
        return cardinals(value)
    if text == "0":
        return ["zero", "oh", "nought"]
    if text[0] == "0":
        doubled = [f"double oh {digit_by_digit(text[2:])}"] if text[:2] == "00" and len(text) == 3 else []
        return [*doubled, digit_by_digit(text), digit_by_digit(text, "zero")]
    by_digits = digit_by_digit(text)
    if len(text) == 4:
        is_year = 1100 <= value <= 2099 and value % 1000 > 9
        return [*([year(value)] if is_year else []), *cardinals(value), in_pairs(text), by_digits]
    if len(text) == 3:
        return [*cardinals(value), in_pairs(text), by_digits]
    return [*cardinals(value), by_digits] if len(text) > 4 else cardinals(value)


def _negative(match: Match) -> list[str]:
    said = _said(match[1])[0]
    return [f"minus {said}", f"negative {said}", said]


def _decimal(match: Match) -> list[str]:
    after = " ".join(counted(int(digit)) for digit in match[2])
    if not match[1]:
        return [f"point {after}", f"zero point {after}"]
    return [f"{whole} point {after}" for whole in cardinals(_integer(match[1]))]


def _ordinal(match: Match) -> list[str]:
    said = counted(_integer(match[1]), "ordinal")
    return [said.replace(" and ", " "), said]


def _decade(match: Match) -> list[str]:
    text = match[1]
    decade = plural(counted(int(text[-2:]))) if text[-2:] != "00" else "hundreds"
    if len(text) == 2:
        return [decade]
    if text[1:] == "000":
        return [plural(counted(int(text))), plural(counted(int(text[:2]))) + " hundreds"]
    return [f"{counted(int(text[:2]))} {decade}"]


def _clock(match: Match) -> list[str]:
    hour, minute = int(match[1]), match[2] or "00"
    half = f" {match[3].lower()} m" if match[3] else ""
    now, next_hour = counted(hour), counted(hour % 12 + 1)
    if minute == "00":
        return [f"{now}{half}"] if half else [f"{now} o'clock", now, f"{now} hundred"]
    said = [f"{now} {tens(minute)}{half}"]
    if minute in ("15", "30", "45") and not half:
        before = {"15": f"quarter past {now}", "30": f"half past {now}", "45": f"quarter to {next_hour}"}[minute]
        said += [before, f"a {before}"] if minute != "30" else [before]
    return said


def _date(match: Match) -> list[str]:
    first, second = int(match[1]), int(match[2])
    after = f" {year(int(match[3]))}" if len(match[3]) == 4 else f" {tens(match[3])}"
    said = []
    for month, day in ((first, second), (second, first)):
        if 1 <= month <= 12 and 1 <= day <= 31:
            nth = counted(day, "ordinal")
            said += [f"{_MONTHS[month - 1]} {nth}{after}", f"the {nth} of {_MONTHS[month - 1]}{after}"]
    return [*said, f"{counted(first)} {counted(second)}{after}"]


def _fraction(match: Match) -> list[str]:
    over, under = int(match[1]), int(match[2])
    plainly = [f"{counted(over)} {counted(under)}", f"{counted(over)} over {counted(under)}"]
    return [*shares(over, under), *plainly] if 0 < over < under <= 100 else plainly


def _vulgar(match: Match) -> list[str]:
    parts = shares(*_PARTS[match[2]])
    return [f"{counted(int(match[1]))} and {part}" for part in reversed(parts)] if match[1] else parts


def _money(match: Match) -> list[str]:
    one, many, cent, cents = _CURRENCIES[match[1]]
    whole, parts = _integer(match[2] or "0"), int((match[3] or "0").ljust(2, "0"))
    small = f"{counted(parts)} {cent if parts == 1 else cents}"
    if not whole and parts:
        return [small]
    unit = one if whole == 1 else many
    if not parts:
        said = [f"{number} {unit}" for number in cardinals(whole)]
        return [*said, f"a {unit}"] if whole == 1 else said
    number = cardinals(whole)[0]
    return [
        f"{number} {unit} {small}",
        f"{number} {unit} and {small}",
        f"{number} {tens(f'{parts:02}')}",
        f"{number} {unit} {counted(parts)}",
    ]


def _much_money(match: Match) -> list[str]:
    size, unit = match[3].lower(), _CURRENCIES[match[1]]
    return [f"{number} {_THOUSANDS.get(size, size)} {unit[many]}" for number in _said(match[2]) for many in (1, 0)]


def _measure(match: Match) -> list[str]:
    """A big M or K is rather a million or a thousand, a small one a meter or kilo-something."""
    unit, many = _UNITS.get(match[2].lower()), _THOUSANDS.get(match[2].lower())
    said = _said(match[1])
    found = [f"{number} {unit[match[1] != '1']}" for number in said[:2]] if unit else []
    if match[2].lower() in ("°c", "°f"):
        scale = "celsius" if match[2].lower() == "°c" else "fahrenheit"
        found += [f"{number} {scale}" for number in found]
    if many:
        counted = [f"{number} {many}" for number in said[:2]]
        found = counted + found if match[2].isupper() else found + counted
    return [*found, *(f"{number} {match[2]}" for number in said[:1])]


def _range(match: Match) -> list[str]:
    first, last = _said(match[1])[0], _said(match[2])[0]
    return [f"{first} to {last}", f"{first} {last}", f"{first} through {last}"]


def _initials(match: Match) -> list[str]:
    known = {"e.g": ["for example"], "i.e": ["that is"], "a.k.a": ["also known as"]}
    letters = " ".join(match[1].replace(".", "").lower())
    return [letters + (match[2] or ""), *known.get(match[0].lower().rstrip("."), [])]


def _capitals(match: Match) -> list[str]:
    """Capitals are said letter by letter where they make no word; short ones may be even where they do."""
    word, ending = match[1].lower(), match[2].replace("'", "").lower() and "'s"
    spelled, whole = " ".join(word) + ending, word + ending
    roman = _roman(match[1]) if not ending else []
    if roman:
        return [*roman, spelled, *([whole] if is_listed(word) else [])]
    if is_listed(word):
        return [whole, spelled] if len(word) <= 3 else [whole]
    return [spelled, whole] if re.search("[aeiouy]", word) else [spelled]


def _roman(text: str) -> list[str]:
    if not re.fullmatch(r"X{0,3}(?:IX|IV|V?I{0,3})", text):
        return []
    values = [_ROMAN[letter] for letter in text]
    total = sum(-one if one < after else one for one, after in zip(values, [*values[1:], 0], strict=True))
    nth = counted(total, "ordinal")
    return [counted(total), f"the {nth}", nth]


_FORMS: list[tuple[re.Pattern[str], Callable[[Match], list[str]]]] = [
    (re.compile(pattern, 0 if say is _capitals else re.IGNORECASE), say)
    for pattern, say in (
        (r"\d[\d,]*", _whole),
        (r"-([\d.].*)", _negative),
        (r"(\d[\d,]*)?\.(\d+)", _decimal),
        (r"(\d[\d,]*)(?:st|nd|rd|th)", _ordinal),
        (r"'?(\d0|\d\d\d0)'?s", _decade),
        (r"([$£€¥])(\d[\d,]*)?(?:\.(\d\d?))?", _money),
        (rf"([$£€¥])({_NUMBER})\s*(k|m|bn|b|thousand|million|billion|trillion)", _much_money),
        (r"(\d{1,2}):(\d\d)(?:([ap])\.?m\.?)?", _clock),
        (r"(\d{1,2})()([ap])\.?m\.?", _clock),
        (r"(\d{1,2})/(\d{1,2})/(\d{4}|\d\d)", _date),
        (r"(\d+)/(\d+)", _fraction),
        (r"(\d*)([½⅓⅔¼¾⅛⅜⅝⅞])", _vulgar),
        (r"\d{3}-\d{4}|\d{3}-\d{3}-\d{4}", lambda match: [digit_by_digit(match[0]), digit_by_digit(match[0], "zero")]),
        (r"(\d+)[-–](\d+)", _range),
        (rf"({_NUMBER})-?(km/h|°c|°f|[a-z%°¢]+)", _measure),
        (r"#(\d+)", lambda match: [f"number {number}" for number in _said(match[1])]),
        (r"((?:[a-z]\.)+[a-z]?)('s)?", _initials),
        (r"([A-Z]{2,5})((?:'?s)?)", _capitals),
        ("|".join(_BARE_UNITS), lambda match: [_UNITS[match[0].lower()][1], match[0]]),
    )
]
