"""Sets of followers to begin from, under plain names."""

from __future__ import annotations

from collections.abc import Mapping

from buccaphon.motion.followers import LOUDNESS, Follower, Shake, Switch, Unit
from buccaphon.texts import N_


def starting_points(by: str) -> Mapping[str, tuple[Follower, ...]]:
    """Followers by the name of the set, in English. by: what moves the mouth open: the gap of the lips, or loudness."""
    voice = LOUDNESS
    return {
        N_("Puppet jaw, two axes"): (
            Follower("jaw turn", by, (0.0, 0.9), (0.0, 24.0), Unit.DEGREES),
            Follower("jaw drop", by, (0.0, 0.9), (0.0, 14.0), Unit.PIXELS, lag=0.02),
        ),
        N_("Cut-out head: chin, jaw, cheek, head"): (
            Follower("chin slide", by, (0.1, 0.9), (0.0, 18.0), Unit.PIXELS),
            Follower("jaw hinge", by, (0.1, 0.9), (0.0, 9.0), Unit.DEGREES),
            Follower("cheek", by, (0.1, 0.9), (0.0, -5.0), Unit.PIXELS, lag=0.04, smoothing=0.04),
            Follower("head about the neck", by, (0.2, 1.0), (0.0, -3.0), Unit.DEGREES, lag=0.08, smoothing=0.12),
        ),
        N_("Lantern that flickers with the voice"): (
            Follower("lantern", voice, gives=(0.25, 0.9), smoothing=0.03, least=0.0, most=1.0, shake=Shake(0.12, 9.0, 3)),
        ),
        N_("Head that nods with the voice"): (
            Follower("nod", voice, (0.3, 1.0), (0.0, 5.0), Unit.DEGREES, lag=0.05, smoothing=0.15),
            Follower("sway", voice, (0.0, 1.0), (0.0, 0.5), Unit.DEGREES, smoothing=0.3, shake=Shake(1.5, 0.8, 7)),
        ),
        N_("A part that is shown or hidden"): (
            Follower("open mouth shown", by, (0.0, 1.0), (0.0, 1.0), switch=Switch(0.3, 0.15)),
        ),
    }  # fmt: skip
