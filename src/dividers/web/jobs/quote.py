"""The offer for a client: its terms, what it comes to, ways to do the job otherwise beside it, as a page and as PDF."""

from datetime import date

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.job.document import free_key
from dividers.core.job.model import Piece
from dividers.core.materials.quote import money
from dividers.core.output.scene import View
from dividers.formats.print.paper import About, Pen, paper, paper_for
from dividers.services.clock import date_of
from dividers.services.files import photo_preview
from dividers.services.jobs import editing
from dividers.services.jobs.editing import Opened
from dividers.services.logbook import quoting
from dividers.services.logbook.logbook import BadForm
from dividers.services.logbook.quoting import Offer
from dividers.services.stations import pictures
from dividers.web.database import connection, photo_folder

blueprint = Blueprint("quote", __name__, url_prefix="/jobs/<int:job_id>/quote")
MODELLED = "Hours are those of the plan, not measured; drying waits are not paid for."


@blueprint.get("")
def show(job_id: int) -> ResponseReturnValue:
    return _page(job_id, {}, {}, 200)


@blueprint.post("")
def save(job_id: int) -> ResponseReturnValue:
    """Keep the terms; what can't be read is shown again with what is wrong at its field."""
    try:
        quoting.save(connection(), job_id, request.form, request.form.getlist("beside"))
    except BadForm as bad:
        return _page(job_id, dict(request.form), bad.faults, 422)
    return redirect(url_for("quote.show", job_id=job_id), 303)


def _page(job_id: int, typed: dict[str, str], faults: dict[str, str], status: int) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    offer = quoting.offer_of(connection(), opened, with_ways="ways" in request.args)
    document = opened.revision.document
    body = render_template(
        "jobs/quote.html",
        opened=opened,
        job=opened.job,
        offer=offer,
        typed={**offer.typed, **typed},
        chosen=request.form.getlist("beside") if typed else offer.chosen,
        faults=faults,
        pictures={piece.key: pictures.thumbnail(document, piece.key) for piece in opened.job.pieces},
        colors={piece.key: _colors(opened, piece) for piece in opened.job.pieces},
        placed=_placed(opened),
        until=_day(offer.until),
        wants_ways="ways" in request.args,
        money=money,
        modelled=MODELLED,
    )
    return body, status


def _day(iso: str) -> str:
    day = date.fromisoformat(iso)
    return f"{day.day} {day:%b %Y}"


def _colors(opened: Opened, piece: Piece) -> str:
    """The layers of a piece and their colours, in words."""
    base = opened.job.palette[piece.base].name
    found = []
    for layer in piece.stack:
        used = dict.fromkeys(
            key for key in layer.pattern.values.get("colors") or () if key in opened.job.palette and key != piece.base
        )
        names = ", ".join(opened.job.palette[key].name for key in used)
        found.append(f"{layer.pattern.kind}{f' in {names}' if names else ''}")
    return f"{'; '.join(found).capitalize()}, on {base.lower()}"


@blueprint.get("/offer.pdf")
def as_pdf(job_id: int) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    offer = quoting.offer_of(connection(), opened)
    if offer.quote is None or len(offer.beside) < len(offer.chosen):  # the page says what is still being worked out
        return redirect(url_for("quote.show", job_id=job_id), 303)
    about = About(
        "Offer", opened.job.title, date_of(offer.made_at).isoformat(), paper_for(opened.job.units), opened.job.units == "in"
    )
    name = f"{free_key(opened.job.title, set())}-offer.pdf"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    placed = {piece: photo_preview.as_png(connection(), job_id, piece, photo_folder()) for piece in _placed(opened)}
    return Response(paper(about, lambda pen: _write(pen, opened, offer, placed)), mimetype="application/pdf", headers=headers)


def _placed(opened: Opened) -> set[str]:
    """The pieces of which there is a photo of the place with their corners on it."""
    return {piece.key for piece in opened.job.pieces if photo_preview.find(connection(), opened.id, piece.key)}


def _write(pen: Pen, opened: Opened, offer: Offer, placed: dict[str, bytes]) -> None:
    """The offer on paper; `placed` has the looks on photos of their places, as PNG by piece."""
    assert offer.quote
    currency = opened.job.currency
    if offer.typed.get("client"):
        pen.text(f"For {offer.typed['client']}", bold=True)
    if offer.typed.get("words"):
        pen.text(offer.typed["words"])
    for piece in opened.job.pieces:
        copies = f", {piece.copies} alike" if piece.copies > 1 else ""
        pen.heading(f"{piece.name}{copies}", keep=200)
        if piece.key in placed:
            pen.picture(placed[piece.key], 220)
        else:
            pen.scene(pictures.scene_of(opened.revision.document, piece.key, View()), 160)
    pen.heading("What it comes to")
    rows = [[line.words, f"{money(line.amount)} {currency}".strip()] for line in offer.quote.lines]
    pen.table([("What", 0.7), ("Price", 0.3)], [*rows, ["In all", f"{money(offer.quote.total)} {currency}".strip()]])
    pen.text(f"About {offer.days} days on site. Valid until {_day(offer.until)}. {MODELLED}")
    if offer.beside:
        pen.heading("Done otherwise")
        others = [[each.name, f"{money(each.quote.total)} {currency}".strip(), f"{each.days}"] for each in offer.beside]
        pen.table([("How", 0.5), ("In all", 0.3), ("Days", 0.2)], others)
    if offer.typed.get("not_included"):
        pen.heading("Not included")
        pen.text(offer.typed["not_included"])
