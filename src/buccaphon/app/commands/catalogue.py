"""All commands, group by group, as the menu lists them."""

from __future__ import annotations

from buccaphon.app.commands import (
    edit,
    export,
    file,
    hear,
    keys,
    kits,
    look,
    mend,
    mirror,
    motion,
    mouths,
    painting,
    palette,
    selecting,
    sheet,
    takes,
    words,
)

GROUPS = (
    "File",
    "Edit",
    "Take",
    "Select",
    "Correct",
    "Paint",
    "Mouths",
    "Motion",
    "Character",
    "Export",
    "Playback",
    "Look",
    "Keys",
)
COMMANDS = tuple(
    sorted(
        (
            command
            for module in (
                file,
                edit,
                words,
                selecting,
                mend,
                mouths,
                painting,
                palette,
                motion,
                sheet,
                takes,
                kits,
                export,
                mirror,
                hear,
                look,
                keys,
            )
            for command in module.COMMANDS
        ),
        key=lambda command: GROUPS.index(command.group),
    )
)
