"""How the mirror shows the face, as data that is remembered."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum

from buccaphon.app.settings import MIRROR


class Beside(Enum):
    """What stands beside the face."""

    NOTHING = "nothing"
    CHART = "the chart's mouth"
    EARLIER = "the mouth before the last change"


class Backdrop(Enum):
    """What is behind the face."""

    NIGHT = "night"
    PAPER = "paper"
    CHECKER = "checker"
    COLOR = "a colour"


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

    def remember(self) -> None:
        MIRROR.write(
            "; ".join(("mouth" if self.only_mouth else "face", self.beside.name, self.backdrop.name, self.color))
        )


def remembered_look() -> MirrorLook:
    """As it was left; the usual one where nothing that makes sense is kept."""
    parts = MIRROR.read().split("; ")
    if len(parts) != 4 or parts[1] not in Beside.__members__ or parts[2] not in Backdrop.__members__:
        return MirrorLook()
    return MirrorLook(parts[0] == "mouth", Beside[parts[1]], Backdrop[parts[2]], parts[3])
