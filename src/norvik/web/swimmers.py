"""Swimmers: who they are, and their clips."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import date

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf import FlaskForm
from wtforms import BooleanField, RadioField, SelectChoice, StringField
from wtforms.validators import DataRequired, Length

from norvik.catalogue.loader import schools
from norvik.core.tables import BODY_PARTS, KIT, LEVELS
from norvik.store import clips, library, pains, plans, swimmers
from norvik.store.connection import transaction
from norvik.store.swimmers import Swimmer
from norvik.web.checks import Checks
from norvik.web.database import database
from norvik.web.ladder import drawing_of
from norvik.workflow.ladder import ladder_of

blueprint = Blueprint("swimmers", __name__, url_prefix="/swimmers")


def _choices(words: Iterable[str]) -> list[SelectChoice]:
    return [SelectChoice(word, word) for word in words]


class SwimmerForm(FlaskForm):
    name = StringField(
        "Name",
        validators=[
            DataRequired("Give the swimmer a name."),
            Length(max=80, message="A name has at most 80 letters."),
        ],
    )
    level = RadioField("Level", choices=_choices(LEVELS), default="improver")
    usual_breath = RadioField(
        "Breathes to",
        choices=[
            SelectChoice("", "not known"),
            *_choices(("left", "right")),
            SelectChoice("both", "both sides"),
        ],
        default="",
    )
    aim = StringField(
        "Aim", validators=[Length(max=120, message="Keep the aim under 120 letters.")]
    )
    minor = BooleanField("under age: a guardian has consented")
    pain = Checks("Aches or old injuries", choices=_choices(BODY_PARTS))
    kit = Checks("Owns", choices=_choices(KIT))


@blueprint.get("/")
def index() -> ResponseReturnValue:
    connection = database()
    everyone = swimmers.all_by_name(connection)
    counts = library.per_swimmer(connection)
    return render_template("swimmers/index.html", swimmers=everyone, counts=counts)


@blueprint.route("/new", methods=["GET", "POST"])
def new() -> ResponseReturnValue:
    form = SwimmerForm()
    if form.validate_on_submit():
        said = _from_form(form, 0)
        with transaction(database()):
            swimmer_id = swimmers.add(database(), replace(said, pain=()))
            pains.set_all(database(), swimmer_id, said.pain)
        return redirect(url_for("swimmers.show", swimmer_id=swimmer_id))
    return _form_page(form, None)


@blueprint.get("/<int:swimmer_id>")
def show(swimmer_id: int) -> ResponseReturnValue:
    connection = database()
    swimmer = swimmers.by_id(connection, swimmer_id)
    ladder = ladder_of(connection, swimmer)
    return render_template(
        "swimmers/show.html",
        swimmer=swimmer,
        ladder=ladder,
        ladder_drawing=drawing_of(ladder, date.today()),
        plans=plans.of_swimmer(connection, swimmer_id),
        pains=pains.of_swimmer(connection, swimmer_id),
        parts=BODY_PARTS,
        clips=clips.newest_first(connection, swimmer_id),
        schools=[(q, q.chosen(swimmer.schools)) for q in schools()],
    )


@blueprint.route("/<int:swimmer_id>/edit", methods=["GET", "POST"])
def edit(swimmer_id: int) -> ResponseReturnValue:
    swimmer = swimmers.by_id(database(), swimmer_id)
    form = SwimmerForm(obj=swimmer)
    if form.validate_on_submit():
        said = _from_form(form, swimmer_id)
        with transaction(database()):
            # Pain has a history of its own: what it says now is never only overwritten.
            swimmers.update(database(), replace(said, pain=swimmer.pain))
            pains.set_all(database(), swimmer_id, said.pain)
        return redirect(url_for("swimmers.show", swimmer_id=swimmer_id))
    return _form_page(form, swimmer)


def _form_page(form: SwimmerForm, swimmer: Swimmer | None) -> ResponseReturnValue:
    chosen = swimmer.schools if swimmer else {}
    if request.method == "POST":
        chosen = _schools_from_request()
    page = render_template(
        "swimmers/form.html",
        form=form,
        swimmer=swimmer,
        questions=[(q, q.chosen(chosen).id) for q in schools()],
    )
    return page, 422 if form.errors else 200


def _schools_from_request() -> dict[str, str]:
    found = {}
    for question in schools():
        school = request.form.get(f"school-{question.id}", "")
        if school in {s.id for s in question.schools}:
            found[question.id] = school
    return found


def _from_form(form: SwimmerForm, swimmer_id: int) -> Swimmer:
    return Swimmer(
        id=swimmer_id,
        name=(form.name.data or "").strip(),
        level=form.level.data,
        usual_breath=form.usual_breath.data,
        aim=(form.aim.data or "").strip(),
        pain=tuple(form.pain.data or ()),
        kit=tuple(form.kit.data or ()),
        schools=_schools_from_request(),
        minor=bool(form.minor.data),
    )
