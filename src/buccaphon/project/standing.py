"""How far somebody has come with a scene."""

from __future__ import annotations

from buccaphon.choice import Choice
from buccaphon.texts import N_


class Standing(Choice):
    """Kept in the scene's file, and with who said so and when in the docket of its folder."""

    TO_DO = "to-do", N_("to do")
    LOOKED_AT = "looked-at", N_("looked at")
    DELIVERED = "delivered", N_("delivered")
