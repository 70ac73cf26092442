"""OpenRaster (the open layered format, freedesktop.org's specification 0.0.6): layers and groups, read within limits."""

from __future__ import annotations

import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage, QPainter

from buccaphon.errors import Cancelled, KitError
from buccaphon.kits.limits import MOST_SIDE, MOST_XML, open_zip, parse_xml, read_bytes, read_entry, require_size
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.pixels import cropped, decode, painted, scaled, shrink_by
from buccaphon.painting.artwork.roles import mouths_in, unique
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
        self, layer: _Layer, painter: QPainter, *, even_hidden: bool = False, without: frozenset[int] = frozenset()
    ) -> None:
        """Paint a layer, or a group on its own first and then as one; `without` some of them."""
        if (not layer.visible and not even_hidden) or id(layer) in without:
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
            image = painted(self.width, self.height, lambda inner: self._paint_children(layer, inner, without))
            x, y = 0, 0
        else:
            image, x, y = self._picture(layer), layer.x, layer.y
        painter.setCompositionMode(_MODES.get(layer.mode, _Mode.CompositionMode_SourceOver))
        painter.setOpacity(layer.opacity)
        painter.drawImage(x, y, image)

    def flat(self, layer: _Layer, without: frozenset[int] = frozenset()) -> QImage:
        """A layer or group alone on the whole canvas, even if it is hidden."""
        return painted(
            self.width, self.height, lambda painter: self.paint(layer, painter, even_hidden=True, without=without)
        )

    def _paint_children(self, layer: _Layer, painter: QPainter, without: frozenset[int]) -> None:
        for child in reversed(layer.children):
            self.paint(child, painter, without=without)

    def _picture(self, layer: _Layer) -> QImage:
        return decode(read_entry(self._zip, layer.source, self.subject), f"{self.subject}: {layer.source}")


def read_openraster(path: Path, progress: Progress = no_progress) -> Artwork:
    """The layers of the group of which most stand for mouths, hidden or not, as drawings; all else that is visible as the
    face under and over them. Raises KitError, Cancelled."""
    try:
        file = _File(path)
    except zipfile.BadZipFile:
        raise KitError(path.name, _("it is damaged"), _("Save it again")) from None
    families = [mouths_in(group.children, lambda layer: layer.name) for group in _groups(file.root)]
    drawn = max(families, key=len)[::-1]  # from the bottom up, as they were drawn
    if not drawn:
        raise KitError(str(path), _("none of its layers is a mouth"), _("Name them: rest, ah, oh, mbp …"))
    share = shrink_by(file.width, file.height)
    art = Artwork(round(file.width * share), round(file.height * share), share, told=file.told)
    for number, (name, layer) in enumerate(zip(unique(layer.name for layer in drawn), drawn, strict=True)):
        if not progress(number / (len(drawn) + 1), name):
            raise Cancelled
        try:
            art.drawings[name] = cropped(scaled(file.flat(layer), share))
        except KitError as problem:
            art.told.append(str(problem))
    below, above = _around(file.root, drawn)
    for gone, into in ((above, art.under), (below, art.over)):
        found = cropped(scaled(file.flat(file.root, gone | {id(layer) for layer in drawn}), share))
        if not found.is_empty:
            into.append(found)
    if not art.drawings:
        raise KitError(str(path), _("none of its mouths can be read"), art.told[0])
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


def _groups(layer: _Layer) -> list[_Layer]:
    return [layer, *(group for child in layer.children if child.is_group for group in _groups(child))]


def _around(root: _Layer, mouths: list[_Layer]) -> tuple[frozenset[int], frozenset[int]]:
    """Which layers lie below the lowest of the mouths, and which above it."""
    order: list[int] = []
    apart = {id(layer) for layer in mouths}

    def walk(layer: _Layer) -> None:
        for child in reversed(layer.children):
            if child.is_group and id(child) not in apart:
                walk(child)
            else:
                order.append(id(child))

    walk(root)
    lowest = min(order.index(each) for each in apart)
    return frozenset(order[:lowest]), frozenset(order[lowest:])
