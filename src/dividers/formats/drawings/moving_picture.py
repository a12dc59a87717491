"""Scenes one after the other as an animated PNG (Pillow), with words below each."""

import io
from collections.abc import Sequence
from importlib.resources import as_file, files
from typing import Any

from dividers.core.output.scene import Scene

WIDE = 720
STILL_MS, LAST_MS = 900, 4000
MOST_FRAMES = 120
PAPER, INK, KRAFT, EDGE, WET = "#fbfaf5", "#2b2d30", "#d9bd8a", "#8a6d3b", "#ffffff"


def frames_apng(scenes: Sequence[Scene], words: Sequence[str]) -> bytes:
    """An animated picture; of very many moments every nth, and always the last."""
    from PIL import ImageFont

    step = -(-len(scenes) // MOST_FRAMES)
    chosen = sorted({*range(0, len(scenes), step), len(scenes) - 1})
    with as_file(files("dividers.formats") / "fonts" / "IBMPlexSans_400Regular.ttf") as path:
        font = ImageFont.truetype(str(path), 20)
        images = [_image(scenes[number], words[number], font) for number in chosen]
    out = io.BytesIO()
    durations = [STILL_MS] * (len(images) - 1) + [LAST_MS]
    images[0].save(out, "PNG", save_all=True, append_images=images[1:], duration=durations, loop=0)
    return out.getvalue()


def _image(scene: Scene, words: str, font: Any) -> Any:
    from PIL import Image, ImageDraw

    scale = WIDE / scene.width
    high = round(scene.height * scale)
    image = Image.new("RGB", (WIDE, high + 36), PAPER)
    pen = ImageDraw.Draw(image)

    def dots(ring: Any) -> list[tuple[float, float]]:
        return [((x - scene.left) * scale, (y - scene.top) * scale) for x, y in ring]

    for area in (*scene.cells, *scene.by_hand, *scene.openings):
        for turn, ring in enumerate(area.rings):
            fill = PAPER if turn else area.fill or PAPER
            pen.polygon(dots(ring), fill=fill, outline=WET if area.state == "wet" and not turn else None, width=2)
    for strip in scene.strips:
        pen.polygon(dots(strip.rings[0]), fill=KRAFT, outline=EDGE)
    for outline in scene.outlines:
        pen.polygon(dots(outline), outline=INK, width=2)
    pen.text((12, high + 4), words, fill=INK, font=font)
    return image
