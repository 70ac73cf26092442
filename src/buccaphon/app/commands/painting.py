"""Mouths put by hand: each mouth of the chart by its key, mouths typed frame by frame or from a list, and blank stretches."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from buccaphon.app.commands import motion, needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.commands.file import folder_of
from buccaphon.app.commands.shortcuts import painting_keys
from buccaphon.app.galley.look import Lane
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.paint_keys import MOST_PAINTED, PAINT_KEYS
from buccaphon.app.session.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.formats.in_.mouth_list import SUFFIXES, parse_mouth_list, read_mouth_list
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.mouths import Clear, LetChoose, Paint
from buccaphon.project.exposing import WHOLE_LINE, called, expose_list, number_of
from buccaphon.texts import N_, _, ngettext
from buccaphon.timing import Span


def paint(desk: Desk, number: int) -> None:
    """Paint the mouth of a number of the chart, counted from 0."""
    names = desk.session.document.chart.names
    if number < len(names):
        desk.session.document.paint(names[number])


def _needs_mouth(session: Session, number: int) -> str:
    names = session.document.chart.names
    return needs.recording(session) or (
        ""
        if number < len(names)
        else ngettext("This chart has {count} mouth.", "This chart has {count} mouths.", len(names))
    )


def give_back(desk: Desk) -> None:
    """A chosen point of a curve, or what is painted."""
    if desk.session.document.chosen_point is not None:
        motion.give_curve_back(desk)
    else:
        desk.session.document.unpaint()


def take_out(desk: Desk) -> None:
    """The mouth before it closes the gap."""
    desk.session.document.take_out()


def choose_mouth(desk: Desk) -> None:
    """The mouths of the chart as a list, one of which is painted."""
    document = desk.session.document
    names = document.chart.names
    keys = (*painting_keys(desk.shortcuts.keys), *("" for _ in names))
    choices = [
        Choice(name, key, partial(paint, desk, n)) for n, (name, key) in enumerate(zip(names, keys, strict=False))
    ]
    exposure = document.exposure()
    desk.chooser.ask(
        _("Paint a mouth"), _("A mouth of the chart"), choices, names.index(exposure.mouth) if exposure else 0
    )


# --- typed, and from a list ----------------------------------------------------------------------------------------------


def type_mouths(desk: Desk) -> None:
    """Frame after frame: what is typed is painted from there to the next change, and the line waits for the next."""
    document = desk.session.document
    path = document.state.take.path if document.state.take else None

    def done(text: str) -> None:
        if document.state.take is None or document.state.take.path != path:
            return  # another take came while the line was open
        if text and _paint_typed(desk, text):
            type_mouths(desk)

    mouth = document.chart.names[-1]
    asks = _(
        "Frame and mouth: {frame} {mouth}, or {mouth}",
        frame=document.frame + document.state.first_number,
        mouth=number_of(mouth, document.state),
    )
    desk.inline.ask(document.player.position, Lane.MOUTHS, asks, "", done)


def _paint_typed(desk: Desk, text: str) -> bool:
    """Whether the line is to stay open: also after what could not be understood, which is told."""
    document = desk.session.document
    state, bake, names = document.state, document.bake(), called(document.state)
    if bake is None:
        return False
    alone = names.get(text)
    if alone is not None:
        frame, mouth = document.frame, alone
    else:
        try:
            ((number, name),) = parse_mouth_list(text, f"“{text[:40]}”")
            expose_list(((number, name),), state, bake, f"“{text[:40]}”")  # which says what cannot be
        except BuccaphonError as problem:
            document.report(problem)
            return True
        frame, mouth = number - state.first_number, names.get(name) or name
    document.select_nothing()
    desk.go(state.rate.seconds(frame))
    document.apply(Paint(document.span_from(frame), mouth))
    return True


def open_mouth_list(desk: Desk) -> None:
    """Mouths on the frames that a file says."""
    kinds = _("Lists of frame and mouth ({names})", names=" ".join(f"*{suffix}" for suffix in SUFFIXES))
    path = desk.ask.file_to_open(_("Open a list of mouths"), folder_of(desk), kinds)
    if path is not None:
        read_and_expose(desk, path)


def read_and_expose(desk: Desk, path: Path) -> None:
    try:
        desk.session.opening.expose(read_mouth_list(path), str(path))
    except BuccaphonError as problem:
        desk.session.document.report(problem)


# --- without the machine -------------------------------------------------------------------------------------------------


def _apply_to_marked(desk: Desk, edit_of: Callable[[Span], Edit]) -> None:
    """To what is marked, or else to the whole line."""
    document = desk.session.document
    edits = tuple(edit_of(span) for span in document.marked_spans() or (WHOLE_LINE,))
    document.apply(Together(edits, name=edits[0].name))


def clear(desk: Desk, *, holds: bool) -> None:
    """What is marked, or the whole line: nothing from the machine until it is asked back."""
    _apply_to_marked(desk, partial(Clear, holds=holds))
    desk.say(
        _(
            "No mouths are chosen automatically here now. {key} types mouths frame by frame.",
            key=desk.key_of("type-mouths"),
        )
    )


def choose_again(desk: Desk) -> None:
    _apply_to_marked(desk, LetChoose)


def rest_here(desk: Desk) -> None:
    """What is marked shows the rest mouth."""
    document = desk.session.document
    rest = document.chart.rest.name
    spans = document.marked_spans()
    if spans:
        document.apply(Together(tuple(Paint(span, rest) for span in spans), name=_("Silence here")))


def _needs_marked(session: Session) -> str:
    missing = needs.recording(session)
    return missing or (
        "" if session.document.marked_spans() else _("Select mouths, or drag over frames on the ruler, first.")
    )


def _needs_blank(session: Session) -> str:
    return needs.recording(session) or ("" if session.document.state.blanks else _("Nothing is blank on this line."))


COMMANDS = (
    Command("give-back", "Edit", N_("Reset the mouth to automatic"), ("Delete",), give_back),
    Command("take-out", "Edit", N_("Remove this mouth: the one before is held"), ("Backspace",), take_out, needs.recording),
    Command("choose-mouth", "Paint", N_("Paint a mouth from the chart…"), ("Shift+P",), choose_mouth, needs.recording),
    Command("type-mouths", "Paint", N_("Type mouths frame by frame…"), ("Shift+T",), type_mouths, needs.recording),
    Command("mouth-list", "Paint", N_("Paint mouths from a list of frames…"), (), open_mouth_list, needs.recording),
    Command("blank", "Paint", N_("Blank: no automatic mouths here, or on the whole line"), (), partial(clear, holds=False),
            needs.recording),
    Command("blank-held", "Paint", N_("Blank, each painted mouth held until the next"), (), partial(clear, holds=True),
            needs.recording),
    Command("choose-again", "Paint", N_("Bring back automatic mouths, here or on the whole line"), (), choose_again,
            _needs_blank),
    Command("rest-here", "Paint", N_("Silence here: the rest mouth"), (), rest_here, _needs_marked),
    *(
        Command(f"paint-{number + 1}", "Paint", N_("Paint mouth {number} of the chart"),
                PAINT_KEYS[number : number + 1], partial(paint, number=number), partial(_needs_mouth, number=number),
                {"number": number + 1})
        for number in range(MOST_PAINTED)
    ),
)  # fmt: skip
