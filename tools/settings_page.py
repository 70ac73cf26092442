"""The page docs/settings.md, written from the declarations: `python -m tools.settings_page`."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from buccaphon.app.galley.look import LOOK
from buccaphon.app.mirror.look import MIRROR
from buccaphon.app.settings import CHOSEN, EXPORTS, KEYS, LIVE, READING, RECENT, SCALE, THEME, WRITTEN
from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.choice import Choice
from buccaphon.formats.listing import Entry
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, Move, OtherFile, Part, Place, Reference
from buccaphon.kits.names.table import NamesTable
from buccaphon.motion.followers import Follower, Shake, Switch
from buccaphon.motion.hand import CurvePoint, HandCurve
from buccaphon.motion.steps import KINDS
from buccaphon.mouths.settings import MouthSettings
from buccaphon.project.state import Line, State
from buccaphon.project.take import Take
from buccaphon.setting import Setting, settings_of

PAGE = Path(__file__).parents[1] / "docs" / "settings.md"
_HEAD = """# Settings

<!-- Written from the declarations by `python -m tools.settings_page`; a test compares them. -->

Every setting of a project, by the place in the window where it is. *Stored* is its name and range in the
[project file](project-file.md) or the [character file](kit-file.md): times are seconds there, shares 0 to 1. *Shown* is how
the window writes its default. Type a setting's name in the palette (Ctrl+K) to go to it and type a value.
"""
_MOVE, _PART = Move(), Part("", (), Move())
GROUPS: tuple[tuple[str, str, tuple[Any, ...]], ...] = (
    ("Take", "entries of a take", (Take(Path("call.wav")),)),
    ("Line", "entries of a line", (Line(),)),
    ("Scene", "entries of the project", (State(),)),
    ("Mouths", "`mouth_settings`, and `change` in `mouth_ranges` of a take", (MouthSettings(),)),
    ("Motion: loudness", "`loudness_settings` of a take", (LoudnessSettings(),)),
    (
        "Motion: followers",
        "`followers`; the switch and the shake are records of their own",
        (Follower("", ""), Switch(), Shake()),
    ),
    *(
        (f"Motion: clean-up, {kind.TITLE.lower()}", f"`steps`, `step` is `{kind.__struct_config__.tag}`", (kind(),))
        for kind in KINDS
    ),
    ("Motion: curves by hand", "`curves` of a take, and their `points`", (HandCurve("", ()), CurvePoint(0.0, 0.0))),
    ("Character: drawings", "`look` of a character, and its `place`", (Place(), Drawn())),
    ("Character: cut-out", "`look` of a character, its `move`, and its `parts`", (CutOut(), _MOVE, _PART)),
    ("Character: model", "`look` of a character", (Model(),)),
    (
        "Export: a file of the list",
        "`entries` of `exports`; options of each format are in [formats](formats.md)",
        (Entry(""),),
    ),
    ("Character: weights", "a character", (Kit("", OtherFile(Path()), Drawn()),)),
    ("Character: reference, names", "`reference` and `names` of a character", (Reference(None), NamesTable())),  # type: ignore[arg-type]
)


def settings_page() -> str:
    """A table for each group: label, what it is, default as shown, name and range as stored."""
    parts = [_HEAD]
    for title, where, records in GROUPS:
        rows = [_row(record, name, each) for record in records for name, each in settings_of(type(record)).items()]
        head = "| label | meaning | shown | stored |\n|---|---|---|---|"
        parts.append("\n".join((f"## {title}\n\nStored as {where}.\n", head, *rows, "")) if rows else "")
    return "\n".join((*(part for part in parts if part), _remembered()))


def _remembered() -> str:
    every = (THEME, SCALE, READING, LOOK, MIRROR, KEYS, EXPORTS, LIVE, CHOSEN, WRITTEN, RECENT)
    rows = [f"| `{each.id}` | {each.says} |" for each in every]
    where = "In `~/.config/Buccaphon/Buccaphon.conf`, each as one line of JSON.\n"
    return "\n".join(("## Remembered by the application\n", where, "| entry | meaning |\n|---|---|", *rows, ""))


def _row(record: object, name: str, each: Setting) -> str:
    value = getattr(record, name)
    return f"| {each.label} | {each.hint} | {each.text(value)} | {_stored(name, each, value)} |"


def _stored(name: str, each: Setting, value: object) -> str:
    if isinstance(each.choices, type) and issubclass(each.choices, Choice):
        return f"`{name}`: " + ", ".join(f"`{choice.value}`" for choice in each.choices)
    if isinstance(value, bool):
        return f"`{name}`: `true` or `false`"
    if each.is_number:
        return f"`{name}`: {each.least:g} to {each.most:g}" + (", or `null`" if each.none else "")
    return f"`{name}`"


if __name__ == "__main__":
    PAGE.write_text(settings_page(), "utf-8")
