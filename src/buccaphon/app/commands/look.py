"""Display settings of the galley and the window."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step, View
from buccaphon.app.galley.look import Lane
from buccaphon.app.session.selection import NOTHING
from buccaphon.app.settings import SCALE, THEME
from buccaphon.texts import N_, _

SCALES = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)  # of the interface
_ZOOM, _MAGNIFY = 1.25, 1.4
_STEP = 16  # pixels


def zoom(desk: Desk, by: float) -> None:
    desk.galley.set_look(desk.galley.look.scaled(desk.galley.look.scale * by))


def zoom_to_stretch(desk: Desk) -> None:
    document = desk.session.document
    span = document.player.loop or document.selected_span
    if span is not None:
        desk.galley.zoom_to(span)


def fit(desk: Desk) -> None:
    desk.galley.fit()


def magnify(desk: Desk, by: float) -> None:
    desk.galley.set_look(desk.galley.look.louder(by))


def resize_sound(desk: Desk, by: int) -> None:
    desk.galley.set_look(desk.galley.look.taller(Lane.SOUND, by))


def toggle_spectrum(desk: Desk) -> None:
    desk.galley.set_look(desk.galley.look.toggled(Lane.SPECTRUM))


def toggle_loudness(desk: Desk) -> None:
    desk.galley.set_look(replace(desk.galley.look, loudness=not desk.galley.look.loudness))


def next_ink(desk: Desk) -> None:
    desk.galley.set_look(desk.galley.look.inked())


def next_reading(desk: Desk) -> None:
    desk.mirror.next_reading()


def toggle_film(desk: Desk) -> None:
    desk.mirror.film.next_place()
    desk.say(_("Video: {label}.", label=desk.mirror.film.place.label))


def next_notation(desk: Desk) -> None:
    desk.galley.set_look(desk.galley.look.written())
    desk.say(_("Sounds are shown as {label}.", label=desk.galley.look.notation.label))


def toggle_night(desk: Desk) -> None:
    """Paper by day, or the night theme."""
    desk.set_theme("paper" if THEME.read() == "night" else "night")


def rescale(desk: Desk, step: int) -> None:
    """Another size of everything, from the next start on."""
    now = SCALE.read()
    nearest = min(range(len(SCALES)), key=lambda n: abs(SCALES[n] - now))
    scale = SCALES[min(max(nearest + step, 0), len(SCALES) - 1)]
    SCALE.write(scale)
    desk.say(_("The interface will be at {scale:.0%} after a restart.", scale=scale))


def toggle_wrap(desk: Desk) -> None:
    desk.galley.toggle_wrap()


def show_step(desk: Desk, step: Step) -> None:
    desk.show_step(step)


def toggle_view(desk: Desk, view: View) -> None:
    """Go to a view, or back to the galley from it."""
    desk.show_view(View.GALLEY if desk.view() is view else view)


def fold_side(desk: Desk) -> None:
    desk.fold_side()


def let_go(desk: Desk) -> None:
    """Cancel what is under way; when nothing is, go back to the galley, or let go of the selection."""
    if desk.session.jobs.shown:
        desk.session.jobs.cancel_shown()
    elif desk.view() is not View.GALLEY:
        desk.show_view(View.GALLEY)
    else:
        desk.session.document.select(NOTHING)


COMMANDS = (
    Command("wider", "Look", N_("Zoom in"), ("Ctrl++", "Ctrl+="), partial(zoom, by=_ZOOM)),
    Command("narrower", "Look", N_("Zoom out"), ("Ctrl+-",), partial(zoom, by=1 / _ZOOM)),
    Command(
        "zoom-to", "Look", N_("Zoom to the marked range"), ("Z",), zoom_to_stretch,
        needs.stretch_or_selection,
    ),
    Command("fit", "Look", N_("Zoom to the whole line"), ("Shift+Z",), fit, needs.recording),
    Command("magnify", "Look", N_("Magnify the waveform"), ("Ctrl+Up",), partial(magnify, by=_MAGNIFY)),
    Command("diminish", "Look", N_("Shrink the waveform"), ("Ctrl+Down",), partial(magnify, by=1 / _MAGNIFY)),
    Command("taller", "Look", N_("A taller sound lane"), ("Ctrl+Shift+Up",), partial(resize_sound, by=_STEP)),
    Command("lower", "Look", N_("A shorter sound lane"), ("Ctrl+Shift+Down",), partial(resize_sound, by=-_STEP)),
    Command("spectrum", "Look", N_("Spectrogram on or off"), ("Ctrl+G",), toggle_spectrum),
    Command("loudness", "Look", N_("Loudness over the wave on or off"), ("Ctrl+L",), toggle_loudness),
    Command("ink", "Look", N_("Next waveform colour"), ("Ctrl+I",), next_ink),
    Command("wrap", "Look", N_("Wrap into strips, or one long strip"), ("Ctrl+W",), toggle_wrap),
    Command("notation", "Look", N_("Show sounds as IPA, ARPAbet or mouth names"), ("Y",), next_notation),
    Command("night", "Look", N_("Light or dark theme"), ("Ctrl+T",), toggle_night),
    Command("larger", "Look", N_("A larger interface"), ("Ctrl+Alt++",), partial(rescale, step=1)),
    Command("smaller", "Look", N_("A smaller interface"), ("Ctrl+Alt+-",), partial(rescale, step=-1)),
    Command("reading", "Look", N_("Show time as frames, timecode, feet or seconds"), ("T",), next_reading),
    Command("actor", "Look", N_("Video: beside the face, in its place, or hidden"), ("M",), toggle_film),
    *(
        Command(f"step-{step.id}", "Look", step.text, (f"F{step + 1}",), partial(show_step, step=step))
        for step in Step
    ),
    Command("fold-side", "Look", N_("Show or hide the left panel"), ("Ctrl+J",), fold_side),
    Command("specimen", "Look", N_("Chart page"), ("F6",), partial(toggle_view, view=View.SPECIMEN)),
    Command("stop-work", "Look", N_("Cancel, go back to the line, or clear the selection"), ("Esc",), let_go),
)  # fmt: skip
