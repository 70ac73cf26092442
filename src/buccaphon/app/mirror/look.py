"""How the mirror shows the face, as data that is remembered."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.app.settings import Remembered
from buccaphon.choice import Choice
from buccaphon.texts import N_


class Beside(Choice):
    """What stands beside the face."""

    NOTHING = "nothing", N_("nothing")
    CHART = "chart", N_("the chart's mouth")
    EARLIER = "earlier", N_("the mouth before the last change")


class Backdrop(Choice):
    """What is behind the face."""

    NIGHT = "night", N_("dark")
    PAPER = "paper", N_("light")
    CHECKER = "checker", N_("checkerboard")
    COLOR = "color", N_("a colour")


@dataclass(frozen=True, slots=True)
class MirrorLook:
    """only_mouth: nothing but the mouth is seen, large. color: behind the face, where a colour is."""

    only_mouth: bool = False
    beside: Beside = Beside.NOTHING
    backdrop: Backdrop = Backdrop.NIGHT
    color: str = "#3fae5a"

    def next_beside(self) -> MirrorLook:
        order = list(Beside)
        return replace(self, beside=order[(order.index(self.beside) + 1) % len(order)])

    def next_backdrop(self) -> MirrorLook:
        order = list(Backdrop)
        return replace(self, backdrop=order[(order.index(self.backdrop) + 1) % len(order)])

    def toggled(self) -> MirrorLook:
        return replace(self, only_mouth=not self.only_mouth)


MIRROR = Remembered("mirror", MirrorLook, MirrorLook(), N_("How the mirror shows the face"))
