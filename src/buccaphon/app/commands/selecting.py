"""Selecting many things at once, and cutting, copying and pasting them."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.session.clip import MIME_TYPE, Clip, parse_clip, write_clip
from buccaphon.app.session.document import Document
from buccaphon.app.session.selection import Selection, neighbours
from buccaphon.errors import BuccaphonError
from buccaphon.formats.in_.mouth_list import is_mouth_list, parse_mouth_list
from buccaphon.mouths.laying import Painted
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.speech.script import script_words
from buccaphon.texts import N_, _, ngettext
from buccaphon.timing import Span

# --- selecting -----------------------------------------------------------------------------------------------------------


def select_word(desk: Desk) -> None:
    """The word at the playhead; once it is, the next one as well."""
    document, score = desk.session.document, desk.session.document.score
    chosen, here = document.selection.words, document.word_here
    if score is None or (here is None and not chosen):
        desk.say(_("Put the playhead on a word first."))
    elif here is None or here in chosen:
        document.select(Selection(words=tuple(range(chosen[0], min(chosen[-1] + 2, len(score.words))))))
    else:
        document.select(Selection(words=(here,)))


def select_mouth(desk: Desk) -> None:
    """The mouth at the playhead; once it is, the next one as well."""
    document = desk.session.document
    exposure, bake = document.exposure(), document.bake()
    if exposure is None or bake is None:
        return
    chosen, span = document.selection.mouths, document.span_of(exposure)
    following = [
        each for each in map(document.span_of, bake.exposures) if chosen and each.start >= chosen[-1].end - 1e-6
    ]
    if chosen and any(span.overlap(each) > 0 for each in chosen):
        document.select(Selection(mouths=(*chosen, *following[:1])))
    else:
        document.select(Selection(mouths=(span,)))


def select_all(desk: Desk) -> None:
    """All words while words are selected, else all mouths."""
    document = desk.session.document
    bake, score = document.bake(), document.score
    if document.selection.words and score is not None:
        document.select(Selection(words=tuple(range(len(score.words)))))
    elif bake is not None:
        document.select(Selection(mouths=tuple(map(document.span_of, bake.exposures))))


def select_same_mouths(desk: Desk) -> None:
    """All exposures of the mouth at the playhead."""
    document = desk.session.document
    here, bake = document.exposure(), document.bake()
    if here is None or bake is None:
        return
    same = tuple(document.span_of(each) for each in bake.exposures if each.mouth == here.mouth)
    document.select(Selection(mouths=same))
    desk.say(
        ngettext(
            "{count} exposure of {mouth} selected.",
            "{count} exposures of {mouth} selected.",
            len(same),
            mouth=here.mouth,
        )
    )


def select_doubts(desk: Desk) -> None:
    """All uncertain words."""
    doubts = tuple(desk.session.comparing.doubts())
    desk.session.document.select(Selection(words=doubts))
    desk.say(
        ngettext("{count} uncertain word selected.", "{count} uncertain words selected.", len(doubts))
        if doubts
        else _("There are no uncertain words.")
    )


def select_speaker(desk: Desk) -> None:
    """All that the speaker of the word at the playhead says."""
    document = desk.session.document
    words, number = script_words(document.state.script), document.word_here
    if number is None or number >= len(words):
        return
    speaker = words[number].speaker
    document.select(Selection(words=tuple(n for n, word in enumerate(words) if word.speaker == speaker)))
    count, who = len(document.selection.words), speaker.title() or _("no named speaker")
    desk.say(ngettext("{count} word of {who} selected.", "{count} words of {who} selected.", count, who=who))


# --- the clipboard -------------------------------------------------------------------------------------------------------


def copy(desk: Desk) -> None:
    """What is selected, else the mouths of what is drawn on the ruler, else the mouth at the playhead."""
    clip = _clip(desk.session.document)
    clipboard = QGuiApplication.clipboard()
    if clip is None or clipboard is None:
        return
    data = QMimeData()
    data.setText(clip.plain)
    data.setData(MIME_TYPE, write_clip(clip))
    clipboard.setMimeData(data)
    key = desk.key_of("paste")
    if clip.mouths:
        told = ngettext("{count} mouth copied.", "{count} mouths copied.", len(clip.mouths))
    else:
        told = ngettext("{count} word copied.", "{count} words copied.", len(clip.words.split()))
    desk.say(_("{copied} Press {key} to paste at the playhead.", copied=told, key=key))


def cut(desk: Desk) -> None:
    """Copy, and then give the mouths back to the machine, or take the words out of the script."""
    chosen = desk.session.document.selection.words
    copy(desk)
    if chosen:
        desk.session.rewording.take_out(chosen)
    else:
        desk.session.document.unpaint()


def paste(desk: Desk) -> None:
    """At the playhead: mouths are painted from there on, words are written before the word that is said there."""
    clipboard = QGuiApplication.clipboard()
    data = clipboard.mimeData() if clipboard else None
    clip = parse_clip(data.data(MIME_TYPE).data()) if data is not None and data.hasFormat(MIME_TYPE) else None
    listed = data.text() if clip is None and data is not None and data.hasText() else ""
    if is_mouth_list(listed):
        try:
            desk.session.opening.expose(parse_mouth_list(listed, _("what was copied")), _("what was copied"))
        except BuccaphonError as problem:
            desk.session.document.report(problem)
    elif clip is None:
        desk.say(
            _("Copy mouths or words first, or a list of frames and mouths: select them, or mark a range on the ruler.")
        )
    elif clip.words:
        desk.session.rewording.write_in(desk.session.document.player.position, clip.words)
    else:
        _paint(desk.session.document, clip.mouths)


def _paint(document: Document, mouths: tuple[Painted, ...]) -> None:
    """Mouths of another chart are shown by those that look most like them."""
    at = document.state.rate.seconds(document.frame)
    painted = tuple(
        Paint(Span(at + each.span.start, at + each.span.end), each.mouth, each.pose, each.contact) for each in mouths
    )
    document.apply(Together(painted, name=_("Paste mouths")))


def _clip(document: Document) -> Clip | None:
    bake, score = document.bake(), document.score
    if bake is None:
        return None
    if document.selection.words and score is not None:
        numbers = [number for first, end in neighbours(document.selection.words) for number in range(first, end)]
        return Clip(words=" ".join(score.words[number].text for number in numbers))
    loop = document.player.loop
    spans = document.selection.mouths or ((loop,) if loop else document.exposure_spans())
    if not spans:
        return None
    start, found = spans[0].start, []
    for exposure in bake.exposures:
        shown, mouth = document.span_of(exposure), bake.chart.mouths[bake.chart.index(exposure.mouth)]
        for span in spans:
            if shown.overlap(span) > 1e-9:
                part = Span(max(shown.start, span.start) - start, min(shown.end, span.end) - start)
                found.append(Painted(part, mouth.name, mouth.pose, mouth.contact))
    return Clip(tuple(found))


COMMANDS = (
    Command("cut", "Select", N_("Cut"), ("Ctrl+X",), cut, needs.recording),
    Command(
        "copy", "Select", N_("Copy the selection, or the mouths in the marked range"), ("Ctrl+C",), copy,
        needs.recording,
    ),
    Command("paste", "Select", N_("Paste at the playhead"), ("Ctrl+V",), paste, needs.recording),
    Command("select-word", "Select", N_("Select this word; again adds the next one"), ("G",), select_word,
            needs.recording),
    Command("select-mouth", "Select", N_("Select this mouth; again adds the next one"), ("J",), select_mouth,
            needs.recording),
    Command("select-same", "Select", N_("All exposures of this mouth"), ("Shift+J",), select_same_mouths,
            needs.recording),
    Command(
        "select-speaker", "Select", N_("All words of this speaker"), ("Shift+G",), select_speaker, needs.speaker_here
    ),
    Command("select-doubts", "Select", N_("All uncertain words"), ("Ctrl+Shift+G",), select_doubts, needs.recording),
    Command("select-all", "Select", N_("All words, or all mouths"), ("Ctrl+A",), select_all, needs.recording),
)  # fmt: skip
