"""Uploaded photos: checked, turned the right way up, made smaller, and written again with nothing but the picture (the one module for Pillow)."""

import io

import numpy as np

from dividers.core.base.errors import BadInput

MOST_BYTES = 20_000_000
MOST_PIXELS = (
    50_000_000  # a picture of more is refused before it is unpacked; JPEG is unpacked smaller, so that much more does no harm
)
MOST_JPEG_PIXELS = 250_000_000
LONGEST_SIDE = 1600
KINDS = ("JPEG", "PNG", "WEBP")
QUALITY = 82


def cleaned(content: bytes) -> tuple[bytes, tuple[int, int]]:
    """A photo as JPEG, at most LONGEST_SIDE on its longer side, with its size. Raises BadInput for what is no whole photo."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    if not content:
        raise BadInput("Choose a photo first: JPEG, PNG or WebP.", "photo")
    if len(content) > MOST_BYTES:
        raise BadInput(
            f"This photo has {len(content) / 1e6:.0f} MB; at most {MOST_BYTES // 1_000_000} MB are allowed.", "photo"
        )
    Image.MAX_IMAGE_PIXELS = MOST_JPEG_PIXELS
    try:
        with Image.open(io.BytesIO(content), formats=KINDS) as opened:
            if opened.width * opened.height > (MOST_JPEG_PIXELS if opened.format == "JPEG" else MOST_PIXELS):
                raise BadInput(f"This photo has {opened.width} × {opened.height} dots, which is too many.", "photo")
            opened.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            opened.thumbnail((2 * LONGEST_SIDE, 2 * LONGEST_SIDE))
            turned = ImageOps.exif_transpose(opened)
            picture = turned.convert("RGB")
    except (UnidentifiedImageError, Image.DecompressionBombError, Image.DecompressionBombWarning) as fault:
        raise BadInput("This file is not a photo that Dividers reads: use JPEG, PNG or WebP.", "photo") from fault
    except (OSError, SyntaxError, ValueError, MemoryError) as fault:
        raise BadInput("This photo is damaged or not complete: send it again.", "photo") from fault
    picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    clean = Image.new("RGB", picture.size)  # the dots alone: no place, no time, no camera
    clean.paste(picture)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue(), clean.size


def dots_of(content: bytes) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
    """The dots of a photo that this program has kept: (height, width, 3), 0 to 255."""
    from PIL import Image

    with Image.open(io.BytesIO(content), formats=("JPEG",)) as opened:
        return np.asarray(opened.convert("RGB"), float)


def cleaned_each(contents: list[bytes]) -> list[tuple[bytes, tuple[int, int]] | str]:
    """Photos of an archive, `cleaned`; or what is wrong with one."""
    return [_cleaned_or_fault(content) for content in contents]


def _cleaned_or_fault(content: bytes) -> tuple[bytes, tuple[int, int]] | str:
    try:
        return cleaned(content)
    except BadInput as fault:
        return fault.message


def looks_whole(content: bytes) -> bool:
    """Whether a photo kept by this program has its beginning and its end."""
    return content.startswith(b"\xff\xd8") and content.endswith(b"\xff\xd9")
