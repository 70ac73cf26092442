"""Motion from the keyboard: which curve is shown, points and values by hand, steps of the clean-up, followers."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtGui import QGuiApplication

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step
from buccaphon.app.commands.file import folder_of
from buccaphon.app.galley.look import MOTION_LANES, Lane
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session.session import Session
from buccaphon.app.settings import MOTION
from buccaphon.errors import BuccaphonError
from buccaphon.motion.channels import Channel
from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation, with_point, without
from buccaphon.motion.steps import KINDS, AnyStep
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve, SetSteps
from buccaphon.project.motion_file import SUFFIX, MotionSettings, motion_as_text, motion_of, save_motion
from buccaphon.texts import N_, _, ngettext
from buccaphon.timing import Span

_PARTS = {
    "loudness": N_("Loudness settings…"),
    "followers": N_("Followers: channels driven by other channels…"),
    "clean-up": N_("Clean up curves…"),
    "drawing": N_("Draw curves by hand…"),
}


def show_part(desk: Desk, name: str) -> None:
    """Go to a part of the step Motion."""
    desk.show_step(Step.MOTION)
    desk.show_motion(name)


def next_curve(desk: Desk, way: int) -> None:
    """Show another channel in the first lane of motion."""
    bake, look = desk.session.document.bake(), desk.galley.look
    if bake is None:
        return
    channels, shown = (*bake.channels.of, *bake.loudness.of), look.curve(Lane.MOTION)
    idents = [channel.id for channel in channels]
    at = (idents.index(shown) + way) % len(idents) if shown in idents else 0
    desk.galley.set_look(look.showing(Lane.MOTION, idents[at]))
    desk.session.document.emit_display_changed()
    desk.say(_("The lane shows {name}.", name=channels[at].name.lower()))


def more_lanes(desk: Desk) -> None:
    """Add a motion lane (up to three); then one again."""
    look = desk.galley.look
    hidden = [lane for lane in MOTION_LANES if lane in look.hidden]
    if hidden:
        desk.galley.set_look(look.showing(hidden[0], look.curve(hidden[0])))
    else:
        desk.galley.set_look(look.without(MOTION_LANES[1]).without(MOTION_LANES[2]))
    desk.session.document.emit_display_changed()


def curve_here(session: Session) -> Channel | None:
    """The channel of the chosen point, or of the first lane."""
    document, bake = session.document, session.document.bake()
    ident = document.chosen_point[0] if document.chosen_point is not None else session.curve_shown
    found = bake.find(ident) if bake is not None else None
    return found[0] if found is not None else None


def type_value(desk: Desk) -> None:
    """Put a point at the playhead, or on the chosen one, by typing its value."""
    document, channel, bake = desk.session.document, curve_here(desk.session), desk.session.document.bake()
    if channel is None or bake is None:
        return
    if channel.id not in bake.channels.ids:
        desk.say(_("{name} cannot be typed; change its settings in Motion.", name=channel.name))
        return
    chosen = document.chosen_point
    rate = document.state.rate
    seconds = chosen[1] if chosen is not None else rate.seconds(document.frame + 0.5)
    now = float(bake.channels.curve(channel.id)[min(rate.containing(seconds), bake.frames - 1)])

    def done(text: str) -> None:
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            desk.say(_("“{text}” is not a number. Type one such as 0.4.", text=text[:20]))
            return
        curve = document.state.curve_over(channel.id) or HandCurve(channel.id, ())
        kept = value - channel.rest if curve.adds else value
        name = _("Value of {name}", name=channel.name.lower())
        if document.attempt(SetCurve(with_point(curve, CurvePoint(seconds, kept)), name=name)):
            document.choose_point((channel.id, seconds))

    lane = next((lane for lane in MOTION_LANES if desk.galley.look.curve(lane) == channel.id), Lane.MOTION)
    desk.inline.ask(seconds, lane, _("{name}: a value", name=channel.name), f"{now:.3f}", done)


def lead_on(desk: Desk) -> None:
    """The chosen point leads on the next way."""
    document, chosen = desk.session.document, desk.session.document.chosen_point
    curve = document.state.curve_over(chosen[0]) if chosen is not None else None
    number = curve.point_near(chosen[1], 1e-6) if curve is not None and chosen is not None else None
    if curve is None or number is None:
        return
    order, point = list(Interpolation), curve.points[number]
    interpolation = order[(order.index(point.interpolation) + 1) % len(order)]
    document.attempt(
        SetCurve(with_point(curve, replace(point, interpolation=interpolation)), name=_("Change interpolation"))
    )
    desk.say(_("From here to the next point: {label}.", label=interpolation.label))


def give_curve_back(desk: Desk) -> None:
    """The chosen point, or what is drawn in the stretch on the ruler, goes: the machine's curve shows there."""
    document, channel = desk.session.document, curve_here(desk.session)
    curve = document.state.curve_over(channel.id) if channel is not None else None
    if curve is None:
        return
    chosen, stretch = document.chosen_point, document.stretch
    if chosen is not None:
        points = tuple(point for point in curve.points if abs(point.seconds - chosen[1]) > 1e-6)
        document.attempt(SetCurve(replace(curve, points=points), name=_("Remove a point")))
        document.choose_point(None)
    elif stretch is not None:
        document.attempt(SetCurve(without(curve, stretch), name=_("Reset the curve here")))
    else:
        end = document.recording.duration if document.recording is not None else 0.0
        document.attempt(SetCurve(without(curve, Span(0.0, end + 1.0)), name=_("Reset the curve")))


def add_step(desk: Desk, kind: type[AnyStep]) -> None:
    document = desk.session.document
    document.attempt(SetSteps((*document.state.steps, kind()), name=_("Add: {title}", title=kind.title().lower())))
    show_part(desk, "clean-up")


def begin_followers(desk: Desk) -> None:
    """Choose a set of followers to begin from."""
    choices = [
        Choice(name, ngettext("{count} channel", "{count} channels", len(found)), partial(desk.begin_followers, name))
        for name, found in desk.follower_sets().items()
    ]
    show_part(desk, "followers")
    desk.chooser.ask(_("Presets"), _("Follower presets"), choices)


def toggle_alone(desk: Desk) -> None:
    document, take = desk.session.document, desk.session.document.state.take
    if take is not None:
        alone = not take.loudness_settings.loudness_only
        name = _("Drive the mouth by loudness only") if alone else _("Drive the mouth by its words")
        document.attempt(ChangeLoudness(replace(take.loudness_settings, loudness_only=alone), name=name))
        desk.say(f"{name}.")


def save_settings(desk: Desk) -> None:
    """Loudness, mixes, followers and clean-up into a file, for another line or character."""
    begin = folder_of(desk) / f"motion{SUFFIX}"
    path = desk.ask.file_to_write(_("Save motion settings"), begin, _("Motion settings (*{suffix})", suffix=SUFFIX))
    if path is None:
        return
    target = path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX)
    try:
        save_motion(motion_of(desk.session.document.state), target)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
    else:
        desk.say(_("Saved: {name}. Open it or drop it on another line to use it there.", name=target.name))


def open_settings(desk: Desk) -> None:
    path = desk.ask.file_to_open(
        _("Open motion settings"), folder_of(desk), _("Motion settings (*{suffix})", suffix=SUFFIX)
    )
    if path is not None:
        desk.session.opening.open(path)


def begin_with_settings(desk: Desk) -> None:
    """New projects begin with the motion settings of this line; where they are the usual ones, with none."""
    motion = motion_of(desk.session.document.state)
    MOTION.write(motion_as_text(motion) if motion != MotionSettings() else "")
    desk.say(_("New projects will start with the motion settings of this line."))


def copy_value(desk: Desk, *, greatest: bool = False) -> None:
    """The value of the curve here at the playhead, or its greatest one in the used part, for another program."""
    document, channel, bake = desk.session.document, curve_here(desk.session), desk.session.document.bake()
    found = bake.find(channel.id) if bake is not None and channel is not None else None
    clipboard = QGuiApplication.clipboard()
    if found is None or bake is None or clipboard is None:
        return
    values = found[1].whole
    used = values[bake.rate.nearest(document.used.start) : bake.rate.covering(document.used.end)]
    at = min(max(document.frame, 0), len(values) - 1)
    value = float(used.max(initial=found[0].low)) if greatest else float(values[at])
    clipboard.setText(f"{value:.4f}")
    desk.say(_("Copied: {name}, {value:.4f}.", name=found[0].name, value=value))


def _drawn_here(session: Session) -> str:
    channel = curve_here(session)
    drawn = channel is not None and session.document.state.curve_over(channel.id) is not None
    return "" if drawn else _("The curve in this lane has no hand edits.")


def _point_chosen(session: Session) -> str:
    return "" if session.document.chosen_point is not None else _("Click a point of a curve first.")


COMMANDS = (
    *(Command(f"motion-{name}", "Motion", says, (), partial(show_part, name=name)) for name, says in _PARTS.items()),
    Command("next-curve", "Motion", N_("Next curve in the lane"), ("Ctrl+B",), partial(next_curve, way=1),
            needs.recording),
    Command("previous-curve", "Motion", N_("Previous curve in the lane"), ("Ctrl+Shift+B",), partial(next_curve,
            way=-1),
            needs.recording),
    Command("more-lanes", "Motion", N_("Add a motion lane (up to three)"), ("Shift+F4",), more_lanes, needs.recording),
    Command("curve-value", "Motion", N_("Type a value for the curve here"), ("Ctrl+U",), type_value, needs.recording),
    Command("lead-on", "Motion", N_("Change the interpolation after this point"), ("Ctrl+Shift+U",), lead_on,
            _point_chosen),
    Command("give-curve-back", "Motion", N_("Remove hand edits from the curve here"), ("Ctrl+Delete",), give_curve_back,
            _drawn_here),
    Command("copy-value", "Motion", N_("Copy the value of the curve at the playhead"), ("Ctrl+Alt+C",), copy_value,
            needs.recording),
    Command("copy-greatest", "Motion", N_("Copy the greatest value of the curve"), (), partial(copy_value, greatest=True),
            needs.recording),
    Command("save-motion", "Motion", N_("Save motion settings…"), (), save_settings, needs.take),
    Command("open-motion", "Motion", N_("Open motion settings…"), (), open_settings, needs.take),
    Command("motion-default", "Motion", N_("Start new projects with these motion settings"), (), begin_with_settings,
            needs.take),
    Command("by-loudness", "Motion", N_("Drive the mouth by loudness only, or by its words"), (), toggle_alone,
            needs.recording),
    Command("begin-followers", "Motion", N_("Add follower presets…"), (), begin_followers, needs.take),
    *(
        Command(f"step-add-{kind.__name__.lower()}", "Motion", N_("Clean up: {step}"), (),
                partial(add_step, kind=kind), needs.take, {"step": kind.TITLE.lower()})
        for kind in KINDS
    ),
)  # fmt: skip
