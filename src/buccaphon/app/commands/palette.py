"""The palette: commands, the fields of the panels and of the chart, and formats, found by names and by everyday words."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PyQt6.QtWidgets import QCheckBox

from buccaphon.app.commands.desk import Command, Desk, View
from buccaphon.app.commands.export import add_format
from buccaphon.app.commands.shortcuts import PAINTS
from buccaphon.app.finding.everyday import everyday_words
from buccaphon.app.finding.fields import Field
from buccaphon.app.overlays.chooser import Choice
from buccaphon.formats.registry import FORMATS
from buccaphon.mouths.pose import Pose
from buccaphon.setting import settings_of
from buccaphon.texts import N_, _

_OF_A_POSE = N_("pose slider jaw lips spread round press bite teeth tongue mouth shape")
_OF_A_FORMAT = N_("export write output")


def show_palette(desk: Desk) -> None:
    """Everything that can be done; of what cannot be done now, why."""
    choices = [*_commands(desk), *_fields(desk), *_poses(desk), *_formats(desk)]
    desk.chooser.ask(_("Commands"), _("Type to search commands"), choices)


def _commands(desk: Desk) -> Iterator[Choice]:
    names = desk.session.document.chart.names
    for command in desk.commands:
        label = command.label
        if command.id.startswith(PAINTS):  # by the mouth's name, as far as the chart goes
            number = int(command.id.removeprefix(PAINTS))
            if number > len(names):
                continue
            label = _("Paint {names}", names=names[number - 1])
        note = command.needs(desk.session) or desk.key_of(command.id)
        yield Choice(label, note, partial(desk.do, command), everyday_words().get(f"command {command.id}", ""))


def _fields(desk: Desk) -> Iterator[Choice]:
    for bring_up, field in desk.fields():
        words = f"{field.where.lower()} {field.words} {everyday_words().get(f'field {field.label}', '')}"
        run = partial(ask_for, desk, field, bring_up)
        yield Choice(f"{field.label}…", _("{value}  in {where}", value=field.value, where=field.where), run, words)


def _poses(desk: Desk) -> Iterator[Choice]:
    """The sliders of the mouth at the playhead."""
    exposure, chart = desk.session.document.exposure(), desk.session.document.chart
    number = chart.names.index(exposure.mouth) if exposure is not None else len(desk.specimen.cards)
    if exposure is None or number >= len(desk.specimen.cards):
        return
    for part, slider in desk.specimen.cards[number].pose.inputs.items():
        field = Field(f"{exposure.mouth}: {settings_of(Pose)[part].name}", _("the chart"), slider)
        run = partial(ask_for, desk, field, partial(desk.show_view, View.SPECIMEN))
        yield Choice(f"{field.label}…", _("{value}  in {where}", value=field.value, where=field.where), run, _OF_A_POSE)


def _formats(desk: Desk) -> Iterator[Choice]:
    for form in FORMATS:
        words = f"{_OF_A_FORMAT} {form.id} {form.suffix} {everyday_words().get(f'format {form.id}', '')}"
        yield Choice(_("Export as {name}", name=form.title), form.suffix, partial(add_format, desk, form), words)


def ask_for(desk: Desk, field: Field, bring_up: Callable[[], object]) -> None:
    """Type a value, or choose one; where the field stands is brought up beside it."""
    bring_up()
    field.unfold()

    def put(text: str) -> None:
        desk.say(field.put(text) or f"{field.label}: {field.value}")

    if isinstance(field.widget, QCheckBox):
        put("")
    elif field.choices:
        choices = [Choice(text, "", partial(put, text)) for text in field.choices]
        desk.chooser.ask(field.label, _("What it is to be"), choices, max(field.choices.index(field.value), 0))
    else:
        desk.inline.ask_at_head(_("{label} in {where}", label=field.label, where=field.where), field.value, put)


COMMANDS = (Command("palette", "Edit", N_("Find anything that can be done or set…"), ("Ctrl+K",), show_palette),)
