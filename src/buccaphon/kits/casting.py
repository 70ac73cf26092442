"""What shows each mouth of a chart, and what it is called: from what was read of a character's files, and by hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from buccaphon.kits.kit import DEFAULT_OVER, Kind, Kit, Weights
from buccaphon.kits.names.matching import match_chart
from buccaphon.kits.names.reasons import BY_HAND
from buccaphon.kits.names.table import NOTHING_SHOWN, Given, NamesTable, matched, rows_from
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.table import NOTHING
from buccaphon.mouths.chart import Chart


def with_own_names(kit: Kit, own: Sequence[str], chart: Chart) -> Kit:
    """A model whose file was read: its names are matched to the chart, and are the host's until another list is given."""
    names = tuple(own)
    if not names:
        return kit
    found = tuple(row for row in rows_from(match_chart(names, chart)) if row.sure)
    table = matched(replace(kit.names, host=()), names, chart)  # its shapes make every pose together, and it rests
    table = replace(table, given=tuple(row for row in table.given if row.sure))  # when nothing moves it
    return replace(kit, own=names, shows=found, names=table)


def with_drawings(kit: Kit, found: Sequence[OwnDrawing], *, has_mouth: bool) -> Kit:
    """A kit whose drawings were read. What somebody chose by hand stays, as far as it is still there; the drawings' names are
    the host's, unless a list of the host's was given."""
    own = tuple(each.name for each in found if each.role is Role.MOUTH)
    there = {NOTHING, *(each.name for each in found)}
    shows = tuple(row for row in kit.shows if row.by_hand and row.name in there)
    names = kit.names
    if _goes_by_its_own(kit):
        in_order = [name for name in names.host if name in own]  # an order of one's own is kept, new ones come last
        host = (*in_order, *(name for name in own if name not in in_order))
        names = replace(names, host=host, given=tuple(row for row in names.given if row.by_hand))
    rests = kit.rests if kit.rests in there else None
    return replace(kit, own=own, shows=shows, names=names, drawings=tuple(found), rests=rests, has_mouth=has_mouth)


def for_chart(kit: Kit, chart: Chart) -> Kit:
    """The kit with something for every mouth of a chart: what shows it, and what it is called. What somebody chose by hand
    comes first, then the table of the character's drawings; without drawings, as far as the names go."""
    if kit.kind is Kind.DRAWN and kit.own:
        return _drawn_for_chart(kit, chart)
    shows, names = _by_names(kit.kind, kit.own, kit.shows, kit.names, chart)
    return replace(kit, shows=shows, names=names)


@lru_cache(maxsize=16)  # asked for at every edit, and the same until names or chart are others
def _by_names(
    kind: Kind, own: tuple[str, ...], shows: tuple[Given, ...], names: NamesTable, chart: Chart
) -> tuple[tuple[Given, ...], NamesTable]:
    """What is there, and for the mouths without anything what their names match."""
    missing = [name for name in chart.names if not any(row.target == name for row in (*shows, *names.given))]
    if not missing or not (own or names.host):
        return shows, names
    more = [row for row in rows_from(match_chart(own, chart)) if row.sure and row.target in missing]
    given = [
        row
        for row in rows_from(match_chart(names.host, chart))
        if row.target in missing and (row.sure or kind is not Kind.MODEL)
    ]
    return (*shows, *more), replace(names, given=(*names.given, *given))


def _goes_by_its_own(kit: Kit) -> bool:
    """Whether the host calls the mouths as the drawings are called: no other list was given."""
    return not kit.names.host or set(kit.names.host) == set(kit.own)


def _drawn_for_chart(kit: Kit, chart: Chart) -> Kit:
    kept = [row for row in kit.shows if row.by_hand or (not kit.drawings and row.sure)]  # earlier versions kept all
    held = {row.target for row in kept}
    answers = kit.table.for_chart(chart)
    found = [
        Given(mouth, answer.name, answer.why, answer.sure) for mouth, answer in answers.items() if mouth not in held
    ]
    shows = (*kept, *found)
    if _goes_by_its_own(kit):
        given = [row for row in kit.names.given if row.by_hand or row.target not in chart.names]
        typed = {row.target for row in given}
        given += [replace(row, name=row.name or NOTHING_SHOWN) for row in shows if row.target not in typed]
    else:
        given = list(kit.names.given)
        there = {row.target for row in given}
        given += [row for row in rows_from(match_chart(kit.names.host, chart)) if row.target not in there]
    return replace(kit, shows=shows, names=replace(kit.names, host=kit.names.host or kit.own, given=tuple(given)))


def with_role(kit: Kit, found: Sequence[OwnDrawing], name: str, role: Role) -> Kit:
    """The kit in which somebody said what a drawing is for. found: what its files have, for a kit that does not know yet."""
    drawings = [
        replace(each, role=role, why=BY_HAND, by_hand=True) if each.name == name else each
        for each in kit.drawings or found
    ]
    return with_drawings(kit, drawings, has_mouth=kit.has_mouth)


def with_order(kit: Kit, name: str, place: int) -> Kit:
    """The kit with a drawing at another place among its mouths, by which they are numbered."""
    others = [each for each in kit.names.host or kit.own if each != name]
    if name not in kit.own or set(others) | {name} != set(kit.own):
        return kit
    host = (*others[:place], name, *others[place:])
    return replace(kit, names=replace(kit.names, host=host))


def own_shapes(kit: Kit, chart: Chart) -> dict[str, tuple[str, ...]]:
    """The shapes that are a mouth's own, by the mouths' names: those that a name was given to by hand, and those that one
    shape alone answers to by its name, and that answers to no other."""
    return _own_shapes(kit.own, for_chart(kit, chart).names.given, chart)


@lru_cache(maxsize=16)
def _own_shapes(own: tuple[str, ...], given: tuple[Given, ...], chart: Chart) -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for mouth in chart.names:
        rows = [row for row in given if row.target == mouth and row.name in own and (row.sure or row.by_hand)]
        shared = any(row.name == other.name and other.target != mouth for row in rows for other in given)
        if rows and (not shared or any(row.by_hand for row in rows)):
            found[mouth] = tuple(row.name for row in rows)
    return found


def goes_over_in(kit: Kit | None, chart: Chart) -> float | None:
    """Seconds in which each mouth goes over to the next, being there in full; None where weights are blended from the pose.
    By itself a model is blended unless two mouths in three, rest left aside, have a shape of their own."""
    if kit is None:
        return DEFAULT_OVER
    way = kit.weights
    if way is Weights.AUTOMATIC:
        is_one_each = kit.kind is not Kind.MODEL or _has_a_shape_each(kit, chart)
        way = Weights.IN_FULL if is_one_each else Weights.BLENDED
    return kit.over if way is Weights.IN_FULL else None


def _has_a_shape_each(kit: Kit, chart: Chart) -> bool:
    own = own_shapes(kit, chart)
    mouths = [mouth.name for mouth in chart.mouths if mouth is not chart.rest]
    return 3 * sum(name in own for name in mouths) >= 2 * len(mouths)


def unsure_mouths(kit: Kit, chart: Chart) -> tuple[str, ...]:
    """The mouths of a chart of which somebody should look at what shows them, and what the host calls them."""
    found = for_chart(kit, chart)
    rows = (*found.shows, *found.names.given) if kit.kind is Kind.DRAWN else found.names.given
    return tuple(name for name in chart.names if any(row.target == name and not row.sure for row in rows))


def show_by(kit: Kit, mouth: str, own: Sequence[str]) -> Kit:
    """Show a mouth by other drawings or shapes of the kit, or by what is found for it again."""
    others = tuple(row for row in kit.shows if row.target != mouth)
    mine = tuple(Given(mouth, name, BY_HAND, by_hand=True) for name in own)
    return replace(kit, shows=(*others, *mine))
