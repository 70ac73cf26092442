"""Written forms spelled out as they are said: numbers, money, abbreviations, signs."""

from __future__ import annotations

import re

_ABBREVIATIONS = {
    "mr": "mister", "mrs": "missus", "ms": "miz", "dr": "doctor", "st": "saint", "vs": "versus", "etc": "et cetera",
    "no": "no", "&": "and", "+": "plus", "=": "equals", "%": "percent", "@": "at",
}  # fmt: skip
_CURRENCIES = {"$": ("dollar", "cent"), "£": ("pound", "penny"), "€": ("euro", "cent")}
_MONEY = re.compile(r"^([$£€])(\d[\d,]*)(?:\.(\d\d))?$")
_ORDINAL = re.compile(r"^(\d[\d,]*)(?:st|nd|rd|th)$", re.IGNORECASE)
_DECIMAL = re.compile(r"^(\d[\d,]*)\.(\d+)$")
_TIME = re.compile(r"^(\d{1,2}):(\d\d)$")
_WHOLE = re.compile(r"^\d[\d,]*$")
_PIECES = re.compile(r"\d+|[^\W\d_]+(?:['’][^\W\d_]+)*|[&+=%@]")


def spoken_words(bare: str) -> tuple[str, ...]:
    """How a written word is said, as lower-case words without digits: '25' -> ('twenty', 'five').

    Words that are said as they are written come back alone; hyphens and slashes part them.
    """
    for pattern, say in (
        (_MONEY, _money),
        (_ORDINAL, _ordinal),
        (_DECIMAL, _decimal),
        (_TIME, _time),
        (_WHOLE, _whole),
    ):
        if match := pattern.match(bare):
            return _split(say(match))
    pieces = _PIECES.findall(bare.lower().replace("’", "'"))
    said: list[str] = []
    for piece in pieces:
        said += _split(_number(int(piece))) if piece.isdigit() else _ABBREVIATIONS.get(piece, piece).split()
    return tuple(said)


def _split(text: str) -> tuple[str, ...]:
    return tuple(re.findall(r"[^\W\d_]+(?:'[^\W\d_]+)*", text.lower()))


def _number(value: int, to: str = "cardinal") -> str:
    from num2words import num2words  # noqa: PLC0415  (slow to import, seldom needed)

    return str(num2words(value, to=to)).replace(",", "")


def _integer(digits: str) -> int:
    return int(digits.replace(",", ""))


def _whole(match: re.Match[str]) -> str:
    value = _integer(match[0])
    is_year = len(match[0]) == 4 and 1100 <= value <= 2099 and value % 1000 > 9
    return _number(value, "year" if is_year else "cardinal")


def _ordinal(match: re.Match[str]) -> str:
    return _number(_integer(match[1]), "ordinal")


def _decimal(match: re.Match[str]) -> str:
    return f"{_number(_integer(match[1]))} point {' '.join(_number(int(d)) for d in match[2])}"


def _time(match: re.Match[str]) -> str:
    hour, minute = int(match[1]), int(match[2])
    if minute == 0:
        return f"{_number(hour)} o'clock"
    return f"{_number(hour)} {'oh ' if minute < 10 else ''}{_number(minute)}"


def _money(match: re.Match[str]) -> str:
    whole, parts = _integer(match[2]), int(match[3] or 0)
    unit, part = _CURRENCIES[match[1]]
    parts_name = part if parts == 1 else "pence" if part == "penny" else f"{part}s"
    said = f"{_number(whole)} {unit if whole == 1 else unit + 's'}"
    return f"{said} {_number(parts)} {parts_name}" if parts else said
