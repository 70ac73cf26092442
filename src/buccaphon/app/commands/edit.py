"""Taking back, and finding places in the line."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.overlays.chooser import Choice
from buccaphon.texts import N_, _
from buccaphon.timing import TimeDisplay, clock, frame_of_timecode, read_out


def undo(desk: Desk) -> None:
    desk.session.document.undo()


def redo(desk: Desk) -> None:
    desk.session.document.redo()


def show_history(desk: Desk) -> None:
    """All steps that were done, to go back to any of them."""
    document = desk.session.document
    names, done = document.project.steps()
    choices = [Choice(_("As opened"), "", partial(document.go_to_step, 0))]
    for number, name in enumerate(names, 1):
        note = "here" if number == done else "undone" if number > done else ""
        choices.append(Choice(name, note, partial(document.go_to_step, number)))
    desk.chooser.ask(_("History"), _("Go to a step; later ones can be redone"), choices, done)


def find(desk: Desk) -> None:
    """A word, a sound, a mouth, a frame or a timecode."""
    places = list(_places(desk))

    def taken(fits: Sequence[int]) -> None:
        desk.found = tuple(sorted({places[n][0] for n in fits}))

    choices = [Choice(text, note, partial(desk.go, seconds)) for seconds, text, note in places]
    hint = _("A word, /sound/, mouth, note, frame or timecode")
    desk.chooser.ask(_("Find in the line"), hint, choices, taken=taken, named=partial(_frame_named, desk))


def _frame_named(desk: Desk, typed: str) -> list[Choice]:
    """The frame of a number, 'frame 31', or a timecode; frames are too many to list."""
    state, bake = desk.session.document.state, desk.session.document.bake()
    name = typed.removeprefix("frame").removeprefix("f").strip()
    if bake is None or not re.fullmatch(r"-?[0-9]{1,9}|[0-9]{1,4}(?:[:;][0-9]{1,4}){3}", name):
        return []
    first = state.first_number
    number = int(name) if name.lstrip("-").isdigit() else frame_of_timecode(name, state.rate)
    if not 0 <= number - first < bake.frames:
        return []
    seconds = state.rate.seconds(number - first)
    return [
        Choice(
            _("frame {number}", number=number),
            read_out(number, state.rate, TimeDisplay.TIMECODE),
            partial(desk.go, seconds),
        )
    ]


def _places(desk: Desk) -> Iterator[tuple[float, str, str]]:
    """Moments with what is there, and how it is listed."""
    document = desk.session.document
    state, score, bake = document.state, document.score, document.bake()
    doubts, first, rate = set(desk.session.comparing.doubts()), state.first_number, float(state.rate.value)

    def at(seconds: float) -> str:
        return f"{clock(seconds)}   f {int(seconds * rate + 1e-6) + first}"

    for number, word in enumerate(score.words if score else ()):
        yield word.start, word.text or "sounds", at(word.start) + ("   doubt" if number in doubts else "")
    for note in state.take.notes if state.take else ():
        yield note.span.start, _("note: {text}", text=note.text), at(note.span.start)
    for phone in score.phones() if score else ():
        yield phone.start, f"/{phone.symbol}/", at(phone.start)
    for exposure in bake.exposures if bake else ():
        yield (start := exposure.start / rate), _("mouth {mouth}", mouth=exposure.mouth), at(start)


def find_next(desk: Desk) -> None:
    """The next of what the last search found; after the last one the first."""
    here = desk.session.document.player.position
    _go_to_found(desk, [at for at in desk.found if at > here + 1e-3][:1] or desk.found[:1])


def find_previous(desk: Desk) -> None:
    here = desk.session.document.player.position
    _go_to_found(desk, [at for at in desk.found if at < here - 1e-3][-1:] or desk.found[-1:])


def _go_to_found(desk: Desk, places: Sequence[float]) -> None:
    if not places:
        desk.say(_("Search first with {key}; this command then goes to the next match.", key=desk.key_of("find")))
    for seconds in places:
        desk.go(seconds)
        desk.say(_("Match {seconds} of {count}", seconds=desk.found.index(seconds) + 1, count=len(desk.found)))


COMMANDS = (
    Command("undo", "Edit", N_("Undo"), ("Ctrl+Z",), undo, needs.something_done),
    Command("redo", "Edit", N_("Redo"), ("Ctrl+Shift+Z", "Ctrl+Y"), redo, needs.something_undone),
    Command("history", "Edit", N_("History: go to any step…"), ("Ctrl+H",), show_history),
    Command("find", "Edit", N_("Find a word, sound, mouth, frame or timecode…"), ("Ctrl+F",), find, needs.recording),
    Command("find-next", "Edit", N_("Next match"), ("B",), find_next),
    Command("find-previous", "Edit", N_("Previous match"), ("Shift+B",), find_previous),
)
