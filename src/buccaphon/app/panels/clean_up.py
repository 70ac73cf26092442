"""The clean-up: steps in their order, on or off, moved by drag; the settings of each, and the result of all."""

from __future__ import annotations

from functools import partial

import msgspec
import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QListWidgetItem, QMenu, QVBoxLayout

from buccaphon.app.session.session import Session
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.ordered_list import OrderedList
from buccaphon.app.widgets.parts import Fields, button, fit_rows, label, quiet_row
from buccaphon.app.widgets.section import Section
from buccaphon.motion.hand import where_drawn
from buccaphon.motion.keys import kept_frames
from buccaphon.motion.steps import KINDS, AnyStep, kept_error, named, with_number
from buccaphon.project.edits.motion import SetSteps
from buccaphon.texts import _

_MOST_ROWS = 8
_COUNTED_WITHIN = 0.005  # of the range: keys are counted as they would be written


class CleanUpSection(Section):
    """Every change is seen at once, in the lane and in the count below the list."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._listed: tuple[AnyStep, ...] = ()
        self._fields_for: tuple[int, type | None] = (-1, None)
        self.form: Form | None = None
        self.rows = OrderedList(
            _("Clean-up steps"),
            _("Steps run from top to bottom. Drag or press Alt+Up/Down to reorder; tick to switch on or off"),
        )
        self.add_button = button(_("Add step…"), _("Processing for finished curves"), "quiet")
        self.drop_button = button(_("Remove"), _("Remove the selected step"), "quiet")
        self.empty = label(
            _(
                "No clean-up: curves are exported as they are. Steps can close silences, smooth, reduce keys "
                "or limit speed; the lane shows before and after."
            ),
            "hint",
        )
        self.about = label("", "hint")
        self.channel = QComboBox()
        self.channel.setToolTip(_("Curves this step applies to"))
        self.numbers = QVBoxLayout()
        self.numbers.setSpacing(7)
        self.result = label("", "value")
        self._lay_out()
        self.rows.currentRowChanged.connect(lambda _value: self._show_one())
        self.rows.itemChanged.connect(self._ticked)
        self.rows.moved.connect(self._move)
        self.rows.dropped.connect(self._drop)
        self.add_button.clicked.connect(self._offer)
        self.drop_button.clicked.connect(self._drop)
        self.channel.activated.connect(lambda _value: self._choose_channel())
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.empty)
        column.addWidget(self.rows)
        column.addLayout(quiet_row(self.add_button, self.drop_button))
        self.fields = Fields()
        self.fields.add(_("Applies to"), self.channel)
        column.addWidget(self.about)
        column.addWidget(self.fields)
        column.addLayout(self.numbers)
        column.addWidget(self.result)

    # --- changing ------------------------------------------------------------------------------------------------------

    @property
    def steps(self) -> tuple[AnyStep, ...]:
        return self._document.state.steps

    def _put(self, steps: tuple[AnyStep, ...], name: str, gesture: str = "") -> None:
        self._document.attempt(SetSteps(steps, name=name, gesture=gesture))

    def _replace(self, row: int, step: AnyStep, name: str, gesture: str = "") -> None:
        if 0 <= row < len(self.steps):
            self._put((*self.steps[:row], step, *self.steps[row + 1 :]), name, gesture)

    def add(self, kind: type[AnyStep]) -> None:
        """One more step at the end, chosen."""
        self._put((*self.steps, kind()), _("Add: {title}", title=kind.title().lower()))
        self.catch_up()
        self.rows.setCurrentRow(len(self.steps) - 1)

    def _offer(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for kind in KINDS:
            action = menu.addAction(kind.title())
            assert action is not None
            action.triggered.connect(partial(self.add, kind))
        menu.popup(self.add_button.mapToGlobal(self.add_button.rect().bottomLeft()))

    def _drop(self) -> None:
        row = self.rows.currentRow()
        if 0 <= row < len(self.steps):
            self._put(
                (*self.steps[:row], *self.steps[row + 1 :]), _("Remove: {title}", title=self.steps[row].title().lower())
            )

    def _ticked(self, item: QListWidgetItem) -> None:
        row, on = self.rows.row(item), item.checkState() is Qt.CheckState.Checked
        if 0 <= row < len(self.steps) and self.steps[row].on != on:
            step = self.steps[row]
            self._replace(
                row,
                msgspec.structs.replace(step, on=on),
                _("{name}: on", name=step.title()) if on else _("{name}: off", name=step.title()),
            )

    def _move(self, row: int, before: int) -> None:
        if 0 <= row < len(self.steps):
            others = (*self.steps[:row], *self.steps[row + 1 :])
            place = before - (before > row)
            self._put((*others[:place], self.steps[row], *others[place:]), _("Reorder the clean-up"))
            self.rows.setCurrentRow(place)

    def _turned(self, row: int, name: str, value: float) -> None:
        if 0 <= row < len(self.steps):
            changed = with_number(self.steps[row], name, value)
            self._replace(row, changed, _("Change: {title}", title=changed.title().lower()), f"turn step {row} {name}")

    def _choose_channel(self) -> None:
        row, ident = self.rows.currentRow(), self.channel.currentData()
        if 0 <= row < len(self.steps):
            step = msgspec.structs.replace(self.steps[row], channels=() if ident is None else (ident,))
            self._replace(
                row,
                step,
                _("{title}: for {channel}", title=step.title(), channel=self.channel.currentText().lower()),
            )

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        steps = self.steps
        self.setEnabled(self._document.state.take is not None)
        if steps != self._listed or self.rows.count() != len(steps):
            self._listed = steps
            self._list(steps)
        self.empty.setVisible(not steps)
        for widget in (self.rows, self.drop_button, self.about, self.fields):
            widget.setVisible(bool(steps))
        self._show_one()
        self.tell_result()

    def _list(self, steps: tuple[AnyStep, ...]) -> None:
        row = min(max(self.rows.currentRow(), 0), len(steps) - 1)
        self.rows.blockSignals(True)  # listing is no ticking
        self.rows.clear()
        for step in steps:
            item = QListWidgetItem(step.title(), self.rows)
            item.setToolTip(named(step))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if step.on else Qt.CheckState.Unchecked)
        self.rows.setCurrentRow(row)
        self.rows.blockSignals(False)
        fit_rows(self.rows, _MOST_ROWS)

    def _show_one(self) -> None:
        row = self.rows.currentRow()
        step = self.steps[row] if 0 <= row < len(self.steps) else None
        known = (row, type(step) if step is not None else None)
        if known != self._fields_for:
            self._fields_for = known
            self._make_fields(row, step)
        if step is None:
            return
        self.about.setText(f"{step.title()}: {step.says()}.")
        self._list_channels(step)
        if self.form is not None:
            self.form.fill(step.numbers, type(step)().numbers)

    def _make_fields(self, row: int, step: AnyStep | None) -> None:
        while (old := self.numbers.takeAt(0)) is not None:
            if (gone := old.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        self.form = None
        if step is None or not step.SETTINGS:
            return
        self.form = Form(step.SETTINGS)
        self.form.changed.connect(partial(self._turned, row))
        self.form.reset.connect(lambda name: self._turned(row, name, getattr(type(step)(), name)))
        self.form.let_go.connect(self._document.end_gesture)
        self.numbers.addWidget(self.form)

    def _list_channels(self, step: AnyStep) -> None:
        bake = self._document.bake()
        choices: list[tuple[str, str | None]] = [(_("All curves"), None)]
        choices += [(channel.name, channel.id) for channel in bake.channels.of] if bake is not None else []
        chosen = step.channels[0] if step.channels else None
        if chosen is not None and chosen not in [ident for _, ident in choices]:
            choices.append((_("{name} (missing)", name=chosen), chosen))
        if choices != [(self.channel.itemText(n), self.channel.itemData(n)) for n in range(self.channel.count())]:
            self.channel.clear()
            for name, ident in choices:
                self.channel.addItem(name, ident)
        self.channel.setCurrentIndex(next((n for n, (_, ident) in enumerate(choices) if ident == chosen), 0))

    def tell_result(self) -> None:
        """What the steps come to on the channel of the first lane."""
        document = self._document
        bake, derived = document.bake(), document.derived
        if bake is None or derived is None:
            return
        ident = self._session.curve_shown
        found, before = bake.channels.find(ident), derived.before_clean_up(ident)
        if found is None or before is None:
            self.result.setText("")
            return
        channel, was, now = found[0], before.whole, found[1].whole
        width = max(channel.high - channel.low, 1e-9)
        keys = [len(kept_frames(curve, _COUNTED_WITHIN * width)) for curve in (was, now)]
        drawn = document.state.curve_over(ident)
        beside = ~where_drawn(drawn, bake.frames, bake.rate) if drawn is not None else np.ones(bake.frames, np.bool_)
        share = 100 * kept_error(was[beside], now[beside]) / width
        self.result.setText(
            _(
                "{name}: {before} keys before, {after} after. Largest difference: {share:.1f} % of the range.",
                name=channel.name,
                before=keys[0],
                after=keys[1],
                share=share,
            )
        )
