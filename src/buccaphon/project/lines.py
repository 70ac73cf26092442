"""A line without a window: one recording with how it is to be animated, as the state of a project that is never saved."""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.recording import Recording
from buccaphon.errors import RecordingError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.mouth_list import Rows
from buccaphon.formats.in_.wording import Timed
from buccaphon.kits.kit import Kit
from buccaphon.motion.mixes import Mix
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.settings import MouthSettings
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.channels import PutMix
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.exposing import expose_list
from buccaphon.project.markers import painted_by
from buccaphon.project.motion_file import MotionSettings, UseMotion
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.texts import _
from buccaphon.timing import FrameRate


@dataclass(frozen=True, slots=True)
class Look:
    """How a line is animated. rate: of the scene. start_frame: the number of its first frame. hold: 2 is 'on twos'. mixes:
    channels of one's own. kit: the character; None for Marigold drawn by poses. loudness_only: without words. mouths:
    painted on their frames, as from `read_mouth_list`; markers: or at labels. blank: with no other mouths than these.
    length: frames of the scene; None for that of the sound. motion: loudness, followers and clean-up; None for the usual."""

    rate: FrameRate
    chart: Chart
    start_frame: int = 0
    hold: int = 1
    mixes: tuple[Mix, ...] = ()
    kit: Kit | None = None
    loudness_only: bool = False
    mouths: Rows = ()
    blank: bool = False
    markers: tuple[Timed, ...] = ()
    length: int | None = None
    motion: MotionSettings | None = None


def state_of(take: Take, look: Look) -> State:
    """Raises ChannelError for a mix that cannot be."""
    own = (look.chart.document,)
    settings = MouthSettings(hold=look.hold)
    state = one_line(
        (take,),
        rate=look.rate,
        start_frame=look.start_frame,
        length=look.length,
        mouth_settings=settings,
        chart=look.chart.name,
        charts=own,
    )
    if look.motion is not None:
        state = UseMotion(look.motion).apply(state)
    for mix in look.mixes:
        state = PutMix(mix).apply(state)
    return PutKit(look.kit).apply(state) if look.kit is not None else state


def line_delivery(take: Take, heard: Recording, look: Look, title: str) -> tuple[Delivery, Derived]:
    """All that can be written of a line, and what follows from its sound. heard: the take's recording as it is listened to.
    Raises RecordingError when only loudness is to move it and there is only silence,
    SheetError for mouths that cannot be where they are to be."""
    if look.loudness_only and heard.is_silent:
        raise RecordingError(str(take.path), _("it holds only silence"), _("Choose the take with the voice"))
    state = state_of(take, look)
    derived = Derived(heard, build_peaks(heard))
    if look.loudness_only or look.motion is not None:
        derived = derived.knowing_all(state)
    if look.markers:
        named = _("the markers")
        state = painted_by(look.markers, state, derived.bake(state), named, blank=look.blank).apply(state)
    elif look.mouths or look.blank:
        state = expose_list(look.mouths, state, derived.bake(state), blank=look.blank).apply(state)
    return deliver(state, derived, title), derived
