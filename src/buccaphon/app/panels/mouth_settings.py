"""How mouths are chosen, in an animator's words: everywhere, or in what is selected."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from buccaphon.app.session.document import Document
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import button, label
from buccaphon.mouths.settings import DEFAULT_SETTINGS, MouthSettings, SettingsChange, SettingsRange
from buccaphon.project.edits.mouths import ChangeMouthSettings, UseLineSettings
from buccaphon.setting import settings_of, values_of
from buccaphon.texts import _
from buccaphon.timing import Span


class MouthSettingsSection(QWidget):
    """Every change is heard of at once; turning on is one step to undo."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._shown: tuple[object, ...] = ()
        self.scope = label("", "hint")
        self.form = Form(settings_of(MouthSettings))
        self.clear = button(_("Same as the whole line"), _("Remove the settings of this range"), "quiet")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for part in (self.scope, self.form, self.clear):
            column.addWidget(part)
        self.form.changed.connect(self._change)
        self.form.reset.connect(self._reset)
        self.form.let_go.connect(document.end_gesture)
        self.clear.clicked.connect(self._use_line_settings)
        for signal in (document.opened, document.changed, document.selected, document.sound_ready):
            signal.connect(self.refresh)
        self.refresh()

    @property
    def span(self) -> Span | None:
        """The range that the settings are for; None for the whole line."""
        return self._document.selected_span

    @property
    def _automatic(self) -> MouthSettings:
        """What a setting is reset to: the default, or in a range that of the whole line."""
        return DEFAULT_SETTINGS if self.span is None else self._document.state.mouth_settings

    def _change(self, name: str, value: object) -> None:
        change = SettingsChange(**{name: value})  # type: ignore[arg-type]
        self._document.apply(ChangeMouthSettings(change, self.span, gesture=f"change {name} {self.span}"))
        self._shown = ()  # what cannot be is shown as it is kept
        self.refresh()

    def _reset(self, name: str) -> None:
        self._change(name, getattr(self._automatic, name))
        self._document.end_gesture()

    def _use_line_settings(self) -> None:
        if self.span is not None:
            self._document.apply(UseLineSettings(self.span))

    def refresh(self, _what: object = None) -> None:
        state, span = self._document.state, self.span
        shown = (state.mouth_settings, _ranges(self._document), span, state.rate, state.take is None)
        if shown == self._shown:
            return
        self._shown = shown
        settings = state.mouth_settings if span is None else state.settings_track.at((span.start + span.end) / 2)
        self.setEnabled(state.take is not None)
        self.scope.setText(
            _("For the whole line. Select mouths or words to give them their own settings.")
            if span is None
            else _("For the selection only ({seconds:.2f} s).", seconds=span.length)
        )
        self.form.fill(values_of(settings), values_of(self._automatic), state.rate)
        self.clear.setVisible(span is not None and any(p.span.overlap(span) > 0 for p in _ranges(self._document)))


def _ranges(document: Document) -> tuple[SettingsRange, ...]:
    return document.state.take.mouth_ranges if document.state.take else ()
