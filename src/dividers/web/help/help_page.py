"""Help: what each page is for, its keys, the words it uses."""

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

blueprint = Blueprint("help", __name__, url_prefix="/help")


@blueprint.get("")
def show() -> ResponseReturnValue:
    return render_template("help/page.html")
