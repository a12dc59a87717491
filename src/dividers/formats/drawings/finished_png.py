"""Draws a piece's layers as PNG (Pillow): the finished look, or with the tape of a round on it."""

import io

from dividers.core.output.cad_layers import Layers

LONGEST = 1800  # dots
SMOOTH = 2  # drawn so many times larger, then made smaller
KRAFT, EDGE, INK, PAPER = (201, 164, 107), (138, 106, 53), (42, 44, 46), (255, 255, 255)


def layer_png(layers: Layers, strips_of: int | None = None) -> bytes:
    """The picture. Openings stay white."""
    from PIL import Image, ImageDraw

    rim = 60.0 if strips_of else 10.0
    scale = LONGEST * SMOOTH / max(layers.width + 2 * rim, layers.height + 2 * rim)
    size = (round((layers.width + 2 * rim) * scale), round((layers.height + 2 * rim) * scale))
    image = Image.new("RGB", size, PAPER)
    pen = ImageDraw.Draw(image)
    wanted = f"strips round {strips_of}"
    for shape in layers.shapes:
        if shape.kind != "area" or (shape.layer.startswith("strips") and shape.layer != wanted):
            continue
        for turn, ring in enumerate(shape.rings):
            dots = [((x + rim) * scale, (y + rim) * scale) for x, y in ring]
            if shape.layer == "outline":
                pen.polygon(dots, outline=INK, width=max(round(1.2 * SMOOTH), 1))
            elif shape.layer.startswith("strips"):
                pen.polygon(dots, fill=KRAFT if not turn else None, outline=EDGE, width=SMOOTH)
            else:
                pen.polygon(dots, fill=PAPER if turn or not shape.fill else shape.fill)
    small = image.resize((max(size[0] // SMOOTH, 1), max(size[1] // SMOOTH, 1)), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    small.save(out, "PNG", optimize=True)
    return out.getvalue()
