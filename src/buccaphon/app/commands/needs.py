"""Why a command cannot be done now, in words; "" when it can."""

from __future__ import annotations

from buccaphon.app.session.session import Session
from buccaphon.project.state import State
from buccaphon.texts import _


def something_open(session: Session) -> str:
    project = session.document.project
    return "" if project.path is not None or project.state != State() else _("Nothing is open.")


def recording(session: Session) -> str:
    return "" if session.document.recording is not None else _("Open a recording first.")


def take(session: Session) -> str:
    return "" if session.document.state.take is not None else _("Open a recording first.")


def kit(session: Session) -> str:
    return "" if session.characters.kit is not None else _("Add a character first (F8).")


def script(session: Session) -> str:
    """Words that can be aligned."""
    return recording(session) or ("" if session.document.state.script.strip() else _("Type the script first."))


def words(session: Session) -> str:
    return recording(session) or ("" if session.document.score else _("Align the script first."))


def boundary(session: Session) -> str:
    missing = recording(session)
    return missing or ("" if session.document.score else _("There is no boundary to move yet."))


def word_here(session: Session) -> str:
    """A word at the playhead."""
    return "" if session.document.word_here is not None else _("Put the playhead on a word first.")


def word_to_type(session: Session) -> str:
    """A word at the playhead, or selected, that is the one in the script."""
    document = session.document
    chosen = document.selection.words
    number = chosen[0] if chosen else document.word_here
    score = document.score
    in_step = document.state.is_in_step and document.recording is not None
    can = in_step and score is not None and number is not None and bool(score.words[number].text)
    return "" if can else _("Put the playhead on a word of an aligned line first.")


def speaker_here(session: Session) -> str:
    document = session.document
    can = document.word_here is not None and document.state.is_in_step
    return "" if can else _("Put the playhead on a word of an aligned line first.")


def stretch(session: Session) -> str:
    """A stretch drawn on the ruler."""
    return "" if session.document.player.loop is not None else _("Mark a range on the ruler first.")


def stretch_to_fill(session: Session) -> str:
    return recording(session) or (
        ""
        if session.document.player.loop is not None
        else _("Mark a range on the ruler first; it is filled with the mouth at the playhead.")
    )


def stretch_for_speech(session: Session) -> str:
    drawn = session.document.player.loop is not None and session.document.state.take is not None
    return "" if drawn else _("Drag on the ruler first, or drag in the sound with Shift.")


def stretch_or_selection(session: Session) -> str:
    document = session.document
    found = document.player.loop or document.selected_span
    return "" if found else _("Mark a range on the ruler first, to zoom to it.")


def stretch_to_set(session: Session) -> str:
    missing = recording(session)
    return missing or (
        "" if session.document.stretch else _("First select mouths or words, or mark a range on the ruler.")
    )


def own_settings_here(session: Session) -> str:
    """A range with its own mouth settings."""
    document = session.document
    span, take = document.stretch, document.state.take
    differs = span is not None and take is not None and any(part.span.overlap(span) > 0 for part in take.mouth_ranges)
    return "" if differs else _("Select a range that has its own settings first.")


def issue_here(session: Session) -> str:
    here = session.issues.at(session.document.player.position)
    return "" if here is not None else _("Go to an issue first (V).")


def span_to_draw(session: Session) -> str:
    document = session.document
    found = document.player.loop or document.selected_span or document.word_here is not None
    return "" if found else _("Put the playhead on a word, or select something, to mark it on the ruler.")


def pins_here(session: Session) -> str:
    document = session.document
    found = document.player.loop or document.selection or document.word_here is not None
    return "" if found else _("Put the playhead on a word, or drag on the ruler over several.")


def doubts(session: Session) -> str:
    return "" if session.comparing.doubts() else _("There are no uncertain words.")


def something_done(session: Session) -> str:
    return "" if session.document.project.undo_name else _("There is nothing to undo.")


def something_undone(session: Session) -> str:
    return "" if session.document.project.redo_name else _("There is nothing to redo.")


def other_take(session: Session) -> str:
    """The shown take and another one, both aligned."""
    state = session.document.state
    others = [take for number, take in enumerate(state.takes) if number != state.shown and take.score]
    return "" if state.score and others else _("Align this take and another one first.")


def second_take(session: Session) -> str:
    return "" if session.replacing.other is not None else _("There is only one take. Add another first.")


def unplaced(session: Session) -> str:
    take = session.document.state.take
    return "" if take is not None and take.unplaced else _("There are no leftover corrections.")


def own_pronunciation(session: Session) -> str:
    lexicon = session.document.state.lexicon.over(session.lexicon.always)
    wanting = _("You have no pronunciations of your own yet. Double-click a word to add one.")
    return "" if lexicon.entries else wanting
