"""How loudness is made into motion: what is listened to, from where to where, how quick, and what it reaches."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QVBoxLayout

from buccaphon.app.session.session import Session
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.histogram import Histogram
from buccaphon.app.widgets.parts import button, label
from buccaphon.app.widgets.section import Section
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, HERTZ, NARROWEST, Band, LoudnessSettings
from buccaphon.audio.recording import Listen
from buccaphon.painting.theme import Theme
from buccaphon.project.edits.motion import ChangeLoudness
from buccaphon.setting import settings_of, values_of, with_setting
from buccaphon.texts import _


class LoudnessSection(Section):
    """Every change is seen at once; turning on is one step to undo."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._levels: object = None
        self._shown: object = None
        self.histogram = Histogram(theme)
        self.form = Form(settings_of(LoudnessSettings))
        self.usual = button(
            _("Reset to automatic"), _("Set floor, ceiling and the other values automatically"), "quiet"
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.histogram)
        column.addWidget(self.form)
        column.addWidget(label(_("Ctrl+L shows it over the waveform; drag the threshold there."), "hint"))
        column.addWidget(self.usual)
        self._connect()

    def _connect(self) -> None:
        self.histogram.dragged.connect(lambda number, level: self._put(self._with_edge(number, level), "drag loudness"))
        self.histogram.freed.connect(lambda number: self._put(self._with_edge(number, None)))
        self.form.changed.connect(self._change)
        self.form.reset.connect(lambda name: self._put(self._with(name, getattr(DEFAULT_LOUDNESS, name))))
        for let_go in (self.histogram.let_go, self.form.let_go):
            let_go.connect(self._document.end_gesture)
        self.usual.clicked.connect(lambda: self._put(DEFAULT_LOUDNESS))
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    @property
    def settings(self) -> LoudnessSettings:
        take = self._document.state.take
        return take.loudness_settings if take is not None else DEFAULT_LOUDNESS

    def _with(self, name: str, value: object) -> LoudnessSettings:
        """With one setting changed, and those that have to follow it: it never closes above where it opens, frequencies that
        are typed are used, and their range is never empty."""
        made = with_setting(self.settings, name, value)
        if made.closes_below is not None and made.closes_below > made.opens:
            made = with_setting(made, "threshold" if name == "closes_below" else "closes_below", value)
        if name in ("lowest", "highest"):
            made = replace(made, band=Band.TYPED)
            if name == "lowest":
                made = replace(made, highest=max(made.highest, made.lowest * NARROWEST))
            else:
                made = replace(made, lowest=min(made.lowest, made.highest / NARROWEST))
        return made

    def _with_edge(self, number: int, level: float | None) -> LoudnessSettings:
        return replace(self.settings, floor=level) if number == 0 else replace(self.settings, ceiling=level)

    def _change(self, name: str, value: object) -> None:
        self._put(self._with(name, value), gesture=f"change loudness {name}")

    def _put(self, settings: LoudnessSettings, gesture: str = "") -> None:
        self._document.attempt(ChangeLoudness(settings, gesture=gesture))

    def refresh(self) -> None:
        settings, derived = self.settings, self._document.derived
        levels = derived.levels(settings) if derived is not None else None
        shown = settings, self._session.moving.channels
        if levels is self._levels and shown == self._shown:
            return  # fields that are set to what they show are painted all the same
        self._shown = shown
        self.setEnabled(derived is not None)
        if derived is not None and levels is not None:
            if levels is not self._levels:
                self.histogram.show_levels(levels)
            limits = derived.range(settings)
            automatic = (settings.floor is None, settings.ceiling is None)
            self.histogram.show_edges(limits.floor, limits.ceiling, by_itself=automatic)
            self.form.offer("channel", _channels(self._session.moving.channels))
        self._levels = levels
        low, high = settings.edges
        cuts = {"lowest": low or HERTZ[0], "highest": high or HERTZ[1]}
        usual = values_of(DEFAULT_LOUDNESS) | ({} if settings.band is Band.TYPED else cuts)
        self.form.fill(values_of(settings) | cuts, usual)
        self.usual.setVisible(settings != DEFAULT_LOUDNESS)


def _channels(count: int) -> list[tuple[str, object]]:
    names = [_("Left"), _("Right")] if count == 2 else [_("Channel {number}", number=n + 1) for n in range(count)]
    return [
        (_("As played"), None),
        (_("All channels"), Listen.MIX),
        *zip(names, range(count), strict=True),
    ]
