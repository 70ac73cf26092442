"""Hearing, and moving the playhead."""

from __future__ import annotations

from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.session.document import Document
from buccaphon.app.sound.player import PRE_ROLLS, SPEEDS
from buccaphon.audio.onsets import onsets_within
from buccaphon.score.records import Word
from buccaphon.texts import N_, _
from buccaphon.timing import Span

_LOOK = 5.0  # seconds that are searched at once
_ON_IT = 0.005  # seconds; an onset as near as this is where the playhead stands


def play_or_stop(desk: Desk) -> None:
    """The line, or the scene where that is switched on."""
    scene = desk.session.scene_playing
    if scene.playing or scene.is_on:
        scene.toggle()
    else:
        desk.session.document.player.toggle()


def play_scene(desk: Desk) -> None:
    desk.session.scene_playing.toggle()


def switch_to_scene(desk: Desk) -> None:
    desk.session.scene_playing.switch()


def toggle_loop(desk: Desk) -> None:
    player = desk.session.document.player
    player.loops = not player.loops
    if player.playing:
        player.play()
    desk.session.document.selected.emit()


def draw_selection(desk: Desk) -> None:
    """What is selected, or the word at the playhead, is drawn on the ruler; again, and it is taken away."""
    document, player = desk.session.document, desk.session.document.player
    span = document.selected_span or _word_span(document)
    player.loop = None if span is None or player.loop == span else span
    player.loops = player.loop is not None
    document.selected.emit()


def play_selection(desk: Desk) -> None:
    """What is drawn on the ruler, else what is selected, else the word at the playhead."""
    document = desk.session.document
    span = document.player.loop or document.selected_span or _word_span(document)
    if span is not None:
        document.player.hear(span)


def _word_span(document: Document) -> Span | None:
    number = document.word_here
    return document.score.words[number].span if document.score and number is not None else None


def go_to_onset(desk: Desk, way: int) -> None:
    """To where the sound sets in next, or did before."""
    document = desk.session.document
    recording, here = document.recording, document.player.position
    if recording is None:
        return
    at, edge = here, document.used.end if way > 0 else document.used.start
    while at != edge:
        until = min(at + _LOOK, edge) if way > 0 else max(at - _LOOK, edge)
        found = [o for o in onsets_within(recording, Span(*sorted((at, until)))) if way * (o - here) > _ON_IT]
        if found:
            desk.go(found[0] if way > 0 else found[-1])
            return
        at = until
    desk.say(
        _("The sound does not set in again after this.") if way > 0 else _("The sound does not set in before this.")
    )


def next_speed(desk: Desk) -> None:
    player = desk.session.document.player
    player.set_speed(SPEEDS[(SPEEDS.index(player.speed) + 1) % len(SPEEDS)])
    desk.mirror.refresh()


def next_pre_roll(desk: Desk) -> None:
    player = desk.session.document.player
    player.pre_roll = PRE_ROLLS[(PRE_ROLLS.index(player.pre_roll) + 1) % len(PRE_ROLLS)]
    desk.say(_("Loop pre-roll: {seconds:g} s", seconds=player.pre_roll))


def step(desk: Desk, frames: int = 1, *, neighbour: bool = False) -> None:
    desk.session.document.step(frames, neighbour=neighbour)


def next_word(desk: Desk) -> None:
    here = desk.session.document.player.position
    _to_word(desk, [word.start for word in _words(desk) if word.start > here + 1e-3][:1])


def previous_word(desk: Desk) -> None:
    here = desk.session.document.player.position
    _to_word(desk, [word.start for word in _words(desk) if word.start < here - 1e-3][-1:])


def _words(desk: Desk) -> tuple[Word, ...]:
    score = desk.session.document.score
    return score.words if score else ()


def _to_word(desk: Desk, starts: list[float]) -> None:
    for start in starts:
        desk.go(start)


def to_doubt(desk: Desk, way: int) -> None:
    """Go to the next doubt or the one before, from the last one to the first and back, and hear the word."""
    document, doubts = desk.session.document, desk.session.comparing.doubts()
    words, here = _words(desk), desk.session.document.player.position
    starts = [words[number].start for number in doubts]
    later = [n for n, start in enumerate(starts) if start > here + 1e-3]
    earlier = [n for n, start in enumerate(starts) if start < here - 1e-3]
    at = (later[0] if later else 0) if way > 0 else (earlier[-1] if earlier else -1)
    word = words[doubts[at]]
    desk.go(word.start)
    document.player.hear(word.span)


def to_start(desk: Desk) -> None:
    desk.go(0.0)


def to_end(desk: Desk) -> None:
    recording = desk.session.document.recording
    if recording is not None:
        desk.go(recording.duration)


COMMANDS = (
    Command("next-onset", "Playback", N_("To the next onset of the sound"), ("Alt+Right",), partial(go_to_onset, way=1),
    needs.recording), Command("previous-onset", "Playback", N_("To the onset of the sound before"), ("Alt+Left",),
    partial(go_to_onset, way=-1),
            needs.recording),
    Command("play", "Playback", N_("Play or stop"), ("Space",), play_or_stop, needs.recording),
    Command("play-scene", "Playback", N_("Play the scene from here, or stop"), ("Ctrl+Space",), play_scene,
            needs.recording),
    Command("scene-on", "Playback", N_("Space plays the scene, or this line"), ("Ctrl+Alt+Space",), switch_to_scene,
            needs.recording),
    Command("loop", "Playback", N_("Loop"), ("L",), toggle_loop),
    Command(
        "mark", "Playback", N_("Mark the selection, or this word, on the ruler"), ("K",), draw_selection,
        needs.span_to_draw,
    ),
    Command("play-selection", "Playback", N_("Play the selection, or this word"), ("Shift+Space",), play_selection),
    Command("speed", "Playback", N_("Next speed: 25, 50, 75, 100 %"), ("S",), next_speed),
    Command("pre-roll", "Playback", N_("Next loop pre-roll: 0, 0.25, 0.5, 1 s"), ("Shift+L",), next_pre_roll),
    Command("frame-on", "Playback", N_("Forward one frame, with sound"), ("Right",), step, needs.recording),
    Command("frame-back", "Playback", N_("Back one frame, with sound"), ("Left",), partial(step, frames=-1),
            needs.recording),
    Command(
        "frame-on-pair", "Playback", N_("Forward one frame, playing two frames"), ("Shift+Right",), partial(step,
        neighbour=True),
        needs.recording,
    ),
    Command(
        "frame-back-pair", "Playback", N_("Back one frame, playing two frames"), ("Shift+Left",),
        partial(step, frames=-1, neighbour=True), needs.recording,
    ),
    Command("next-word", "Playback", N_("Next word"), ("Ctrl+Right",), next_word),
    Command("previous-word", "Playback", N_("Previous word"), ("Ctrl+Left",), previous_word),
    Command("next-doubt", "Playback", N_("Next uncertain word, with sound"), ("D",), partial(to_doubt, way=1),
            needs.doubts),
    Command(
        "previous-doubt", "Playback", N_("Previous uncertain word, with sound"), ("Shift+D",), partial(to_doubt,
        way=-1),
        needs.doubts,
    ),
    Command("to-start", "Playback", N_("Go to the start"), ("Home",), to_start),
    Command("to-end", "Playback", N_("Go to the end"), ("End",), to_end),
)  # fmt: skip
