"""Unknown entries from newer versions, kept with their records and written back."""

from __future__ import annotations

from typing import Any

import msgspec

Unknown = dict[str, Any]
"""OWN: the entries that are not known here. INSIDE: by entry, what is not known inside it: an `Unknown` for a record, and
for a list of records pairs of a record as it was written, and its `Unknown`. Empty when all is known."""

OWN, INSIDE = "own", "inside"


def unknown_in(read: Any, known: Any) -> Unknown:
    """What a file holds beyond what was understood of it. known: the same record as this version would write it."""
    if not isinstance(read, dict) or not isinstance(known, dict):
        return {}
    own = {name: value for name, value in read.items() if name not in known}
    inside = {name: found for name in read.keys() & known.keys() if (found := _unknown_inside(read[name], known[name]))}
    return {name: part for name, part in ((OWN, own), (INSIDE, inside)) if part}


def _unknown_inside(read: Any, known: Any) -> Unknown | list[tuple[bytes, Unknown]]:
    if isinstance(read, list) and isinstance(known, list):
        pairs = ((record, unknown_in(entry, record)) for entry, record in zip(read, known, strict=False))
        return [(_written(record), found) for record, found in pairs if found]
    return unknown_in(read, known)


def with_unknown(data: Any, unknown: Unknown) -> Any:
    """A record about to be written, with what was not known of it. Records of a list are known again by what they hold: what
    stood in one that is another now is gone with it."""
    if not unknown:
        return data
    made = dict(data)
    for name, found in unknown.get(INSIDE, {}).items():
        if isinstance(found, list) and isinstance(made.get(name), list):
            entries = dict(found)
            made[name] = [with_unknown(entry, entries.get(_written(entry), {})) for entry in made[name]]
        elif isinstance(found, dict) and isinstance(made.get(name), dict):
            made[name] = with_unknown(made[name], found)
    return made | {name: value for name, value in unknown.get(OWN, {}).items() if name not in made}


def _written(record: Any) -> bytes:
    return msgspec.json.encode(record)
