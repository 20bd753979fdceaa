"""The club: what holds for everybody unless a swimmer has something else."""

from __future__ import annotations

import math

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.catalogue.loader import schools
from norvik.core.errors import MarkError as RefusedError
from norvik.core.frame.measures import MEASURES
from norvik.core.reading.trust import ENOUGH
from norvik.core.time.marker import DEFAULT_MARKER, FAMILIES, MarkError
from norvik.formats.reading_csv import ABOUT, ABOUT_MEASURES, write_measure_trust, write_trust
from norvik.formats.tables_out import STYLES
from norvik.store import club
from norvik.web.shared.approach import approach_from_form
from norvik.web.shared.database import database
from norvik.web.shared.downloads import WORKBOOK, table_file
from norvik.workflow.marker import found_by_person, found_of
from norvik.workflow.read_measures import trust_in_measures
from norvik.workflow.reading import trust

blueprint = Blueprint("club", __name__, url_prefix="/club")


@blueprint.route("/", methods=["GET", "POST"])
def show() -> ResponseReturnValue:
    """The coaching approach of new swimmers, how tables are written, how well marks are placed."""
    if request.method == "POST":
        club.set_approach(database(), approach_from_form())
        return redirect(url_for("swimmers.index"))
    chosen = club.approach(database())
    return render_template(
        "squad/club.html", questions=[(q, q.chosen(chosen).id) for q in schools()],
        tables=club.tables(database()), styles=STYLES, workbook=WORKBOOK,
        families=FAMILIES, errors=club.marker(database()), found=found_of(database()),
        people=found_by_person(database()), shipped=DEFAULT_MARKER.errors,
        reads_films=club.reads_films(database()), trust=trust(database()),
        measure_trust=trust_in_measures(database()), measures=MEASURES, enough=ENOUGH,
    )  # fmt: skip


@blueprint.post("/tables")
def tables() -> ResponseReturnValue:
    style = request.form.get("style", "")
    if style in STYLES or style == WORKBOOK:
        club.set_tables(database(), style)
    return redirect(url_for("club.show", _anchor="tables"))


@blueprint.post("/marking")
def marking() -> ResponseReturnValue:
    """How well this club marks, family by family; the shipped setting where nothing is said."""
    errors = {}
    for family in FAMILIES:
        if request.form.get("shipped"):
            errors[family] = DEFAULT_MARKER.errors[family]
            continue
        numbers = [_number(f"{family}-{name}") for name in MarkError.__slots__]
        errors[family] = MarkError(*numbers)
    club.set_marker(database(), errors)
    return redirect(url_for("club.show", _anchor="marking"))


@blueprint.post("/reading")
def reading() -> ResponseReturnValue:
    """Whether new films are read by themselves while the machine is idle."""
    club.set_reads_films(database(), request.form.get("wanted") == "yes")
    return redirect(url_for("club.show", _anchor="reading"))


@blueprint.get("/reading.csv")
def trust_table() -> ResponseReturnValue:
    """How far proposals were off, from all corrections of the club."""
    return table_file(write_trust(trust(database())), "reading.csv", ABOUT)


@blueprint.get("/reading-measures.csv")
def measure_trust_table() -> ResponseReturnValue:
    """The same of measures on the frame."""
    text = write_measure_trust(trust_in_measures(database()))
    return table_file(text, "reading-measures.csv", ABOUT_MEASURES)


def _number(name: str) -> float:
    try:
        value = float(request.form.get(name, "").replace(",", "."))
    except ValueError:
        value = math.nan
    if not 0 <= value <= 500:
        raise RefusedError("A marking error is a number from 0 to 500.")
    return value
