"""The page itself: the chart's name, what no mouth answers to in the margin, and a card for each mouth."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPlainTextEdit, QScrollArea, QVBoxLayout, QWidget

from buccaphon.app.paint_keys import PAINT_KEYS
from buccaphon.app.session.session import Session
from buccaphon.app.specimen.card import WIDTH, Card
from buccaphon.app.specimen.chips import SoundBox
from buccaphon.app.widgets.parts import button, label
from buccaphon.errors import BuccaphonError
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.chart_making import (
    add_mouth,
    chart_from_names,
    copy_of,
    empty_chart,
    free_name,
    give_sounds,
    moved,
    parse_answers,
    place_the_rest,
    take_sounds,
    with_mouth,
    without_mouth,
)
from buccaphon.painting.theme import Theme
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.scene import ChangeChart, KeepChart
from buccaphon.project.exposing import shown_as
from buccaphon.project.state import DEFAULT_CHART
from buccaphon.texts import _

_GAP = 14  # pixels between cards
_AT_ONCE, _AHEAD = 48, 900  # cards that are made together, and pixels from the end at which more are


class SpecimenPage(QWidget):
    """Takes the galley's place while a chart is made. left: back to the galley."""

    left = pyqtSignal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._characters, self.theme = session.document, session.characters, theme
        self.setObjectName("specimen")
        self.cards: list[Card] = []
        self._room = _AT_ONCE
        self._keys: Sequence[str] = PAINT_KEYS
        self.name = QLineEdit()
        self.name.setProperty("role", "chartname")
        self.name.setAccessibleName(_("Name of the chart"))
        self.about = QLineEdit()
        self.about.setPlaceholderText(_("What it is for"))
        self.about.setAccessibleName(_("What the chart is for"))
        self.index = QComboBox()
        self.index.addItem(_("Numbers from 0"), 0)
        self.index.addItem(_("Numbers from 1"), 1)
        self.index.setToolTip(_("Whether the host numbers from 0 or from 1"))
        self.add_button = button(_("Add a mouth"), _("A new mouth at the end"))
        self.place_button = button(
            _("Assign by similarity"), _("Give each sound to the mouth that looks most like its mouth in chart Ten")
        )
        self.names_button = button(_("From names…"), _("A new chart from a list of names, one a line"))
        self.names = QPlainTextEdit()
        self.names.setPlaceholderText(_("One name per line, or separated by commas: paste your host's mouth names"))
        self.names.setAccessibleName(_("Names of a new chart's mouths"))
        self.names.setFixedHeight(96)
        self.make_button = button(_("Create the chart"), _("Names that are also in chart Ten get its poses and sounds"))
        self.back_button = button(_("Back to the line"), "Esc")
        self.margin, self.margin_title = SoundBox(), label("", "heading")
        self.standing = label("", "hint")
        self._lay_out()
        self._connect()
        self.refresh()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self.name, 1)
        head.addWidget(self.index)
        head.addWidget(self.add_button)
        head.addWidget(self.names_button)
        head.addWidget(self.back_button)
        self.sheet = _Sheet()
        area = QScrollArea()
        area.setWidget(self.sheet)
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._bar = area.verticalScrollBar()
        self._bar.valueChanged.connect(self._lay_out_more)
        margin = QVBoxLayout()
        margin.addWidget(self.margin_title)
        margin.addWidget(self.margin)
        margin.addWidget(self.place_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 16, 12, 8)
        column.setSpacing(8)
        column.addLayout(head)
        column.addWidget(self.about)
        column.addWidget(self.standing)
        column.addWidget(self.names)
        column.addWidget(self.make_button, 0, Qt.AlignmentFlag.AlignLeft)
        column.addLayout(margin)
        self.ask_for_names(asked=False)
        column.addWidget(area, 1)

    def _connect(self) -> None:
        self.name.editingFinished.connect(self._rename)
        self.about.editingFinished.connect(self._describe)
        self.index.activated.connect(lambda _value: self._count_from(self.index.currentData()))
        self.add_button.clicked.connect(lambda: self._try(add_mouth, _("Add a mouth")))
        self.place_button.clicked.connect(self._place_the_rest)
        self.names_button.clicked.connect(lambda: self.ask_for_names(asked=self.names.isHidden()))
        self.make_button.clicked.connect(self._make_from_names)
        self.back_button.clicked.connect(self.left)
        self.margin.given.connect(
            lambda sound: self._change(take_sounds(self.chart, (sound,)), _("Remove {sound}", sound=sound))
        )
        for signal in (self._document.changed, self._document.opened):
            signal.connect(self._refresh_if_seen)
        self.setEnabled(False)

    @property
    def chart(self) -> ChartDocument:
        """The chart in use as its maker left it."""
        state = self._document.state
        own = next((chart for chart in state.charts if chart.name == state.chart), None)
        return own or state.chart_in_use.document

    # --- showing -------------------------------------------------------------------------------------------------------

    def _refresh_if_seen(self, _what: object = None) -> None:
        if self.isVisible():
            self.refresh()

    def use_keys(self, keys: Sequence[str]) -> None:
        """The keys that paint the mouths, in their order; '' for none."""
        if tuple(keys) != tuple(self._keys):
            self._keys = keys
            self.refresh()

    def refresh(self) -> None:
        chart = self.chart
        self.setEnabled(self._document.state.take is not None)
        own = any(each.name == chart.name for each in self._document.state.charts)
        for line, text in ((self.name, chart.name), (self.about, chart.about)):
            if not line.hasFocus() and line.text() != text:
                line.setText(text)
        reasons = "; ".join(reason for reason, _ in chart.faults)
        whose = _("Chart of this project.") if own else _("Built-in chart. Changing it makes a copy in this project.")
        told = [whose, _("Incomplete ({reasons}), but usable.", reasons=reasons)] if reasons else [whose]
        self.standing.setText(" ".join(told))
        self.margin_title.setText(_("Sounds without a mouth") if chart.missing else "")
        self.margin.show_sounds(chart.missing)
        for part in (self.margin_title, self.margin, self.place_button):
            part.setVisible(bool(chart.missing))
        kit = self._characters.kit
        self.index.setCurrentIndex(self.index.findData(kit.names.counts_from if kit else chart.counts_from))
        self._fit_cards(min(len(chart.mouths), self._room))
        ruled, shown = chart.ruled_sounds, shown_as(self._document.state)
        for number, (card, mouth) in enumerate(zip(self.cards, chart.mouths, strict=False)):
            key = self._keys[number] if number < len(self._keys) else ""
            counted, called = shown.get(mouth.name, (number + chart.counts_from, mouth.name))
            head = [
                str(counted),
                *([called] if called != mouth.name else []),
                *([_("key {key}", key=key)] if key else []),
            ]
            card.show_mouth(mouth, " · ".join(head), ruled[number], rests=number == chart.rests)

    def _lay_out_more(self, value: int) -> None:
        """Cards are made as the page comes to them: hundreds at once would take seconds."""
        if value > self._bar.maximum() - _AHEAD and self._room < len(self.chart.mouths):
            self._room += _AT_ONCE
            self.refresh()

    def _fit_cards(self, count: int) -> None:
        while len(self.cards) > count:
            card = self.cards.pop()
            card.hide()
            card.deleteLater()
        while len(self.cards) < count:
            card, number = Card(self._characters, self.theme), len(self.cards)
            card.changed.connect(partial(self._change_mouth, number))
            card.given.connect(partial(self._give, number))
            card.gone.connect(partial(self._take_out, number))
            card.typed.connect(partial(self._type, number))
            card.asked.connect(partial(self._ask, number))
            self.cards.append(card)
        self.sheet.set_cards(self.cards)

    # --- changing ------------------------------------------------------------------------------------------------------

    def _change(self, chart: ChartDocument, name: str, gesture: str = "") -> None:
        if chart != self.chart and self._document.state.take is not None:
            self._document.apply(ChangeChart(self.chart.name, chart, name=name, gesture=gesture))

    def _try(self, step: Callable[[ChartDocument], ChartDocument], name: str) -> None:
        """What cannot be done is said in words."""
        try:
            self._change(step(self.chart), name)
        except BuccaphonError as problem:
            self._document.report(problem)

    def _change_mouth(self, number: int, changes: dict[str, object], gesture: str) -> None:
        if number >= len(self.chart.mouths):
            return
        name = changes.get("name")
        if isinstance(name, str):
            others = (mouth.name for n, mouth in enumerate(self.chart.mouths) if n != number)
            changes = {"name": free_name(name, others)}
        what = self.chart.mouths[number].name
        self._change(
            with_mouth(self.chart, number, **changes),
            _("Change {what}", what=what),
            f"{gesture} {number}" if gesture else "",
        )

    def _give(self, number: int, sound: str) -> None:
        self._change(
            give_sounds(self.chart, number, (sound,)),
            _("Assign {sound} to {name}", sound=sound, name=self.chart.mouths[number].name),
        )

    def _take_out(self, number: int, text: str) -> None:
        """A sound, or a rule."""
        rules = self.chart.mouths[number].rules
        if text in rules:
            self._change_mouth(number, {"rules": tuple(rule for rule in rules if rule != text)}, "")
        else:
            self._change(take_sounds(self.chart, (text,)), _("Remove {text}", text=text))

    def _type(self, number: int, text: str) -> None:
        def step(chart: ChartDocument) -> ChartDocument:
            sounds, rules = parse_answers(text)
            kept = tuple(dict.fromkeys((*chart.mouths[number].rules, *rules)))
            return give_sounds(with_mouth(chart, number, rules=kept), number, sounds)

        self._try(step, _("Sounds of {name}", name=self.chart.mouths[number].name))

    def _ask(self, number: int, what: str) -> None:
        chart = self.chart
        if what == "rests":
            self._change(replace(chart.document, rests=number), _("Rest on {name}", name=chart.mouths[number].name))
            self.refresh()
        elif what == "remove":
            self._change(without_mouth(chart, number), _("Remove {name}", name=chart.mouths[number].name))
        else:
            to = number + (1 if what == "later" else -1)
            self._change(moved(chart, number, to), _("Move {name}", name=chart.mouths[number].name))

    def _rename(self) -> None:
        name = self.name.text().strip()
        chart = self.chart
        if name and name != chart.name:
            self._change(replace(chart.document, name=name), _("Rename the chart to {name}", name=name))
        self.name.setText(self.chart.name)

    def _describe(self) -> None:
        self._change(replace(self.chart.document, about=self.about.text().strip()), _("Describe the chart"))

    # --- another chart -------------------------------------------------------------------------------------------------

    def begin_empty(self) -> None:
        """A chart with nothing but a mouth to rest."""
        self._document.apply(KeepChart(empty_chart(self._free(_("Chart"))), name=_("New chart")))

    def begin_copy(self) -> None:
        """The chart in use again, under a name of its own."""
        self._document.apply(KeepChart(copy_of(self.chart, self._names()), name=_("Copy the chart")))

    def ask_for_names(self, *, asked: bool = True) -> None:
        """Show where names are typed or pasted, or hide it."""
        for part in (self.names, self.make_button):
            part.setVisible(asked)
        if asked:
            self.names.setFocus()

    def _make_from_names(self) -> None:
        chart = chart_from_names(self._free(_("Chart")), self.names.toPlainText(), shipped_charts()[DEFAULT_CHART])
        if not chart.mouths:
            self._document.said.emit(_("Type or paste some names first, one a line."))
            return
        self.names.clear()
        self.ask_for_names(asked=False)
        self._document.apply(KeepChart(chart, name=_("Chart from names")))

    def _names(self) -> list[str]:
        return [*shipped_charts(), *(chart.name for chart in self._document.state.charts)]

    def _free(self, name: str) -> str:
        return free_name(name, self._names())

    def _place_the_rest(self) -> None:
        self._try(
            lambda chart: place_the_rest(chart, shipped_charts()[DEFAULT_CHART]), _("Assign sounds by similarity")
        )

    def _count_from(self, first: int) -> None:
        """In the chart, and in what the character's host counts, where one is shown."""
        chart, kit = self.chart, self._characters.kit
        edits: list[Edit] = [ChangeChart(chart.name, replace(chart.document, counts_from=first))]
        if kit is not None:
            edits.append(PutKit(replace(kit, names=replace(kit.names, counts_from=first))))
        if self._document.state.take is not None:
            self._document.apply(Together(tuple(edits), name=_("Number mouths from {first}", first=first)))


class _Sheet(QWidget):
    """Cards side by side, in as many rows as they need."""

    def __init__(self) -> None:
        super().__init__()
        self._cards: Sequence[Card] = ()

    def set_cards(self, cards: Sequence[Card]) -> None:
        for card in cards:
            if card.parentWidget() is not self:
                card.setParent(self)
                card.show()
        self._cards = tuple(cards)
        self._place()

    def resizeEvent(self, _event: object) -> None:
        self._place()

    def _place(self) -> None:
        columns = max((self.width() + _GAP) // (WIDTH + _GAP), 1)
        x = y = tallest = 0
        for number, card in enumerate(self._cards):
            if number and number % columns == 0:
                x, y, tallest = 0, y + tallest + _GAP, 0
            size = QSize(WIDTH, max(card.sizeHint().height(), card.layout().heightForWidth(WIDTH)))
            card.setGeometry(QRect(QPoint(x, y), size))
            x += WIDTH + _GAP
            tallest = max(tallest, size.height())
        self.setMinimumHeight(y + tallest + _GAP)
