"""The names table: what the host calls each mouth, each part of a pose and each channel, kept with the kit."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from buccaphon.choice import Choice
from buccaphon.files import whole_text
from buccaphon.kits.names.matching import Matches, match_chart, match_pose
from buccaphon.kits.names.reasons import BY_HAND, Reasons
from buccaphon.kits.names.tokens import bare, fold, tokens
from buccaphon.mouths.chart import Chart
from buccaphon.setting import setting
from buccaphon.texts import N_

JAW = "jaw"
NOTHING_SHOWN = "none"  # what a mouth is called for which none of a character's drawings is shown
_JAW = frozenset(("jaw", "chin", "mandible", "kiefer", "mandibula"))


class Case(Choice):
    """How letters are written in all names."""

    AS_IT_IS = "unchanged", N_("unchanged")
    LOWER = "lower", N_("lower case")
    UPPER = "upper", N_("UPPER CASE")
    TITLE = "title", N_("Title Case")

    def write(self, name: str) -> str:
        return {Case.LOWER: name.lower(), Case.UPPER: name.upper(), Case.TITLE: name.title()}.get(self, name)


@dataclass(frozen=True, slots=True)
class Given:
    """One name of the host's for a target. why: the reasons. sure: whether it needs no look. by_hand: somebody gave it."""

    target: str
    name: str
    why: Reasons = ()
    sure: bool = True
    by_hand: bool = False


@dataclass(frozen=True, slots=True)
class NamesTable:
    """host: the host's names in its own order, "" of them when nobody told. given: which of them, or others, each target has;
    one may have several, then all of them are driven. A target without any goes by its own name. before, after, case: a rule
    for all names at once. counts_from: the number of the first name in the host, 0 or 1."""

    host: tuple[str, ...] = ()
    given: tuple[Given, ...] = ()
    before: str = setting("", N_("Prefix"), N_("Text before every name"), is_text=True)
    after: str = setting("", N_("Suffix"), N_("Text after every name"), is_text=True)
    case: Case = setting(Case.AS_IT_IS, N_("Letters"), N_("How letters are written in all names"), choices=Case)
    counts_from: int = setting(
        0,
        N_("Numbers"),
        N_("Whether the host numbers from 0 or from 1"),
        least=0,
        most=1,
        choices=((0, N_("from 0")), (1, N_("from 1"))),
    )

    def rows_of(self, target: str) -> tuple[Given, ...]:
        return tuple(row for row in self.given if row.target == target)

    def names_of(self, target: str) -> tuple[str, ...]:
        """What the host calls a target: at least one name."""
        return tuple(self._ruled(row.name) for row in self.rows_of(target)) or (self._ruled(target),)

    def number_of(self, target: str, targets: Sequence[str]) -> int:
        """The number of a target in the host's order, or in that of the targets where the host's is not known; where nothing
        is shown the one before the first."""
        names = [row.name for row in self.rows_of(target)]
        found = [self.host.index(name) for name in names if name in self.host]
        if not found and target in self.host:
            found = [self.host.index(target)]
        if not found and self.host and names == [NOTHING_SHOWN]:
            return self.counts_from - 1
        return self.counts_from + (found[0] if found else targets.index(target))

    @property
    def unused(self) -> tuple[str, ...]:
        """The host's names that nothing drives."""
        used = {row.name for row in self.given}
        return tuple(name for name in self.host if name not in used)

    def _ruled(self, name: str) -> str:
        return f"{self.before}{self.case.write(name)}{self.after}"


NO_NAMES = NamesTable()


def matched(table: NamesTable, names: Iterable[str], chart: Chart) -> NamesTable:
    """The table with another list of the host's, matched to a chart. What was given by hand stays, as far as its name is in
    the list."""
    host = tuple(names)
    kept = [row for row in table.given if row.by_hand and row.name in host]
    held = {row.target for row in kept}
    found = [row for row in (*rows_from(match_chart(host, chart)), *_jaw(host, chart)) if row.target not in held]
    return replace(table, host=host, given=(*kept, *found))


def _jaw(host: tuple[str, ...], chart: Chart) -> list[Given]:
    """The name of what drops the jaw, where one says so and stands for no mouth."""
    for match in match_pose(host).found:
        said = {fold(piece) for piece in tokens(match.name)} & _JAW
        if match.target == JAW and match.sure and said and bare(match.name) not in map(bare, chart.names):
            return [Given(JAW, match.name, match.why, True)]
    return []


def rows_from(matches: Matches) -> tuple[Given, ...]:
    return tuple(Given(match.target, match.name, match.why, match.sure) for match in matches.found)


def give(table: NamesTable, target: str, names: Sequence[str]) -> NamesTable:
    """Names for a target by hand; none lets it go by its own name again."""
    others = tuple(row for row in table.given if row.target != target)
    whole = dict.fromkeys(map(whole_text, names))
    mine = tuple(Given(target, name, BY_HAND, by_hand=True) for name in whole if name)
    return replace(table, given=(*others, *mine))


def renamed_target(table: NamesTable, before: str, after: str) -> NamesTable:
    """The table of a chart in which a mouth was renamed."""
    rows = tuple(replace(row, target=after) if row.target == before else row for row in table.given)
    return replace(table, given=rows)
