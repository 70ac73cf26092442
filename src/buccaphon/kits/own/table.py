"""The one table of a character's own drawings: which of them shows each sound, silence, and each mouth of a chart."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from buccaphon.kits.names.reasons import BY_HAND, Reason, Reasons
from buccaphon.kits.own.claims import Row, read_claims
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.looks import LIPS, LOOKS, OPEN_SOUNDS, SEEN, TEETH_ON_LIP, VOWELS, apart
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.speech.phones import PAUSE, SOUNDS, looks_like

NOTHING = ""  # the name of what is shown where none of the drawings is: the face as it is

_FAR = 0.32  # from all other drawings: a consonant goes to the drawing for “others”
_UNSURE = 0.7  # from the nearest drawing: somebody should look
_ROUNDED = 0.3  # of a sound, from which a drawing for w or r may show it
_GATHERED = 0.5  # of a drawing, from which it may stand for w and r
_SHAPE_SHARE = 0.5  # of the distance to a mouth's pose beside that to its sounds


@dataclass(frozen=True, slots=True)
class Answer:
    """A drawing by its name, NOTHING for none. sure: it needs no look."""

    name: str
    why: Reasons = ()
    sure: bool = True


@dataclass(frozen=True, eq=False)
class Table:
    """mouths: the drawings that are mouths, in the file's order. answers: for each English sound. rest: for silence."""

    mouths: tuple[Row, ...]
    answers: Mapping[str, Answer]
    rest: Answer

    def answer(self, sound: str) -> Answer:
        """The drawing for a sound of any language, or for a pause."""
        return self.rest if sound == PAUSE else self.answers[looks_like(sound)]

    def for_chart(self, chart: Chart) -> Mapping[str, Answer]:
        """The drawing for each mouth of a chart, by the mouth's name; nothing at all without any drawing."""
        return _for_chart(self, chart) if self.mouths else {}

    def shown_for(self, mouth: Mouth, chart: Chart) -> Answer:
        """The drawing for one mouth of a chart."""
        if mouth is chart.rest and self.rest.why == BY_HAND:
            return self.rest
        if mouth.name in {row.name for row in self.mouths}:
            return Answer(mouth.name, (Reason("own_drawing"),))
        return self.rest if mouth is chart.rest else self._for_mouth(mouth)

    def _for_mouth(self, mouth: Mouth) -> Answer:
        """Of the drawings that its sounds have the one that is nearest to all of them, each weighed as it is seen, and to its
        pose. A contact has a drawing that meets, what is none never; a mouth with vowels never one for tongue and teeth."""
        if mouth.contact and mouth.sounds:
            return self.answers[looks_like(mouth.sounds[0])]
        own = {self.answer(sound).name for sound in mouth.sounds}
        meets = [row for row in self.mouths if (row.shut or row.bites) == mouth.contact]
        pool = [row for row in meets if row.name in own] or meets or list(self.mouths)
        if VOWELS & set(mouth.sounds):
            pool = [row for row in pool if row.for_vowels] or pool

        def cost(row: Row) -> float:
            seen = [(SEEN.get(sound, 1.0), self._away(row, sound)) for sound in map(looks_like, mouth.sounds)]
            mean = sum(w * away for w, away in seen) / sum(w for w, _away in seen) if seen else 0.0
            return mean + _SHAPE_SHARE * apart(row.look, mouth.pose)

        best = min(pool, key=cost)
        named = next((self.answer(sound) for sound in mouth.sounds if self.answer(sound).name == best.name), None)
        if named is not None:
            return named
        return Answer(best.name, (Reason("nearest_pose", (mouth.name,)),), sure=cost(best) < _UNSURE)

    def _away(self, row: Row, sound: str) -> float:
        return 0.0 if self.answers[sound].name == row.name else row.away(sound)


@lru_cache(maxsize=4)  # charts are large, and few are in use
def _for_chart(table: Table, chart: Chart) -> Mapping[str, Answer]:
    return {mouth.name: table.shown_for(mouth, chart) for mouth in chart.mouths}


def table_of(drawings: Sequence[OwnDrawing], rest: str | None = None, *, may_show_nothing: bool = False) -> Table:
    """The table of a character's drawings. rest: the drawing that somebody chose for silence, NOTHING for none of them;
    None for the one that is found. may_show_nothing: the face has a mouth of its own."""
    own = [each for each in drawings if each.role in (Role.MOUTH, Role.OTHER_WAY)]
    rows = read_claims([each.name for each in own])
    for row, each in zip(rows, own, strict=True):
        row.role = each.role
        if not row.says and each.look is not None:
            row.pose, row.why = each.look, (Reason("looks"),)
    mouths = [row for row in rows if row.role is Role.MOUTH]
    chosen = rest if rest in (NOTHING, *(row.name for row in mouths)) else None
    answers = _Answers(mouths, may_show_nothing or chosen == NOTHING)
    found = answers.silence() if chosen is None else Answer(chosen, BY_HAND)
    return Table(tuple(mouths), {sound: answers.of(sound) for sound in SOUNDS} if mouths else {}, found)


class _Answers:
    """Which drawing shows a sound: one that is named for it, else the nearest by what the lips do, under rules that no
    distance may break: a vowel never has shut lips or teeth on them while another drawing is left, p b m always have."""

    def __init__(self, mouths: list[Row], may_show_nothing: bool) -> None:
        self.mouths, self.may_show_nothing = mouths, may_show_nothing
        self.shut = [row for row in mouths if row.shut]
        self.bites = [row for row in mouths if row.bites]
        moving = [row for row in mouths if not row.shut] or mouths
        self.loose = [row for row in moving if not row.bites] or moving
        self.for_vowels = [row for row in self.loose if row.for_vowels] or self.loose

    def silence(self) -> Answer:
        ways: tuple[tuple[Collection[Row], str], ...] = (
            ([row for row in self.mouths if row.rest], ""),
            ([row for row in self.mouths if row.closed], ""),
            (self.shut, "shut_lips"),
        )
        for rows, reason in ways:
            for row in rows:
                return Answer(row.name, (Reason(reason),) if reason else row.why, _is_read(row))
        if self.may_show_nothing or not self.mouths:
            return Answer(NOTHING, (Reason("nothing"),))
        return Answer(min(self.mouths, key=_opening).name, (Reason("least_open"),), sure=False)

    def of(self, sound: str) -> Answer:
        for rows, reason in (
            ([row for row in self.mouths if sound in row.claims], "claims"),
            ([row for row in self.mouths if sound in row.soft], "shows_too"),
        ):
            if rows:
                best = min(rows, key=lambda row: (_place(row, sound), row.away(sound), len(row.claims)))
                return Answer(best.name, best.why if reason == "claims" else (Reason(reason, (sound,)), *best.why))
        if sound in LIPS or sound in TEETH_ON_LIP:
            return self._contact(sound)
        if sound in OPEN_SOUNDS:
            return self._open(sound)
        return self._consonant(sound)

    def _contact(self, sound: str) -> Answer:
        first, second = (self.shut, self.bites) if sound in LIPS else (self.bites, self.shut)
        if self.may_show_nothing and not (first or (second and sound in TEETH_ON_LIP)):
            return Answer(NOTHING, (Reason("nothing"),))
        if rows := first or second:
            named_first = sound in LIPS
            best = min(rows, key=lambda row: (named_first and not row.claims, row.rest, row.away(sound)))
            return Answer(best.name, (Reason("shut_lips" if best.shut else "bites_lip"),), _is_read(best))
        least = min(self.mouths, key=lambda row: _opening(row) - 0.2 * row.look.teeth * (sound in TEETH_ON_LIP))
        return Answer(least.name, (Reason("least_open"),), sure=False)

    def _open(self, sound: str) -> Answer:
        rounded = LOOKS[sound].round >= _ROUNDED
        rows = [row for row in self.loose if row.for_vowels or (rounded and {"w", "ɹ"} & set(row.claims))]
        return _nearest(rows or self.for_vowels, sound)

    def _consonant(self, sound: str) -> Answer:
        if sound in ("w", "ɹ") and (gathered := [row for row in self.loose if row.look.round >= _GATHERED]):
            return _nearest(gathered, sound)
        left_over = [row for row in self.loose if row.left_over]
        others = [row for row in self.loose if not row.left_over]
        if left_over and (not others or min(row.away(sound) for row in others) > _FAR):
            return Answer(left_over[0].name, (Reason("for_the_rest"),))
        return _nearest(self.loose, sound)


def _nearest(rows: Sequence[Row], sound: str) -> Answer:
    best = min(rows, key=lambda row: row.away(sound))
    why = (Reason("nearest_look", (sound,)),)
    return Answer(best.name, why, _is_read(best) and best.away(sound) < _UNSURE)


def _is_read(row: Row) -> bool:
    """Whether its name says what it is a drawing of: what is but seen in its picture needs a look."""
    return row.says and not any(reason.id == "looks" for reason in row.why)


def _place(row: Row, sound: str) -> int:
    return row.claims.index(sound) if sound in row.claims else len(SOUNDS)


def _opening(row: Row) -> float:
    """How far it stands open: the least of all stands for shut lips where none are."""
    look = row.look
    return look.jaw + 0.1 * look.spread - 0.3 * look.bite
