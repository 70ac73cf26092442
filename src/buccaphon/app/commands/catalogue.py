"""All commands, group by group, as the menu lists them."""

from __future__ import annotations

from buccaphon.app.commands import (
    docket,
    edit,
    export,
    file,
    hear,
    keys,
    kits,
    lines,
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
from buccaphon.texts import N_

GROUPS = (
    N_("File"),
    N_("Edit"),
    N_("Scene"),
    N_("Take"),
    N_("Select"),
    N_("Correct"),
    N_("Paint"),
    N_("Mouths"),
    N_("Motion"),
    N_("Character"),
    N_("Export"),
    N_("Playback"),
    N_("Look"),
    N_("Keys"),
)
COMMANDS = tuple(
    sorted(
        (
            command
            for module in (
                file,
                docket,
                edit,
                words,
                selecting,
                mend,
                mouths,
                painting,
                palette,
                motion,
                sheet,
                lines,
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
