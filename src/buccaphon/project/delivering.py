"""The delivery of a project: the same content for the window, the command line and a batch."""

from __future__ import annotations

from buccaphon.files import whole_text
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.kits.casting import for_chart
from buccaphon.kits.names.table import NO_NAMES
from buccaphon.project.derived import Derived
from buccaphon.project.state import State


def deliver(state: State, derived: Derived, title: str, *, whole: bool = False) -> Delivery:
    """All that can be written of the take that is shown. derived: of its recording. whole: also of what is not used. title:
    may come from the name of a file that is not UTF-8, which no format can hold."""
    take, kit = state.take, state.kit_in_use
    return Delivery(
        whole_text(title),
        state.score,
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
        "character": kit.name if kit else "Marigold",
        "fps": state.rate.label,
    }


def facts_of(delivery: Delivery) -> dict[str, str]:
    """The same for a line that is in no project."""
    bake = delivery.bake
    return {
        "title": delivery.title,
        "take": delivery.source.take if delivery.source else delivery.title,
        "chart": bake.chart.name if bake else "",
        "character": delivery.kit.name if delivery.kit else "Marigold",
        "fps": bake.rate.label if bake else "",
    }
