"""Curves by hand: which curve each lane shows, how the chosen point leads on, and how what is drawn counts."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QComboBox, QVBoxLayout

from buccaphon.app.galley.look import MOTION_LANES, Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import Fields, button, label, quiet_row
from buccaphon.app.widgets.section import Section
from buccaphon.motion.hand import CurvePoint, HandCurve, with_point
from buccaphon.project.edits.motion import SetCurve
from buccaphon.setting import settings_of, values_of
from buccaphon.texts import _


class DrawingSection(Section):
    """Changes the lanes of a galley, and what is drawn in them."""

    def __init__(self, galley: GalleyView) -> None:
        super().__init__()
        self._galley, self._document = galley, galley.document
        self.lanes = {lane: QComboBox() for lane in MOTION_LANES}
        self.hand, self.point = Form(settings_of(HandCurve)), Form(settings_of(CurvePoint))
        self.plain = button(_("Automatic tangents"), _("Work out the tangents from the neighbouring points"), "quiet")
        self.give_back = button(
            _("Reset curve"), _("Remove all hand edits; the automatic curve is used again"), "quiet"
        )
        self.how = label(
            _(
                "In the lane: Shift+drag draws, Ctrl+click adds a point, Alt+drag raises the marked range. "
                "Points stay when the line is aligned or changed later."
            ),
            "hint",
        )
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        lanes = Fields()
        for number, combo in enumerate(self.lanes.values()):
            lanes.add(_("Lane {number}", number=number + 1), combo)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(lanes)
        column.addWidget(self.how)
        column.addWidget(self.hand)
        column.addWidget(self.point)
        column.addLayout(quiet_row(self.plain))
        column.addLayout(quiet_row(self.give_back))

    def _connect(self) -> None:
        document = self._document
        for lane, combo in self.lanes.items():
            combo.activated.connect(lambda _value, lane=lane: self._show_in(lane))
        self.hand.changed.connect(lambda name, value: self._put(name, **{name: value}))
        self.hand.reset.connect(lambda name: self._put(**{name: _AUTOMATIC[name]}))
        self.point.changed.connect(lambda name, value: self._turn(name, **{name: value}))
        for form in (self.hand, self.point):
            form.let_go.connect(document.end_gesture)
        self.plain.clicked.connect(lambda: self._turn(into=None, out=None))
        self.give_back.clicked.connect(lambda: self._document.attempt(SetCurve(HandCurve(self.channel, ()))))
        self.follow(document.opened, document.changed, document.point_chosen, document.sound_ready)

    @property
    def channel(self) -> str:
        """The channel of the chosen point, or of the first lane."""
        chosen = self._document.chosen_point
        return chosen[0] if chosen is not None else self._galley.session.curve_shown

    @property
    def curve(self) -> HandCurve | None:
        return self._document.state.curve_over(self.channel)

    @property
    def chosen(self) -> CurvePoint | None:
        chosen, curve = self._document.chosen_point, self.curve
        number = curve.point_near(chosen[1], 1e-6) if chosen is not None and curve is not None else None
        return curve.points[number] if curve is not None and number is not None else None

    def _show_in(self, lane: Lane) -> None:
        self._galley.set_look(self._galley.look.showing(lane, self.lanes[lane].currentData()))
        self._document.emit_display_changed()

    def _put(self, gesture: str = "", **told: object) -> None:
        if self.curve is not None:
            curve = replace(self.curve, **told)  # type: ignore[arg-type]
            mark = f"{gesture} {self.channel}" if gesture else ""
            self._document.attempt(SetCurve(curve, name=_("Change the drawn curve"), gesture=mark))

    def _turn(self, gesture: str = "", **told: object) -> None:
        if self.curve is not None and self.chosen is not None:
            point = replace(self.chosen, **told)  # type: ignore[arg-type]
            mark = f"{gesture} {self.channel} {point.seconds}" if gesture else ""
            self._document.attempt(SetCurve(with_point(self.curve, point), name=_("Change a point"), gesture=mark))

    def refresh(self) -> None:
        document, curve, point = self._document, self.curve, self.chosen
        self.setEnabled(document.state.take is not None)
        bake = document.bake()
        shown = (*bake.channels.of, *bake.loudness.of) if bake is not None else ()
        known = [(channel.name, channel.id) for channel in shown]
        look = self._galley.look
        for lane, combo in self.lanes.items():
            choices = [*known] if lane is Lane.MOTION else [("–", ""), *known]
            if choices != [(combo.itemText(n), combo.itemData(n)) for n in range(combo.count())]:
                combo.clear()
                for name, ident in choices:
                    combo.addItem(name, ident)
            combo.setCurrentIndex(combo.findData("" if lane in look.hidden else look.curve(lane)))
        self.hand.fill(values_of(curve) if curve is not None else _AUTOMATIC, _AUTOMATIC)
        for widget in (self.hand, self.give_back):
            widget.setEnabled(curve is not None)
        self.point.setVisible(point is not None)
        self.plain.setVisible(point is not None and (point.into is not None or point.out is not None))
        if point is not None:
            self.point.fill(values_of(point))


_AUTOMATIC = values_of(HandCurve("", ()))
