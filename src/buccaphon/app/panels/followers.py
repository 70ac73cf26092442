"""Channels driven by other channels: a list, who drives whom, and what one of them does, to be written and turned."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QLineEdit,
    QListWidget,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.panels.driving import DrivingView
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import button, fit_rows, label, quiet_row
from buccaphon.app.widgets.response import Response
from buccaphon.app.widgets.section import Section
from buccaphon.errors import ChannelError
from buccaphon.kits.kit import CutOut, Moving
from buccaphon.motion.drivable import Drivable, drivable_in
from buccaphon.motion.followers import (
    BY_RANGE,
    LOUDNESS,
    Follower,
    Shake,
    Switch,
    Unit,
    goes_in,
    read_range,
)
from buccaphon.motion.presets import starting_points
from buccaphon.mouths.chart_making import free_name
from buccaphon.painting.characters.model import ModelCharacter
from buccaphon.painting.theme import Theme
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.channels import DropFollower, PutFollower
from buccaphon.setting import Setting, settings_of, values_of, with_setting
from buccaphon.texts import N_, _

_MOST_ROWS = 6


class FollowersSection(Section):
    """What is changed of the chosen follower is seen at once; turning on is one step to undo."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._document, self._characters = session.document, session.characters
        self.rows = QListWidget()
        self.rows.setAccessibleName(_("Followers"))
        self.rows.setToolTip(_("Delete removes the selected follower"))
        self.add_button = button(_("Add"), _("Add a channel that is driven by another"), "quiet")
        self.begin_button = button(_("Presets…"), _("Ready-made sets of followers"), "quiet")
        self.drop_button = button(_("Remove"), _("Remove this follower"), "quiet")
        self.empty = label(
            _(
                "No followers yet. A follower is an extra channel for your host: a chin that slides, a "
                "lantern that flickers, a head that nods with the voice."
            ),
            "hint",
        )
        self.driving = DrivingView(theme)
        self.one = QWidget()
        self.named, self.range = Form(_NAMED), QLineEdit()
        self.goes_in, self.outside = label("", "hint"), label("", "hint")
        self.outside.setObjectName("asking")
        self.range.setToolTip(_("Input and output range, for example: 0.1 to 0.7 becomes 0 to 12 px"))
        self.inside = Form({"holds": settings_of(Follower)["holds"]})
        self.form = Form(_NUMBERS)
        self.switch = QCheckBox(_("On/off switch"))
        self.switch.setToolTip(
            _("The output is always at one end of its range or the other, for example to show or hide a part")
        )
        self.response = Response(theme)
        self.told = label("", "hint")
        self._lay_out()
        self._connect()
        self._tell("")

    def _lay_out(self) -> None:
        inside = QVBoxLayout(self.one)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(7)
        for part in (
            self.named,
            self.range,
            self.goes_in,
            self.outside,
            self.inside,
            self.response,
            self.switch,
            self.form,
        ):
            inside.addWidget(part)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.empty)
        column.addWidget(self.rows)
        column.addLayout(quiet_row(self.add_button, self.begin_button, self.drop_button))
        column.addWidget(self.driving)
        column.addWidget(self.told)
        column.addWidget(self.one)

    def _connect(self) -> None:
        self.rows.currentRowChanged.connect(lambda _value: self._show_one())
        self.add_button.clicked.connect(self._add)
        self.begin_button.clicked.connect(self._offer_sets)
        self.drop_button.clicked.connect(self._drop)
        self.driving.chosen.connect(self.choose)
        self.named.changed.connect(self._name)
        self.range.editingFinished.connect(self._take_range)
        self.switch.clicked.connect(lambda on: self._change("", lambda f: replace(f, switch=Switch() if on else None)))
        self.response.drawn.connect(lambda points: self._change("response", lambda f: replace(f, curve=points)))
        self.response.let_go.connect(self._document.end_gesture)
        for form in (self.form, self.inside):
            form.changed.connect(self._turn)
            form.reset.connect(lambda name: self._turn(name, _AUTOMATIC[name]))
            form.let_go.connect(self._document.end_gesture)
        self.follow(self._document.opened, self._document.changed)

    # --- changing ------------------------------------------------------------------------------------------------------

    def _name(self, setting: str, value: str) -> None:
        """Another name for the chosen one, or another channel that it follows."""
        if setting == "name":
            told = next((each for each in self._drivable() if each.name == value.strip()), None)
            self._change("rename", lambda f: _called(f, value.strip(), told))
        else:
            self._change("", lambda f: replace(f, follows=value))

    @property
    def follower(self) -> Follower | None:
        """The chosen one."""
        followers = self._document.state.followers
        row = self.rows.currentRow()
        return followers[row] if 0 <= row < len(followers) else None

    def choose(self, name: str) -> None:
        """The follower of a name, to be looked at and changed."""
        self.catch_up()
        names = [follower.name for follower in self._document.state.followers]
        if name in names:
            self.rows.setCurrentRow(names.index(name))

    def _turn(self, name: str, value: Any) -> None:
        self._change(f"change {name}", lambda follower: _with(follower, name, value))

    def _change(self, gesture: str, how: Callable[[Follower], Follower]) -> None:
        follower = self.follower
        if follower is None:
            return
        changed = how(follower)
        if changed != follower:
            mark = f"{gesture} {follower.name}" if gesture else ""
            self._try(
                PutFollower(
                    changed, follower.name, name=_("Change the follower {name}", name=changed.name), gesture=mark
                )
            )

    def _try(self, edit: Edit) -> bool:
        try:
            self._document.apply(edit)
        except ChannelError as problem:
            self._tell(str(problem))
            self._show_one()
            return False
        self._tell("")
        return True

    def _take_range(self) -> None:
        try:
            takes, gives, unit = read_range(self.range.text())
        except ChannelError as problem:
            self._tell(str(problem))
            return
        self._change("", lambda f: replace(f, takes=takes, gives=gives, unit=unit))

    def _add(self) -> None:
        name = free_name("follower", [*self._taken()])
        if self._try(PutFollower(Follower(name, "aperture"))):
            self.choose(name)
            combo = self.named.inputs["name"]
            line = combo.lineEdit() if isinstance(combo, QComboBox) else None
            if line is not None:
                line.setFocus()
                line.selectAll()

    def _taken(self) -> list[str]:
        state = self._document.state
        return [*(each.name for each in state.followers), *(mix.name for mix in state.mixes)]

    def _drivable(self) -> tuple[Drivable, ...]:
        """What of the character a channel of its name drives."""
        kit, character = self._characters.kit, self._characters.character
        nodes = character.nodes if isinstance(character, ModelCharacter) else ()
        return drivable_in(kit, nodes) if kit is not None else ()

    def sets(self) -> dict[str, tuple[Follower, ...]]:
        """Followers to begin from; for a cut-out, one for each of its further pieces."""
        by = LOUDNESS if self._document.score is None else "aperture"
        found = {_(name): followers for name, followers in starting_points(by).items()}
        kit = self._characters.kit
        if kit is not None and isinstance(kit.look, CutOut) and kit.look.parts:
            pieces = []
            for part in kit.look.parts:
                slides = part.move.moving is Moving.SLIDES
                much = (part.move.x**2 + part.move.y**2) ** 0.5 if slides else part.move.degrees
                unit = Unit.PIXELS if slides else Unit.DEGREES
                pieces.append(Follower(part.name, by, (0.1, 0.9), (0.0, round(part.share * much, 2)), unit))
            found = {_("The pieces of {name}", name=kit.name): tuple(pieces), **found}
        return found

    def begin_from(self, name: str) -> None:
        """Put a set of followers to those that are there."""
        taken, edits, added = self._taken(), list[Edit](), ""
        for follower in self.sets()[name]:
            own = replace(follower, name=free_name(follower.name, taken))
            taken.append(own.name)
            added = added or own.name
            edits.append(PutFollower(own))
        if self._try(Together(tuple(edits), name=_("Preset: {name}", name=name))):
            self.choose(added)

    def _offer_sets(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for name in self.sets():
            action = menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _on, name=name: self.begin_from(name))
        menu.popup(self.begin_button.mapToGlobal(self.begin_button.rect().bottomLeft()))

    def _drop(self) -> None:
        if (follower := self.follower) is not None:
            self._try(DropFollower(follower.name))

    # --- showing -------------------------------------------------------------------------------------------------------

    def _tell(self, text: str) -> None:
        self.told.setText(text)
        self.told.setVisible(bool(text))

    def refresh(self) -> None:
        state = self._document.state
        self.setEnabled(state.take is not None)
        wanted = [
            _("{name} follows {follows}", name=follower.name, follows=follower.follows) for follower in state.followers
        ]
        if wanted != [self.rows.item(row).text() for row in range(self.rows.count())]:
            row = min(max(self.rows.currentRow(), 0), len(wanted) - 1)
            self.rows.blockSignals(True)
            self.rows.clear()
            self.rows.addItems(wanted)
            self.rows.setCurrentRow(row)
            self.rows.blockSignals(False)
            fit_rows(self.rows, _MOST_ROWS)
        some = bool(wanted)
        self.empty.setVisible(not some)
        for widget in (self.rows, self.drop_button, self.driving, self.one):
            widget.setVisible(some)
        self.driving.show_followers(state.followers, self.follower.name if self.follower else "")
        self._show_one()

    def _show_one(self) -> None:
        follower = self.follower
        if follower is None:
            return
        self.driving.show_followers(self._document.state.followers, follower.name)
        self._list_drivers(follower)
        if not self.range.hasFocus():
            self.range.setText(follower.says)
        self._say_what_goes_in(follower)
        values = _values(follower)
        self.inside.fill(values, _AUTOMATIC)
        self.form.fill(values, _AUTOMATIC, units=dict.fromkeys(_IN_ITS_UNIT, follower.unit.written))
        self.switch.setChecked(follower.switch is not None)
        for name in settings_of(Switch):
            self.form.enable(name, follower.switch is not None)
        for name in ("speed", "seed"):
            self.form.enable(name, follower.shake is not None)
        self.response.show_points(follower.curve)

    def _say_what_goes_in(self, follower: Follower) -> None:
        """From where to where what is followed goes on this line, and whether the range typed meets any of it."""
        bake, used = self._document.bake(), self._document.used
        found = bake.find(follower.follows) if bake is not None else None
        self.goes_in.setVisible(found is not None)
        self.outside.setVisible(False)
        if bake is None or found is None:
            return
        channel, curve = found
        (low, high), is_within = goes_in(
            follower, curve.whole[bake.rate.nearest(used.start) : bake.rate.covering(used.end)]
        )
        text = _(
            "{name} on this line: {low} to {high}.", name=channel.name, low=channel.says(low), high=channel.says(high)
        )
        self.goes_in.setText(text)
        first, last = (f"{end:g}" for end in sorted(follower.takes))
        self.outside.setText(_("Nothing of it is between {first} and {last}.", first=first, last=last))
        self.outside.setVisible(not is_within)

    def _list_drivers(self, follower: Follower) -> None:
        bake = self._document.bake()
        known = [(channel.name, channel.id) for channel in bake.channels.of] if bake is not None else []
        self.named.offer("name", [(each.name, each.name) for each in self._drivable()])
        choices = [(_("Loudness"), LOUDNESS), *((name, ident) for name, ident in known if ident != follower.name)]
        if follower.follows not in [ident for _, ident in choices]:
            choices.append((_("{follows} (missing)", follows=follower.follows), follower.follows))
        self.named.offer("follows", choices)
        self.named.fill({"name": follower.name, "follows": follower.follows})


def _called(follower: Follower, name: str, told: Drivable | None) -> Follower:
    """Under another name. One that was not set up yet takes the range of what it drives then."""
    found = replace(follower, name=name)
    is_new = (follower.gives, follower.unit, follower.switch) == ((0.0, 1.0), Unit.SHARE, None)
    return replace(found, gives=told.gives, unit=told.unit) if told is not None and is_new else found


def _with_gain(follower: Follower, gain: float, offset: float) -> Follower:
    """The same range of what it follows, with what it becomes by gain and offset."""
    low, high = follower.takes
    return replace(follower, gives=(round(offset + gain * low, 6), round(offset + gain * high, 6)))


def _values(follower: Follower) -> dict[str, Any]:
    """What the form shows, by name."""
    by_range = {"gain": follower.gain, "offset": follower.offset}
    return (
        values_of(follower) | by_range | values_of(follower.switch or Switch()) | values_of(follower.shake or Shake())
    )


def _with(follower: Follower, name: str, value: Any) -> Follower:
    """One of the form's values changed; the switch never goes off above where it goes on."""
    if name == "gain":
        return _with_gain(follower, value, follower.offset)
    if name == "offset":
        return _with_gain(follower, follower.gain, value)
    if name in settings_of(Switch):
        switch = with_setting(follower.switch or Switch(), name, value)
        held = switch.on if name == "on" else switch.off
        return replace(follower, switch=Switch(held, held) if switch.off > switch.on else switch)
    if name in settings_of(Shake):
        shake = with_setting(follower.shake or Shake(), name, value)
        return replace(follower, shake=shake if shake.size or name != "size" else None)
    return with_setting(follower, name, value)


_NAMED = {
    "name": Setting(
        label=N_("Name"),
        hint=N_("What the channel is called in the host; a shape, bone or piece of that name is driven by it"),
        suggestions=("",),  # those of the character are offered
        words=N_("shape bone node piece part blendshape"),
    ),
    "follows": Setting(
        label=N_("Follows"),
        hint=N_("The channel, or the loudness, that drives it"),
        choices=((LOUDNESS, N_("Loudness")),),
    ),
}
_NUMBERS = {
    **BY_RANGE,
    **{name: each for name, each in settings_of(Follower).items() if name != "holds"},
    **settings_of(Switch),
    **settings_of(Shake),
}
_AUTOMATIC = {name: value for name, value in _values(Follower("", "")).items() if name not in BY_RANGE}
_IN_ITS_UNIT = ("gain", "offset", "least", "most", "size")
