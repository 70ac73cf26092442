"""A mouth of the chart as a card: its drawing large, its name, the sounds it answers to, its pose, its number and key."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.specimen.chips import SoundBox, sound_in
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import button, label
from buccaphon.mouths.chart import Mouth
from buccaphon.mouths.pose import Pose
from buccaphon.painting.theme import Theme
from buccaphon.setting import settings_of, values_of, with_setting
from buccaphon.texts import _

WIDTH = 292  # pixels of a card
_TALL = 96  # of its drawing


class Drawing(QWidget):
    """A mouth, large."""

    def __init__(self, characters: CharacterLoader, theme: Theme) -> None:
        super().__init__()
        self._theme, self._characters, self.mouth = theme, characters, Mouth("", Pose(), ())
        self.setFixedHeight(_TALL)
        characters.redrawn.connect(self.update)

    def show_mouth(self, mouth: Mouth) -> None:
        if mouth != self.mouth:
            self.mouth = mouth
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(WIDTH - 32, _TALL)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self._theme.edge), 1, Qt.PenStyle.DotLine))
        box = QRectF(self.rect()).adjusted(8, 0, -8, 0)
        line = round(box.center().y() - 0.18 * min(box.width() / 2.1, box.height() / 1.32))  # where closed lips meet
        painter.drawLine(6, line, self.width() - 6, line)
        self._characters.painter(self._theme)(painter, self.mouth, box)


class Card(QFrame):
    """changed: the mouth as it is to be, and what is under way (gesture). given: a sound is to come here. typed: sounds and
    rules were typed. asked: what is to be done with the card ('earlier', 'later', 'rests', 'remove')."""

    changed = pyqtSignal(object, str)
    given = pyqtSignal(str)
    gone = pyqtSignal(str)
    typed = pyqtSignal(str)
    asked = pyqtSignal(str)

    def __init__(self, characters: CharacterLoader, theme: Theme) -> None:
        super().__init__()
        self.setProperty("role", "card")
        self.setFixedWidth(WIDTH)
        self.setAcceptDrops(True)
        self.mouth = Mouth("", Pose(), ())
        self.drawing = Drawing(characters, theme)
        self.number = label("", "field")
        self.name = QLineEdit()
        self.name.setProperty("role", "name")
        self.name.setAccessibleName(_("Name"))
        self.name.setToolTip(_("The mouth's name"))
        self.sounds = SoundBox()
        self.answers = QLineEdit()
        self.answers.setPlaceholderText(_("p b m, P B M, or rounded vowels"))
        self.answers.setAccessibleName(_("Add sounds to this mouth"))
        self.answers.setToolTip(_("Type sounds in IPA or ARPAbet, or a rule, and press Return"))
        self.rests = QCheckBox(_("Shown in silence"))
        self.rests.setToolTip(_("The mouth of pauses; any mouth of the chart can be it, whatever its number"))
        self.contact = QCheckBox(_("Contact: always shown"))
        self.contact.setToolTip(_("Lips or teeth touch, so it is shown at every frame rate"))
        self.pose = Form(settings_of(Pose), columns=2)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.earlier = button(
            "‹", _("Move up. The order sets keys, and numbers where no character has its own"), "quiet"
        )
        self.later = button("›", _("Move down"), "quiet")
        self.remove = button("×", _("Remove this mouth"), "quiet")
        head = QHBoxLayout()
        head.addWidget(self.number)
        head.addStretch(1)
        for each in (self.earlier, self.later, self.remove):
            each.setFixedWidth(24)
            head.addWidget(each)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 14, 12)
        column.setSpacing(5)
        column.addLayout(head)
        for piece in (self.drawing, self.name, self.sounds, self.answers, self.pose):
            column.addWidget(piece)
        column.addWidget(self.contact)
        column.addWidget(self.rests)

    def _connect(self) -> None:
        self.name.editingFinished.connect(self._rename)
        self.contact.clicked.connect(lambda on: self._change("contact", on, ""))
        self.pose.changed.connect(self._turn)
        self.answers.returnPressed.connect(self._type)
        self.sounds.given.connect(self.given)
        self.sounds.gone.connect(self.gone)
        for each, what in (
            (self.earlier, "earlier"),
            (self.later, "later"),
            (self.rests, "rests"),
            (self.remove, "remove"),
        ):
            each.clicked.connect(self._asking(what))

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Anywhere on the card a sound can be dropped."""
        if sound_in(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        if sound := sound_in(event):
            event.acceptProposedAction()
            self.given.emit(sound)

    def _asking(self, what: str) -> Callable[[], None]:
        return lambda: self.asked.emit(what)

    # --- showing -------------------------------------------------------------------------------------------------------

    def show_mouth(self, mouth: Mouth, number: str, ruled: tuple[str, ...], *, rests: bool) -> None:
        """number: as it is counted, with its key. ruled: sounds that it answers to by a rule."""
        self.mouth = mouth
        self.number.setText(number)
        self.rests.setChecked(rests)
        self.drawing.show_mouth(mouth)
        if not self.name.hasFocus() or self.name.text() != mouth.name:
            self.name.setText(mouth.name)
        self.sounds.show_sounds(mouth.sounds, mouth.rules, ruled)
        self.contact.setChecked(mouth.contact)
        self.pose.fill(values_of(mouth.pose))

    # --- changing ------------------------------------------------------------------------------------------------------

    def _turn(self, part: str, value: float) -> None:
        self._change("pose", with_setting(self.mouth.pose, part, value), f"pose {part}")

    def _rename(self) -> None:
        name = self.name.text().strip()
        if name and name != self.mouth.name:
            self._change("name", name, "")
        elif not name:
            self.name.setText(self.mouth.name)

    def _type(self) -> None:
        text = self.answers.text()
        self.answers.clear()
        self.typed.emit(text)

    def _change(self, part: str, value: object, gesture: str) -> None:
        self.changed.emit({part: value}, gesture)
