"""How mouths are chosen, and what the checks found, from the keyboard."""

from __future__ import annotations

from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step, View
from buccaphon.app.commands.file import folder_of, write_and_say
from buccaphon.checks.mark import Mark
from buccaphon.mouths.chart_file import SUFFIX, chart_as_text
from buccaphon.mouths.manner import HOLD_NAMES, MannerChange
from buccaphon.project.edits.mouths import BeAsEverywhere, SetManner

_SETTINGS = (
    ("lead", "How far mouths lead the sound…"),
    ("shortest", "The shortest time for which a mouth is seen…"),
    ("changes", "The most changes of the mouth a second…"),
    ("pause", "How short a pause holds the last mouth…"),
    ("settle", "Over how many frames the mouth settles into rest…"),
    ("detail", "From what reads to every sound…"),
    ("swallow", "Whether quick tongue consonants are swallowed…"),
    ("opening", "How wide the mouth opens…"),
    ("louder", "How much wider the mouth opens when it is louder…"),
    ("stress", "How much wider stressed vowels open…"),
)


def hold_everywhere(desk: Desk, frames: int, name: str) -> None:
    desk.session.document.apply(SetManner(MannerChange(hold=frames), name=f"On {name}"))


def hold_here(desk: Desk, frames: int, name: str) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(SetManner(MannerChange(hold=frames), span, name=f"On {name} here"))


def be_as_everywhere(desk: Desk) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(BeAsEverywhere(span))


def show_setting(desk: Desk, name: str) -> None:
    """Go to a setting of the step Mouths."""
    desk.show_step(Step.MOUTHS)
    desk.show_setting(name)


def write_channel(desk: Desk) -> None:
    """Go to where channels of one's own are written."""
    desk.show_step(Step.EXPORT)
    desk.write_channel()


def go_to_mark(desk: Desk, way: int) -> None:
    """The next mark or the one before, told and heard."""
    document, marking = desk.session.document, desk.session.marking
    marking.look()
    mark = marking.next(document.player.position, way)
    if mark is None:
        desk.say("There are no marks: nothing would be sent back.")
        return
    desk.go(mark.span.start)
    number = marking.found.index(mark) + 1
    mends = f" {desk.key_of('mend-mark')}: {mark.mends}." if mark.fix is not None else ""
    desk.say(f"{number} of {len(marking.found)}: {mark.says}.{mends}")


def _mark_here(desk: Desk) -> Mark | None:
    return desk.session.marking.at(desk.session.document.player.position)


def mend_mark(desk: Desk) -> None:
    mark = _mark_here(desk)
    if mark is None:
        return
    if mark.fix is None:
        desk.say(f"{mark.says}: this one only you can mend, or leave with {desk.key_of('leave-mark')}.")
    else:
        desk.session.marking.mend(mark)


def mend_marks(desk: Desk) -> None:
    """All of the kind of the one here."""
    mark = _mark_here(desk)
    if mark is not None:
        desk.session.marking.mend_all(mark.kind)


def leave_mark(desk: Desk) -> None:
    mark = _mark_here(desk)
    if mark is not None:
        desk.session.marking.leave(mark)


def begin_chart(desk: Desk) -> None:
    desk.specimen.begin_empty()
    desk.show_view(View.SPECIMEN)


def copy_chart(desk: Desk) -> None:
    desk.specimen.begin_copy()
    desk.show_view(View.SPECIMEN)


def chart_of_names(desk: Desk) -> None:
    desk.show_view(View.SPECIMEN)
    desk.specimen.ask_for_names()


def save_chart(desk: Desk) -> None:
    """The chart in use as a file that other projects can open."""
    chart = desk.specimen.chart
    begin = folder_of(desk) / f"{chart.name}{SUFFIX}"
    path = desk.ask.file_to_write("Save the chart", begin, f"A mouth chart (*{SUFFIX})")
    if path is not None:
        write_and_say(desk, path, chart_as_text(chart).encode())


COMMANDS = (
    Command("new-chart", "Mouths", "A new chart, empty", (), begin_chart, needs.take),
    Command("copy-chart", "Mouths", "A new chart from this one", (), copy_chart, needs.take),
    Command("chart-of-names", "Mouths", "A new chart from a list of names…", (), chart_of_names, needs.take),
    Command("save-chart", "Mouths", "Save this chart as a file…", (), save_chart),
    *(
        Command(f"hold-{n}", "Mouths", f"On {name}, everywhere", (), partial(hold_everywhere, frames=n, name=name),
                needs.take)
        for n, name in HOLD_NAMES.items()
    ),
    *(
        Command(f"hold-{n}-here", "Mouths", f"On {name} here", (), partial(hold_here, frames=n, name=name),
                needs.stretch_to_set)
        for n, name in HOLD_NAMES.items()
    ),
    Command("as-everywhere", "Mouths", "Chosen here as everywhere else", (), be_as_everywhere, needs.own_manner_here),
    *(Command(f"set-{name}", "Mouths", label, (), partial(show_setting, name=name)) for name, label in _SETTINGS),
    Command("write-channel", "Mouths", "A channel of your own, mixed from the pose…", (), write_channel, needs.take),
    Command("next-mark", "Mouths", "To the next mark", ("V",), partial(go_to_mark, way=1), needs.words),
    Command("previous-mark", "Mouths", "To the mark before", ("Shift+V",), partial(go_to_mark, way=-1), needs.words),
    Command("mend-mark", "Mouths", "Mend the mark here", ("Shift+M",), mend_mark, needs.mark_here),
    Command("mend-marks", "Mouths", "Mend all marks of this kind", ("Ctrl+Shift+M",), mend_marks, needs.mark_here),
    Command("leave-mark", "Mouths", "Leave the mark here as it is", ("Ctrl+M",), leave_mark, needs.mark_here),
)  # fmt: skip
