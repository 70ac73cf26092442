"""How mouths are chosen, and what the checks found, from the keyboard."""

from __future__ import annotations

from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step, View
from buccaphon.app.commands.file import folder_of, write_and_say
from buccaphon.checks.issue import Issue
from buccaphon.mouths.chart_file import SUFFIX, chart_as_text
from buccaphon.mouths.settings import HOLDS, SettingsChange
from buccaphon.project.edits.mouths import ChangeMouthSettings, UseLineSettings
from buccaphon.texts import N_, _


def hold_everywhere(desk: Desk, frames: int, name: str) -> None:
    desk.session.document.apply(ChangeMouthSettings(SettingsChange(hold=frames), name=_(name)))


def hold_here(desk: Desk, frames: int, name: str) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(
            ChangeMouthSettings(SettingsChange(hold=frames), span, name=_("{hold} for the selection", hold=_(name)))
        )


def use_line_settings(desk: Desk) -> None:
    span = desk.session.document.stretch
    if span is not None:
        desk.session.document.apply(UseLineSettings(span))


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
        desk.say(_("No issues found."))
        return
    desk.go(issue.span.start)
    number = issues.found.index(issue) + 1
    told = [_("{number} of {count}: {issue}.", number=number, count=len(issues.found), issue=issue.says)]
    if issue.fix is not None:
        told.append(f"{desk.key_of('fix-issue')}: {issue.fix_label}.")
    desk.say(" ".join(told))


def _issue_here(desk: Desk) -> Issue | None:
    return desk.session.issues.at(desk.session.document.player.position)


def fix_issue(desk: Desk) -> None:
    issue = _issue_here(desk)
    if issue is None:
        return
    if issue.fix is None:
        desk.say(
            _(
                "{says}: no automatic fix. Correct it by hand, or ignore it with {key}.",
                says=issue.says,
                key=desk.key_of("ignore-issue"),
            )
        )
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
    path = desk.ask.file_to_write(_("Save the chart"), begin, _("A mouth chart (*{suffix})", suffix=SUFFIX))
    if path is not None:
        write_and_say(desk, path, chart_as_text(chart).encode())


COMMANDS = (
    Command("new-chart", "Mouths", N_("New empty chart"), (), begin_chart, needs.take),
    Command("copy-chart", "Mouths", N_("Copy this chart"), (), copy_chart, needs.take),
    Command("chart-of-names", "Mouths", N_("New chart from a list of names…"), (), chart_of_names, needs.take),
    Command("save-chart", "Mouths", N_("Save the chart…"), (), save_chart),
    *(
        Command(f"hold-{n}", "Mouths", N_("{hold} for the whole line"), (),
                partial(hold_everywhere, frames=n, name=name), needs.take, {"hold": name})
        for n, name in HOLDS
    ),
    *(
        Command(f"hold-{n}-here", "Mouths", N_("{hold} for the selection"), (),
                partial(hold_here, frames=n, name=name), needs.stretch_to_set, {"hold": name})
        for n, name in HOLDS
    ),
    Command("as-everywhere", "Mouths", N_("Use the line's settings here"), (), use_line_settings, needs.own_settings_here),
    Command("write-channel", "Mouths", N_("New custom channel, mixed from the pose…"), (), write_channel, needs.take),
    Command("next-issue", "Mouths", N_("Next issue"), ("V",), partial(go_to_issue, way=1), needs.words),
    Command("previous-issue", "Mouths", N_("Previous issue"), ("Shift+V",), partial(go_to_issue, way=-1), needs.words),
    Command("fix-issue", "Mouths", N_("Fix this issue"), ("Shift+M",), fix_issue, needs.issue_here),
    Command("fix-issues", "Mouths", N_("Fix all issues of this kind"), ("Ctrl+Shift+M",), fix_issues, needs.issue_here),
    Command("ignore-issue", "Mouths", N_("Ignore this issue"), ("Ctrl+M",), ignore_issue, needs.issue_here),
)  # fmt: skip
