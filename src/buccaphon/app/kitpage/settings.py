"""What is set of a character besides dragging: a form for each kind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QCheckBox, QColorDialog, QComboBox, QDoubleSpinBox, QSlider, QSpinBox, QVBoxLayout, QWidget

from buccaphon.app.kitpage.stage import Drawing
from buccaphon.app.widgets.parts import Fields, button, label, quiet_row
from buccaphon.kits.kit import Anchor, CutOut, Drawn, Kit, Model, Move, Moving, Part, Place, Reference
from buccaphon.kits.model.skeleton import Jaw

_AXES = {"X": (1.0, 0.0, 0.0), "Y": (0.0, 1.0, 0.0), "Z": (0.0, 0.0, 1.0)}
_FINE = 100
_NARROWEST = 84  # pixels
_FURTHEST = 1e5  # pixels that a piece moves


class Settings(QWidget):
    """changed: the kit as it is to be, and the gesture. let_go: the hand is off. drawing: what a press on the picture draws
    from now on. part: the part that is worked on. picture_wanted: a file is to be chosen for a use of that name."""

    changed = pyqtSignal(object, str)
    let_go = pyqtSignal()
    drawing = pyqtSignal(object)
    part_chosen = pyqtSignal(object)
    picture_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._kit: Kit | None = None
        self._filling = False
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)
        self.fields = Fields()

    def show_kit(self, kit: Kit) -> None:
        self._kit = kit
        self._filling = True
        self.fill()
        self._filling = False

    def fill(self) -> None:
        """Show what is set; nothing that comes of it is taken for a change."""
        raise NotImplementedError

    def _put(self, look: Drawn | CutOut | Model, gesture: str = "") -> None:
        if self._kit is not None and not self._filling:
            self.changed.emit(replace(self._kit, look=look), gesture)

    def _number(
        self,
        name: str,
        low: float,
        high: float,
        suffix: str,
        use: Callable[[float], None],
        hint: str,
        step: float = 1.0,
    ) -> QDoubleSpinBox:
        made = QDoubleSpinBox()
        made.setDecimals(3 if 0 < low < step else 2 if step < 1 else 1)  # first, for a range is rounded to them
        made.setRange(low, high)
        made.setSingleStep(step)
        made.setSuffix(suffix)
        made.setToolTip(hint)
        made.setMinimumWidth(_NARROWEST)
        made.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        made.valueChanged.connect(lambda value: None if self._filling else use(value))
        made.editingFinished.connect(self.let_go)
        self.fields.add(name, made)
        return made


class DrawnSettings(Settings):
    """Where the mouths lie, what the rest of the face is, and how a sheet is parted."""

    def __init__(self) -> None:
        super().__init__()
        self.scale = self._number(
            "Size of mouths", 2, 5000, " %", self._resize, "You can also drag the square in the picture"
        )
        self.columns, self.rows, self.grid = QSpinBox(), QSpinBox(), Fields()
        for box, what in ((self.columns, "columns"), (self.rows, "rows")):
            box.setRange(1, 64)
            box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            box.setToolTip(f"How many {what} the sheet has")
            box.valueChanged.connect(partial(self._part_sheet, what))
            self.grid.add(what.title(), box)
        self.anchor = QComboBox()
        self.anchor.setMinimumWidth(_NARROWEST)
        self.anchor.setToolTip("How drawings of different sizes are aligned")
        for anchor in Anchor:
            self.anchor.addItem(anchor.title, anchor)
        self.anchor.activated.connect(lambda _: self._put(replace(self._look, anchor=self.anchor.currentData())))
        self.fields.add("Align by", self.anchor)
        self.face = button("Face picture…", "A picture of the rest of the face, for drawings without one", "quiet")
        self.face.clicked.connect(lambda: self.picture_wanted.emit("face"))
        self.over = QCheckBox("Draw the face over the mouths")
        self.over.toggled.connect(lambda on: self._put(replace(self._look, face_over=on)))
        self.back = button("Reset the mouths", "To their position in the file", "quiet")
        self.back.clicked.connect(lambda: self._put(replace(self._look, place=Place())))
        for piece in (self.fields, self.grid, self.over):
            self.column.addWidget(piece)
        self.column.addLayout(quiet_row(self.face, self.back))

    @property
    def _look(self) -> Drawn:
        assert self._kit is not None
        assert isinstance(self._kit.look, Drawn)
        return self._kit.look

    def fill(self) -> None:
        look = self._look
        self.scale.setValue(100 * look.place.scale)
        self.grid.setVisible(look.columns > 0)
        for box, value in ((self.columns, look.columns), (self.rows, look.rows)):
            box.setValue(max(value, 1))
        self.anchor.setCurrentIndex(self.anchor.findData(look.anchor))
        self.over.setChecked(look.face_over)
        self.over.setVisible(look.face is not None)
        self.back.setEnabled(look.place != Place())

    def _resize(self, percent: float) -> None:
        self._put(replace(self._look, place=replace(self._look.place, scale=percent / 100)), "kit size")

    def _part_sheet(self, what: str, count: int) -> None:
        if not self._filling and self._look.columns:
            look = self._look
            self._put(replace(look, columns=count) if what == "columns" else replace(look, rows=count))


class CutOutSettings(Settings):
    """The lip line, how the piece moves, what is behind it, and the parts that follow."""

    def __init__(self) -> None:
        super().__init__()
        self._number_of_part: int | None = None
        self.lip = button(
            "Draw the lip line", "Then draw it over the picture, from one corner of the mouth to the other"
        )
        self.chin = button("Draw the chin", "Lower edge of the piece; without it a default depth is used", "quiet")
        self.lip.clicked.connect(lambda: self.drawing.emit(Drawing.LIP_LINE))
        self.chin.clicked.connect(lambda: self.drawing.emit(Drawing.CHIN))
        self.parts = QComboBox()
        self.parts.setMinimumWidth(_NARROWEST)
        self.parts.setToolTip("The piece below the lips, or a part that follows it")
        self.parts.activated.connect(self._choose_part)
        self.add_part = button("Add a part", "A chin, a cheek or the head: draw around it in the picture", "quiet")
        self.add_part.clicked.connect(self._begin_part)
        self.drop_part = button("Remove part", "Removes the part; the picture is not changed", "quiet")
        self.drop_part.clicked.connect(self._drop_part)
        self.fields.add("Part", self.parts)
        self.moving = QComboBox()
        for moving in Moving:
            self.moving.addItem(moving.title, moving)
        self.moving.activated.connect(lambda _: self._move(moving=self.moving.currentData()))
        self.fields.add("Movement", self.moving)
        self.down = self._number(
            "Moves down by",
            -5000,
            5000,
            " px",
            lambda v: self._move("down", y=self._in_pixels(v)),
            "You can also drag the arrow",
        )
        self.turn = self._number(
            "Turns by", -180, 180, "°", lambda v: self._move("turn", degrees=v), "You can also drag the arrow"
        )
        self.share = self._number(
            "Share of the jaw",
            -400,
            400,
            " %",
            self._set_share,
            "How much of the jaw's movement it follows; negative values go the other way",
        )
        self.soft = self._number(
            "Soft edge", 0, 100, " px", partial(self._set, "soft"), "How soft the edge of the piece is"
        )
        self.overlap = self._number(
            "Overlap", 0, 200, " px", partial(self._set, "overlap"), "How far the piece reaches up to hide the seam"
        )
        self.unit = self._number(
            "One pixel equals",
            0.001,
            1000,
            " host units",
            partial(self._set, "unit"),
            "Exported sizes use these units",
            0.01,
        )
        self.lifted = QCheckBox("Erase it from the picture underneath")
        self.carries = QCheckBox("The mouth moves with it")
        self.lifted.toggled.connect(lambda on: self._change_part(lifted=on))
        self.carries.toggled.connect(lambda on: self._change_part(carries=on))
        self.inside = button("Colour inside the mouth…", "Shown inside the open mouth", "quiet")
        self.inside.clicked.connect(self._ask_color)
        self.inside_picture = button("Picture inside the mouth…", "A picture of the mouth's inside", "quiet")
        self.inside_picture.clicked.connect(lambda: self.picture_wanted.emit("inside"))
        self.piece = button(
            "Separate picture for the piece…", "Use this instead of cutting the piece out of the face", "quiet"
        )
        self.piece.clicked.connect(lambda: self.picture_wanted.emit("piece"))
        self.column.addLayout(quiet_row(self.lip, self.chin))
        self.column.addWidget(self.fields)
        for box in (self.lifted, self.carries):
            self.column.addWidget(box)
        self.column.addLayout(quiet_row(self.add_part, self.drop_part))
        self.column.addLayout(quiet_row(self.inside, self.inside_picture))
        self.column.addLayout(quiet_row(self.piece))

    @property
    def _look(self) -> CutOut:
        assert self._kit is not None
        assert isinstance(self._kit.look, CutOut)
        return self._kit.look

    @property
    def _part(self) -> Part | None:
        number = self._number_of_part
        return self._look.parts[number] if number is not None and number < len(self._look.parts) else None

    def fill(self) -> None:
        look = self._look
        names = ["the piece below the lips", *(part.name for part in look.parts)]
        if names != [self.parts.itemText(row) for row in range(self.parts.count())]:
            self.parts.clear()
            self.parts.addItems(names)
            if self._number_of_part is not None and self._number_of_part >= len(look.parts):
                self._number_of_part = None
        part = self._part
        self.parts.setCurrentIndex(0 if part is None else (self._number_of_part or 0) + 1)
        move = part.move if part is not None else look.move
        self.moving.setCurrentIndex(self.moving.findData(move.moving))
        slides = move.moving is Moving.SLIDES
        unit = " px" if look.unit == 1.0 else " host units"
        self.down.setSuffix(unit)
        self.down.setValue(move.y * look.unit)
        self.down.setEnabled(slides)
        self.turn.setValue(move.degrees)
        self.turn.setEnabled(not slides)
        self.share.setValue(100 * part.share if part else 100)
        for widget in (self.share, self.lifted, self.carries, self.drop_part):
            widget.setEnabled(part is not None)
        self.lifted.setChecked(part is not None and (part.lifted or part.carries))
        self.carries.setChecked(part is not None and part.carries)
        self.soft.setValue(look.soft)
        self.overlap.setValue(look.overlap)
        self.unit.setValue(look.unit)

    def _in_pixels(self, way: float) -> float:
        return min(max(way / self._look.unit, -_FURTHEST), _FURTHEST)

    def _move(self, gesture: str = "", **changes: Any) -> None:
        part, look = self._part, self._look
        before: Move = part.move if part is not None else look.move
        move = replace(before, **changes)
        if part is None:
            self._put(replace(look, move=move), f"kit {gesture}" if gesture else "")
        else:
            self._change_part(gesture, move=move)

    def _set(self, field: str, value: float) -> None:
        changes: dict[str, Any] = {field: value}
        self._put(replace(self._look, **changes), f"kit {field}")

    def _set_share(self, percent: float) -> None:
        self._change_part("share", share=percent / 100)

    def _change_part(self, gesture: str = "", **changes: Any) -> None:
        part, number = self._part, self._number_of_part
        if part is None or number is None or self._filling:
            return
        parts = list(self._look.parts)
        parts[number] = replace(part, **changes)
        self._put(replace(self._look, parts=tuple(parts)), f"kit part {gesture}" if gesture else "")

    def _choose_part(self, row: int) -> None:
        self._number_of_part = row - 1 if row else None
        self.part_chosen.emit(self._number_of_part)
        if self._kit is not None:
            self.show_kit(self._kit)

    def _begin_part(self) -> None:
        """An empty part, to be drawn around at once."""
        parts = self._look.parts
        name = next(f"part {n}" for n in range(1, 1000) if f"part {n}" not in {part.name for part in parts})
        self._number_of_part = len(parts)
        self._put(replace(self._look, parts=(*parts, Part(name, (), Move()))))
        self.part_chosen.emit(self._number_of_part)
        self.drawing.emit(Drawing.OUTLINE)

    def _drop_part(self) -> None:
        number = self._number_of_part
        if number is not None:
            self._number_of_part = None
            self.part_chosen.emit(None)
            self._put(replace(self._look, parts=(*self._look.parts[:number], *self._look.parts[number + 1 :])))

    def _ask_color(self) -> None:
        found = QColorDialog.getColor(QColor(self._look.inside), self, "Inside the mouth")
        if found.isValid():
            self._put(replace(self._look, inside=found.name(), inside_picture=None))


class ModelSettings(Settings):
    """How a head is turned, and its jaw. Names of nodes come from the file."""

    def __init__(self) -> None:
        super().__init__()
        self.jaw, self.axis = QComboBox(), QComboBox()
        for box in (self.jaw, self.axis):
            box.setMinimumWidth(_NARROWEST)
        self.why = label("", "hint")
        self.jaw.activated.connect(self._choose_jaw)
        self.axis.addItem("automatic", None)
        for name, axis in _AXES.items():
            self.axis.addItem(f"its {name}", axis)
        self.axis.activated.connect(lambda _: self._put(replace(self._look, jaw_axis=self.axis.currentData())))
        self.fields.add("Jaw", self.jaw)
        self.fields.add("Rotation axis", self.axis)
        self.degrees = self._number("By", -120, 120, "°", self._set_degrees, "Angle, jaw fully open")
        self.other_way = button("Reverse the jaw", "Use this if the chin moves up", "quiet")
        self.other_way.clicked.connect(lambda: self._put(replace(self._look, jaw_degrees=-self._look.jaw_degrees)))
        self.front = button("Front view", "Show the whole head from the front", "quiet")
        self.front.clicked.connect(lambda: self._put(replace(self._look, yaw=0.0, pitch=0.0, zoom=1.0)))
        self.column.addWidget(self.fields)
        self.column.addWidget(self.why)
        self.column.addLayout(quiet_row(self.other_way, self.front))
        self.column.addWidget(label("Drag to rotate, scroll to zoom.", "hint"))

    @property
    def _look(self) -> Model:
        assert self._kit is not None
        assert isinstance(self._kit.look, Model)
        return self._kit.look

    def show_nodes(self, names: tuple[str, ...], found: Jaw | None) -> None:
        """The nodes of the file that was read, and the jaw among them."""
        self._filling = True
        self.jaw.clear()
        self.jaw.addItem("automatic" if found else "none found", None)
        self.jaw.addItem("none (shapes only)", "")
        for name in names:
            self.jaw.addItem(name, name)
        self.why.setText(f"The jaw: {names[found.node]} ({found.why})." if found else "No node looks like a jaw.")
        self._filling = False

    def fill(self) -> None:
        look = self._look
        self.jaw.setCurrentIndex(max(self.jaw.findData(look.jaw), 0))
        axes = [self.axis.itemData(row) for row in range(self.axis.count())]
        self.axis.setCurrentIndex(axes.index(look.jaw_axis) if look.jaw_axis in axes else 0)
        self.degrees.setValue(look.jaw_degrees)

    def _set_degrees(self, degrees: float) -> None:
        self._put(replace(self._look, jaw_degrees=degrees), "kit jaw")

    def _choose_jaw(self, row: int) -> None:
        self._put(replace(self._look, jaw=self.jaw.itemData(row)))


class ReferenceSettings(Settings):
    """A picture under the character, so that sizes can be judged."""

    def __init__(self) -> None:
        super().__init__()
        self.choose = button("Reference picture…", "A picture to compare sizes with; it is never exported", "quiet")
        self.choose.clicked.connect(lambda: self.picture_wanted.emit("reference"))
        self.remove = button("Remove reference", "Remove the reference picture", "quiet")
        self.remove.clicked.connect(lambda: self._refer(None))
        self.opacity = QSlider(Qt.Orientation.Horizontal)
        self.opacity.setRange(0, _FINE)
        self.opacity.setToolTip("Opacity of the reference picture")
        self.opacity.setAccessibleName("Opacity of the reference")
        self.opacity.valueChanged.connect(self._fade)
        self.opacity.sliderReleased.connect(self.let_go)
        self.column.addLayout(quiet_row(self.choose, self.remove))
        self.column.addWidget(self.opacity)

    def fill(self) -> None:
        assert self._kit is not None
        reference = self._kit.reference
        there = reference is not None
        self.remove.setVisible(there)
        self.opacity.setVisible(there)
        if reference is not None:
            self.opacity.setValue(round(_FINE * reference.opacity))

    def _fade(self, value: int) -> None:
        if self._kit is not None and self._kit.reference is not None and not self._filling:
            self._refer(replace(self._kit.reference, opacity=value / _FINE), "kit reference")

    def _refer(self, reference: Reference | None, gesture: str = "") -> None:
        if self._kit is not None:
            self.changed.emit(replace(self._kit, reference=reference), gesture)
