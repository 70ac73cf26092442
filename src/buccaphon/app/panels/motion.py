"""Step four: loudness, what follows, the clean-up and curves by hand."""

from __future__ import annotations

from PyQt6.QtWidgets import QScrollArea, QWidget

from buccaphon.app.panels.clean_up import CleanUpSection
from buccaphon.app.panels.followers import FollowersSection
from buccaphon.app.panels.loudness import LoudnessSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.fold import Fold
from buccaphon.app.widgets.parts import Panel
from buccaphon.painting.theme import Theme
from buccaphon.texts import _


class MotionPanel(Panel):
    """Four parts; all but the first are folded away until they are asked for. drawing: the part on curves by hand."""

    def __init__(self, session: Session, theme: Theme, drawing: QWidget) -> None:
        super().__init__(_("Motion"))
        self._session = session
        self.loudness_settings, self.followers = LoudnessSection(session, theme), FollowersSection(session, theme)
        self.clean_up = CleanUpSection(session)
        self.folds = {
            "loudness": Fold(
                _("Loudness"), _("How loudness becomes motion: floor, ceiling, speed, amount"), is_open=True
            ),
            "followers": Fold(_("Followers"), _("Channels driven by other channels")),
            "clean-up": Fold(_("Clean-up"), _("Processing of finished curves")),
            "drawing": Fold(_("Curves by hand"), _("The curve in each lane, and your drawing over it")),
        }
        sections = (self.loudness_settings, self.followers, self.clean_up, drawing)
        for fold, section in zip(self.folds.values(), sections, strict=True):
            fold.body.addWidget(section)
            self.column.addWidget(fold)
        self.column.setSpacing(6)
        self.column.addStretch(1)
        for signal in (session.document.opened, session.document.changed):
            signal.connect(self._count)
        self._count()

    def show_part(self, name: str) -> None:
        """Fold a part out, the others away, and have it in view."""
        for other, fold in self.folds.items():
            fold.set_open(other == name)
        fold = self.folds[name]
        fold.button.setFocus()
        above = self.parentWidget()
        while above is not None and not isinstance(above, QScrollArea):
            above = above.parentWidget()
        if above is not None:
            self.adjustSize()
            above.ensureWidgetVisible(fold.button, 0, 400)

    def _count(self, _what: object = None) -> None:
        state = self._session.document.state
        self.folds["followers"].note(str(len(state.followers) or ""))
        self.folds["clean-up"].note(str(sum(step.on for step in state.steps) or ""))
        drawn = state.take.curves if state.take else ()
        self.folds["drawing"].note(str(len(drawn) or ""))
