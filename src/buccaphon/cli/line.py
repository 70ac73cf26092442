"""What the subcommands can be told about how a line is animated, and making it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import wraps
from pathlib import Path
from typing import Any

import click

from buccaphon.cli.common import ANY_PATH
from buccaphon.cli.sound import Sound
from buccaphon.cli.words import Said
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.markers import read_painted
from buccaphon.formats.in_.mouth_list import Rows
from buccaphon.formats.in_.wording import Timed
from buccaphon.kits.casting import unsure_mouths
from buccaphon.kits.charting import with_own_chart
from buccaphon.kits.kit import Kind, Kit
from buccaphon.motion.mixes import read_mix
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import LONGEST_HOLD
from buccaphon.project.derived import Derived
from buccaphon.project.edits.channels import PutMix
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.lines import Look, line_delivery
from buccaphon.project.motion_file import UseMotion, open_motion
from buccaphon.project.speakers import speaking
from buccaphon.project.state import DEFAULT_CHART, FIRST_FRAMES, LONGEST_SCENE, State
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate

OWN = "own"  # the chart of the character's own drawings


def called_now(name: str) -> Callable[[click.Context, click.Parameter, Any], Any]:
    """For an option that has another name now: it works, and says so."""

    def tell(_context: click.Context, option: click.Parameter, value: Any) -> Any:
        if value is not None:
            click.echo(_("buccaphon: {option} is called {name} now.", option=option.opts[0], name=name), err=True)
        return value

    return tell


def line_options(command: Callable[..., None]) -> Callable[..., None]:
    """The options about the frames; the command gets them as one `Line`."""

    @click.option("--fps", help=N_("The scene's frame rate: 24, 23.976, 24000/1001, 25, 29.97, 30, 60 ..."))
    @click.option(
        "--chart",
        help=N_(
            "A shipped chart's name, a chart file (.toml), or “own”: a mouth for each drawing of --character.  [default: Ten]"
        ),
    )
    @click.option(
        "--hold",
        type=click.IntRange(1, LONGEST_HOLD),
        help=N_("Frames each drawing is held; 2 is 'on twos'.  [default: 1]"),
    )
    @click.option(
        "--start-frame", type=click.IntRange(*FIRST_FRAMES), help=N_("The number of the first frame.  [default: 0]")
    )
    @click.option(
        "--length",
        type=click.IntRange(1, LONGEST_SCENE),
        help=N_("Frames of the scene.  [default: as long as its sound]"),
    )
    @click.option("--loudness-only", is_flag=True, help=N_("Drive the mouth by loudness only; no script is needed."))
    @click.option(
        "--mix",
        "mixes",
        multiple=True,
        metavar="TEXT",
        help=N_('One more channel: "smile = spread - 0.3 jaw". May be given several times.'),
    )
    @click.option(
        "--mouths",
        type=ANY_PATH,
        metavar="LIST",
        help=N_(
            "Mouths on exactly these frames: text or a table with the columns frame and mouth. Or at labels: a WAV or AIFF "
            "with markers, or a list of start, end and label."
        ),
    )
    @click.option("--blank", is_flag=True, help=N_("No other mouths than those of --mouths; no script is needed."))
    @click.option("--character", type=ANY_PATH, help=N_("A .buccakit, a glTF or VRM model, or drawings."))
    @click.option(
        "--motion", type=ANY_PATH, help=N_("A .buccamotion file: loudness settings, mixes, followers and clean-up.")
    )
    @click.option("--kit", type=ANY_PATH, hidden=True, callback=called_now("--character"))
    @wraps(command)
    def taking(
        *, fps: str | None, chart: str | None, hold: int | None, start_frame: int | None, length: int | None,
        loudness_only: bool, mixes: tuple[str, ...], character: Path | None, kit: Path | None, mouths: Path | None,
        blank: bool, motion: Path | None, **rest: Any,
    ) -> None:  # fmt: skip
        line = Line(
            fps, chart, hold, start_frame, loudness_only, mixes, character or kit, mouths, blank, length, motion
        )
        command(line=line, **rest)

    return taking


@dataclass(frozen=True, slots=True)
class Line:
    """As the options have it, None where one was not given; nothing of it is looked at before it is needed."""

    fps: str | None
    chart: str | None
    hold: int | None
    start_frame: int | None
    loudness_only: bool
    mixes: tuple[str, ...]
    kit: Path | None
    mouths: Path | None = None
    blank: bool = False
    length: int | None = None
    motion: Path | None = None

    def look(self) -> Look:
        """Raises what the parts of it raise when they cannot be."""
        if self.fps is None:
            raise click.UsageError(_("Missing option '--fps'."))
        rate = FrameRate.parse(self.fps)
        chart, kit = self._cast()
        mixes = tuple(read_mix(text) for text in self.mixes)
        rows, markers = self.painted()
        first, hold = self.start_frame or 0, self.hold or 1
        motion = open_motion(self.motion) if self.motion is not None else None
        return Look(
            rate, chart, first, hold, mixes, kit, self.loudness_only, rows, self.blank, markers, self.length, motion
        )

    def _cast(self) -> tuple[Chart, Kit | None]:
        """The chart, and the character if there is one."""
        chart = find_chart(DEFAULT_CHART if self.chart in (None, OWN) else str(self.chart))
        if self.kit is None:
            if self.chart == OWN:
                raise click.UsageError(_("“--chart own” needs --character."))
            return chart, None
        kit = _kit(self.kit, chart)
        if self.chart == OWN:
            kit, chart = with_own_chart(kit, chart)
        _tell_what_is_unsure(kit, chart)
        return chart, kit

    def painted(self) -> tuple[Rows, tuple[Timed, ...]]:
        """The mouths of a list, or the labels that say where mouths are."""
        return read_painted(self.mouths) if self.mouths is not None else ((), ())

    def over(self, state: State, roles: Sequence[str] = ()) -> State:
        """A scene with what was asked for otherwise: of the scene, and of the role that is named where it has several."""
        if self.fps is not None:
            state = replace(state, rate=FrameRate.parse(self.fps))
        if self.start_frame is not None:
            state = replace(state, start_frame=self.start_frame)
        if self.length is not None:
            state = replace(state, length=self.length)
        if self.loudness_only:
            state = state.with_each_take(
                lambda take: replace(take, loudness_settings=replace(take.loudness_settings, loudness_only=True))
            )
        of_one = (self.chart, self.hold, self.motion, self.kit, self.mouths, *self.mixes)
        if len(state.roles) > 1 and len(roles) != 1 and any(each is not None for each in of_one):
            raise click.UsageError(_("The scene has several roles: name the one that this is for with --role."))
        if not roles:
            return self._over_role(state)
        here = next((n for n in range(len(state.lines)) if roles[0] in speaking(state.at_line(n))), state.open_line)
        return self._over_role(state.at_line(here, roles[0])).at_rest.at_line(state.open_line)

    def _over_role(self, state: State) -> State:
        kit = None
        if self.chart is not None:
            chart, kit = self._cast()
            own = chart.document
            others = tuple(each for each in state.charts if each.name != own.name)
            state = replace(state, charts=(*others, own)).with_role(chart=own.name)
        if self.hold is not None:
            state = state.with_role(mouth_settings=replace(state.mouth_settings, hold=self.hold))
        if self.motion is not None:
            state = UseMotion(open_motion(self.motion)).apply(state)
        for text in self.mixes:
            state = PutMix(read_mix(text)).apply(state)
        if self.kit is not None:
            if kit is None:
                kit = _kit(self.kit, state.chart_in_use)
                _tell_what_is_unsure(kit, state.chart_in_use)
            if len(state.roles) == 1:
                state = replace(state.with_role(kit=""), kits=())
            state = PutKit(kit).apply(state)
        return state

    def delivery(self, recording: Path, look: Look, sound: Sound, said: Said) -> tuple[Delivery, Derived]:
        """Read, align unless no words are needed, and animate."""
        heard = sound.read(recording)
        wordless = look.loudness_only or (look.blank and not said.is_asked_for)
        score = None if wordless else said.score(recording, heard, sound)
        take = sound.take(recording, heard.duration, score)
        return line_delivery(take, heard, look, recording.stem)


def _kit(path: Path, chart: Chart) -> Kit:
    from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt is loaded only when there is a character)

    return load_character(path, chart)


def _tell_what_is_unsure(kit: Kit, chart: Chart) -> None:
    unsure = unsure_mouths(kit, chart) if kit.kind is Kind.DRAWN else ()
    if unsure:
        click.echo(_("{name}: check what shows {mouths}", name=kit.name, mouths=", ".join(unsure)), err=True)
