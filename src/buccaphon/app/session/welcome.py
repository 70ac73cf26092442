"""What is said of a character that was just added: what was found in its files, and what it is good for."""

from __future__ import annotations

from collections.abc import Sequence

from buccaphon.kits.casting import for_chart, unsure_mouths
from buccaphon.kits.kit import Kind, Kit
from buccaphon.kits.own.drawing import Role
from buccaphon.mouths.chart import Chart
from buccaphon.texts import _, ngettext

_MOST_NAMED = 6


def welcome(kit: Kit, told: Sequence[str], chart: Chart) -> str:
    """told: what could not be used of its files."""
    says = {Kind.DRAWN: _of_drawings, Kind.CUT_OUT: _of_a_picture, Kind.MODEL: _of_a_model}[kit.kind]
    return " ".join((*says(kit, chart), *(f"{each}." for each in told[:1])))


def _of_drawings(kit: Kit, chart: Chart) -> list[str]:
    said = [ngettext("{name}: {count} mouth.", "{name}: {count} mouths.", len(kit.own), name=kit.name)]
    face = kit.main_face
    if face is not None:
        said.append(_("“{name}” is the face.", name=face.name))
    others = [each.name for each in kit.drawings if each.role is not Role.MOUTH and each is not face]
    if others:
        said.append(_("No mouths: {names}.", names=_some(others)))
    unsure = unsure_mouths(kit, chart)
    if unsure:
        said.append(_("Check what shows {names}; it is marked with ? on its page (F8).", names=_some(unsure)))
    return said


def _of_a_picture(kit: Kit, _chart: Chart) -> list[str]:
    return [
        _("{name} is one picture: its jaw can be cut out of it and move.", name=kit.name),
        _("Draw the lip line on its page (F8), from one corner of the mouth to the other."),
    ]


def _of_a_model(kit: Kit, chart: Chart) -> list[str]:
    if not kit.own:
        return [_("{name}: a head without shapes. Its jaw alone moves.", name=kit.name)]
    found = for_chart(kit, chart)
    mouths = sum(any(row.target == name for row in found.names.given) for name in chart.names)
    return [
        ngettext("{name}: {count} shape.", "{name}: {count} shapes.", len(kit.own), name=kit.name),
        _("{found} of the chart's {mouths} mouths have one by name.", found=mouths, mouths=len(chart.names)),
    ]


def _some(names: Sequence[str]) -> str:
    return ", ".join((*names[:_MOST_NAMED], "…") if len(names) > _MOST_NAMED else names)
