"""Paper and ink: the colours, fonts and widget style of the window, in one place."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import lru_cache
from importlib import resources
from pathlib import Path

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication


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


def shared(theme: Theme) -> Theme:
    """A theme of one's own that begins like another."""
    return replace(theme)


_PICTURES = Path(__file__).with_name("pictures")

SERIF, SANS = "Gentium Plus", "Inter"


@lru_cache(maxsize=1)
def load_fonts() -> None:
    """Register the fonts that come with the application, once."""
    folder = resources.files("buccaphon.app").joinpath("fonts")
    for file in folder.iterdir():
        if file.name.endswith((".otf", ".ttf")):
            QFontDatabase.addApplicationFontFromData(file.read_bytes())


def serif(pixels: float) -> QFont:
    """For script, words and phones."""
    font = QFont(SERIF)
    font.setPixelSize(round(pixels))
    return font


def sans(pixels: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """For the interface; figures of equal width."""
    font = QFont(SANS)
    font.setPixelSize(round(pixels))
    font.setWeight(weight)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


def dress(app: QApplication, theme: Theme) -> None:
    """Give the application its fonts, palette and style sheet."""
    load_fonts()
    app.setStyle("Fusion")
    app.setFont(sans(13))
    palette = QPalette()
    for role, color in (
        (QPalette.ColorRole.Window, theme.panel),
        (QPalette.ColorRole.WindowText, theme.ink),
        (QPalette.ColorRole.Base, theme.paper),
        (QPalette.ColorRole.Text, theme.ink),
        (QPalette.ColorRole.Button, theme.paper),
        (QPalette.ColorRole.ButtonText, theme.ink),
        (QPalette.ColorRole.Highlight, theme.playhead),
        (QPalette.ColorRole.HighlightedText, theme.paper),
        (QPalette.ColorRole.ToolTipBase, theme.ink),
        (QPalette.ColorRole.ToolTipText, theme.paper),
        (QPalette.ColorRole.PlaceholderText, theme.ink_soft),
    ):
        palette.setColor(role, QColor(color))
    app.setPalette(palette)
    app.setStyleSheet(_sheet(theme))


def _sheet(t: Theme) -> str:
    return f"""
    QToolTip {{ background: {t.ink}; color: {t.paper}; border: 0; padding: 5px 8px; }}
    #rail {{ background: {t.rail}; }}
    #rail QToolButton {{ color: {t.rail_soft}; border: 0; border-left: 3px solid transparent; padding: 9px 0 8px 0;
        font-size: 12px; }}
    #rail QToolButton:hover {{ color: {t.rail_ink}; }}
    #rail QToolButton:checked {{ background: {t.panel}; color: {t.ink}; border-left: 3px solid {t.playhead};
        font-weight: 600; }}
    #rail QToolButton::menu-indicator {{ image: none; }}
    #rail QToolButton:focus {{ border-left: 3px solid {t.rail_ink}; }}
    #side {{ background: {t.panel}; border-right: 1px solid {t.edge}; }}
    #side QScrollArea, #side QScrollArea > QWidget > QWidget {{ background: {t.panel}; }}
    #desk {{ background: {t.panel}; border-left: 1px solid {t.edge}; }}
    QLabel[role="title"] {{ font-family: "{SERIF}"; font-size: 23px; color: {t.ink}; }}
    QLabel[role="heading"] {{ font-family: "{SERIF}"; font-size: 18px; color: {t.ink}; }}
    QLabel[role="hint"] {{ color: {t.ink_soft}; font-size: 12px; }}
    QLabel[role="field"] {{ color: {t.ink_soft}; font-size: 12px; }}
    QLabel[role="value"] {{ color: {t.ink}; font-size: 13px; }}
    QPlainTextEdit#script {{ background: {t.paper}; border: 1px solid {t.edge}; border-radius: 5px; padding: 6px;
        font-family: "{SERIF}"; font-size: 17px; color: {t.ink}; }}
    QPlainTextEdit#script:focus {{ border: 1px solid {t.playhead}; }}
    QPushButton {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.edge}; border-radius: 5px;
        padding: 6px 11px; }}
    QPushButton:hover {{ border-color: {t.ink_soft}; }}
    QPushButton:focus {{ border: 1px solid {t.playhead}; }}
    QPushButton:checked {{ background: {t.loop}; border-color: {t.playhead}; }}
    QPushButton:disabled {{ color: {t.ink_soft}; background: transparent; }}
    QPushButton[role="main"] {{ background: {t.rail}; color: {t.rail_ink}; border: 1px solid {t.rail}; font-weight: 600; }}
    QPushButton[role="main"]:hover {{ background: {t.ink}; }}
    QPushButton[role="main"]:focus {{ border: 1px solid {t.playhead}; }}
    QPushButton[role="main"]:disabled {{ background: {t.edge}; color: {t.ink_soft}; border-color: {t.edge}; }}
    QPushButton[role="reading"] {{ background: transparent; border: 0; padding: 0; text-align: left; }}
    QLabel#asking {{ color: {t.doubt}; font-weight: 600; }}
    QPushButton[role="icon"] {{ padding: 6px 7px; }}
    QPushButton[role="quiet"] {{ background: transparent; border: 0; color: {t.ink_soft}; padding: 3px 6px; }}
    QPushButton[role="quiet"]:checked {{ color: {t.ink}; font-weight: 600; background: transparent; }}
    QPushButton[role="quiet"]:hover {{ color: {t.ink}; }}
    QComboBox, QSpinBox, QDoubleSpinBox, QLineEdit {{ background: {t.paper}; color: {t.ink};
        border: 1px solid {t.edge}; border-radius: 4px; padding: 4px 7px; min-height: 18px; }}
    QComboBox:focus, QSpinBox:focus, QDoubleSpinBox:focus, QLineEdit:focus {{ border: 1px solid {t.playhead}; }}
    QComboBox::drop-down {{ border: 0; width: 22px; }}
    QComboBox::down-arrow {{ image: url({_PICTURES / f"chevron{t.pictures}.png"}); width: 12px; height: 12px; }}
    QCheckBox::indicator {{ width: 15px; height: 15px; border: 1px solid {t.ink_soft}; border-radius: 3px;
        background: {t.paper}; }}
    QCheckBox::indicator:checked {{ image: url({_PICTURES / f"tick{t.pictures}.png"}); }}
    QCheckBox::indicator:disabled {{ border-color: {t.edge}; background: transparent; }}
    QCheckBox {{ spacing: 8px; }}
    QCheckBox:disabled {{ color: {t.ink_soft}; }}
    QComboBox QAbstractItemView {{ background: {t.paper}; color: {t.ink}; selection-background-color: {t.loop};
        selection-color: {t.ink}; border: 1px solid {t.edge}; }}
    QListWidget {{ outline: 0; background: {t.paper}; border: 1px solid {t.edge}; border-radius: 4px; padding: 2px; }}
    QListWidget::item {{ padding: 3px 6px; border-radius: 3px; color: {t.ink}; }}
    QListWidget::item:selected {{ background: {t.loop}; color: {t.ink}; }}
    QListWidget:focus {{ border: 1px solid {t.playhead}; }}
    QSlider::groove:horizontal {{ height: 4px; background: {t.edge}; border-radius: 2px; }}
    QSlider::sub-page:horizontal {{ background: {t.wave_core}; border-radius: 2px; }}
    QSlider::handle:horizontal {{ background: {t.ink}; width: 12px; height: 12px; margin: -4px 0; border-radius: 6px; }}
    QSlider::handle:horizontal:focus {{ background: {t.playhead}; }}
    QProgressBar {{ background: {t.edge}; border: 0; border-radius: 2px; max-height: 4px; }}
    QProgressBar::chunk {{ background: {t.playhead}; border-radius: 2px; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 2px; }}
    QScrollBar::handle:vertical {{ background: {t.edge}; border-radius: 3px; min-height: 28px; }}
    QScrollBar::handle:vertical:hover {{ background: {t.wave}; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 2px; }}
    QScrollBar::handle:horizontal {{ background: {t.edge}; border-radius: 3px; min-width: 28px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    #chooser {{ background: {t.paper}; border: 1px solid {t.ink_soft}; border-radius: 8px; }}
    #chooser QListWidget {{ border: 0; background: transparent; }}
    #notice {{ background: {t.ink}; border-radius: 6px; }}
    #notice QLabel {{ color: {t.paper}; }}
    #notice QPushButton {{ background: transparent; border: 0; color: {t.rail_soft}; }}
    QMenuBar {{ background: {t.panel}; color: {t.ink}; border-bottom: 1px solid {t.edge}; padding: 1px 6px; }}
    QMenuBar::item {{ padding: 4px 9px; background: transparent; }}
    QMenuBar::item:selected {{ background: {t.loop}; }}
    QMenu {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.edge}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px 5px 14px; }}
    QMenu::item:selected {{ background: {t.loop}; }}
    QMenu::item:disabled {{ color: {t.ink_soft}; }}
    """
