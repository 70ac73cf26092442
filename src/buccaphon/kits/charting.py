"""A chart of a kit's own names: one mouth per drawing or shape, with the pose and sounds that its name implies."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from buccaphon.errors import KitError
from buccaphon.kits.kit import Kind, Kit
from buccaphon.kits.names.evidence import Evidence, read_names
from buccaphon.kits.names.matching import match_chart
from buccaphon.kits.names.reasons import Reason
from buccaphon.kits.names.table import Given, renamed_target
from buccaphon.kits.own.table import NOTHING, Table
from buccaphon.mouths.chart import Chart, ChartDocument, Mouth
from buccaphon.mouths.pose import Pose
from buccaphon.texts import _

_NOTHING = "Nothing"  # the mouth of a chart for which none of the drawings is shown
_DECIMALS = 3  # of a pose in a chart


def chart_of_kit(kit: Kit, name: str, pattern: Chart) -> ChartDocument:
    """A mouth for each of the kit's drawings, in their order, or for each of a model's shapes that is one.

    Of drawings it is their table as it is: all English sounds, the resting one, contacts where lips or teeth meet. Shapes
    that stand for a mouth of the pattern have its pose, sounds and rules; others the pose that their words say, and no sounds
    yet."""
    about = _("The mouths of {name}", name=kit.name)
    if kit.kind is Kind.MODEL:
        return ChartDocument(name, about, tuple(_mouths_of_shapes(kit.own, pattern)))
    mouths = _mouths_of_drawings(kit.table)
    rest = kit.table.rest.name or _NOTHING
    rests = next((number for number, mouth in enumerate(mouths) if mouth.name == rest), 0)
    return ChartDocument(name, about, tuple(mouths), kit.names.counts_from, rests)


def with_own_chart(kit: Kit, pattern: Chart) -> tuple[Kit, Chart]:
    """The kit played by a chart with a mouth for each of its drawings or shapes, and that chart. Raises KitError where it has
    fewer than two."""
    document = chart_of_kit(kit, kit.name, pattern)
    if len(document.mouths) < 2:
        raise KitError(kit.name, _("it has fewer than two mouths"), _("Name a chart"))
    return shown_by_itself(kit, document), document.as_far_as_it_goes(pattern)


def _mouths_of_drawings(table: Table) -> list[Mouth]:
    sounds: dict[str, list[str]] = {}
    for sound, answer in table.answers.items():
        sounds.setdefault(answer.name, []).append(sound)
    found = [
        Mouth(row.name, _rounded(row.look), tuple(sounds.get(row.name, ())), contact=row.shut or row.bites)
        for row in table.mouths
    ]
    if NOTHING in (table.rest.name, *sounds) and found:
        found.append(Mouth(_NOTHING, Pose(spread=0.1), tuple(sounds.get(NOTHING, ())), contact=True))
    return found


def _rounded(pose: Pose) -> Pose:
    return Pose(*(round(part, _DECIMALS) for part in pose.parts))


def _mouths_of_shapes(own: Sequence[str], pattern: Chart) -> list[Mouth]:
    """A head rests when nothing moves it, unless a shape is made for that."""
    matches = [match for match in match_chart(own, pattern).found if match.sure]
    by_name = {match.name: pattern.mouths[pattern.index(match.target)] for match in matches}
    told = {each.name: each for each in read_names(list(own)).names}
    mouths = [
        replace(by_name[name], name=name) if name in by_name else Mouth(name, _pose(told[name], pattern), ())
        for name in own
        if name in by_name or not told[name].never
    ]
    rest = next((n for n, mouth in enumerate(mouths) if by_name.get(mouth.name) is pattern.rest), None)
    mouths.insert(0, pattern.rest if rest is None else mouths.pop(rest))
    return mouths


def shown_by_itself(kit: Kit, chart: ChartDocument) -> Kit:
    """The kit with each mouth of its own chart shown by the drawing of that name, which the host calls so, too."""
    if kit.kind is not Kind.MODEL:  # `for_chart` knows a drawing by the mouth's name
        gone = {mouth.name for mouth in chart.mouths}
        names = replace(kit.names, given=tuple(row for row in kit.names.given if row.target not in gone))
        return replace(kit, names=names, shows=tuple(row for row in kit.shows if row.target not in gone))
    own = [mouth.name for mouth in chart.mouths if mouth.name in kit.own]
    rows = tuple(Given(name, name, (Reason("own_drawing"),)) for name in own)
    gone = {row.target for row in rows}
    names = replace(kit.names, given=(*(row for row in kit.names.given if row.target not in gone), *rows))
    shows = (*(row for row in kit.shows if row.target not in gone), *rows)
    return replace(kit, shows=shows, names=names)


def with_renamed_mouth(kit: Kit, before: str, after: str) -> Kit:
    """The kit for a chart in which a mouth was renamed: it is shown by the same as before."""
    shows = tuple(replace(row, target=after) if row.target == before else row for row in kit.shows)
    if kit.kind is Kind.DRAWN and before in kit.own and not kit.shown_by(before):
        shows = (*shows, Given(after, before, (Reason("own_drawing"),), by_hand=True))
    return replace(kit, shows=shows, names=renamed_target(kit.names, before, after))


def _pose(told: Evidence, pattern: Chart) -> Pose:
    if told.sounds:
        return pattern.mouths[pattern.answer(told.sounds[0])].pose
    return Pose(**told.pose)
