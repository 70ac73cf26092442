"""The takes, from the keyboard and the palette: heard or not, cut to what is used, taken out."""

from __future__ import annotations

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step
from buccaphon.project.edits.takes import ChangeTake, RemoveTake
from buccaphon.texts import N_, _
from buccaphon.timing import Span

_LEAST = 0.1  # seconds that are used at least


def mute(desk: Desk) -> None:
    document = desk.session.document
    if document.state.take is not None:
        muted = not document.state.take.muted
        document.apply(ChangeTake(muted=muted, name=_("Mute") if muted else _("Unmute")))
        desk.say(_("Muted: it plays without a sound.") if muted else _("Heard again."))


def remove(desk: Desk) -> None:
    """The file stays."""
    document = desk.session.document
    document.apply(RemoveTake(document.state.shown))


def trim_start(desk: Desk) -> None:
    """What comes before the playhead is not used."""
    document = desk.session.document
    used, here = document.used, document.player.position
    document.apply(ChangeTake(used=Span(min(here, used.end - _LEAST), used.end), name=_("Trim the start")))


def trim_end(desk: Desk) -> None:
    """What comes after the playhead is not used."""
    document = desk.session.document
    used, here = document.used, document.player.position
    document.apply(ChangeTake(used=Span(used.start, max(here, used.start + _LEAST)), name=_("Trim the end")))


def record(desk: Desk) -> None:
    """Begin or end a scratch take from the microphone."""
    desk.show_step(Step.TAKE)
    desk.record()


COMMANDS = (
    Command("mute-take", "Take", N_("Mute or unmute this take"), (), mute, needs.take),
    Command("remove-take", "Take", N_("Remove this take from the project"), (), remove, needs.take),
    Command(
        "trim-start", "Take", N_("Trim the start: use the take from the playhead on"), (), trim_start, needs.recording
    ),
    Command("trim-end", "Take", N_("Trim the end: use the take up to the playhead"), (), trim_end, needs.recording),
    Command("record", "Take", N_("Record a scratch take, or stop"), (), record),
)
