"""What is known of one drawing or layer of a character's artwork."""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.choice import Choice
from buccaphon.kits.names.reasons import Reasons
from buccaphon.mouths.pose import Pose
from buccaphon.texts import N_


class Role(Choice):
    """What a drawing is for."""

    MOUTH = "mouth", N_("mouth")
    FACE = "face", N_("face under the mouth")
    OVER = "over", N_("over the mouth")
    FACE_OF_MOUTH = "face of a mouth", N_("face of one mouth")
    OTHER_WAY = "another way", N_("another mood or view")
    GUIDE = "guide", N_("guide")
    UNUSED = "unused", N_("not used")


@dataclass(frozen=True, slots=True)
class OwnDrawing:
    """One drawing of a folder, or one layer of a file. why: the reasons for its role. by_hand: somebody chose it. look: as
    its picture looks, where its name says nothing of it."""

    name: str
    role: Role = Role.MOUTH
    why: Reasons = ()
    by_hand: bool = False
    look: Pose | None = None
