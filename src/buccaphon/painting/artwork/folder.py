"""A folder of drawings: PNG, SVG, WebP or JPEG, one a mouth."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path

from buccaphon.errors import Cancelled, KitError
from buccaphon.kits.kit import Anchor
from buccaphon.kits.limits import MOST_ENTRIES, PICTURE_SUFFIXES, read_bytes, require_size
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.entries import Entry, unique
from buccaphon.kits.own.sorting import Chosen, sort_drawings
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.looked import LookedPicture
from buccaphon.painting.artwork.names import natural
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, Picture, cropped, decode, picture_size, scaled, shrink_by
from buccaphon.painting.artwork.svg import svg_picture, svg_size
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

SUFFIXES = PICTURE_SUFFIXES
_OPAQUE = (".jpg", ".jpeg")
_AT_ONCE = 2  # decoded beside each other


def pictures_in(folder: Path, only: Collection[str] = ()) -> list[Path]:
    """The drawings of a folder in natural order, hidden and other files left out. only: the names of
    those that are wanted; all where there are none. Raises KitError."""
    try:
        found = [path for path in folder.iterdir() if not path.name.startswith(".") and path.suffix.lower() in SUFFIXES]
    except OSError as problem:
        raise KitError(
            str(folder), _("it cannot be read ({reason})", reason=problem.strerror), _("Check the folder")
        ) from None
    if only:
        found = [path for path in found if path.name in only]
    if not found:
        raise KitError(str(folder), _("there is no drawing in it"), _("Put one PNG or SVG per mouth in it"))
    if len(found) > MOST_ENTRIES:
        raise KitError(
            str(folder),
            _("it holds {count} pictures", count=len(found)),
            _("Leave at most {most} in it", most=MOST_ENTRIES),
        )
    return sorted(found, key=lambda path: natural(path.stem))


def read_folder(
    folder: Path,
    progress: Progress = no_progress,
    anchor: Anchor = Anchor.BOTTOM,
    only: Collection[str] = (),
    chosen: Chosen | None = None,
    longest: int = LARGEST_SHOWN,
) -> Artwork:
    """All drawings of a folder on one canvas, as large as the largest of them; smaller ones stand on the anchor, in the
    middle from side to side. Damaged ones are told of and left out. chosen: what somebody said that drawings are for.
    longest: pixels on the longer side that are kept. Raises KitError when none can be used, Cancelled when it is to stop."""
    sizes: dict[Path, tuple[int, int]] = {}
    told: list[str] = []
    data: dict[Path, bytes] = {}
    for path in pictures_in(folder, only):
        try:
            data[path] = read_bytes(path)
            sizes[path] = svg_size(data[path], path.name) if _is_svg(path) else picture_size(data[path], path.name)
        except KitError as problem:
            told.append(str(problem))
    if not sizes:
        raise KitError(str(folder), _("none of its drawings can be read"), told[0])
    width, height = max(size[0] for size in sizes.values()), max(size[1] for size in sizes.values())
    require_size(width, height, str(folder))
    share = shrink_by(width, height, longest)
    art = Artwork(round(width * share), round(height * share), share, told=told)
    if len(set(sizes.values())) > 1:
        told.append(f"{folder.name}: its drawings differ in size. They are aligned by the {anchor.label}")
    if any(path.suffix.lower() in _OPAQUE for path in sizes):
        told.append(
            f"{folder.name}: JPEG has no transparency, so these drawings hide the face under them. Use PNG or WebP"
        )

    def decode_one(path: Path) -> Picture | KitError:
        (wide, high), raw = sizes[path], data.pop(path)
        try:
            image = svg_picture(raw, share, path.name) if _is_svg(path) else scaled(decode(raw, path.name), share)
        except KitError as problem:
            return problem
        return cropped(image, round((width - wide) / 2 * share), round((height - high) * anchor.share * share))

    names = dict(zip(sizes, unique(path.stem for path in sizes), strict=True))
    drawings: dict[str, Picture] = {}
    with ThreadPoolExecutor(_AT_ONCE) as pool:
        for number, (path, found) in enumerate(zip(sizes, pool.map(decode_one, sizes), strict=True)):
            if not progress(number / len(sizes), path.name):
                pool.shutdown(cancel_futures=True)
                raise Cancelled
            if isinstance(found, KitError):
                told.append(str(found))
            else:
                drawings[names[path]] = found
    sort_out(art, drawings, chosen)
    return art


def sort_out(art: Artwork, drawings: Mapping[str, Picture], chosen: Chosen | None = None) -> None:
    """Part the mouths from the rest of the face. Where none is a mouth, and nobody said so, all are."""
    looked = [LookedPicture(partial(_same, each), art.width, art.height) for each in drawings.values()]
    entries = [Entry(name, picture) for name, picture in zip(drawings, looked, strict=True)]
    found = sort_drawings(entries, chosen)
    if not found.having(Role.MOUTH) and not chosen:
        found = sort_drawings(entries, dict.fromkeys(drawings, Role.MOUTH))
    art.take(drawings, tuple(found.drawings.values()), has_mouth=found.has_mouth)
    below = sorted(found.having(Role.FACE), key=lambda n: -looked[n].cover)  # what is painted behind first
    art.under += [looked[n].picture for n in below]
    art.over += [looked[n].picture for n in found.having(Role.OVER)]


def _same(picture: Picture) -> Picture:
    return picture


def _is_svg(path: Path) -> bool:
    return path.suffix.lower() in (".svg", ".svgz")
