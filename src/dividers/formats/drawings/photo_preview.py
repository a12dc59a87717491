"""A pattern laid over a photo: as SVG to look at, and as PNG (Pillow) in which the wall's light and shade shine through; and a photo with its
perspective removed."""

import io
from collections.abc import Sequence
from pathlib import Path

from markupsafe import Markup

from dividers.core.geometry.homography import homography
from dividers.core.geometry.shapes import Point
from dividers.formats.drawings.svg_writer import drawing, element, rings

Seen = Sequence[tuple[str, Sequence[Sequence[Point]]]]
COVER = 0.92  # how much of a wall's own colour paint covers
SMOOTH = 2
FLAT_PX = 1200  # the longer side of a photo seen from straight ahead
BRIGHT = 215  # a wall as light as this shows a colour as it is; darker parts shade it


def preview_svg(cells: Seen, size: tuple[int, int]) -> Markup:
    """The cells alone, over the photo that lies behind."""
    looks = {"stroke-width": "0.8", "fill-rule": "evenodd"}
    parts = [element("path", {"fill": color, "stroke": color, **looks, "d": rings(shape, 1)}) for color, shape in cells]
    return drawing("preview-cells", f"0 0 {size[0]} {size[1]}", {"preserveAspectRatio": "none"}, *parts)


def preview_png(photo: Path, cells: Seen) -> bytes:
    """The photo with the pattern on it."""
    from PIL import Image, ImageChops, ImageDraw

    with Image.open(photo) as opened:
        wall = opened.convert("RGB")
    large = (wall.width * SMOOTH, wall.height * SMOOTH)
    paint, mask = Image.new("RGB", large, "#ffffff"), Image.new("L", large, 0)
    pens = ImageDraw.Draw(paint), ImageDraw.Draw(mask)
    for color, shape in cells:
        for turn, ring in enumerate(shape):
            dots = [(x * SMOOTH, y * SMOOTH) for x, y in ring]
            pens[0].polygon(dots, fill="#ffffff" if turn else color)
            pens[1].polygon(dots, fill=0 if turn else round(255 * COVER))
    paint, mask = (layer.resize(wall.size, Image.Resampling.LANCZOS) for layer in (paint, mask))
    light = wall.convert("L").point([min(value * 255 // BRIGHT, 255) for value in range(256)])
    shaded = ImageChops.multiply(paint, Image.merge("RGB", (light, light, light)))
    out = io.BytesIO()
    Image.composite(shaded, wall, mask).save(out, "PNG", optimize=True)
    return out.getvalue()


def flat_jpg(photo: Path, corners: tuple[Point, Point, Point, Point], size_mm: tuple[float, float]) -> bytes:
    """What lies between four corners as it looks from straight ahead, as JPEG. Raises BadInput."""
    from PIL import Image

    scale = FLAT_PX / max(size_mm)
    wide, high = (max(round(side * scale), 1) for side in size_mm)
    (a, b, c), (d, e, f), (g, h, _) = homography(wide, high, corners).matrix
    with Image.open(photo) as opened:
        way = (a, b, c, d, e, f, g, h)
        flat = opened.convert("RGB").transform((wide, high), Image.Transform.PERSPECTIVE, way, Image.Resampling.BICUBIC)
    out = io.BytesIO()
    flat.save(out, "JPEG", quality=85)
    return out.getvalue()
