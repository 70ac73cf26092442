"""What shows each mouth of a chart, and what it is called: from what was read of a character's files, and by hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from buccaphon.kits.kit import Kind, Kit
from buccaphon.kits.names.matching import match_chart
from buccaphon.kits.names.reasons import BY_HAND
from buccaphon.kits.names.table import NOTHING_SHOWN, Given, matched, rows_from
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
    missing = [name for name in chart.names if not any(row.target == name for row in (*kit.shows, *kit.names.given))]
    if not missing or not (kit.own or kit.names.host):
        return kit
    shows = [row for row in rows_from(match_chart(kit.own, chart)) if row.sure and row.target in missing]
    given = [
        row
        for row in rows_from(match_chart(kit.names.host, chart))
        if row.target in missing and (row.sure or kit.kind is not Kind.MODEL)
    ]
    names = replace(kit.names, given=(*kit.names.given, *given))
    return replace(kit, shows=(*kit.shows, *shows), names=names)


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


def show_by(kit: Kit, mouth: str, own: Sequence[str]) -> Kit:
    """Show a mouth by other drawings or shapes of the kit, or by its pose again."""
    others = tuple(row for row in kit.shows if row.target != mouth)
    mine = tuple(Given(mouth, name, BY_HAND, by_hand=True) for name in own)
    return replace(kit, shows=(*others, *mine))
