"""Correcting timing and mouths from the keyboard."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.commands.file import folder_of
from buccaphon.app.galley.look import Lane
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session.selection import neighbours
from buccaphon.audio.reading import SUFFIXES
from buccaphon.demo.line import STALL_CALL_AGAIN, recording_path
from buccaphon.project.edits import Together
from buccaphon.project.edits.motion import PlaceLeftOver
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.takes import CarryOver
from buccaphon.project.edits.timing import MoveBoundary, MoveWords, Release
from buccaphon.score.edits import Boundary, boundary_time, nearest_boundary
from buccaphon.texts import N_, _
from buccaphon.timing import Span


def nudge_frame(desk: Desk, frames: int) -> None:
    nudge(desk, frames / float(desk.session.document.state.rate.value))


def nudge(desk: Desk, seconds: float) -> None:
    """Move the words that are selected, else the boundary nearest to the playhead, which stays on it."""
    document, score = desk.session.document, desk.session.document.score
    if score is None:
        return
    if document.selection.words:
        groups = list(neighbours(document.selection.words))
        moves = tuple(MoveWords(first, end, score.words[first].start + seconds) for first, end in groups)
        ordered = moves if seconds < 0 else moves[::-1]  # each into the room that the one before has left
        document.apply(Together(ordered, name=_("Move words"), gesture=f"nudge words {groups}"))
        return
    boundary = nearest_boundary(score, document.player.position)
    if boundary is None:
        return
    gesture = f"nudge {boundary.word}/{boundary.phone}"
    document.apply(MoveBoundary(boundary, boundary_time(score, boundary) + seconds, gesture=gesture))
    document.player.seek(boundary_time(document.score or score, boundary))


def place_boundary(desk: Desk) -> None:
    """Type where the boundary nearest to the playhead lies: seconds, or a frame as `f 41`."""
    document, score = desk.session.document, desk.session.document.score
    boundary = nearest_boundary(score, document.player.position) if score else None
    if score is None or boundary is None:
        return
    at = boundary_time(score, boundary)
    done = _while_it_holds(desk, partial(_put, desk, boundary))
    desk.inline.ask(at, Lane.WORDS, _("Seconds, or f followed by a frame number"), f"{at:.3f}", done)


def _put(desk: Desk, boundary: Boundary, text: str) -> None:
    document = desk.session.document
    state, plain = document.state, text.lower().removesuffix("s").strip()
    try:
        framed = plain.startswith("f")
        seconds = state.rate.seconds(int(plain[1:]) - state.first_number) if framed else float(plain)
        if not math.isfinite(seconds):
            raise ValueError(text)
    except (ValueError, OverflowError):
        desk.say(_("“{text}” is not a time. Type seconds (1.25) or a frame (f 30).", text=text))
        return
    document.apply(MoveBoundary(boundary, seconds))
    if document.score is not None:
        document.player.seek(boundary_time(document.score, boundary))


def hold_longer(desk: Desk) -> None:
    """The mouth here stays one frame longer."""
    _reach(desk, 0, 1, _("Hold longer"))


def anticipate(desk: Desk) -> None:
    """The mouth here comes one frame earlier."""
    _reach(desk, -1, 0, _("Anticipate"))


def _reach(desk: Desk, before: int, after: int, name: str) -> None:
    document = desk.session.document
    exposure, bake = document.exposure(), document.bake()
    if exposure is None or bake is None:
        return
    start, end = max(exposure.start + before, 0), min(exposure.end + after, bake.frames)
    span = Span(document.state.rate.seconds(start), document.state.rate.seconds(end))
    document.apply(Together((Paint(span, exposure.mouth),), name=name))


def fill_stretch(desk: Desk) -> None:
    """What is drawn on the ruler shows the mouth at the playhead throughout."""
    document = desk.session.document
    span, exposure = document.player.loop, document.exposure()
    if span is not None and exposure is not None:
        document.apply(Together((Paint(span, exposure.mouth),), name=_("Fill with {mouth}", mouth=exposure.mouth)))


def release_pins(desk: Desk) -> None:
    """Those in what is drawn on the ruler, in what is selected, or in the word at the playhead."""
    document, score = desk.session.document, desk.session.document.score
    number = document.word_here
    here = (score.words[number].span,) if score and number is not None else ()
    spans = (document.player.loop,) if document.player.loop else document.selection.spans(score) or here
    released = tuple(Release(Span(span.start - 1e-6, span.end + 1e-6)) for span in spans)
    if released:
        document.apply(Together(released, name=released[0].name))


def write_note(desk: Desk) -> None:
    """At what is drawn on the ruler, or at the frame at the playhead; an empty note takes it away."""
    document, take = desk.session.document, desk.session.document.state.take
    if take is None:
        return
    rate, frame = document.state.rate, document.frame
    span = document.player.loop or Span(rate.seconds(frame), rate.seconds(frame + 1))
    known = next((note for note in take.notes if span.start - 1e-6 <= note.span.start < span.end), None)
    where, path = known.span if known else span, take.path

    def done(text: str) -> None:
        if document.state.take is not None and document.state.take.path == path:
            document.apply(PutNote(where, text))

    desk.inline.ask(where.start, Lane.MOTION, _("A note"), known.text if known else "", done)


def retype_word(desk: Desk) -> None:
    """The words that are selected in a row, or the one at the playhead; several words take their place, or none."""
    document, number, score = desk.session.document, _word_to_type(desk), desk.session.document.score
    if score is None or number is None:
        return
    rows = list(neighbours(document.selection.words))
    first, end = rows[0] if len(rows) == 1 else (number, number + 1)
    rewording = desk.session.rewording
    done = _while_it_holds(desk, partial(rewording.retype, first, end))
    at = score.words[first].start
    desk.inline.ask(at, Lane.WORDS, _("What is said here"), rewording.typed(first, end), done)


def retype_sound(desk: Desk) -> None:
    """The sound at the playhead, in IPA or ARPAbet; several take its place, none takes it out."""
    document, number, score = desk.session.document, _word_to_type(desk), desk.session.document.score
    if score is None or number is None:
        return
    phones = score.words[number].phones
    here = document.player.position
    place = max(n for n, phone in enumerate(phones) if phone.start <= here + 1e-9 or n == 0)
    done = _while_it_holds(desk, partial(desk.session.pronouncing.retype_sound, number, place))
    asked = _("The sound here, IPA or ARPAbet")
    desk.inline.ask(phones[place].start, Lane.PHONES, asked, phones[place].symbol, done)


def _word_to_type(desk: Desk) -> int | None:
    document = desk.session.document
    return document.selection.words[0] if document.selection.words else document.word_here


def _while_it_holds(desk: Desk, done: Callable[[str], None]) -> Callable[[str], None]:
    """What is to be done with a word or sound, as long as the line is the one that was asked about."""
    document = desk.session.document
    score, script = document.score, document.state.script

    def checked(text: str) -> None:
        if document.score is score and document.state.script == script:
            done(text)
        else:
            desk.say(_("The line changed in the meantime. Please try again."))

    return checked


def carry_over(desk: Desk) -> None:
    """Choose the take whose pins, painted mouths and notes come over to this one."""
    state = desk.session.document.state
    choices = [
        Choice(
            take.title,
            _("{pins} pins, {painted} painted", pins=len(take.pins), painted=len(take.painted)),
            partial(_carry, desk, number),
        )
        for number, take in enumerate(state.takes)
        if number != state.shown and take.score is not None
    ]
    desk.chooser.ask(_("Copy corrections from another take"), _("From which take?"), choices)


def replace_take(desk: Desk) -> None:
    """Another recording of the line: it is aligned, and all that was made by hand comes along."""
    kinds = _("Recordings ({names});;All files (*)", names=" ".join(f"*{suffix}" for suffix in SUFFIXES))
    path = desk.ask.file_to_open(_("Replace this take"), folder_of(desk), kinds)
    if path is not None:
        desk.session.replacing.bring_in(path)


def demo_take(desk: Desk) -> None:
    """Marigold says the stall call again, slower and louder."""
    desk.session.replacing.bring_in(recording_path(STALL_CALL_AGAIN))


def go_between(desk: Desk) -> None:
    desk.session.replacing.go_between()


def place_unplaced(desk: Desk) -> None:
    """Choose one of those that have no place here; it begins at the playhead."""
    document, take = desk.session.document, desk.session.document.state.take
    at = document.player.position
    choices = [
        Choice(piece.label, f"{piece.word} {piece.span.start:.2f} s", partial(_place, desk, number, at))
        for number, piece in enumerate(take.unplaced if take is not None else ())
    ]
    desk.chooser.ask(_("Place here"), _("Which leftover correction?"), choices)


def _place(desk: Desk, number: int, seconds: float) -> None:
    desk.session.document.attempt(PlaceLeftOver(number, seconds))


def _carry(desk: Desk, number: int) -> None:
    desk.session.document.apply(CarryOver(number))


_NUDGES = tuple(
    Command(
        f"{ident}-{way}",
        "Correct",
        later if sign > 0 else earlier,
        (f"{held}{key}",),
        partial(nudge_frame, frames=sign) if step is None else partial(nudge, seconds=sign * step),
        needs.boundary,
    )
    for ident, later, earlier, held, step in (
        (
            "nudge-frame",
            N_("Move the nearest boundary one frame later"),
            N_("Move the nearest boundary one frame earlier"),
            "",
            None,
        ),
        (
            "nudge",
            N_("Move the nearest boundary 10 ms later"),
            N_("Move the nearest boundary 10 ms earlier"),
            "Ctrl+",
            0.010,
        ),
        (
            "nudge-fine",
            N_("Move the nearest boundary 1 ms later"),
            N_("Move the nearest boundary 1 ms earlier"),
            "Alt+",
            0.001,
        ),
    )
    for way, key, sign in (("back", ",", -1), ("on", ".", 1))
)

COMMANDS = (
    Command("hold-longer", "Correct", N_("Hold this mouth one frame longer"), ("X",), hold_longer, needs.recording),
    Command("anticipate", "Correct", N_("Start this mouth one frame earlier"), ("A",), anticipate, needs.recording),
    Command(
        "fill", "Correct", N_("Fill the marked range with this mouth"), ("F",), fill_stretch,
        needs.stretch_to_fill,
    ),
    Command(
        "retype", "Correct", N_("Retype this word (several words split it, none removes it)"), ("R",), retype_word,
        needs.word_to_type,
    ),
    Command("retype-sound", "Correct", N_("Retype this sound"), ("Shift+R",), retype_sound, needs.word_to_type),
    Command("note", "Correct", N_("Add a note here, or on the marked range"), ("Shift+N",), write_note, needs.recording),
    *_NUDGES,
    Command("place-boundary", "Correct", N_("Type a time for the nearest boundary"), ("=",), place_boundary, needs.boundary),
    Command(
        "release", "Correct", N_("Unpin this word, or the marked range"), ("Shift+Delete",),
        release_pins, needs.pins_here,
    ),
    Command("replace-take", "Correct", N_("Replace this take with another recording…"), (), replace_take, needs.take),
    Command("demo-take", "Correct", N_("Replace this take with the demo's second take"), (), demo_take, needs.take),
    Command("go-between", "Correct", N_("Switch between the two takes"), ("F12",), go_between, needs.second_take),
    Command("place-unplaced", "Correct", N_("Place a leftover correction here…"), (), place_unplaced, needs.unplaced),
    Command("carry-over", "Correct", N_("Copy corrections from another take…"), (), carry_over, needs.other_take),
)  # fmt: skip
