"""Looking back: the record that a client keeps of a job, and a year of jobs in figures."""

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from dividers.core.base.quantities import run
from dividers.core.job.model import Piece
from dividers.formats.drawings.edges_svg import edge_bar, month_bars
from dividers.services.jobs import editing
from dividers.services.jobs.laying_out import usual_units
from dividers.services.jobs.planning import piece_plan
from dividers.services.logbook import record, year
from dividers.services.logbook.year import EdgeRow
from dividers.services.stations import pictures
from dividers.web.database import connection

blueprint = Blueprint("back", __name__)
GLOSSY = ("eggshell", "satin", "semi-gloss", "gloss")


@blueprint.get("/jobs/<int:job_id>/record/client")
def client(job_id: int) -> ResponseReturnValue:
    """What was painted, in what, and how to repair it: a page to keep."""
    opened = editing.open_job(connection(), job_id)
    found = record.record_of(connection(), job_id)
    before = {piece.key: record.place_photo(connection(), job_id, piece.key) for piece in opened.job.pieces}
    return render_template(
        "logbook/client.html",
        opened=opened,
        job=opened.job,
        record=found,
        before=before,
        after=[photo for photo in found.photos if photo.id not in before.values()],
        looks={piece.key: pictures.thumbnail(opened.revision.document, piece.key) for piece in opened.job.pieces},
        colors={piece.key: _colors(opened.revision.document, piece) for piece in opened.job.pieces},
        glossy={piece.key: any(paint.sheen in GLOSSY for paint in piece.method.paint.values()) for piece in opened.job.pieces},
    )


def _colors(document: str, piece: Piece) -> list[str]:
    """The keys of the colours that a piece is painted in, the base first."""
    return list(dict.fromkeys([piece.base, *(need.color for need in piece_plan(document, piece.key).paints)]))


@blueprint.get("/year")
@blueprint.get("/year/<int:number>")
def show_year(number: int | None = None) -> ResponseReturnValue:
    years = year.years_of(connection())
    shown = number if number is not None and 1900 <= number <= 9998 else years[0]
    found = year.year_of(connection(), shown)
    units = usual_units(connection())
    most = max((row.strips for row in found.edges), default=1)
    return render_template(
        "logbook/year.html",
        year=found,
        run=lambda metres: run(metres, units),
        years=years,
        bars=[(row, edge_bar((row.clean, row.slight, row.bled), most, _said(row))) for row in found.edges],
        months=month_bars(found.strips_in_month),
    )


def _said(row: EdgeRow) -> str:
    return f"{row.tape} on {row.ground}: {row.clean} clean, {row.slight} slight, {row.bled} bled"
