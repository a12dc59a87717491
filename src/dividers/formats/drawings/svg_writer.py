"""The one writer of SVG: elements with their attributes, text and children. Whatever is text is escaped.

>>> element("text", {"x": number(1.5), "class": "note", "id": None}, 'under 6" & wide')
Markup('<text x="1.5" class="note">under 6&#34; &amp; wide</text>')
"""

from collections.abc import Iterable, Mapping

from markupsafe import Markup, escape

from dividers.core.geometry.shapes import Point

XMLNS = "http://www.w3.org/2000/svg"


def element(name: str, attributes: Mapping[str, str | None], *children: str) -> Markup:
    """One element. An attribute of None is left out; a child that is `Markup` stays as it is, any other text is escaped."""
    written = "".join(f' {key}="{escape(value)}"' for key, value in attributes.items() if value is not None)
    if not children:
        return Markup(f"<{name}{written}/>")
    return Markup(f"<{name}{written}>{joined(children)}</{name}>")


def joined(parts: Iterable[str]) -> Markup:
    """Elements and texts one after the other."""
    return Markup("".join(part if isinstance(part, Markup) else escape(part) for part in parts))


def drawing(name: str, box: str, attributes: Mapping[str, str | None], *children: str, label: str = "") -> Markup:
    """A whole drawing of a class, with its view box; `label` says what it shows, without one it is for the eye alone."""
    spoken = {"role": "img", "aria-label": label} if label else {"aria-hidden": "true"}
    return element("svg", {"class": name, "xmlns": XMLNS, **spoken, "viewBox": box, **attributes}, *(children or ("",)))


def path(name: str | None, line: str, title: str = "", **attributes: str | None) -> Markup:
    """A path of a class; underscores in the names of further attributes are hyphens."""
    more = {key.replace("_", "-"): value for key, value in attributes.items()}
    return element("path", {"class": name, **more, "d": line}, *([element("title", {}, title)] if title else ()))


def line(name: str, start: Point, end: Point, key: str = "") -> Markup:
    """A straight line of a class; `key` links it to its row in a list."""
    places = {"x1": number(start[0]), "y1": number(start[1]), "x2": number(end[0]), "y2": number(end[1])}
    return element("line", {"class": name, "data-link": key or None, **places})


def text(name: str, at: Point, words: str, anchor: str = "start", key: str = "") -> Markup:
    places = {"x": number(at[0]), "y": number(at[1]), "text-anchor": anchor}
    return element("text", {"class": name, "data-link": key or None, **places}, words)


def box(name: str | None, left: float, top: float, width: float, height: float, **attributes: str | None) -> Markup:
    """An axis-aligned rectangle."""
    places = {"x": number(left), "y": number(top), "width": number(width), "height": number(height)}
    return element("rect", {"class": name, **places, **attributes})


def number(value: float, digits: int = 2) -> str:
    """A number to so many digits behind the point, as short as it goes.

    >>> number(10.0), number(-0.001), number(2.504)
    ('10', '0', '2.5')
    """
    written = f"{value:.{digits}f}"
    if "." in written:
        written = written.rstrip("0").rstrip(".")
    return "0" if written == "-0" else written


def numbers(*values: float) -> str:
    """Numbers with spaces between, as view boxes and points have them."""
    return " ".join(number(value) for value in values)


def ring(points: Iterable[Point], digits: int = 2) -> str:
    """A closed ring as the data of a path."""
    return "M" + "L".join(f"{number(x, digits)} {number(y, digits)}" for x, y in points) + "Z"


def rings(shape: Iterable[Iterable[Point]], digits: int = 2) -> str:
    return "".join(ring(each, digits) for each in shape)
