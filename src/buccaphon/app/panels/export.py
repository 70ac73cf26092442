"""The last step: files for the animation host."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QWidget

from buccaphon.app.panels.mixes import MixesSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import Panel, button, label
from buccaphon.formats.registry import FORMATS


class ExportPanel(Panel):
    """One box a format. Files that are there already are only replaced after a second, explicit press."""

    def __init__(self, session: Session) -> None:
        super().__init__("Export")
        self._document, self._exporting, self._marking = session.document, session.exporting, session.marking
        self.boxes: dict[str, QCheckBox] = {}
        self._names: dict[str, QLabel] = {}
        self.column.addWidget(
            label("Held mouths, jaw and weights for every frame, and the timings behind them.", "hint")
        )
        self._add_formats()
        self.column.setSpacing(5)
        self.marks = label("", "hint")
        self.column.addWidget(self.marks)
        self.export_button = button("Export into a folder…", "Write the chosen files · Ctrl+E", "main")
        self.column.addWidget(self.export_button)
        self.status = label("", "hint")
        self.column.addWidget(self.status)
        self.question = QWidget()
        row = QHBoxLayout(self.question)
        row.setContentsMargins(0, 0, 0, 0)
        self.replace_button = button("Replace them", "Write over the files named above")
        self.keep_button = button("Keep them", "Write nothing", "quiet")
        row.addWidget(self.replace_button)
        row.addWidget(self.keep_button)
        row.addStretch(1)
        self.replace_button.clicked.connect(self._exporting.replace)
        self.keep_button.clicked.connect(self._exporting.keep)
        self.column.addWidget(self.question)
        self.question.hide()
        self.mixes = MixesSection(session.document)
        self.column.addWidget(self.mixes)
        self.column.addStretch(1)
        self._exporting.told.connect(self._tell)
        self._exporting.asked.connect(self._ask)
        for signal in (self._document.opened, self._document.changed, self._document.sound_ready):
            signal.connect(self.refresh)
        self._marking.marked.connect(self._count_marks)
        self._count_marks()
        self.refresh()

    def _add_formats(self) -> None:
        for form in FORMATS:
            box = QCheckBox(form.name)
            box.setChecked(form.id in self._exporting.chosen)
            box.setToolTip(f"Leaves out {form.loses}.")
            box.toggled.connect(partial(self._choose, form.id))
            self.boxes[form.id] = box
            self._names[form.id] = label("", "hint")
            self._names[form.id].setContentsMargins(23, 0, 0, 5)
            self.column.addWidget(box)
            self.column.addWidget(self._names[form.id])

    def _choose(self, ident: str, chosen: bool) -> None:
        if chosen:
            self._exporting.chosen.add(ident)
        else:
            self._exporting.chosen.discard(ident)

    def refresh(self, _what: object = None) -> None:
        self.export_button.setEnabled(self._document.recording is not None)
        for form in FORMATS:
            self.boxes[form.id].setEnabled(self._exporting.can(form))
            self._names[form.id].setText(f"{form.about}\n{self._exporting.stem}{form.ending}")

    def _count_marks(self) -> None:
        """How many are left before it goes out."""
        count = len(self._marking.found)
        told = "1 mark is left" if count == 1 else f"{count} marks are left"
        self.marks.setText(f"{told}: what a supervisor would send back. V goes through them." if count else "")
        self.marks.setVisible(bool(count))

    def _tell(self, text: str) -> None:
        self.question.hide()
        self.status.setText(text)

    def _ask(self, text: str) -> None:
        self.status.setText(text)
        self.question.show()
