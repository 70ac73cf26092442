"""SVG: layers or named groups as one drawing each, on the whole canvas.

Qt draws most of SVG (`QSvgRenderer`); files with what it does not draw right go to resvg. Pictures beside the file are never
opened.
"""

from __future__ import annotations

import base64
import re
import xml.etree.ElementTree as ET
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote, unquote_to_bytes

from PyQt6.QtCore import QByteArray, QLoggingCategory, QRectF
from PyQt6.QtGui import QImage
from PyQt6.QtSvg import QSvgRenderer

from buccaphon.errors import Cancelled, KitError
from buccaphon.kits.limits import MOST_DEPTH, MOST_NAMES, MOST_PIXELS, parse_xml, read_bytes, require_size
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.entries import Entry
from buccaphon.kits.own.sorting import Chosen, Sorted, sort_layers
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.looked import LookedPicture
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, Picture, cropped, decode, painted, picture_size, shrink_by
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

QLoggingCategory.setFilterRules("qt.svg.warning=false")  # of what other people's files leave undefined

SVG = "{http://www.w3.org/2000/svg}"
LAYERS = "{http://www.inkscape.org/namespaces/inkscape}"  # the namespace in which layers and labels are written
_XLINK = "{http://www.w3.org/1999/xlink}"
_MADE_UP = re.compile(  # ids that a program gave
    r"^(g|path|rect|layer|svg|use|circle|ellipse|image|text|tspan|polygon|line|defs|base|namedview|metadata"
    r"|linearGradient|radialGradient|clipPath|mask|filter|stop)[-_]?[\d-]*$",
    re.IGNORECASE,
)
_NO_DRAWINGS = frozenset(
    ("defs", "metadata", "style", "title", "desc", "clipPath", "mask", "symbol", "filter", "linearGradient",
     "radialGradient", "pattern", "marker")
)  # fmt: skip
_CAN_BEAR_NAMES = frozenset(("g", "path", "use", "image"))
_NUMBER = r"-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?"
_MOST_MARKED = 20_000  # letters of outlines that may bear markers: each corner draws one
_MOST_COPIES = 20_000  # parts that are drawn, counted with those that are used again
_MOST_DRAWINGS = 400
_MOST_TEXT = 5000  # letters of a line of text
_LARGEST_DEFAULT = 1024  # pixels on the longer side, where the file does not say more


@dataclass(frozen=True, eq=False)
class _Named:
    """A part of the file that bears a name. chain: its ancestors from below the root, and itself."""

    name: str
    chain: tuple[ET.Element, ...]
    is_layer: bool

    @property
    def element(self) -> ET.Element:
        return self.chain[-1]

    @property
    def is_hidden(self) -> bool:
        style = self.element.get("style", "").replace(" ", "")
        said = (self.element.get("display"), self.element.get("visibility"))
        return "none" in said or "hidden" in said or "display:none" in style or "visibility:hidden" in style


def svg_size(data: bytes, subject: str) -> tuple[int, int]:
    """Width and height in pixels. Raises KitError."""
    return _canvas(parse_xml(data, subject), subject)


def svg_picture(data: bytes, share: float, subject: str, size: tuple[int, int] | None = None) -> QImage:
    """The whole file as one picture, of a share of its size or of a size in pixels."""
    root = parse_xml(data, subject)
    width, height = _canvas(root, subject)
    _leave_out_strangers(root, subject)
    wide, high = size or (round(width * share), round(height * share))
    return _render(root, wide, high, subject)


def read_svg(
    path: Path, progress: Progress = no_progress, chosen: Chosen | None = None, longest: int = LARGEST_SHOWN
) -> Artwork:
    """An SVG with layers or named groups: its mouths as drawings, all else that is visible as the face under and over them.
    chosen: what somebody said that layers are for. Raises KitError, Cancelled."""
    subject = path.name
    root = parse_xml(read_bytes(path), subject)
    told = _leave_out_strangers(root, subject)
    wide, high = _canvas(root, subject)
    share = shrink_by(wide, high, longest)
    width, height = round(wide * share), round(high * share)
    art = Artwork(width, height, share, told=[f"{subject}: {what}" for what in told])
    named = list(_named(root, ()))
    if len(named) > MOST_NAMES:
        raise KitError(
            str(path),
            _("it has {count} layers and named groups", count=len(named)),
            _("Leave at most {most}", most=MOST_NAMES),
        )

    def picture_of(part: _Named) -> LookedPicture:
        return LookedPicture(lambda: cropped(_render(_alone(root, part.chain), width, height, subject)), width, height)

    parts, pictures, found = _sorted_parts(named, picture_of, chosen)
    if len(found.drawings) > _MOST_DRAWINGS:
        raise KitError(
            str(path),
            _("it has {count} layers or groups", count=len(found.drawings)),
            _("Leave at most {most}", most=_MOST_DRAWINGS),
        )
    if not found.having(Role.MOUTH) and not chosen:
        raise KitError(
            str(path), _("none of its layers or named groups is a mouth"), _("Name them: rest, ah, oh, mbp …")
        )
    drawings: dict[str, Picture] = {}
    for number, (n, each) in enumerate(found.drawings.items()):
        if not progress(number / (len(found.drawings) + 1), each.name):
            raise Cancelled
        drawings[each.name] = pictures[n].picture
    art.take(drawings, tuple(found.drawings.values()), has_mouth=found.has_mouth)
    roles = {id(parts[n].element): each.role for n, each in found.drawings.items()}
    for role, into in ((Role.FACE, art.under), (Role.OVER, art.over)):
        whole = cropped(_render(_Thinner(roles, role).thin(root), width, height, subject))
        if not whole.is_empty:
            into.append(whole)
    return art


def _sorted_parts(
    named: list[_Named], picture_of: Callable[[_Named], LookedPicture], chosen: Chosen | None
) -> tuple[list[_Named], list[LookedPicture], Sorted]:
    """What each part is for: the layers if mouths are among them, else named groups and shapes."""
    parts, pictures, found = list[_Named](), list[LookedPicture](), Sorted({})
    for layers in (True, False):
        parts = [part for part in named if part.is_layer or not layers]
        pictures = [picture_of(part) for part in parts]
        numbers = {id(part.element): n for n, part in enumerate(parts)}
        parents = [next((numbers[id(e)] for e in part.chain[-2::-1] if id(e) in numbers), -1) for part in parts]
        entries = [
            Entry(part.name, picture, parent, n in parents, part.is_hidden)
            for n, (part, picture, parent) in enumerate(zip(parts, pictures, parents, strict=True))
        ]
        found = sort_layers(entries, chosen)
        if len(found.having(Role.MOUTH)) > 1:
            break
    return parts, pictures, found


# --- the tree ---------------------------------------------------------------------------------------------------------


def _tag(element: ET.Element) -> str:
    return element.tag.removeprefix(SVG) if isinstance(element.tag, str) else ""


def _canvas(root: ET.Element, subject: str) -> tuple[int, int]:
    if _tag(root) != "svg":
        raise KitError(subject, _("it is no SVG"), _("Save it as SVG"))
    box = [float(part) for part in re.findall(_NUMBER, root.get("viewBox", ""))[:4]]
    width, height = (_pixels(root.get(side, "")) for side in ("width", "height"))
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        if not width or not height:
            larger = max(box[2], box[3])
            grow = max(1.0, _LARGEST_DEFAULT / larger)
            width, height = box[2] * grow, box[3] * grow
    elif width and height:
        root.set("viewBox", f"0 0 {width:g} {height:g}")
    else:
        raise KitError(subject, _("it says neither its size nor its viewBox"), _("Save it with a page size"))
    if max(width, height) < _LARGEST_DEFAULT:  # drawn as large as it will be shown: curves lose nothing
        grow = _LARGEST_DEFAULT / max(width, height)
        width, height = width * grow, height * grow
    require_size(round(min(width, 1e9)), round(min(height, 1e9)), subject)
    return round(width), round(height)


_UNITS = {"": 1.0, "px": 1.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "pt": 96 / 72, "pc": 16.0}


def _pixels(length: str) -> float:
    found = re.fullmatch(r"\s*([\d.]+(?:e-?\d+)?)\s*([a-z]*)\s*", length)
    if found is None or found[2] not in _UNITS:
        return 0.0
    try:
        return float(found[1]) * _UNITS[found[2]]
    except ValueError:
        return 0.0


def _named(element: ET.Element, chain: tuple[ET.Element, ...]) -> Iterator[_Named]:
    for child in element:
        tag = _tag(child)
        if not tag or tag in _NO_DRAWINGS:
            continue
        here = (*chain, child)
        is_layer = child.get(f"{LAYERS}groupmode") == "layer"
        name = (child.get(f"{LAYERS}label") or child.get("id") or "").lstrip("#")
        given = name and not _MADE_UP.match(name)
        if is_layer or (given and tag in _CAN_BEAR_NAMES):
            yield _Named(name or "layer", here, is_layer)
        yield from _named(child, here)


def _show(element: ET.Element) -> None:
    style = re.sub(r"(^|;)\s*(display|visibility)\s*:[^;]*", "", element.get("style", "")).strip("; ")
    for name in ("display", "visibility"):
        element.attrib.pop(name, None)
    if style:
        element.set("style", style)
    else:
        element.attrib.pop("style", None)


def _shallow(element: ET.Element) -> ET.Element:
    made = ET.Element(element.tag, dict(element.attrib))
    made.text, made.tail = element.text, element.tail
    return made


def _alone(root: ET.Element, chain: tuple[ET.Element, ...]) -> ET.Element:
    """A copy in which only the last of a chain is seen; transforms and styles of its ancestors stay."""
    made = _shallow(root)
    made.extend(child for child in root if _tag(child) in ("defs", "style"))
    made.extend(child for above in chain[:-1] for child in above if _tag(child) == "defs")
    into = made
    for above in chain[:-1]:
        step = _shallow(above)
        _show(step)
        into.append(step)
        into = step
    shown = _shallow(chain[-1])
    shown.extend(chain[-1])
    _show(shown)
    into.append(shown)
    return made


@dataclass
class _Thinner:
    """Copies a tree with only those parts that are for one thing: the face under the mouths, or what lies over them. Parts
    without a role of their own go by their place: before the first mouth, or after it."""

    roles: dict[int, Role]
    keeps: Role
    seen: bool = False

    def thin(self, element: ET.Element) -> ET.Element:
        made = _shallow(element)
        for child in element:
            role = self.roles.get(id(child))
            if _tag(child) in _NO_DRAWINGS:
                made.append(child)
            elif role is not None:
                self.seen |= role is Role.MOUTH
                if role is self.keeps:
                    made.append(child)
            elif any(id(inner) in self.roles for inner in child.iter()):
                made.append(self.thin(child))
            elif self.seen == (self.keeps is Role.OVER):
                made.append(child)
        return made


# --- drawing ----------------------------------------------------------------------------------------------------------


def _leave_out_strangers(root: ET.Element, subject: str) -> list[str]:
    """Take out pictures that lie beside the file: a kit opens nothing but itself."""
    told, pixels = [], 0
    _require_an_end(root, subject)
    for parent in list(root.iter()):
        for child in list(parent):
            name = child.get("href") or child.get(f"{_XLINK}href") or ""
            if _tag(child) not in ("image", "feImage"):
                continue
            if name.startswith("data:image/"):
                pixels += _pixels_inside(name, subject)
            else:
                parent.remove(child)
                told.append(f"the picture {name[:60]} lies outside it and is left out")
    if pixels > MOST_PIXELS:
        raise KitError(
            subject,
            _("the pictures in it have {pixels} million pixels", pixels=pixels // 1000000),
            _("Save it smaller"),
        )
    return told


def _pixels_inside(data: str, subject: str) -> int:
    """Of a picture within the file, which is drawn by another hand: looked at before that. Raises KitError."""
    head, _rest, body = data.partition(",")
    raw = base64.b64decode(unquote(body), validate=False) if head.endswith(";base64") else unquote_to_bytes(body)
    if "svg" in head:
        raise KitError(subject, _("there is another SVG in it"), _("Put its parts into the file itself"))
    width, height = picture_size(raw, f"{subject}: a picture in it")
    require_size(width, height, f"{subject}: a picture in it")
    return width * height


def _require_an_end(root: ET.Element, subject: str) -> None:
    """Raises KitError for what would be drawn for hours: markers at thousands of corners, parts used again and again."""
    outlines = sum(len(each.get("d", "")) + len(each.get("points", "")) for each in root.iter())
    if outlines > _MOST_MARKED and any(_tag(each) == "marker" for each in root.iter()):
        raise KitError(subject, _("markers stand at thousands of corners in it"), _("Turn them into outlines"))
    if any(_tag(each) in ("text", "tspan") and len(each.text or "") > _MOST_TEXT for each in root.iter()):
        raise KitError(
            subject,
            _("a text in it has more than {most} letters", most=_MOST_TEXT),
            _("Turn it into outlines, or leave it out"),
        )
    named = {each.get("id"): each for each in root.iter() if each.get("id")}
    counts: dict[int, int] = {}

    def count(element: ET.Element, depth: int) -> int:
        if depth > MOST_DEPTH:
            raise KitError(subject, _("its parts are used within themselves"), _("Save it as plain SVG"))
        if id(element) not in counts:
            found = 1 + sum(count(child, depth + 1) for child in element)
            name = element.get("href") or element.get(f"{_XLINK}href") or ""
            if _tag(element) == "use" and name.startswith("#") and (used := named.get(name[1:])) is not None:
                found += count(used, depth + 1)
            counts[id(element)] = found
        return counts[id(element)]

    if count(root, 0) > max(_MOST_COPIES, 4 * sum(1 for _ in root.iter())):
        raise KitError(subject, _("parts of it are used again tens of thousands of times"), _("Save it as plain SVG"))


def _render(root: ET.Element, width: int, height: int, subject: str) -> QImage:
    if _needs_another_hand(root):
        return _by_resvg(root, width, height, subject)
    renderer = QSvgRenderer()
    renderer.setAnimationEnabled(False)  # else it connects a timer, in a thread that must not wait for Qt's locks
    renderer.load(QByteArray(ET.tostring(root)))
    if not renderer.isValid():
        raise KitError(subject, _("it is no SVG that can be drawn"), _("Save it as plain SVG"))
    return painted(width, height, lambda painter: renderer.render(painter, QRectF(0, 0, width, height)))


def _needs_another_hand(root: ET.Element) -> bool:
    """Whether something is there that Qt does not draw right: clipping, symbols with a viewBox, nested svg, blending; or
    pictures, of which it would ask all its plugins what they are (see `pixels`)."""
    for element in root.iter():
        tag, style = _tag(element), element.get("style", "")
        if "clip-path" in element.attrib or "clip-path:" in style.replace(" ", ""):
            return True
        if tag == "style" and re.search(r"clip-path|mix-blend-mode", element.text or ""):
            return True
        if tag in ("image", "feImage"):
            return True
        if (tag == "symbol" and "viewBox" in element.attrib) or (tag == "svg" and element is not root):
            return True
        if "mix-blend-mode" in style or "mix-blend-mode" in element.attrib:
            return True
    return False


def _by_resvg(root: ET.Element, width: int, height: int, subject: str) -> QImage:
    import resvg_py  # noqa: PLC0415  (rarely needed)

    for side in ("width", "height"):  # it takes no millimetres beside a size in pixels
        root.attrib.pop(side, None)
    try:
        png = bytes(resvg_py.svg_to_bytes(svg_string=ET.tostring(root).decode(), width=width, height=height))
    except (ValueError, TypeError, OSError) as problem:
        raise KitError(
            subject, _("it cannot be drawn ({reason})", reason=str(problem)[:100]), _("Save it as plain SVG")
        ) from None
    image = decode(png, subject)
    return image if (image.width(), image.height()) == (width, height) else image.scaled(width, height)
