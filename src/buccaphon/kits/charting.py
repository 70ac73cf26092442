"""A chart of a kit's own names: one mouth per drawing or shape, with the pose and sounds that its name implies."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from buccaphon.kits.kit import Kind, Kit
from buccaphon.kits.names.evidence import Evidence, read_names
from buccaphon.kits.names.matching import match_chart
from buccaphon.kits.names.reasons import Reason
from buccaphon.kits.names.table import Given, renamed_target
from buccaphon.mouths.chart import Chart, ChartDocument, Mouth
from buccaphon.mouths.pose import Pose
from buccaphon.texts import _

_BITES = 0.5  # of the pose's part, from which teeth are on the lip


def chart_of_kit(kit: Kit, name: str, pattern: Chart) -> ChartDocument:
    """A mouth for each of the kit's names that is one, the resting one first. Those that stand for a mouth of the pattern
    have its pose, its sounds and its rules; others have the pose that their words or sounds say, and no sounds yet."""
    matches = [match for match in match_chart(kit.own, pattern).found if match.sure]
    by_name = {match.name: pattern.mouths[pattern.index(match.target)] for match in matches}
    told = {each.name: each for each in read_names(list(kit.own)).names}
    mouths = [
        replace(by_name[own], name=own) if own in by_name else Mouth(own, _pose(told[own], pattern), ())
        for own in kit.own
        if own in by_name or not told[own].never
    ]
    rest = _resting(mouths, by_name, told, pattern)
    if rest is not None and (kit.kind is not Kind.MODEL or by_name.get(mouths[rest].name) is pattern.rest):
        mouths.insert(0, mouths.pop(rest))
    elif kit.kind is Kind.MODEL:
        mouths.insert(0, pattern.rest)  # a head rests when nothing moves it
    return ChartDocument(name, _("The mouths of {name}", name=kit.name), tuple(mouths))


def _resting(
    mouths: Sequence[Mouth], by_name: Mapping[str, Mouth], told: Mapping[str, Evidence], pattern: Chart
) -> int | None:
    """The number of the mouth that silence is shown by: one that is named for rest, else for closed lips, else one with lips
    that meet, else the one that looks most like the pattern's. None where no name says anything."""
    numbers = range(len(mouths))
    says = [mouth.name in by_name or bool(told[mouth.name].sounds or told[mouth.name].pose) for mouth in mouths]
    ways = (
        [n for n in numbers if by_name.get(mouths[n].name) is pattern.rest],
        [n for n in numbers if told[mouths[n].name].closed and not told[mouths[n].name].sounds],
        [n for n in numbers if says[n] and mouths[n].contact and mouths[n].pose.bite < _BITES],
        sorted((n for n in numbers if says[n]), key=lambda n: mouths[n].pose.distance(pattern.rest.pose)),
    )
    return next((found[0] for found in ways if found), None)


def shown_by_itself(kit: Kit, chart: ChartDocument) -> Kit:
    """The kit with each mouth of its own chart shown by the drawing of that name, which the host calls so, too."""
    own = [mouth.name for mouth in chart.mouths if mouth.name in kit.own]
    rows = tuple(Given(name, name, (Reason("own_drawing"),)) for name in own)
    gone = {row.target for row in rows}
    names = replace(kit.names, given=(*(row for row in kit.names.given if row.target not in gone), *rows))
    shows = (*(row for row in kit.shows if row.target not in gone), *rows)
    return replace(kit, shows=shows, names=names)


def with_renamed_mouth(kit: Kit, before: str, after: str) -> Kit:
    """The kit for a chart in which a mouth was renamed."""
    shows = tuple(replace(row, target=after) if row.target == before else row for row in kit.shows)
    return replace(kit, shows=shows, names=renamed_target(kit.names, before, after))


def _pose(told: Evidence, pattern: Chart) -> Pose:
    if told.sounds:
        return pattern.mouths[pattern.answer(told.sounds[0])].pose
    return Pose(**told.pose)
