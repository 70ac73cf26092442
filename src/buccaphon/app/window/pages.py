"""The pages that are made when they are first asked for: starting need not wait for them."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QStackedWidget, QWidget

from buccaphon.app.commands import docket, kits
from buccaphon.app.commands.desk import Desk, View
from buccaphon.app.commands.shortcuts import painting_keys
from buccaphon.app.docket.page import DocketPage
from buccaphon.app.kitpage.page import KitPage
from buccaphon.app.session.session import Session
from buccaphon.painting.theme import Theme


class LatePages:
    def __init__(
        self,
        views: QStackedWidget,
        session: Session,
        theme: Theme,
        desk: Callable[[], Desk],
        added: Callable[[QWidget], None],
    ) -> None:
        """views: what all pages stand in. added: is told of a page that is new."""
        self._views, self._session, self._theme, self._desk, self._added = views, session, theme, desk, added
        self._made: dict[View, QWidget] = {}
        self.kit_if_made: KitPage | None = None
        self._docket: DocketPage | None = None

    @property
    def kit(self) -> KitPage:
        """The character."""
        if self.kit_if_made is None:
            page = self.kit_if_made = KitPage(self._session, self._theme)
            page.use_keys(painting_keys(self._desk().shortcuts.keys))
            kits.connect_page(self._desk(), page)
            self._take(View.KIT, page)
        return self.kit_if_made

    @property
    def docket(self) -> DocketPage:
        """The scenes of a folder."""
        if self._docket is None:
            page = self._docket = DocketPage(self._session.docketing, self._theme)
            docket.connect_page(self._desk(), page)
            self._take(View.DOCKET, page)
        return self._docket

    def _take(self, view: View, page: QWidget) -> None:
        self._made[view] = page
        self._added(page)
        self._views.addWidget(page)

    def view(self) -> View:
        """What stands in the middle of the window."""
        shown = self._views.currentWidget()
        return next((view for view, page in self._made.items() if page is shown), View(self._views.currentIndex()))
