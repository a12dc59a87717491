"""What a station's buttons add to or take from the document, besides saving the fields."""

import json
import re
from collections.abc import Callable, Iterator

from dividers.core.base.contrast import contrast, shades, step
from dividers.core.base.whole import whole
from dividers.core.job.document import Document, free_key, look_up, put
from dividers.core.job.surface import SIDES
from dividers.core.patterns import BY_KEY
from dividers.services.jobs.openings import add_opening
from dividers.web.stations.measure_actions import survey_action

Act = Callable[[Document, str], None]


def action_of(action: str) -> Act | None:
    """The change that a button's value names: a function of the document and the path of its piece."""
    name, *places = action.split(":")
    if found := survey_action(name, places):
        return found
    numbers = [number for number in map(_place, places) if number is not None]
    match name, numbers:
        case "add-opening", [panel]:
            return lambda document, piece: add_opening(document, piece, panel, places[-1])
        case "remove-opening", [panel, number]:
            return lambda document, piece: _remove(document, f"{piece}.surface.panels.{panel}.openings", number)
        case "add-panel", []:
            return _add_panel
        case "remove-panel", [number]:
            return lambda document, piece: _remove_panel(document, piece, number)
        case "add-color", []:
            return lambda document, piece: put(
                document, f"{piece}.pattern.colors", [*(look_up(document, f"{piece}.pattern.colors") or []), None]
            )
        case "remove-color", [number]:
            return lambda document, piece: _remove(document, f"{piece}.pattern.colors", number)
        case "add-palette", []:
            return lambda document, piece: _add_to_palette(document)
    if name == "palette-take":
        return _taken_from_supplies(action.removeprefix("palette-take:"))
    if name in ("palette-lighter", "palette-darker") and len(places) == 1:
        return lambda document, piece: _step(document, places[0], 1 if name == "palette-lighter" else -1)
    if name == "palette-shades" and len(places) == 1:
        return lambda document, piece: _add_shades(document, places[0])
    if name in ("palette-earlier", "palette-later", "remove-palette") and len(places) == 1:
        return lambda document, piece: _change_palette(document, name, places[0])
    if name == "swap-colors" and len(places) == 2:
        return lambda document, piece: _swap_colors(document, piece, *(place or None for place in places))
    if name == "use":
        return _used(action.removeprefix("use:"))
    if name == "fill" and len(places) == 4:
        return lambda document, piece: _fill(document, f"{piece}.pattern.fills", places)
    if name == "fit" and len(places) == 2 and (count := whole(places[1], 9999)) is not None:
        return lambda document, piece: put(document, f"{piece}.pattern.{places[0]}", count)
    if name in ("earlier", "later") and len(places) > 1:
        order = places[1].split(",")
        return lambda document, piece: put(document, f"{piece}.method.order", _moved(order, places[0], name))
    return None


def _place(text: str) -> int | None:
    return whole(text, 999)


# What a way to make a run come out may change: the pattern's own values and its field's margins.
USABLE = rf"pattern\.[a-z_]+|surface\.panels\.[0-9]{{1,2}}\.margin\.({'|'.join(SIDES)})|method\.coats\.[^.]+|method\.mark_way"


def _used(written: str) -> Act | None:
    """The changes of a choice, by path in the piece, as JSON."""
    try:
        changes = json.loads(written)
    except ValueError:
        return None
    if not isinstance(changes, dict) or not all(re.fullmatch(USABLE, path) for path in changes):
        return None

    def act(document: Document, piece: str) -> None:
        for path, value in changes.items():
            put(document, f"{piece}.{path}", value)

    return act


def _fill(document: Document, path: str, places: list[str]) -> None:
    """Give a region a colour: in place of fill number places[0], or as a new one at (x, y) mm."""
    number, x, y, color = places
    fills = list(look_up(document, path) or [])
    at = whole(number, len(fills) - 1)
    if at is not None:
        fills[at] = {"at": fills[at]["at"], "color": color or None}
    else:
        fills.append({"at": [f"{x} mm", f"{y} mm"], "color": color or None})
    put(document, path, fills)


def _swap_colors(document: Document, piece: str, one: str | None, other: str | None) -> None:
    """Let two colours of a pattern change places, wherever it names them; one that it doesn't name takes the other's place. None is the base."""
    change = {one: other, other: one}
    written = look_up(document, f"{piece}.pattern")
    for parameter in BY_KEY[written["kind"]].parameters:
        path = f"{piece}.pattern.{parameter.key}"
        value = look_up(document, path)
        if isinstance(value, list) and parameter.names_color(written):
            put(document, path, [change.get(each, each) for each in value])
        elif parameter.names_color(written):
            put(document, path, change.get(value, value))


def _moved(order: list[str], color: str, way: str) -> list[str]:
    """An order with one colour a place earlier or later."""
    if color not in order:
        return order
    at = order.index(color)
    to = min(max(at + (-1 if way == "earlier" else 1), 0), len(order) - 1)
    rest = [key for key in order if key != color]
    return [*rest[:to], color, *rest[to:]]


def _add_panel(document: Document, piece: str) -> None:
    """Another panel like the last one, joined to its right side."""
    panels = look_up(document, f"{piece}.surface.panels")
    last = panels[-1]
    names = {str(panel.get("name", "")) for panel in panels}
    last.setdefault("name", "panel 1")
    name = next(f"panel {n}" for n in range(2, 99) if f"panel {n}" not in names)
    put(document, f"{piece}.surface.panels", [*panels, {"name": name, "width": last["width"], "height": last["height"]}])
    folds = look_up(document, f"{piece}.surface.folds") or []
    put(document, f"{piece}.surface.folds", [*folds, [last["name"], "right", name, "left"]])


def _remove_panel(document: Document, piece: str, number: int) -> None:
    """Take a panel out, and the folds that joined it; the last one stays."""
    panels = look_up(document, f"{piece}.surface.panels")
    if len(panels) < 2 or number >= len(panels):
        return
    name = panels[number].get("name")
    put(document, f"{piece}.surface.panels", [panel for at, panel in enumerate(panels) if at != number])
    folds = look_up(document, f"{piece}.surface.folds") or []
    put(document, f"{piece}.surface.folds", [fold for fold in folds if name not in (fold[0], fold[2])] or None)


def _remove(document: Document, path: str, number: int) -> None:
    entries = look_up(document, path) or []
    if len(entries) > 1 or path.endswith("openings"):
        put(document, path, [entry for index, entry in enumerate(entries) if index != number])


def _add_to_palette(document: Document) -> None:
    """A colour unlike those that are there."""
    palette = document["palette"]
    key = free_key("colour", palette)
    there = [str(colour.get("hex", "")) for colour in palette.values() if re.fullmatch(HEX_TEXT, str(colour.get("hex", "")))]
    new = max(DISTINCT, key=lambda each: min((contrast(each, other).delta_e for other in there), default=0.0))
    document["palette"] = palette | {key: {"name": f"Colour {len(palette) + 1}", "hex": new}}
    _paint_as_the_others(document, key)


def _paint_as_the_others(document: Document, key: str) -> None:
    """Give a new colour, in each piece, the product that most of its colours are painted with: a typical paint would wait otherwise."""
    for piece in document["pieces"]:
        paint = look_up(piece, "method.paint")
        products = [product for product in paint.values() if isinstance(product, str)] if isinstance(paint, dict) else []
        if products:
            put(piece, "method.paint", paint | {key: max(dict.fromkeys(products), key=products.count)})


# Colours to choose the next one from: far apart from each other, as paints come.
DISTINCT = ("#9e3b32", "#27384f", "#c39a45", "#3f6b4f", "#6d4c7d", "#2f7f86", "#d98a5b", "#8c8f45", "#1f2123", "#f3efe4", "#b9c7d6", "#c2738f")  # fmt: skip
HEX_TEXT = r"#[0-9a-fA-F]{6}"


def _taken_from_supplies(written: str) -> Act | None:
    """Add a colour as Supplies have it: its name and hex, as JSON."""
    try:
        wanted = json.loads(written)
    except ValueError:
        return None
    fits = isinstance(wanted, dict) and all(isinstance(wanted.get(key), str) for key in ("name", "hex"))
    if not fits or not re.fullmatch(HEX_TEXT, wanted["hex"]):
        return None

    def act(document: Document, piece: str) -> None:
        palette = document["palette"]
        if wanted["name"] not in {str(colour.get("name")) for colour in palette.values()}:
            key = free_key(wanted["name"], palette)
            document["palette"] = palette | {key: {"name": wanted["name"], "hex": wanted["hex"]}}
            _paint_as_the_others(document, key)

    return act


def _step(document: Document, key: str, steps: int) -> None:
    """A colour so many fan-deck steps lighter, or darker."""
    own = document["palette"].get(key)
    if own and re.fullmatch(HEX_TEXT, str(own.get("hex", ""))):
        document["palette"] = document["palette"] | {key: {**own, "hex": step(own["hex"], steps)}}


def _add_shades(document: Document, key: str) -> None:
    """Two more of a colour's family, lit and in shadow, as for the sides of a solid."""
    palette = document["palette"]
    if key not in palette:
        return
    own = palette[key]
    lit, _, shadow = shades(str(own.get("hex", "#808080")))
    for words, hex_code in (("lit", lit), ("in shadow", shadow)):
        name = f"{own.get('name', key)}, {words}"
        if name not in {str(colour.get("name")) for colour in palette.values()}:
            palette = palette | {free_key(name, palette): {**own, "name": name, "hex": hex_code}}
    added = [each for each in palette if each not in document["palette"]]
    document["palette"] = palette
    for each in added:
        _paint_as_the_others(document, each)


def _change_palette(document: Document, way: str, key: str) -> None:
    """Move a colour in the palette, or take out one that nothing uses."""
    order = list(document["palette"])
    if key not in order:
        return
    if way == "remove-palette":
        if len(order) > 1 and key not in colors_used(document):
            document["palette"] = {each: value for each, value in document["palette"].items() if each != key}
            for piece in document["pieces"]:
                if key in (paint := look_up(piece, "method.paint") or {}):
                    put(piece, "method.paint", {each: product for each, product in paint.items() if each != key} or None)
        return
    moved = _moved(order, key, way.removeprefix("palette-"))
    document["palette"] = {each: document["palette"][each] for each in moved}


def colors_used(document: Document) -> set[str]:
    """The colours that any piece names, whatever for; a paint that is chosen for one that is nowhere is no use of it."""
    pieces = [piece | {"method": {**(piece.get("method") or {}), "paint": None}} for piece in document["pieces"]]
    return {text for piece in pieces for text in _texts(piece)} & set(document["palette"])


def _texts(value: object) -> Iterator[str]:
    """Every text and key in a value."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, each in value.items():
            yield str(key)
            yield from _texts(each)
    elif isinstance(value, list):
        for each in value:
            yield from _texts(each)
