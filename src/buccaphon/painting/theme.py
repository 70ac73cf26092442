"""Paper and ink: the colours and fonts of window, films and pages, in one place."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import lru_cache
from importlib import resources

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF


@dataclass(eq=False, slots=True)
class Theme:
    """Colours by what they are for. Text colours keep 4.5:1 against paper and panel (WCAG 2.2 AA).

    All views share one, which becomes another by day and by night.
    """

    paper: str
    panel: str
    edge: str
    ink: str
    ink_soft: str
    rail: str
    rail_ink: str
    rail_soft: str
    playhead: str
    loop: str
    wave: str
    wave_core: str
    curve: str
    curve_fill: str
    doubt: str
    pin: str
    mirror: str
    lip_upper: str
    lip_lower: str
    cavity: str
    tongue: str
    teeth: str
    line: str

    slate: str
    slate_core: str
    umber: str
    umber_core: str
    pictures: str  # the ending of the names of the pictures that suit it

    @property
    def wave_inks(self) -> dict[str, tuple[str, str]]:
        """The wave's peaks and core in each ink one can choose; the core keeps 3:1 against the paper."""
        return {
            "plum": (self.wave, self.wave_core),
            "slate": (self.slate, self.slate_core),
            "umber": (self.umber, self.umber_core),
        }

    def become(self, other: Theme) -> None:
        """Take on another's colours, in place, so that whoever shares this one has them too."""
        for field in fields(Theme):
            setattr(self, field.name, getattr(other, field.name))

    def color(self, role: str) -> QColor:
        """A colour by role, or by '#rrggbb'."""
        return _color(getattr(self, role) if role in _ROLES else role)


@lru_cache(maxsize=200)
def _color(name: str) -> QColor:
    return QColor(name)


_ROLES = {field.name for field in fields(Theme)}

PAPER = Theme(
    paper="#fbf7ec", panel="#f3ebdc", edge="#dfd3c0", ink="#2e2136", ink_soft="#665870",
    rail="#3a2742", rail_ink="#f6eedf", rail_soft="#c9b8c9",
    playhead="#0b7468", loop="#d3e6e0", wave="#b3a4b8", wave_core="#76617f", curve="#5d4768", curve_fill="#e4dae3",
    doubt="#8f5a0a", pin="#86671a", mirror="#241a2e",
    lip_upper="#c2452f", lip_lower="#d65b45", cavity="#3d1220", tongue="#e08a86", teeth="#fffaf0", line="#6e1f1c",
    slate="#a3b1bd", slate_core="#566f82", umber="#c9b199", umber_core="#85664a", pictures="",
)  # fmt: skip

NIGHT = Theme(
    paper="#221a2b", panel="#2c2236", edge="#4a3d54", ink="#f4ecdf", ink_soft="#bcacc3",
    rail="#160f1d", rail_ink="#f6eedf", rail_soft="#bcaabf",
    playhead="#56c9b9", loop="#25443f", wave="#5f4f6b", wave_core="#ab97b6", curve="#cbb7d2", curve_fill="#40324b",
    doubt="#e8b35a", pin="#dcb964", mirror="#160f1d",
    lip_upper="#c2452f", lip_lower="#d65b45", cavity="#3d1220", tongue="#e08a86", teeth="#fffaf0", line="#6e1f1c",
    slate="#4b5a66", slate_core="#8fa6b8", umber="#66533f", umber_core="#bd9c7c", pictures="_night",
)  # fmt: skip


def theme_named(name: str) -> Theme:
    """'paper' or 'night'."""
    return NIGHT if name == "night" else PAPER


def shared(theme: Theme) -> Theme:
    """A theme of one's own that begins like another."""
    return replace(theme)


SERIF, SANS = "Gentium Plus", "Inter"


@lru_cache(maxsize=1)
def load_fonts() -> None:
    """Register the fonts that come with the application, once."""
    folder = resources.files("buccaphon.painting").joinpath("fonts")
    for file in folder.iterdir():
        if file.name.endswith((".otf", ".ttf")):
            QFontDatabase.addApplicationFontFromData(file.read_bytes())


@lru_cache(maxsize=40)
def serif(pixels: float) -> QFont:
    """For script, words and phones."""
    font = QFont(SERIF)
    font.setPixelSize(round(pixels))
    return font


@lru_cache(maxsize=4000)
def serif_width(text: str, pixels: float) -> float:
    """How wide a word is set in `serif`."""
    return QFontMetricsF(serif(pixels)).horizontalAdvance(text)


@lru_cache(maxsize=40)
def sans(pixels: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """For the interface; figures of equal width."""
    font = QFont(SANS)
    font.setPixelSize(round(pixels))
    font.setWeight(weight)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font
