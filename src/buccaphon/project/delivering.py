"""The delivery of a project: the same content for the window, the command line and a batch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import groupby

from buccaphon.files import whole_text
from buccaphon.formats.delivering import Delivered, Wanted, deliver_all
from buccaphon.formats.delivery import Delivery, Source, Voice
from buccaphon.formats.pictures import Pictures
from buccaphon.kits.casting import for_chart
from buccaphon.kits.names.table import NO_NAMES
from buccaphon.progress import Progress, no_progress
from buccaphon.project.derived import Derived
from buccaphon.project.scene import Ensemble
from buccaphon.project.speakers import own_words
from buccaphon.project.state import State
from buccaphon.score.records import Score, Word

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
        "role": called(state, state.role.name),
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


def roles_of(ensemble: Ensemble, title: str, only: Sequence[str] = ()) -> dict[str, dict[str, str]]:
    """The roles that files are written for, as `resolve_targets` takes them; none where there is only one. only: the names of
    some, for which alone they are written."""
    names = ensemble.roles()
    if len(names) < 2 and not only:
        return {}
    wanted = [name for name in names if not only or name in only]
    return {name: facts(ensemble.shown_by(name), title) for name in wanted}


def deliver_role(ensemble: Ensemble, title: str, role: str) -> Delivery:
    """All that can be written of what a role says in the scene. Of a scene of one line it is as of that line."""
    state = ensemble.shown_by(role)
    if len(state.lines) == 1:
        return deliver(state, ensemble.derived(state.line.key, role), title)
    kit, bake = state.kit_in_use, ensemble.bake(role)
    return Delivery(
        whole_text(title),
        Score(bake.said, bake.rate.seconds(bake.frames)) if bake.said else None,
        bake,
        ensemble.notes(),
        for_chart(kit, state.chart_in_use).names if kit is not None else NO_NAMES,
        kit,
        sound=ensemble.sound(),
        lines=ensemble.lines(),
    )


def deliver_whole(ensemble: Ensemble, title: str) -> Delivery:
    """All that can be written of the scene at once: as of its first role, with what the others say."""
    names = ensemble.roles()
    first = deliver_role(ensemble, title, names[0])
    if len(names) < 2:
        return first
    voices = tuple(Voice(called(ensemble.state, name), deliver_role(ensemble, title, name)) for name in names)
    said = sorted((word for voice in voices for word in voice.score.words), key=lambda word: word.start)
    apart = _without_overlaps(said)
    lines = tuple(replace(line, role=called(ensemble.state, line.role) if line.role else "") for line in first.lines)
    score = Score(tuple(apart), voices[0].score.duration) if said else None
    return replace(first, score=score, voices=voices, lines=lines)


def _without_overlaps(words: Sequence[Word]) -> list[Word]:
    """Those that begin once all before them have ended: one score holds no more. words: in the order in which they begin."""
    found: list[Word] = []
    for word in words:
        if not found or word.start >= found[-1].end:
            found.append(word)
    return found


def called(state: State, role: str) -> str:
    """What a role is called for people and in file names: its name, or its character's."""
    return role or state.role_named(role).kit or _SHIPPED


def deliver_each(
    ensemble: Ensemble,
    title: str,
    wanted: Sequence[Wanted],
    progress: Progress = no_progress,
    paint: Callable[[Delivery], Pictures] | None = None,
) -> Delivered:
    """Write what is wanted for each character or each role, as `deliver_all` does for one. Raises Cancelled."""
    done, first = Delivered(), 0
    is_one = len(ensemble.roles()) < 2
    for (role, name), group in groupby(
        sorted(wanted, key=_order(wanted)), key=lambda each: (each.role, each.character)
    ):
        entries = list(group)

        def told(share: float, what: str, first: int = first, count: int = len(entries)) -> bool:
            return progress((first + count * share) / len(wanted), what)

        if role or is_one:
            delivery = deliver_role(
                ensemble.in_character(name) if name else ensemble, title, role or ensemble.roles()[0]
            )
        else:
            delivery = deliver_whole(ensemble, title)
        written = deliver_all(delivery, entries, told, paint)
        done.written += written.written
        done.problems += written.problems
        first += len(entries)
    return done


def _order(wanted: Sequence[Wanted]) -> Callable[[Wanted], int]:
    names = list(dict.fromkeys((each.role, each.character) for each in wanted))
    return lambda each: names.index((each.role, each.character))


def facts_of(delivery: Delivery) -> dict[str, str]:
    """The same for a line that is in no project."""
    bake = delivery.bake
    return {
        "title": delivery.title,
        "take": delivery.source.take if delivery.source else delivery.title,
        "chart": bake.chart.name if bake else "",
        "character": delivery.kit.name if delivery.kit else _SHIPPED,
        "role": delivery.kit.name if delivery.kit else _SHIPPED,
        "fps": bake.rate.label if bake else "",
    }
