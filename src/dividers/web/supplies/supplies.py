"""The pages of Supplies: paints, tapes, seals and colours; measuring a roll, mixing, comparing colours."""

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Any

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.colour import luminance, read_hex
from dividers.core.base.contrast import contrast, shades, step
from dividers.core.base.errors import BadInput, BadJob, Fault, NotFound
from dividers.core.base.lengths import read_length, write_exact
from dividers.core.base.quantities import mixed, read_spread
from dividers.core.base.whole import whole
from dividers.core.job.drying import drying_factor
from dividers.core.job.reader import read_count
from dividers.core.job.usual import SPREAD_M2_L
from dividers.core.job_file.supplies import KEYS, KINDS, shown
from dividers.core.materials.mixes import batch_of
from dividers.core.tape.actual_width import actual_width_mm
from dividers.formats.gpl import read_gpl
from dividers.formats.tables.supplies_csv import read_supplies
from dividers.services.jobs import tools as tools_had
from dividers.services.jobs.tools import TOOLS
from dividers.services.supplies import supplies
from dividers.web.database import connection
from dividers.web.forms.fields import Field, with_faults, written
from dividers.web.forms.schema_fields import field_of

blueprint = Blueprint("supplies", __name__, url_prefix="/supplies")
TITLES = {"paint": "Paints", "tape": "Tapes", "seal": "Seals", "colour": "Colours"}
USUAL_SPREAD = f"{float(SPREAD_M2_L.value):g} m2/L"
FAN = (-4, -3, -2, -1, 1, 2, 3, 4)


@blueprint.get("")
def show() -> ResponseReturnValue:
    return _page()


def _page(status: int = 200, **more: Any) -> ResponseReturnValue:
    groups: dict[str, list[tuple[Any, dict[str, str]]]] = {kind: [] for kind in KINDS}
    for item in supplies.items(connection()):
        groups[item.kind].append((item, shown(item.kind, json.loads(item.body))))
    page = render_template(
        "supplies/page.html", groups=groups, titles=TITLES, keys=KEYS, asked=request.args, lrv=lambda code: round(luminance(code) * 100),
        drying_factor=drying_factor, line_tools={name: tools_had.known(connection()).get(name) for name in TOOLS}, tools=_tools(), usual_spread=USUAL_SPREAD, **{"rows": None, "fault": "", **more},
    )  # fmt: skip
    return page, status


@blueprint.get("/<kind>/new")
def new(kind: str) -> ResponseReturnValue:
    return _form(None, kind, {})


@blueprint.get("/items/<int:item_id>")
def edit(item_id: int) -> ResponseReturnValue:
    item = supplies.require(connection(), item_id)
    return _form(item_id, item.kind, {"name": item.name, **shown(item.kind, json.loads(item.body))})


def _form(item_id: int | None, kind: str, typed: dict[str, str], faults: Sequence[Fault] = ()) -> ResponseReturnValue:
    if kind not in KINDS:
        raise NotFound("There is no such kind of item in Supplies.")
    fields = [Field("name", "Name", "text"), *(field_of(key.key, key) for key in KEYS[kind])]
    fields = [replace(field, values=(typed.get(field.name) or written(field, None)[0],)) for field in fields]
    fields, _ = with_faults(fields, faults, "")
    page = render_template("supplies/item.html", item_id=item_id, title=TITLES[kind], name=typed.get("name", ""), fields=fields)
    return page, 422 if faults else 200


@blueprint.post("/<kind>/new")
def make(kind: str) -> ResponseReturnValue:
    return _save(None, kind)


@blueprint.post("/items/<int:item_id>")
def save(item_id: int) -> ResponseReturnValue:
    return _save(item_id, supplies.require(connection(), item_id).kind)


def _save(item_id: int | None, kind: str) -> ResponseReturnValue:
    typed = {name: value for name, value in request.form.items() if name not in ("csrf_token", "once")}
    try:
        supplies.save(connection(), item_id, kind, typed)
    except BadJob as bad:
        return _form(item_id, kind, typed, bad.faults)
    return redirect(url_for("supplies.show"), 303)


@blueprint.post("/items/<int:item_id>/<act>")
def act(item_id: int, act: str) -> ResponseReturnValue:
    """Copy an item, retire it, or bring it back."""
    if act == "copy":
        return redirect(url_for("supplies.edit", item_id=supplies.copy(connection(), item_id)), 303)
    if act not in ("retire", "restore"):
        raise NotFound("There is no such action.")
    supplies.retire(connection(), item_id, act == "retire")
    return redirect(url_for("supplies.show"), 303)


@blueprint.post("/tools")
def keep_tools() -> ResponseReturnValue:
    """Keep which tools for carrying lines there are."""
    tools_had.keep(connection(), request.form.getlist("tool"))
    flash("Kept. Marks and new walls go by these tools.")
    return redirect(url_for("supplies.show") + "#tools", 303)


@blueprint.get("/supplies.csv")
def as_csv() -> ResponseReturnValue:
    headers = {"Content-Disposition": 'attachment; filename="supplies.csv"'}
    return Response("\ufeff" + supplies.as_csv(connection()), mimetype="text/csv", headers=headers)


@blueprint.get("/colours.gpl")
def as_gpl() -> ResponseReturnValue:
    headers = {"Content-Disposition": 'attachment; filename="colours.gpl"'}
    return Response(supplies.as_gpl(connection()), mimetype="text/plain", headers=headers)


@blueprint.post("/table")
def table() -> ResponseReturnValue:
    """Show what a table or a palette holds, or take what is good of it."""
    text = request.form.get("table", "")
    upload = request.files.get("file")
    if upload and upload.filename:
        text = upload.read().decode("utf-8-sig", "replace")
    try:
        if text.lstrip("\ufeff").startswith("GIMP Palette"):
            new_ones, replaced = supplies.take_colours(connection(), read_gpl(text))
        else:
            rows = read_supplies(text)
            if request.form.get("action") != "take":
                return _page(rows=rows, table=text)
            new_ones, replaced = supplies.take_rows(connection(), rows)
    except BadInput as fault:
        return _page(422, fault=fault.message, table=text)
    flash(f"{new_ones} new, {replaced} replaced.")
    return redirect(url_for("supplies.show"), 303)


@dataclass(frozen=True)
class Answer:
    """What a small tool worked out from the address, or what is wrong with what was asked."""

    said: tuple[str, ...] = ()
    fault: str = ""
    colours: tuple[tuple[str, str], ...] = ()
    asked: bool = False
    extra: dict[str, Any] = field(default_factory=dict)


def _tools() -> dict[str, Answer]:
    return {name: _answered(tool) for name, tool in (("strips", _strips), ("mix", _mix), ("colours", _colours))}


def _answered(tool: Callable[[], Answer]) -> Answer:
    try:
        return tool()
    except BadInput as fault:
        return Answer(fault=fault.message, asked=True)


def _strips() -> Answer:
    if "strips_measured" not in request.args:
        return Answer()
    count = read_count(request.args.get("strips_count") or "10", 2, 100)
    width = actual_width_mm(read_length(request.args["strips_measured"], "mm").mm, count)
    return Answer((f"One strip is {write_exact(width, 'mm')} wide, {write_exact(width, 'in')}.",), asked=True)


def _mix() -> Answer:
    if "mix_area" not in request.args:
        return Answer()
    parts = []
    for piece in (request.args.get("mix_parts") or "4 glaze, 1 paint").replace(";", ",").split(","):
        share, _, name = piece.strip().partition(" ")
        if not name or whole(share.replace(".", "", 1)) is None:
            raise BadInput("Write the parts like: 4 glaze, 1 paint.")
        parts.append((name.strip()[:60], Fraction(share)))
    try:
        area, waste = float(request.args["mix_area"].replace(",", ".")), float(request.args.get("mix_waste") or "10")
    except ValueError as broken:
        raise BadInput("Area and waste are numbers: square metres and percent.") from broken
    if not 0 < area < 100_000:
        raise BadInput("The area must be more than 0 and less than 100,000 m².")
    coats = read_count(request.args.get("mix_coats") or "1", 1, 20)
    batch = batch_of(tuple(parts), area, coats, float(read_spread(request.args.get("mix_spread") or USUAL_SPREAD)), waste)
    return Answer(
        (f"Mix {mixed(batch.litres, batch.parts, 'mm')}.", f"That is {mixed(batch.litres, batch.parts, 'in')}."), asked=True
    )


def _colours() -> Answer:
    if "one" not in request.args:
        return Answer()
    one, other = read_hex(request.args["one"]), read_hex(request.args.get("other", "#ffffff"))
    found = contrast(one, other)
    said = (
        f"Light reflectance (LRV) {found.lrv[0]:.0f} and {found.lrv[1]:.0f}; ΔE2000 {found.delta_e:.1f}; about {found.steps:.1f} steps of a fan deck.",
        found.said,
    )
    fan = tuple((f"{number:+d}", step(one, number)) for number in FAN)
    names = ("lit", "front", "in shadow")
    return Answer(
        said, colours=fan, asked=True, extra={"shades": list(zip(names, shades(one), strict=True)), "one": one, "other": other}
    )
