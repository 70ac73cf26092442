"""How mouths are chosen, and what the checks found, from the keyboard."""

from __future__ import annotations

from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step, View
from buccaphon.app.commands.file import folder_of, write_and_say
from buccaphon.checks.issue import Issue
from buccaphon.mouths.chart_file import SUFFIX, chart_as_text
from buccaphon.mouths.settings import HOLD_NAMES, SettingsChange
from buccaphon.project.edits.mouths import ChangeMouthSettings, UseLineSettings

_SETTINGS = (
    ("lead", "How far mouths lead the sound…"),
    ("shortest", "The shortest time for which a mouth is seen…"),
    ("changes", "The most changes of the mouth a second…"),
    ("pause", "How short a pause holds the last mouth…"),
    ("settle", "Over how many frames the mouth settles into rest…"),
    ("detail", "From what reads to every sound…"),
    ("skip_quick_sounds", "Whether quick tongue consonants are swallowed…"),
    ("opening", "How wide the mouth opens…"),
    ("louder", "How much wider the mouth opens when it is louder…"),
    ("stress", "How much wider stressed vowels open…"),
)


def hold_everywhere(desk: Desk, frames: int, name: str) -> None:
    desk.session.document.apply(ChangeMouthSettings(SettingsChange(hold=frames), name=f"On {name}"))


def hold_here(desk: Desk, frames: int, name: str) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(ChangeMouthSettings(SettingsChange(hold=frames), span, name=f"On {name} here"))


def be_as_everywhere(desk: Desk) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(UseLineSettings(span))


def show_setting(desk: Desk, name: str) -> None:
    """Go to a setting of the step Mouths."""
    desk.show_step(Step.MOUTHS)
    desk.show_setting(name)


def write_channel(desk: Desk) -> None:
    """Go to where channels of one's own are written."""
    desk.show_step(Step.EXPORT)
    desk.write_channel()


def go_to_issue(desk: Desk, way: int) -> None:
    """The next mark or the one before, told and heard."""
    document, issues = desk.session.document, desk.session.issues
    issues.look()
    issue = issues.next(document.player.position, way)
    if issue is None:
        desk.say("There are no marks: nothing would be sent back.")
        return
    desk.go(issue.span.start)
    number = issues.found.index(issue) + 1
    fix_label = f" {desk.key_of('fix-issue')}: {issue.fix_label}." if issue.fix is not None else ""
    desk.say(f"{number} of {len(issues.found)}: {issue.says}.{fix_label}")


def _issue_here(desk: Desk) -> Issue | None:
    return desk.session.issues.at(desk.session.document.player.position)


def fix_issue(desk: Desk) -> None:
    issue = _issue_here(desk)
    if issue is None:
        return
    if issue.fix is None:
        desk.say(f"{issue.says}: this one only you can mend, or leave with {desk.key_of('ignore-issue')}.")
    else:
        desk.session.issues.fix(issue)


def fix_issues(desk: Desk) -> None:
    """All of the kind of the one here."""
    issue = _issue_here(desk)
    if issue is not None:
        desk.session.issues.fix_all(issue.kind)


def ignore_issue(desk: Desk) -> None:
    issue = _issue_here(desk)
    if issue is not None:
        desk.session.issues.ignore(issue)


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
    Command("next-issue", "Mouths", "To the next mark", ("V",), partial(go_to_issue, way=1), needs.words),
    Command("previous-issue", "Mouths", "To the mark before", ("Shift+V",), partial(go_to_issue, way=-1), needs.words),
    Command("fix-issue", "Mouths", "Mend the mark here", ("Shift+M",), fix_issue, needs.issue_here),
    Command("fix-issues", "Mouths", "Mend all marks of this kind", ("Ctrl+Shift+M",), fix_issues, needs.issue_here),
    Command("ignore-issue", "Mouths", "Leave the mark here as it is", ("Ctrl+M",), ignore_issue, needs.issue_here),
)  # fmt: skip
