"""Project files bent in every way: a value replaced, left out or doubled, the text cut or bits of it turned over."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

_RAW = {"@nan@": "NaN", "@inf@": "Infinity", "@long@": "9" * 400, "@huge@": "1e400", "@deep@": "[" * 3000 + "]" * 3000,
        "@half@": '"\\ud800"'}  # fmt: skip
_GONE, _TWICE = object(), object()
_VALUES = (None, True, 0, -1, 2, 13, -999, 0.5, 1e-300, 1e18, -1e300, 2**63, "", "x", "nan", "../../etc/passwd", "/dev/zero",
           "a\0b", "x" * 5000, "𝕏\u202e", [], {}, [[]], [1, 2], [None], {"x": 1}, "1/0", *_RAW, _GONE, _TWICE)  # fmt: skip


def bent(data: dict[str, Any], seed: int) -> Iterator[tuple[str, bytes]]:
    """What was done to a project file, and what it is then; without an end."""
    chance, whole = random.Random(seed), _written(data)
    everywhere = [path for path in _paths(data) if path]
    while True:
        path, value = chance.choice(everywhere), chance.choice(_VALUES)
        yield f"{'.'.join(map(str, path))} = {value!r:.40}", _replaced(data, path, value)
        if chance.random() < 0.08:
            yield "cut", whole[: chance.randrange(len(whole))]
        if chance.random() < 0.08:
            turned = bytearray(whole)
            for _ in range(chance.choice([1, 3, 30])):
                turned[chance.randrange(len(turned))] ^= 1 << chance.randrange(8)
            yield "bits turned over", bytes(turned)


def _paths(node: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    yield at
    inside = node.items() if isinstance(node, dict) else enumerate(node[:3]) if isinstance(node, list) else ()
    for key, value in inside:
        yield from _paths(value, (*at, key))


def _replaced(data: dict[str, Any], path: tuple[Any, ...], value: object) -> bytes:
    data = copy.deepcopy(data)
    holder: Any = data
    for key in path[:-1]:
        holder = holder[key]
    if value is _GONE:
        del holder[path[-1]]
    elif value is _TWICE and isinstance(holder, list):
        holder.insert(0, copy.deepcopy(holder[path[-1]]))
    else:
        holder[path[-1]] = None if value is _TWICE else value
    return _written(data)


def _written(data: dict[str, Any]) -> bytes:
    text = json.dumps(data, ensure_ascii=False)
    for name, raw in _RAW.items():
        text = text.replace(f'"{name}"', raw)
    return text.encode("utf-8", "surrogatepass")
