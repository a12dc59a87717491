"""GPL palettes, the plain text that open-source drawing programs share: names and colours, in and out."""

import re
from collections.abc import Iterable

from dividers.core.base.errors import BadInput

HEAD = "GIMP Palette"
MOST_BYTES, MOST_COLOURS = 200_000, 500


def write_gpl(name: str, colours: Iterable[tuple[str, str]]) -> str:
    """A palette of (name, #rrggbb)."""
    lines = [HEAD, f"Name: {_line(name)}", "Columns: 4", "#"]
    for title, code in colours:
        red, green, blue = (int(code[at : at + 2], 16) for at in (1, 3, 5))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{_line(title)}")
    return "\n".join(lines) + "\n"


def _line(text: str) -> str:
    return " ".join(text.split())


def read_gpl(text: str) -> list[tuple[str, str]]:
    """The colours of a palette as (name, #rrggbb), in order. Raises BadInput."""
    if len(text) > MOST_BYTES:
        raise BadInput(f"The palette has {len(text)} characters; at most {MOST_BYTES} are read.", "file")
    lines = text.lstrip("\ufeff").splitlines()
    if not lines or lines[0].strip() != HEAD:
        raise BadInput(f"A GPL palette begins with the line “{HEAD}”.", "file")
    found: list[tuple[str, str]] = []
    for number, line in enumerate(lines[1:], 2):
        if not line.strip() or line.lstrip().startswith("#") or re.match(r"(Name|Columns|Channels):", line):
            continue
        match = re.fullmatch(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?", line)
        if not match or any(int(part) > 255 for part in match.groups()[:3]):
            raise BadInput(
                f"Line {number} of the palette isn't a colour: “{line.strip()[:40]}”. Write red, green and blue from 0 to 255, then a name.",
                "file",
            )
        red, green, blue, name = match.groups()
        code = f"#{int(red):02x}{int(green):02x}{int(blue):02x}"
        found.append(((name or "").strip() or code, code))
    if not found or len(found) > MOST_COLOURS:
        raise BadInput(f"The palette has {len(found)} colours; 1 to {MOST_COLOURS} are allowed.", "file")
    return found
