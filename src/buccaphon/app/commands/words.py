"""The words: aligning them, how they are said, and what is no speech at all."""

from __future__ import annotations

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step
from buccaphon.project.edits.timing import MarkNotSpeech, UnmarkNotSpeech
from buccaphon.texts import N_


def align(desk: Desk) -> None:
    desk.session.aligning.align()


def align_changes(desk: Desk) -> None:
    desk.session.aligning.align_changes()


def recognise(desk: Desk) -> None:
    desk.session.aligning.recognise()


def show_pronunciation(desk: Desk) -> None:
    """Of the word at the playhead."""
    number = desk.session.document.word_here
    if number is not None:
        pronounce(desk, number)


def pronounce(desk: Desk, number: int) -> None:
    """Show how a word is said."""
    desk.show_step(Step.SCRIPT)
    desk.session.document.choose_word(number)


def mark_not_speech(desk: Desk) -> None:
    """What is drawn on the ruler is not speech, or counts as speech again when all of it was marked."""
    document = desk.session.document
    span, take = document.player.loop, document.state.take
    if span is None or take is None:
        return
    if any(mark.start <= span.start and span.end <= mark.end for mark in take.not_speech):
        document.apply(UnmarkNotSpeech(span))
    else:
        document.apply(MarkNotSpeech(span))


COMMANDS = (
    Command("align", "Edit", N_("Align the script"), ("Ctrl+R",), align, needs.script),
    Command("align-changes", "Edit", N_("Align only what changed"), ("Ctrl+Shift+R",), align_changes, needs.recording),
    Command(
        "recognise", "Edit", N_("Recognise the sounds without a script"), ("Ctrl+Alt+R",), recognise, needs.recording
    ),
    Command("pronounce", "Edit", N_("Pronunciation of this word"), ("H",), show_pronunciation, needs.word_here),
    Command(
        "not-speech",
        "Edit",
        N_("Mark the range as not speech, or as speech again"),
        ("N",),
        mark_not_speech,
        needs.stretch_for_speech,
    ),
)
