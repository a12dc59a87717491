"""Colours: how light one is, and what stands out on it."""

import re

from dividers.core.base.errors import BadInput, quoted


def read_hex(written: object) -> str:
    """Read ``#rrggbb``, in lower case. Raises BadInput otherwise."""
    if not isinstance(written, str) or not re.fullmatch(r"#[0-9A-Fa-f]{6}", written):
        raise BadInput(f"{quoted(written)} isn't a colour. Write # and six hexadecimal digits, like #22345a.", value=written)
    return written.lower()


def luminance(hex_code: str) -> float:
    """Relative luminance, 0 black to 1 white (the WCAG 2 definition, from memory)."""
    channels = (int(hex_code[at : at + 2], 16) / 255 for at in (1, 3, 5))
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def glazed(base: str, under: str, over: str) -> str:
    """How two translucent colours look one over the other, each known by its look on the base.

    Each glaze lets through a share of the light, channel by channel: its look over the base's (Beer's law, thin layers).
    """
    channels = []
    for at in (1, 3, 5):
        ground, one, other = (int(code[at : at + 2], 16) / 255 for code in (base, under, over))
        through = one / ground * other / ground if ground else 1.0
        channels.append(min(max(ground * through, 0.0), 1.0))
    return "#" + "".join(f"{round(channel * 255):02x}" for channel in channels)
