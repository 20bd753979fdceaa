"""Swimmers: who they are, and their clips."""

from __future__ import annotations

import secrets
from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, date, datetime

from flask import Blueprint, jsonify, redirect, render_template, request, send_file, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from flask_wtf import FlaskForm
from wtforms import BooleanField, RadioField, SelectChoice, StringField
from wtforms.validators import DataRequired, Length, Regexp

from norvik.catalogue.loader import schools
from norvik.core.errors import MarkError, NotFoundError
from norvik.core.judging.coaching_model import BODY_PARTS, KIT, LEVELS
from norvik.house.swimmer_export import write_swimmer_zip
from norvik.storage.erase import erase, what_stays
from norvik.store import (
    clips,
    club,
    library,
    pains,
    plans,
    review_clips,
    reviews,
    squads,
    swimmer_removal,
    swimmers,
)
from norvik.store.connection import transaction
from norvik.store.swimmers import Swimmer
from norvik.web.review.review import review_page
from norvik.web.shared import asked
from norvik.web.shared.approach import approach_from_form
from norvik.web.shared.checks import Checks
from norvik.web.shared.database import database, settings
from norvik.web.shared.downloads import attachment, table_file
from norvik.web.shared.proof import wrong_password
from norvik.web.swimmer.progress import drawing_of
from norvik.workflow import access, trail
from norvik.workflow.consent import allowed
from norvik.workflow.progress import progress_of
from norvik.workflow.review_lines import review_lines
from norvik.workflow.swimmer_tables import about, about_text, pain_file, season_file, training_file

#: Own choice: the newest reviews are enough until somebody asks for all.
_REVIEWS_SHOWN = 12

blueprint = Blueprint("swimmers", __name__, url_prefix="/swimmers")
#: What a swimmer's tables are called in their addresses.
_TABLES = {"season": season_file, "training": training_file, "pain": pain_file}


def _choices(words: Iterable[str]) -> list[SelectChoice]:
    return [SelectChoice(word, word) for word in words]


_MAIL = [
    Length(max=120, message="An address has at most 120 letters."),
    Regexp(
        r"^$|^[^@\s<>\"]+@[^@\s<>\"]+$", message="An e-mail address looks like name@club.example."
    ),
]


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
    minor = BooleanField("under 18")
    email = StringField("E-mail, for links to reviews", validators=_MAIL)
    guardian_email = StringField("Guardian's e-mail (under 18)", validators=_MAIL)
    pain = Checks("Pain and injuries", choices=_choices(BODY_PARTS))
    kit = Checks("Owns", choices=_choices(KIT))


@blueprint.get("/")
def index() -> ResponseReturnValue:
    connection = database()
    everyone = swimmers.all_by_name(connection, asked.within())
    counts = library.per_swimmer(connection)
    return render_template("swimmers/index.html", swimmers=everyone, counts=counts)


@blueprint.route("/new", methods=["GET", "POST"])
def new() -> ResponseReturnValue:
    form = SwimmerForm()
    if form.validate_on_submit():
        said = _from_form(form, None)
        with transaction(database()):
            swimmer_id = swimmers.add(database(), replace(said, pain=()))
            squads.add_swimmer(database(), own_squads(), swimmer_id)
            pains.set_all(database(), swimmer_id, said.pain)
        return redirect(url_for("swimmers.show", swimmer_id=swimmer_id))
    return _form_page(form, None)


@blueprint.get("/<int:swimmer_id>")
def show(swimmer_id: int) -> ResponseReturnValue:
    connection = database()
    swimmer = asked.swimmer(swimmer_id)
    progress = progress_of(connection, swimmer)
    lines = review_lines(connection, reviews.of_swimmer(connection, swimmer_id))
    shown = len(lines) if "all" in request.args else _REVIEWS_SHOWN
    return render_template(
        "swimmers/show.html",
        swimmer=swimmer,
        progress=progress,
        progress_drawing=drawing_of(progress, date.today()),
        plans=plans.of_swimmer(connection, swimmer_id),
        pains=pains.of_swimmer(connection, swimmer_id),
        parts=BODY_PARTS,
        lines=lines[:shown],
        more_reviews=max(0, len(lines) - shown),
        apart=[
            c
            for c in clips.by_ids(connection, review_clips.apart(connection, swimmer_id))
            if c.watchable
        ],
        schools=[(q, q.chosen(swimmer.schools)) for q in schools()],
        allowed=allowed(connection, swimmer),
    )


@blueprint.route("/<int:swimmer_id>/edit", methods=["GET", "POST"])
def edit(swimmer_id: int) -> ResponseReturnValue:
    swimmer = asked.swimmer(swimmer_id)
    form = SwimmerForm(obj=swimmer)
    if form.validate_on_submit():
        said = _from_form(form, swimmer)
        with transaction(database()):
            # Pain has a history of its own: what it says now is never only overwritten.
            swimmers.update(database(), replace(said, pain=swimmer.pain))
            pains.set_all(database(), swimmer_id, said.pain)
        return redirect(url_for("swimmers.show", swimmer_id=swimmer_id))
    return _form_page(form, swimmer)


@blueprint.route("/<int:swimmer_id>/remove", methods=["GET", "POST"])
def remove(swimmer_id: int) -> ResponseReturnValue:
    """What goes with a swimmer who leaves, counted; then all of it is put away for a month."""
    connection = database()
    swimmer = asked.swimmer(swimmer_id)
    if request.method == "POST":
        with transaction(connection):
            swimmer_removal.remove(connection, swimmer_id, datetime.now(UTC).strftime(_INSTANT))
            trail.note(connection, current_user.id, "removed", "swimmer", swimmer_id, swimmer_id)
        return redirect(url_for("trash.show"))
    return render_template(
        "swimmers/remove.html",
        swimmer=swimmer,
        own=swimmer_removal.belongings(connection, swimmer_id),
        days=swimmer_removal.KEPT_DAYS,
    )


@blueprint.post("/<int:swimmer_id>/restore")
def restore(swimmer_id: int) -> ResponseReturnValue:
    access.require(asked.person(), asked.deed(), [(swimmer_id, None)])
    with transaction(database()):
        swimmer_removal.restore(database(), swimmer_id)
    return redirect(url_for("swimmers.show", swimmer_id=swimmer_id))


@blueprint.post("/<int:swimmer_id>/delete")
def delete(swimmer_id: int) -> ResponseReturnValue:
    """For good, before the month is over."""
    left = next((s for s in swimmer_removal.removed(database()) if s.id == swimmer_id), None)
    if left is None:
        raise NotFoundError("Remove the swimmer first; then they can be deleted permanently.")
    done = erase(database(), settings(), swimmer_id, left.name, current_user.id)
    return render_template("swimmers/erased.html", name=left.name, done=done)


@blueprint.route("/<int:swimmer_id>/erase", methods=["GET", "POST"])
def erase_now(swimmer_id: int) -> ResponseReturnValue:
    """Erase at once, without a month to think: what goes, what stays, the name to type, and the
    password of whoever does it.
    """
    swimmer = asked.swimmer(swimmer_id)
    wrong = ""
    if request.method == "POST":
        typed = " ".join(request.form.get("name", "").split())
        if typed.casefold() != swimmer.name.casefold():
            wrong = "That is not the name. Nothing was erased."
        elif not_proved := wrong_password(request.form.get("password", "")):
            wrong = f"{not_proved} Nothing was erased."
        else:
            done = erase(database(), settings(), swimmer_id, swimmer.name, current_user.id)
            return render_template("swimmers/erased.html", name=swimmer.name, done=done)
    page = render_template(
        "swimmers/erase.html", swimmer=swimmer, wrong=wrong,
        own=swimmer_removal.belongings(database(), swimmer_id),
        stays=what_stays(database(), swimmer_id),
    )  # fmt: skip
    return page, 422 if wrong else 200


@blueprint.get("/<int:swimmer_id>/everything.zip")
def export(swimmer_id: int) -> ResponseReturnValue:
    """All that is kept of a swimmer."""
    swimmer = asked.swimmer(swimmer_id)
    path = settings().incoming / f"{secrets.token_hex(8)}.part"
    try:
        finished = [r for r in reviews.of_swimmer(database(), swimmer_id) if r.clip_ids]
        pages = ((f"{r.filmed_on}-{r.id}.html", review_page(r.id)) for r in finished)
        write_swimmer_zip(database(), settings(), swimmer_id, path, pages)
        file, size = path.open("rb"), path.stat().st_size
    finally:
        # Open, it can be sent; without a name it is gone with the answer.
        path.unlink(missing_ok=True)
    made = send_file(
        file, mimetype="application/zip", as_attachment=True, download_name=f"{swimmer.name}.zip"
    )
    made.content_length = size
    made.headers["Cache-Control"] = "no-store"
    return made


@blueprint.get("/<int:swimmer_id>/<which>.csv")
def table(swimmer_id: int, which: str) -> ResponseReturnValue:
    """Season, training or pain."""
    swimmer = asked.swimmer(swimmer_id)
    if which not in _TABLES:
        raise NotFoundError("There is no such table of a swimmer.")
    text = _TABLES[which](database(), swimmer)
    return table_file(text, f"{swimmer.name} {which}.csv", about(swimmer))


@blueprint.get("/<int:swimmer_id>/about.txt")
def about_file(swimmer_id: int) -> ResponseReturnValue:
    """What the columns of a swimmer's tables mean."""
    swimmer = asked.swimmer(swimmer_id)
    return attachment(about_text(swimmer), f"{swimmer.name} about.txt", "text/plain")


@blueprint.post("/quick")
def quick() -> ResponseReturnValue:
    """A new swimmer by name alone, from another page; the rest can be said later."""
    name = " ".join(request.form.get("name", "").split())
    if not name or len(name) > _LONGEST_NAME:
        raise MarkError(f"A swimmer needs a name of at most {_LONGEST_NAME} letters.")
    there = swimmers.by_name(database(), name)
    if there is not None:
        asked.swimmer(there.id)
        made = there.id
    else:
        with transaction(database()):
            made = swimmers.add(database(), Swimmer(name))
            squads.add_swimmer(database(), own_squads(), made)
    return jsonify(id=made, name=there.name if there else name)


def own_squads() -> list[int]:
    """Squads that a new swimmer joins: the first of those that the coach works with.

    Without it whoever adds a swimmer would not see them. A head coach sees everybody.
    """
    if asked.within() is None:
        return []
    return squads.of_staff(database(), current_user.id, date.today().isoformat())[:1]


_INSTANT = "%Y-%m-%dT%H:%M:%SZ"
_LONGEST_NAME = 80


def _form_page(form: SwimmerForm, swimmer: Swimmer | None) -> ResponseReturnValue:
    chosen = swimmer.schools if swimmer else club.approach(database())
    if request.method == "POST":
        chosen = approach_from_form()
    page = render_template(
        "swimmers/form.html",
        form=form,
        swimmer=swimmer,
        questions=[(q, q.chosen(chosen).id) for q in schools()],
    )
    return page, 422 if form.errors else 200


def _from_form(form: SwimmerForm, before: Swimmer | None) -> Swimmer:
    return Swimmer(
        id=before.id if before else 0,
        name=(form.name.data or "").strip(),
        level=form.level.data,
        usual_breath=form.usual_breath.data,
        aim=(form.aim.data or "").strip(),
        pain=tuple(form.pain.data or ()),
        kit=tuple(form.kit.data or ()),
        schools=approach_from_form(),
        minor=bool(form.minor.data),
        email=(form.email.data or "").strip(),
        guardian_email=(form.guardian_email.data or "").strip(),
    )
