"""What is set of a character besides dragging: a form for each kind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QColorDialog, QComboBox, QVBoxLayout, QWidget

from buccaphon.app.kitpage.stage import Drawing
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import Fields, button, label, quiet_row
from buccaphon.kits.casting import goes_over_in
from buccaphon.kits.kit import DEFAULT_OVER, CutOut, Drawn, Kit, Model, Move, Moving, Part, Place, Reference, Weights
from buccaphon.kits.model.skeleton import Jaw
from buccaphon.mouths.chart import Chart
from buccaphon.setting import Setting, settings_of, values_of, with_setting
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate

_NARROWEST = 84  # pixels


class Settings(QWidget):
    """changed: the kit as it is to be, and the gesture. let_go: the hand is off. drawing: what a press on the picture draws
    from now on. part: the part that is worked on. picture_wanted: a file is to be chosen for a use of that name."""

    changed = pyqtSignal(object, str)
    let_go = pyqtSignal()
    drawing = pyqtSignal(object)
    part_chosen = pyqtSignal(object)
    picture_wanted = pyqtSignal(str)

    def __init__(self, settings: Mapping[str, Setting]) -> None:
        super().__init__()
        self._kit: Kit | None = None
        self.form = Form(settings)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)
        self.form.changed.connect(self.turn)
        self.form.let_go.connect(self.let_go)
        self.form.reset.connect(lambda name: self.turn(name, self.automatic[name]))

    @property
    def automatic(self) -> Mapping[str, Any]:
        """What the settings are unless somebody changes them."""
        raise NotImplementedError

    def turn(self, name: str, value: Any) -> None:
        """One of the form's settings is to be another."""
        raise NotImplementedError

    def fill(self) -> None:
        """Show what is set."""
        raise NotImplementedError

    def show_kit(self, kit: Kit) -> None:
        self._kit = kit
        self.fill()

    def _put(self, look: Drawn | CutOut | Model, gesture: str = "") -> None:
        if self._kit is not None:
            self.changed.emit(replace(self._kit, look=look), gesture)


class DrawnSettings(Settings):
    """Where the mouths lie, what the rest of the face is, and how a sheet is divided."""

    def __init__(self) -> None:
        known = settings_of(Drawn)
        super().__init__({**settings_of(Place), **{name: known[name] for name in _OF_DRAWN}})
        self.face = button(
            _("Face picture…"), _("A picture of the rest of the face, for drawings without one"), "quiet"
        )
        self.face.clicked.connect(lambda: self.picture_wanted.emit("face"))
        self.back = button(_("Reset the mouths"), _("To their position in the file"), "quiet")
        self.back.clicked.connect(lambda: self._put(replace(self._look, place=Place())))
        self.column.addWidget(self.form)
        self.column.addLayout(quiet_row(self.face, self.back))

    @property
    def _look(self) -> Drawn:
        assert self._kit is not None
        assert isinstance(self._kit.look, Drawn)
        return self._kit.look

    @property
    def automatic(self) -> Mapping[str, Any]:
        return values_of(Place()) | {"anchor": Drawn().anchor, "face_over": False}

    def fill(self) -> None:
        look = self._look
        self.form.fill(values_of(look) | values_of(look.place), self.automatic)
        there = {"x", "y", "scale", "anchor"} | ({"columns", "rows"} if look.columns else set())
        self.form.show_only(there | ({"face_over"} if look.face is not None else set()))
        self.back.setEnabled(look.place != Place())

    def turn(self, name: str, value: Any) -> None:
        look = self._look
        if name in settings_of(Place):
            self._put(replace(look, place=with_setting(look.place, name, value)), f"kit {name}")
        elif name in ("columns", "rows"):  # a sheet has at least one
            self._put(with_setting(look, name, max(value, 1)))
        else:
            self._put(with_setting(look, name, value))


_OF_DRAWN = ("columns", "rows", "anchor", "face_over")


class CutOutSettings(Settings):
    """The lip line, how the piece moves, what is behind it, and the parts that follow."""

    def __init__(self) -> None:
        super().__init__(
            {
                "name": settings_of(CutOut)["name"],
                **{name: each for kind in (Move, Part, CutOut) for name, each in settings_of(kind).items()},
            }
        )
        self._number_of_part: int | None = None
        self.lip = button(
            _("Draw the lip line"), _("Then draw it over the picture, from one corner of the mouth to the other")
        )
        self.chin = button(
            _("Draw the chin"), _("Lower edge of the piece; without it a default depth is used"), "quiet"
        )
        self.lip.clicked.connect(lambda: self.drawing.emit(Drawing.LIP_LINE))
        self.chin.clicked.connect(lambda: self.drawing.emit(Drawing.CHIN))
        self.parts = QComboBox()
        self.parts.setMinimumWidth(_NARROWEST)
        self.parts.setToolTip(_("The piece below the lips, or a part that follows it"))
        self.parts.activated.connect(self._choose_part)
        self.add_part = button(
            _("Add a part"), _("A chin, a cheek or the head: draw around it in the picture"), "quiet"
        )
        self.add_part.clicked.connect(self._begin_part)
        self.drop_part = button(_("Remove part"), _("Removes the part; the picture is not changed"), "quiet")
        self.drop_part.clicked.connect(self._drop_part)
        self.inside = button(_("Colour inside the mouth…"), _("Shown inside the open mouth"), "quiet")
        self.inside.clicked.connect(self._ask_color)
        self.inside_picture = button(_("Picture inside the mouth…"), _("A picture of the mouth's inside"), "quiet")
        self.inside_picture.clicked.connect(lambda: self.picture_wanted.emit("inside"))
        self.piece = button(
            _("Separate picture for the piece…"), _("Use this instead of cutting the piece out of the face"), "quiet"
        )
        self.piece.clicked.connect(lambda: self.picture_wanted.emit("piece"))
        which = Fields()
        which.add(_("Part"), self.parts)
        self.column.addLayout(quiet_row(self.lip, self.chin))
        self.column.addWidget(which)
        self.column.addWidget(self.form)
        self.column.addLayout(quiet_row(self.add_part, self.drop_part))
        for each in (self.inside, self.inside_picture, self.piece):
            self.column.addLayout(quiet_row(each))

    @property
    def _look(self) -> CutOut:
        assert self._kit is not None
        assert isinstance(self._kit.look, CutOut)
        return self._kit.look

    @property
    def _part(self) -> Part | None:
        number = self._number_of_part
        return self._look.parts[number] if number is not None and number < len(self._look.parts) else None

    @property
    def automatic(self) -> Mapping[str, Any]:
        return {name: value for name, value in values_of(CutOut()).items() if name in ("soft", "overlap", "unit")}

    def fill(self) -> None:
        look = self._look
        names = [look.name, *(part.name for part in look.parts)]
        if names != [self.parts.itemText(row) for row in range(self.parts.count())]:
            self.parts.clear()
            self.parts.addItems(names)
            if self._number_of_part is not None and self._number_of_part >= len(look.parts):
                self._number_of_part = None
        part = self._part
        self.parts.setCurrentIndex(0 if part is None else (self._number_of_part or 0) + 1)
        move = part.move if part is not None else look.move
        values = values_of(look) | values_of(move) | values_of(part or Part("", (), move))
        lifted = part is not None and (part.lifted or part.carries)
        unit = "px" if look.unit == 1.0 else N_("host units")
        values |= {"name": look.name if part is None else part.name}
        values |= {"lifted": lifted, "x": move.x * look.unit, "y": move.y * look.unit}
        self.form.fill(values, self.automatic, units={"x": unit, "y": unit})
        for name in ("x", "y"):
            self.form.enable(name, move.moving is Moving.SLIDES)
        self.form.enable("degrees", move.moving is Moving.TURNS)
        for name in settings_of(Part):
            self.form.enable(name, part is not None)
        self.drop_part.setEnabled(part is not None)

    def turn(self, name: str, value: Any) -> None:
        look, part = self._look, self._part
        if name == "name":
            self._rename(value)
        elif name in settings_of(Move):
            value = value / look.unit if name in ("x", "y") else value
            move = with_setting(part.move if part is not None else look.move, name, value)
            if part is None:
                self._put(replace(look, move=move), f"kit {name}")
            else:
                self._change_part(name, move=move)
        elif name in settings_of(Part):
            if part is not None:
                self._change_part(name, **{name: getattr(with_setting(part, name, value), name)})
        else:
            self._put(with_setting(look, name, value), f"kit {name}")

    def _rename(self, text: str) -> None:
        """The piece or part that is worked on; two of one name could not be told from each other by their channels."""
        look, part, name = self._look, self._part, text.strip()
        others = {look.name, *(each.name for each in look.parts)} - {look.name if part is None else part.name}
        if not name or name in others:
            self.fill()
        elif part is None:
            self._put(replace(look, name=name))
        else:
            self._change_part(name=name)

    def _change_part(self, gesture: str = "", **changes: Any) -> None:
        part, number = self._part, self._number_of_part
        if part is None or number is None:
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
        found = QColorDialog.getColor(QColor(self._look.inside), self, _("Inside the mouth"))
        if found.isValid():
            self._put(replace(self._look, inside=found.name(), inside_picture=None))


class ModelSettings(Settings):
    """How a head is turned, and its jaw. Names of nodes come from the file."""

    def __init__(self) -> None:
        known = settings_of(Model)
        super().__init__({name: known[name] for name in ("jaw", "jaw_axis", "jaw_degrees")})
        self.why = label("", "hint")
        self.other_way = button(_("Reverse the jaw"), _("Use this if the chin moves up"), "quiet")
        self.other_way.clicked.connect(lambda: self._put(replace(self._look, jaw_degrees=-self._look.jaw_degrees)))
        self.front = button(_("Front view"), _("Show the whole head from the front"), "quiet")
        self.front.clicked.connect(lambda: self._put(replace(self._look, yaw=0.0, pitch=0.0, zoom=1.0)))
        self.column.addWidget(self.form)
        self.column.addWidget(self.why)
        self.column.addLayout(quiet_row(self.other_way, self.front))
        self.column.addWidget(label(_("Drag to rotate, scroll to zoom."), "hint"))

    @property
    def _look(self) -> Model:
        assert self._kit is not None
        assert isinstance(self._kit.look, Model)
        return self._kit.look

    @property
    def automatic(self) -> Mapping[str, Any]:
        return values_of(Model())

    def show_nodes(self, names: tuple[str, ...], found: Jaw | None) -> None:
        """The nodes of the file that was read, and the jaw among them."""
        first = [("automatic" if found else _("none found"), None), (_("none (shapes only)"), "")]
        self.form.offer("jaw", [*first, *((name, name) for name in names)])
        self.why.setText(
            _("The jaw: {names} ({why}).", names=names[found.node], why=found.why)
            if found
            else _("No node looks like a jaw.")
        )

    def fill(self) -> None:
        self.form.fill(values_of(self._look), self.automatic)

    def turn(self, name: str, value: Any) -> None:
        self._put(with_setting(self._look, name, value), "kit jaw" if name == "jaw_degrees" else "")


class ReferenceSettings(Settings):
    """A picture under the character, so that sizes can be judged."""

    def __init__(self) -> None:
        place = settings_of(Place)
        labels = {"x": N_("Reference across"), "y": N_("Reference down"), "scale": N_("Size of the reference")}
        hint = N_("Or hold Alt over the picture: drag moves it, the wheel sizes it")
        moved = {name: replace(place[name], label=label, hint=hint) for name, label in labels.items()}
        super().__init__({**settings_of(Reference), **moved})
        self.choose = button(
            _("Reference picture…"), _("A picture to compare sizes with; it is never exported"), "quiet"
        )
        self.choose.clicked.connect(lambda: self.picture_wanted.emit("reference"))
        self.remove = button(_("Remove reference"), _("Remove the reference picture"), "quiet")
        self.remove.clicked.connect(lambda: self._refer(None))
        self.column.addLayout(quiet_row(self.choose, self.remove))
        self.column.addWidget(self.form)

    @property
    def automatic(self) -> Mapping[str, Any]:
        return {"opacity": 0.5, "degrees": 0.0, **values_of(Place())}

    def fill(self) -> None:
        assert self._kit is not None
        reference = self._kit.reference
        for widget in (self.remove, self.form):
            widget.setVisible(reference is not None)
        if reference is not None:
            self.form.fill(values_of(reference) | values_of(reference.place), self.automatic)

    def turn(self, name: str, value: Any) -> None:
        reference = self._kit.reference if self._kit is not None else None
        if reference is not None and name in settings_of(Place):
            self._refer(replace(reference, place=with_setting(reference.place, name, value)), f"kit reference {name}")
        elif reference is not None:
            self._refer(with_setting(reference, name, value), f"kit reference {name}")

    def _refer(self, reference: Reference | None, gesture: str = "") -> None:
        if self._kit is not None:
            self.changed.emit(replace(self._kit, reference=reference), gesture)


class WeightsSettings(Settings):
    """How the weights of the mouths are made, for hosts with shapes and for a model."""

    def __init__(self) -> None:
        super().__init__(settings_of(Kit))
        self.found = label("", "hint")
        self.column.addWidget(self.form)
        self.column.addWidget(self.found)

    @property
    def automatic(self) -> Mapping[str, Any]:
        return {"weights": Weights.AUTOMATIC, "over": DEFAULT_OVER}

    def show_at(self, kit: Kit, chart: Chart, rate: FrameRate) -> None:
        """The kit at the scene's rate, in whose frames the change over is read."""
        self._kit, over = kit, goes_over_in(kit, chart)
        self.form.fill(values_of(kit), self.automatic, rate=rate)
        self.form.enable("over", over is not None)
        way = Weights.BLENDED if over is None else Weights.IN_FULL
        self.found.setText(_("Here: {way}.", way=way.label))
        self.found.setVisible(kit.weights is Weights.AUTOMATIC)

    def turn(self, name: str, value: Any) -> None:
        if self._kit is not None:
            self.changed.emit(with_setting(self._kit, name, value), f"kit {name}")
