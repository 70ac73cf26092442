"""Why a name was given to a mouth: kept as an id with what it is about, put into words when it is shown."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from buccaphon.texts import N_, _


@dataclass(frozen=True, slots=True)
class Reason:
    """id: one of WORDS. about: what stands in its {0}, {1} …: names, pieces of names, sounds, numbers as text."""

    id: str
    about: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        return _(WORDS.get(self.id, self.id)).format(*self.about)


WORDS = {
    "as_told": "{0}",  # of files of earlier versions, which kept the words
    "by_hand": N_("assigned by hand"),
    "action_unit": N_("action unit {0}"),
    "viseme": N_("viseme {0} of MPEG-4"),
    "rest": N_("“{0}” means rest"),
    "remainder": N_("“{0}” means all other sounds"),
    "word": "“{0}”",
    "sounds": N_("“{0}” stands for {1}"),
    "same_word": N_("the same word, “{0}”"),
    "may_rest": N_("may be used for rest"),
    "near_pose": N_("close to the pose of {0}"),
    "same_number": N_("by order, because the counts are equal"),
    "together": N_("its words together"),
    "own_drawing": N_("its own drawing"),
    "pair": N_("the {0} side of “{1}”"),
    "shared": N_("shared"),
    "nearest_pose": N_("nearest to {0} by its pose"),
    "no_mouth": N_("“{0}” is no mouth"),
    "called_like_all": N_("its name is what all the others begin with"),
    "largest": N_("far larger than all others"),
    "largest_below": N_("the largest layer below the mouths"),
    "stranger": N_("its name is not like those of the mouths"),
    "another_way": N_("the same mouth in another way: {0}"),
    "older": N_("an older version of the same mouth"),
    "hidden": N_("a hidden layer"),
    "outside": N_("it lies outside the mouths’ group"),
    "looks": N_("as its picture looks"),
    "claims": N_("named for {0}"),
    "shows_too": N_("named for a sound like {0}"),
    "nearest_look": N_("the nearest of the drawings; none is named for {0}"),
    "shut_lips": N_("lips are shut in it"),
    "least_open": N_("the least open; no drawing has shut lips"),
    "bites_lip": N_("teeth are on the lip in it"),
    "nothing": N_("the face already has a mouth"),
    "for_the_rest": N_("for all other sounds"),
}
Reasons = tuple[Reason, ...]
BY_HAND: Reasons = (Reason("by_hand"),)


def in_words(reasons: Iterable[Reason]) -> str:
    """All reasons in one line, each said once."""
    return "; ".join(dict.fromkeys(reason.words for reason in reasons))
