"""OpenRaster (the open layered format, freedesktop.org's specification 0.0.6): layers and groups, read within limits."""

from __future__ import annotations

import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage, QPainter

from buccaphon.errors import Cancelled, KitError
from buccaphon.kits.limits import MOST_SIDE, MOST_XML, open_zip, parse_xml, read_bytes, read_entry, require_size
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.entries import Entry
from buccaphon.kits.own.sorting import Chosen, sort_layers
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.looked import LookedPicture
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, Picture, cropped, decode, painted, scaled, shrink_by
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

if TYPE_CHECKING:
    from xml.etree.ElementTree import Element

_MOST_TYPE = 100  # bytes
_Mode = QPainter.CompositionMode
_MODES = {
    "svg:src-over": _Mode.CompositionMode_SourceOver,
    "svg:multiply": _Mode.CompositionMode_Multiply,
    "svg:screen": _Mode.CompositionMode_Screen,
    "svg:overlay": _Mode.CompositionMode_Overlay,
    "svg:darken": _Mode.CompositionMode_Darken,
    "svg:lighten": _Mode.CompositionMode_Lighten,
    "svg:color-dodge": _Mode.CompositionMode_ColorDodge,
    "svg:color-burn": _Mode.CompositionMode_ColorBurn,
    "svg:hard-light": _Mode.CompositionMode_HardLight,
    "svg:soft-light": _Mode.CompositionMode_SoftLight,
    "svg:difference": _Mode.CompositionMode_Difference,
    "svg:plus": _Mode.CompositionMode_Plus,
    "svg:dst-in": _Mode.CompositionMode_DestinationIn,
    "svg:dst-out": _Mode.CompositionMode_DestinationOut,
    "svg:src-atop": _Mode.CompositionMode_SourceAtop,
    "svg:dst-atop": _Mode.CompositionMode_DestinationAtop,
}


@dataclass(frozen=True, eq=False)
class _Layer:
    """A layer or a group; children: the topmost first, as the file has them."""

    name: str
    x: int
    y: int
    opacity: float
    visible: bool
    mode: str
    source: str
    is_group: bool
    children: tuple[_Layer, ...]


class _File:
    """An open file: its canvas, its layers, and their pictures as they are asked for."""

    def __init__(self, path: Path) -> None:
        self.subject = path.name
        self._zip = open_zip(read_bytes(path), self.subject)
        if "mimetype" in self._zip.namelist():
            kind = read_entry(self._zip, "mimetype", self.subject, _MOST_TYPE).strip()
            if kind != b"image/openraster":
                raise KitError(self.subject, _("it is no OpenRaster file"), _("Save it as .ora"))
        root = parse_xml(read_entry(self._zip, "stack.xml", self.subject, MOST_XML), self.subject)
        stack = root.find("stack")
        if root.tag != "image" or stack is None:
            raise KitError(self.subject, _("it has no stack of layers"), _("Save it again as .ora"))
        try:
            self.width, self.height = int(root.get("w", 0)), int(root.get("h", 0))
            require_size(self.width, self.height, self.subject)
            self.root = _layer(stack)
        except ValueError as problem:
            raise KitError(
                self.subject, _("its stack of layers is damaged ({reason})", reason=problem), _("Save it again")
            ) from None
        self.told: list[str] = []

    def paint(
        self, layer: _Layer, painter: QPainter, *, even_hidden: bool = False, only: frozenset[int] | None = None
    ) -> None:
        """Paint a layer, or a group on its own first and then as one. only: the layers that are painted, hidden or not; all
        that are seen where it is None."""
        if only is None and not layer.visible and not even_hidden:
            return
        if only is not None and not layer.is_group and id(layer) not in only:
            return
        if layer.mode not in _MODES:
            told = _(
                "{subject}: the blend mode {mode} of layer “{name}” is not supported and is ignored",
                subject=self.subject,
                mode=layer.mode,
                name=layer.name,
            )
            self.told += [told] if told not in self.told else []
        if layer.is_group:
            image = painted(self.width, self.height, lambda inner: self._paint_children(layer, inner, only))
            x, y = 0, 0
        else:
            image, x, y = self._picture(layer), layer.x, layer.y
        painter.setCompositionMode(_MODES.get(layer.mode, _Mode.CompositionMode_SourceOver))
        painter.setOpacity(layer.opacity)
        painter.drawImage(x, y, image)

    def flat(self, layer: _Layer, only: frozenset[int] | None = None) -> QImage:
        """A layer or group alone on the whole canvas, even if it is hidden."""
        return painted(self.width, self.height, lambda painter: self.paint(layer, painter, even_hidden=True, only=only))

    def _paint_children(self, layer: _Layer, painter: QPainter, only: frozenset[int] | None) -> None:
        for child in reversed(layer.children):
            self.paint(child, painter, only=only)

    def _picture(self, layer: _Layer) -> QImage:
        return decode(read_entry(self._zip, layer.source, self.subject), f"{self.subject}: {layer.source}")


def read_openraster(
    path: Path, progress: Progress = no_progress, chosen: Chosen | None = None, longest: int = LARGEST_SHOWN
) -> Artwork:
    """The layers of the group of which most stand for mouths, hidden or not, as drawings; all else that is visible as the
    face under and over them. chosen: what somebody said that layers are for. Raises KitError, Cancelled."""
    try:
        file = _File(path)
    except zipfile.BadZipFile:
        raise KitError(path.name, _("it is damaged"), _("Save it again")) from None
    share = shrink_by(file.width, file.height, longest)
    art = Artwork(round(file.width * share), round(file.height * share), share, told=file.told)
    layers = _bottom_up(file.root)
    damaged: set[int] = set()

    def picture_of(layer: _Layer) -> LookedPicture:
        def make() -> Picture:
            try:
                return cropped(scaled(file.flat(layer), share))
            except KitError as problem:
                art.told.append(str(problem))
                damaged.add(id(layer))
                return Picture(QImage(), 0, 0)

        return LookedPicture(make, art.width, art.height)

    pictures = [picture_of(layer) for layer, _parent in layers]
    entries = [
        Entry(layer.name, picture, parent, layer.is_group, not layer.visible)
        for (layer, parent), picture in zip(layers, pictures, strict=True)
    ]
    found = sort_layers(entries, chosen)
    if not found.having(Role.MOUTH) and not chosen:
        raise KitError(str(path), _("none of its layers is a mouth"), _("Name them: rest, ah, oh, mbp …"))
    drawings: dict[str, Picture] = {}
    for number, (n, each) in enumerate(found.drawings.items()):
        if not progress(number / (len(found.drawings) + 1), each.name):
            raise Cancelled
        picture = pictures[n].picture
        if id(layers[n][0]) not in damaged:
            drawings[each.name] = picture
    art.take(drawings, tuple(found.drawings.values()), has_mouth=found.has_mouth)
    for role, into in ((Role.FACE, art.under), (Role.OVER, art.over)):
        wanted = frozenset(id(layers[n][0]) for n in found.having(role))
        whole = cropped(scaled(file.flat(file.root, wanted), share))
        if not whole.is_empty:
            into.append(whole)
    if not art.drawings and damaged:
        raise KitError(str(path), _("none of its mouths can be read"), art.told[0] if art.told else "")
    return art


def _layer(element: Element) -> _Layer:
    def number(name: str, default: float) -> float:
        return float(element.get(name, default))

    return _Layer(
        name=element.get("name", "") or "layer",
        x=int(min(max(number("x", 0), -MOST_SIDE), MOST_SIDE)),
        y=int(min(max(number("y", 0), -MOST_SIDE), MOST_SIDE)),
        opacity=min(max(number("opacity", 1), 0.0), 1.0),
        visible=element.get("visibility", "visible") != "hidden",
        mode=element.get("composite-op", "svg:src-over"),
        source=element.get("src", ""),
        is_group=element.tag == "stack",
        children=tuple(_layer(child) for child in element if child.tag in ("stack", "layer")),
    )


def _bottom_up(root: _Layer) -> list[tuple[_Layer, int]]:
    """All layers and groups of a file, from the bottom up, a group before what lies in it; each with the number of the
    group that it lies in, -1 for the file itself."""
    found: list[tuple[_Layer, int]] = []

    def walk(layer: _Layer, parent: int) -> None:
        for child in reversed(layer.children):
            found.append((child, parent))
            if child.is_group:
                walk(child, len(found) - 1)

    walk(root, -1)
    return found
