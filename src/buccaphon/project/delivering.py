"""The delivery of a project: the same content for the window, the command line and a batch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import groupby

from buccaphon.files import whole_text
from buccaphon.formats.delivering import Delivered, Wanted, deliver_all
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.formats.pictures import Pictures
from buccaphon.kits.casting import for_chart
from buccaphon.kits.names.table import NO_NAMES
from buccaphon.progress import Progress, no_progress
from buccaphon.project.derived import Derived
from buccaphon.project.speakers import own_words
from buccaphon.project.state import State

_SHIPPED = "Marigold"  # the character while the project has none


def deliver(state: State, derived: Derived, title: str, *, whole: bool = False) -> Delivery:
    """All that can be written of the take that is shown. derived: of its recording. whole: also of what is not used. title:
    may come from the name of a file that is not UTF-8, which no format can hold."""
    take, kit = state.take, state.kit_in_use
    return Delivery(
        whole_text(title),
        own_words(state, state.score) if state.score else None,
        derived.bake(state) if whole else derived.used_part(state),
        take.notes if take else (),
        for_chart(kit, state.chart_in_use).names if kit is not None else NO_NAMES,
        kit,
        Source(take.path, whole_text(take.title), take.offset) if take else None,
        derived.recording,
    )


def facts(state: State, title: str) -> dict[str, str]:
    """What stands for the fields of a name in the export list."""
    take, kit = state.take, state.kit_in_use
    return {
        "title": title,
        "take": take.title if take else title,
        "chart": state.chart_in_use.name,
        "character": kit.name if kit else _SHIPPED,
        "fps": state.rate.label,
    }


def characters_of(state: State) -> tuple[str, ...]:
    """For whom files are written, as `resolve_targets` takes them, the character that is shown first. None where it is the
    only one, whose files need not say so."""
    shown = state.kit_in_use.name if state.kit_in_use is not None else _SHIPPED
    others = [kit.name for kit in state.kits if kit.name != shown]
    if not others:
        return ()
    return (shown, *others) if state.exports.each else (shown,)


def deliver_each(
    state: State,
    derived: Derived,
    title: str,
    wanted: Sequence[Wanted],
    progress: Progress = no_progress,
    paint: Callable[[Delivery], Pictures] | None = None,
) -> Delivered:
    """Write what is wanted for each character, as `deliver_all` does for one. Raises Cancelled."""
    done, first = Delivered(), 0
    for name, group in groupby(sorted(wanted, key=_order(wanted)), key=lambda each: each.character):
        entries = list(group)
        for_one = state.with_role(kit=name if any(kit.name == name for kit in state.kits) else "") if name else state

        def told(share: float, what: str, first: int = first, count: int = len(entries)) -> bool:
            return progress((first + count * share) / len(wanted), what)

        written = deliver_all(deliver(for_one, derived, title), entries, told, paint)
        done.written += written.written
        done.problems += written.problems
        first += len(entries)
    return done


def _order(wanted: Sequence[Wanted]) -> Callable[[Wanted], int]:
    names = list(dict.fromkeys(each.character for each in wanted))
    return lambda each: names.index(each.character)


def facts_of(delivery: Delivery) -> dict[str, str]:
    """The same for a line that is in no project."""
    bake = delivery.bake
    return {
        "title": delivery.title,
        "take": delivery.source.take if delivery.source else delivery.title,
        "chart": bake.chart.name if bake else "",
        "character": delivery.kit.name if delivery.kit else _SHIPPED,
        "fps": bake.rate.label if bake else "",
    }
