"""The kit page: one character, how it is set, and its names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QScrollArea,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.kitpage.handles import with_part
from buccaphon.app.kitpage.names import NamesSection
from buccaphon.app.kitpage.settings import (
    CutOutSettings,
    DrawnSettings,
    ModelSettings,
    ReferenceSettings,
    Settings,
    WeightsSettings,
)
from buccaphon.app.kitpage.stage import Drawing, Stage
from buccaphon.app.session.characters import ROLES
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import button, label, quiet_row
from buccaphon.files import whole_text
from buccaphon.kits.kit import CutOut, Kind, Kit, Move, Moving, Point
from buccaphon.painting.characters.model import ModelCharacter
from buccaphon.painting.theme import Theme
from buccaphon.project.edits.kits import DropKit, PutKit, UseKit
from buccaphon.texts import N_, _

_PLAIN = N_("Marigold, by poses")
_SETTINGS_WIDTH, _LEAST_TABLE = 258, 210  # pixels
_UPPER = 2  # the place of the picture in the page's column, above the names
_FINE = 100
_DEFAULT_DROP = 0.35  # of the mouth's width: how far a piece slides that was just cut


class KitPage(QWidget):
    """Takes the galley's place while a character is set. left: back to the line. bring_in: one is to be brought in.
    picture_wanted: a file is to be chosen for a use of that name; list_wanted: one with names."""

    left = pyqtSignal()
    bring_in = pyqtSignal()
    picture_wanted = pyqtSignal(str)
    list_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("specimen")
        self._document, self._characters = session.document, session.characters
        self.name, self.kits = QLineEdit(), QComboBox()
        self.stage, self.names = Stage(session.characters, theme), NamesSection(session.characters, theme)
        self.drawn, self.cut_out, self.model = DrawnSettings(), CutOutSettings(), ModelSettings()
        self.reference, self.weights = ReferenceSettings(), WeightsSettings()
        self._forms: dict[Kind, Settings] = {
            Kind.DRAWN: self.drawn,
            Kind.CUT_OUT: self.cut_out,
            Kind.MODEL: self.model,
        }
        self.jaw = QSlider(Qt.Orientation.Horizontal)
        self.told = label("", "hint")
        self.bring_button = button(
            _("Add a character…"), _("A folder of drawings, a layered file, a picture or a model")
        )
        self.drop_button = button(_("Remove character"), _("Remove from the project; the files stay on disk"), "quiet")
        self.back_button = button(_("Back to the line"), "Esc")
        self._shown: Kit | None = None
        self._lay_out()
        self._connect()
        self.refresh()

    def _lay_out(self) -> None:
        self.name.setProperty("role", "name")
        self.name.setAccessibleName(_("Name of the character"))
        self.kits.setToolTip(_("The project's characters; C shows the next"))
        self.kits.setAccessibleName(_("Character"))
        head = QHBoxLayout()
        head.addWidget(self.name, 1)
        head.addWidget(self.kits)
        head.addWidget(self.bring_button)
        head.addWidget(self.back_button)
        self.jaw.setRange(0, _FINE)
        self.jaw.setToolTip(_("Drag to open the jaw; let go and it follows the line again"))
        self.jaw.setAccessibleName(_("Test the jaw"))
        inner = QWidget()
        side = QVBoxLayout(inner)
        side.setSpacing(6)
        side.setContentsMargins(0, 0, 4, 0)
        for form in (self.drawn, self.cut_out, self.model, self.weights, self.reference):
            side.addWidget(form)
        side.addLayout(quiet_row(self.drop_button))
        side.addStretch(1)
        holder = _scrolling(inner)
        holder.setFixedWidth(_SETTINGS_WIDTH)
        picture = QVBoxLayout()
        picture.addWidget(self.stage, 1)
        tried = QHBoxLayout()
        tried.addWidget(label(_("Test the jaw"), "field"))
        tried.addWidget(self.jaw, 1)
        picture.addLayout(tried)
        upper = QHBoxLayout()
        upper.setSpacing(14)
        upper.addLayout(picture, 1)
        upper.addWidget(holder)
        self.names.setMinimumHeight(_LEAST_TABLE)
        self._column = column = QVBoxLayout(self)
        column.setContentsMargins(20, 14, 20, 12)
        column.setSpacing(8)
        column.addLayout(head)
        column.addWidget(self.told)
        column.addLayout(upper, 2)
        column.addWidget(self.names, 4)

    def _connect(self) -> None:
        self.back_button.clicked.connect(self.left)
        self.bring_button.clicked.connect(self.bring_in)
        self.drop_button.clicked.connect(self._drop)
        self.name.editingFinished.connect(self._rename)
        self.kits.activated.connect(lambda _value: self._document.apply(UseKit(self.kits.currentData())))
        self.jaw.sliderPressed.connect(lambda: self._try(self.jaw.value()))
        self.jaw.valueChanged.connect(self._try)
        self.jaw.sliderReleased.connect(self._let_jaw_go)
        self.stage.changed.connect(self.put)
        self.stage.let_go.connect(self._end_gesture)
        self.stage.drawn.connect(self._take_line)
        self.names.changed.connect(self.put)
        self.names.said.connect(self._document.said)
        self.names.list_wanted.connect(self.list_wanted)
        for form in (self.drawn, self.cut_out, self.model, self.weights, self.reference):
            form.changed.connect(self.put)
            form.let_go.connect(self._end_gesture)
            form.picture_wanted.connect(self.picture_wanted)
        self.cut_out.drawing.connect(self.draw)
        self.cut_out.part_chosen.connect(self._work_on)
        for signal in (self._document.opened, self._document.changed, self._characters.cast, self._characters.redrawn):
            signal.connect(self.refresh)

    def use_keys(self, keys: Sequence[str]) -> None:
        """The keys of the mouths, in their order."""
        self.names.drawings.use_keys(keys)

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        if not self.isVisible():
            return
        state, kit = self._document.state, self._characters.kit
        listed = [(_(_PLAIN), ""), *((each.name, each.name) for each in state.kits)]
        if listed != [(self.kits.itemText(row), self.kits.itemData(row)) for row in range(self.kits.count())]:
            self.kits.clear()
            for text, name in listed:
                self.kits.addItem(text, name)
        self.kits.setCurrentIndex(self.kits.findData(state.kit))
        if not self.name.hasFocus():
            self.name.setText(kit.name if kit else _(_PLAIN))
            self.name.setCursorPosition(0)
        self.name.setEnabled(kit is not None)
        for widget in (self.names, self.reference, self.drop_button, self.jaw):
            widget.setEnabled(kit is not None)
        character = self._characters.character
        told = self._characters.problem or (" ".join(character.told[:3]) if character is not None else "")
        if kit is None:
            told = _("Add a character, or drop its folder or file anywhere: drawings, a picture to cut, or a 3D head.")
        self.told.setText(told)
        self.told.setVisible(bool(told))
        for kind, form in self._forms.items():
            form.setVisible(kit is not None and kit.kind is kind)
        for form in (self.weights, self.reference):
            form.setVisible(kit is not None)
        if kit is None:
            self.names.hide()
            return
        strip = kit.kind is Kind.DRAWN  # its drawings stand below the table, which shows ten rows all the same
        self._column.setStretch(_UPPER, 2 if strip else 1)
        self._column.setStretch(_UPPER + 1, 4 if strip else 1)
        self.names.show()
        self._show_form(kit, character)
        self.reference.show_kit(kit)
        self.weights.show_at(kit, self._document.chart, state.rate)
        self.names.show_kit(kit, self._document.chart)
        self.stage.update()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _show_form(self, kit: Kit, character: object) -> None:
        form = self._forms[kit.kind]
        if self._shown is None or self._shown.name != kit.name or self._shown.kind is not kit.kind:
            self._work_on(None)
            self.stage.drawing = Drawing.NOTHING
        if isinstance(character, ModelCharacter):
            self.model.show_nodes(character.nodes, character.found_jaw)
        self._shown = kit
        form.show_kit(kit)
        if isinstance(kit.look, CutOut) and not kit.look.lip_line and self.stage.drawing is Drawing.NOTHING:
            self.draw(Drawing.LIP_LINE)

    # --- changing ------------------------------------------------------------------------------------------------------

    def put(self, kit: Kit, gesture: str = "") -> None:
        """The character as it is to be; moves of one gesture are one step."""
        before = self._characters.kit
        if gesture == ROLES:
            self._end_gesture()  # each choice is a step, with what reading the files after it finds
        if before is not None and kit != before:
            self._document.attempt(
                PutKit(kit, instead_of=before.name, name=_("Set {name}", name=before.name), gesture=gesture)
            )

    def draw(self, drawing: Drawing) -> None:
        """From now on a press on the picture draws a line."""
        self.stage.drawing = drawing
        self.stage.setCursor(Qt.CursorShape.CrossCursor)
        says = {
            Drawing.LIP_LINE: _("Draw the lip line over the picture, from one corner of the mouth to the other."),
            Drawing.CHIN: _("Draw the lower edge of the moving piece, from one side to the other."),
            Drawing.OUTLINE: _("Draw around the part in the picture."),
        }
        self._document.said.emit(says[drawing])

    def _take_line(self, line: tuple[Point, ...]) -> None:
        kit, drawing = self._characters.kit, self.stage.drawing
        self.stage.drawing = Drawing.NOTHING
        if kit is None or not isinstance(kit.look, CutOut) or len(line) < 2:
            return
        look = kit.look
        if drawing is Drawing.LIP_LINE:
            drop = abs(line[-1][0] - line[0][0]) * _DEFAULT_DROP
            moves = look.move if look.lip_line else Move(Moving.SLIDES, y=drop)
            self.put(replace(kit, look=replace(look, lip_line=line, move=moves)))
        elif drawing is Drawing.CHIN:
            self.put(replace(kit, look=replace(look, chin=line)))
        elif drawing is Drawing.OUTLINE and self.stage.part is not None and self.stage.part < len(look.parts):
            part = look.parts[self.stage.part]
            pivot = (sum(x for x, _ in line) / len(line), max(y for _, y in line))
            self.put(with_part(kit, self.stage.part, replace(part, outline=line, move=replace(part.move, pivot=pivot))))

    def _work_on(self, part: int | None) -> None:
        self.stage.part = part
        self.stage.update()

    def _try(self, value: int) -> None:
        if self.jaw.isSliderDown():
            self.stage.jaw = value / _FINE
            self.stage.update()

    def _let_jaw_go(self) -> None:
        self.stage.jaw = None
        self.stage.update()

    def _end_gesture(self) -> None:
        self._document.project.end_gesture()

    def _rename(self) -> None:
        kit, name = self._characters.kit, whole_text(self.name.text().strip())
        if kit is not None and name and name != kit.name:
            if name in (each.name for each in self._document.state.kits):
                self._document.said.emit(_("There is a character called {name} already.", name=name))
                self.name.setText(kit.name)
            else:
                self.put(replace(kit, name=name))

    def _drop(self) -> None:
        kit = self._characters.kit
        if kit is not None:
            self._document.apply(DropKit(kit.name))


def _scrolling(inner: QWidget) -> QScrollArea:
    """Forms that scroll where the page is too low for them."""
    area = QScrollArea()
    area.setWidget(inner)
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return area
