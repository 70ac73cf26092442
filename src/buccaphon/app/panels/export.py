"""The last step: files for the animation host."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLabel, QWidget

from buccaphon.app.panels.parts import Panel, button, label
from buccaphon.app.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.files import is_there, write_whole
from buccaphon.formats.registry import KEY_FORMATS, TIMING_FORMATS


class ExportPanel(Panel):
    """One box a format. Files that are there already are only replaced after a second, explicit press."""

    def __init__(self, session: Session) -> None:
        super().__init__("Export")
        self._session = session
        self._folder: Path | None = None
        self.boxes: dict[str, QCheckBox] = {}
        self._names: dict[str, QLabel] = {}
        self.column.addWidget(
            label("Held mouths, jaw and weights for every frame, and the timings behind them.", "hint")
        )
        self._add_formats()
        self.column.setSpacing(5)
        self.export_button = button("Export into a folder…", "Write the chosen files · Ctrl+E", "main")
        self.export_button.clicked.connect(self.choose_folder)
        self.column.addWidget(self.export_button)
        self.status = label("", "hint")
        self.column.addWidget(self.status)
        self._question = QWidget()
        row = QHBoxLayout(self._question)
        row.setContentsMargins(0, 0, 0, 0)
        self.replace_button = button("Replace them", "Write over the files named above")
        self.keep_button = button("Keep them", "Write nothing", "quiet")
        row.addWidget(self.replace_button)
        row.addWidget(self.keep_button)
        row.addStretch(1)
        self.replace_button.clicked.connect(lambda: self._write(self._folder))
        self.keep_button.clicked.connect(self._keep)
        self.column.addWidget(self._question)
        self._question.hide()
        self.column.addStretch(1)
        for signal in (session.opened, session.changed, session.sound_ready):
            signal.connect(self.refresh)
        self.refresh()

    def _add_formats(self) -> None:
        chosen = {".keys.csv", ".keys.json", ".TextGrid"}
        keys = [(f".keys{form.suffix}", form) for form in KEY_FORMATS]
        timings = [
            (form.suffix if form.suffix == ".TextGrid" else f".timings{form.suffix}", form) for form in TIMING_FORMATS
        ]
        for ending, form in (*keys, *timings):
            box = QCheckBox(form.name)
            box.setChecked(ending in chosen)
            box.setToolTip(f"Leaves out {form.loses}.")
            self.boxes[ending] = box
            self._names[ending] = label("", "hint")
            self._names[ending].setContentsMargins(23, 0, 0, 5)
            self.column.addWidget(box)
            self.column.addWidget(self._names[ending])
        self._formats = dict((*keys, *timings))

    def refresh(self, _what: object = None) -> None:
        ready = self._session.recording is not None
        self.export_button.setEnabled(ready)
        for ending, box in self.boxes.items():
            needs_words = self._formats[ending] in TIMING_FORMATS
            box.setEnabled(ready and (not needs_words or self._session.score is not None))
            self._names[ending].setText(f"{self._formats[ending].about}\n{self._stem()}{ending}")

    def choose_folder(self) -> None:
        begin = self._folder or (self._session.project.path or Path.home() / "x").parent
        name = QFileDialog.getExistingDirectory(self, "Export into", str(begin))
        if name:
            self.export(Path(name))

    def export(self, folder: Path) -> None:
        """Write the chosen files into a folder; asks first when some are there already."""
        self._folder = folder
        there = [target.name for target in self._targets(folder).values() if is_there(target)]
        if there:
            self.status.setText(f"Already in {folder}: {', '.join(there)}")
            self._question.show()
            return
        self._write(folder)

    def _targets(self, folder: Path) -> dict[str, Path]:
        chosen = [ending for ending, box in self.boxes.items() if box.isChecked() and box.isEnabled()]
        return {ending: folder / f"{self._stem()}{ending}" for ending in chosen}

    def _stem(self) -> str:
        return self._session.title.replace(" ", "_")

    def _write(self, folder: Path | None) -> None:
        self._question.hide()
        derived, score = self._session.derived, self._session.score
        if folder is None or derived is None:
            return
        bake = derived.delivery(self._session.state)
        written = []
        try:
            for ending, target in self._targets(folder).items():
                form = self._formats[ending]
                write_whole(target, form.write(score if form in TIMING_FORMATS else bake))
                written.append(target.name)
        except BuccaphonError as problem:
            self._session.report(problem)
        if written:
            self.status.setText(f"Written into {folder}: {', '.join(written)}")
        else:
            self.status.setText("Nothing was chosen." if not self._targets(folder) else "Nothing was written.")

    def _keep(self) -> None:
        self._question.hide()
        self.status.setText("Nothing was written.")
