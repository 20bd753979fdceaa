"""Drills: all of them with their full text; the coach adds, changes, hides, takes in and out."""

from __future__ import annotations

import gzip
from collections.abc import Iterable
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from flask_wtf import FlaskForm
from wtforms import (
    BooleanField,
    IntegerField,
    RadioField,
    SelectChoice,
    StringField,
    TextAreaField,
)
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from norvik.catalogue.checks import METRES, REST_S, SECONDS
from norvik.catalogue.loader import everything
from norvik.core.errors import BreathHoldingError, CatalogueError, NotFoundError
from norvik.core.judging.coaching_model import BODY_PARTS, KIT, LEVELS, Catalogue, Drill
from norvik.core.prescription.prescribe import care_of
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import AnyStroke, stroke_of
from norvik.formats.drills_json import read_drills, write_drills
from norvik.store import drill_clips, own_drills
from norvik.store.undo import undoable
from norvik.web.draw.drill_figure import drill_loop_image, has_figure, loop_svg, still_svg
from norvik.web.draw.fault_figure import fault_figure
from norvik.web.shared import asked
from norvik.web.shared.checks import Checks
from norvik.web.shared.database import database, footage, queue
from norvik.web.shared.downloads import attachment
from norvik.web.shared.kept_file import kept_file
from norvik.web.shared.undo import toast_on_next_page
from norvik.workflow.drill_films import film_of_drill, offered, tie
from norvik.workflow.own_catalogue import all_tables, new_id, save_drill, take_in

blueprint = Blueprint("drills", __name__, url_prefix="/drills")

SLOT_NAMES = {
    "prepare": "prepare: on land or very slow",
    "main": "main drill",
    "whole": "whole stroke with the point",
}
TAG_NAMES = {"under-water": "work under water", "depth": "needs depth", "open-water": "open water",
             "paddles": "paddles", "start": "diving entry"}  # fmt: skip
_MOST_BYTES = 1 << 20
#: A browser keeps a drawing for a day: it changes with the program alone.
_KEPT_S = 24 * 3600


def _pairs(words: Iterable[str]) -> list[SelectChoice]:
    return [SelectChoice(word, word) for word in words]


class DrillForm(FlaskForm):
    name = StringField("Name", validators=[DataRequired("Give the drill a name."), Length(max=60)])
    purpose = StringField(
        "Purpose, in one line", validators=[DataRequired("Enter what it is for."), Length(max=140)]
    )
    how = TextAreaField(
        "How, one step per line",
        validators=[DataRequired("Enter how it is done, one step per line."), Length(max=1200)],
    )
    cue = StringField("Cue: one image (optional)", validators=[Length(max=90)])
    easier = StringField("Easier version (optional)", validators=[Length(max=200)])
    progression = StringField("Harder version (optional)", validators=[Length(max=200)])
    works_when = StringField("How you know it works (optional)", validators=[Length(max=200)])
    mistakes = TextAreaField(
        "Common mistakes, one per line (optional)", validators=[Length(max=600)]
    )
    slot = RadioField(
        "Place in the session", default="main",
        choices=[SelectChoice(k, v) for k, v in SLOT_NAMES.items()],
    )  # fmt: skip
    place = RadioField("Where", choices=_pairs(("water", "land")), default="water")
    least = IntegerField("Repeats, from", default=4,
                         validators=[InputRequired(), NumberRange(1, 60)])  # fmt: skip
    most = IntegerField("to", default=6, validators=[InputRequired(), NumberRange(1, 60)])
    metres = IntegerField("Metres of each", default=25,
                          validators=[Optional(), NumberRange(*METRES)])  # fmt: skip
    seconds = IntegerField("Seconds of each, on land or on the spot",
                           validators=[Optional(), NumberRange(*SECONDS)])  # fmt: skip
    rest_s = IntegerField("Rest, seconds", validators=[Optional(), NumberRange(*REST_S)])
    per_side = BooleanField("on each side")
    effort = IntegerField("Effort, 1 to 6", default=2,
                          validators=[InputRequired(), NumberRange(1, 6)])  # fmt: skip
    works_on = Checks("Works on")
    feeds = Checks("Makes worse")
    kit = Checks("Needs", choices=_pairs(KIT))
    helps = Checks("Welcome", choices=_pairs(KIT))
    not_with = Checks("Not with pain in", choices=_pairs(BODY_PARTS))
    loads = Checks("Loads", choices=_pairs(BODY_PARTS))
    levels = Checks("Only for (none: all)", choices=_pairs(LEVELS))
    tags = Checks("Care", choices=[SelectChoice(k, v) for k, v in TAG_NAMES.items()])
    meant = BooleanField("Nobody is asked to hold the breath")


@blueprint.get("/")
def index() -> ResponseReturnValue:
    """All drills of a stroke, of a fault, or that have words in them."""
    tables = all_tables(database(), with_hidden=True)
    hidden = {d.id for d in own_drills.every(database()) if d.hidden}
    stroke = stroke_of(request.args.get("stroke", "freestyle"))
    words = request.args.get("words", "").strip().lower()
    found = [d for d in tables.drills.values() if _fits(d, tables, stroke, words)]
    found.sort(key=lambda d: (d.id in hidden, not d.own, d.name.lower()))
    return render_template("drills/index.html", drills=found, hidden=hidden, stroke=stroke,
                           words=words, strokes=STROKES, tables=tables,
                           has_figure=has_figure)  # fmt: skip


def _fits(drill: Drill, tables: Catalogue, stroke: AnyStroke, words: str) -> bool:
    faults = [tables.faults[f] for f in drill.works_on if f in tables.faults]
    if stroke and not any(stroke in f.strokes for f in faults):
        return False
    text = " ".join([drill.name, drill.purpose, *drill.kit, *(f.name for f in faults)]).lower()
    return all(word in text for word in words.split())


@blueprint.get("/<drill_id>")
def show(drill_id: str) -> ResponseReturnValue:
    tables = all_tables(database(), with_hidden=True)
    drill = _drill(tables, drill_id)
    stored = {d.id: d for d in own_drills.every(database())}
    mine = stored.get(drill_id)
    return render_template(
        "drills/show.html", d=drill, tables=tables, hidden=bool(mine and mine.hidden),
        changed=bool(mine and mine.drill), shipped=drill_id in all_shipped(),
        cautions=tables.cautions_for(care_of(drill)),
        figure=next((f for x in drill.works_on if (f := fault_figure(x))), None),
        shown=drill_loop_image(drill),
        clips=offered(database(), asked.within()), tied=drill_clips.every(database()).get(drill_id),
        film=film_of_drill(database(), drill_id),
    )  # fmt: skip


@blueprint.post("/<drill_id>/clip")
def tie_clip(drill_id: str) -> ResponseReturnValue:
    """Let a clip of the coach's own show this drill, here and to the swimmers."""
    _drill(all_tables(database(), with_hidden=True), drill_id)
    chosen = request.form.get("clip", type=int)
    job = tie(database(), drill_id, asked.clip(chosen) if chosen else None)
    if job is not None:
        queue().put(job)
    return redirect(url_for("drills.show", drill_id=drill_id))


@blueprint.get("/<drill_id>/film.mp4")
def film(drill_id: str) -> ResponseReturnValue:
    """The coach's own film of this drill."""
    found = film_of_drill(database(), drill_id)
    path = footage().at_hand(found.path) if found else None
    if path is None or not path.is_file():
        raise NotFoundError("This drill has no film of your own.")
    return kept_file(path, mimetype="video/mp4")


@blueprint.get("/<drill_id>/loop.svg")
def loop(drill_id: str) -> ResponseReturnValue:
    """The drill as the model swimmer does it, over and over."""
    return _drawing(loop_svg(drill_id))


@blueprint.get("/<drill_id>/still.svg")
def still(drill_id: str) -> ResponseReturnValue:
    """One instant of the drill, for lists."""
    return _drawing(still_svg(drill_id))


def _drawing(svg: str | None) -> Response:
    if svg is None:
        raise NotFoundError("This drill has no figure.")
    response = Response(gzip.compress(svg.encode("utf-8"), mtime=0), mimetype="image/svg+xml")
    response.headers["Content-Encoding"] = "gzip"
    response.headers["Cache-Control"] = f"private, max-age={_KEPT_S}"
    return response


@blueprint.route("/new", methods=["GET", "POST"])
def new() -> ResponseReturnValue:
    return _edited(None)


@blueprint.route("/<drill_id>/edit", methods=["GET", "POST"])
def edit(drill_id: str) -> ResponseReturnValue:
    """An own drill, or an own version of a shipped one; the shipped text stays underneath."""
    return _edited(_drill(all_tables(database(), with_hidden=True), drill_id))


@blueprint.post("/<drill_id>/state")
def state(drill_id: str) -> ResponseReturnValue:
    """Hide a drill, show it again, or go back to the shipped text (an own one is thrown away)."""
    _drill(all_tables(database(), with_hidden=True), drill_id)
    what = request.form.get("what")
    if what == "shipped":
        parts = [("own_drills", "id", drill_id)]
        with undoable(database(), current_user.id, parts) as step:
            own_drills.delete(database(), drill_id)
            step.text = (
                "Drill deleted." if drill_id not in all_shipped() else "Original text restored."
            )
        toast_on_next_page(step)
        if drill_id not in all_shipped():
            return redirect(url_for("drills.index"))
    else:
        own_drills.hide(database(), drill_id, what == "hide")
    return redirect(url_for("drills.show", drill_id=drill_id))


@blueprint.route("/cues", methods=["GET", "POST"])
def cues() -> ResponseReturnValue:
    """The coach's own cue for a fault; an empty one goes back to the shipped one."""
    tables = all_tables(database())
    if request.method == "POST":
        fault, cue = request.form.get("fault", ""), request.form.get("cue", "").strip()
        if fault not in tables.faults:
            raise NotFoundError("This fault is not in the tables. Reload the page.")
        if len(cue) > 120:
            raise CatalogueError("A cue has at most 120 letters: it is thought of while swimming.")
        own_drills.set_cue(database(), fault, cue)
        of = tables.faults[fault].strokes[0]
        return redirect(url_for("drills.cues", stroke=request.form.get("stroke", of)))
    stroke = request.args.get("stroke", "freestyle")
    faults = [f for f in tables.faults.values() if stroke in f.strokes]
    return render_template("drills/cues.html", faults=faults, stroke=stroke, strokes=STROKES,
                           own=own_drills.cues(database()))  # fmt: skip


@blueprint.get("/own.json")
def export() -> ResponseReturnValue:
    """Own drills, hidden ones and cues as one file."""
    stored = own_drills.every(database())
    text = write_drills(
        [d.drill for d in stored if d.drill is not None],
        [d.id for d in stored if d.hidden],
        own_drills.cues(database()),
    )
    return attachment(text, "drills.json", "application/json")


@blueprint.post("/import")
def bring_in() -> ResponseReturnValue:
    """Take in such a file: all of it, or nothing with a sentence."""
    file = request.files.get("file")
    data = file.read(_MOST_BYTES + 1) if file and file.filename else b""
    if not data or len(data) > _MOST_BYTES:
        raise CatalogueError("Choose a file of drills (at most 1 MB) that was saved by Norvik.")
    read = read_drills(data)
    take_in(database(), read.drills, read.hidden, read.cues)
    return redirect(url_for("drills.index"))


def all_shipped() -> set[str]:
    """Ids of the drills that ship with Norvik."""
    return set(everything().drills)


def _drill(tables: Catalogue, drill_id: str) -> Drill:
    drill = tables.drills.get(drill_id)
    if drill is None:
        raise NotFoundError("This drill has been deleted.")
    return drill


def _edited(drill: Drill | None) -> ResponseReturnValue:
    tables = all_tables(database(), with_hidden=True)
    form = DrillForm(data=_values(drill) if drill else None)
    faults = [SelectChoice(f.id, f.name) for f in tables.faults.values()]
    form.works_on.choices = form.feeds.choices = faults
    wrong, ask = None, bool(form.meant.data)
    if form.validate_on_submit():
        try:
            made = _made(form, drill)
            save_drill(database(), made, bool(form.meant.data))
            return redirect(url_for("drills.show", drill_id=made.id))
        except BreathHoldingError as error:
            wrong, ask = error.sentence, True
        except CatalogueError as error:
            wrong = error.sentence
    page = render_template("drills/form.html", form=form, d=drill, wrong=wrong, tables=tables,
                           strokes=STROKES, ask=ask)  # fmt: skip
    return page, 422 if wrong or form.errors else 200


def _values(drill: Drill) -> dict[str, Any]:
    return {
        **own_drills.as_json(drill),
        "how": "\n".join(drill.how),
        "mistakes": "\n".join(drill.mistakes),
        "least": drill.repeats[0],
        "most": drill.repeats[1],
    }


def _lines(text: str | None) -> tuple[str, ...]:
    return tuple(line.strip() for line in (text or "").splitlines() if line.strip())


def _made(form: DrillForm, drill: Drill | None) -> Drill:
    name = (form.name.data or "").strip()
    on_land = form.place.data == "land"
    return Drill(
        id=drill.id if drill else new_id(database(), name),
        name=name,
        slot=form.slot.data,
        purpose=(form.purpose.data or "").strip(),
        how=_lines(form.how.data),
        cue=(form.cue.data or "").strip() or (form.purpose.data or "").strip()[:90],
        repeats=(form.least.data or 1, form.most.data or 1),
        progression=(form.progression.data or "").strip(),
        effort=form.effort.data or 1,
        works_on=tuple(form.works_on.data or ()),
        metres=None if on_land or form.seconds.data else form.metres.data,
        seconds=form.seconds.data,
        rest_s=form.rest_s.data,
        mistakes=_lines(form.mistakes.data),
        works_when=(form.works_when.data or "").strip(),
        easier=(form.easier.data or "").strip(),
        per_side=bool(form.per_side.data),
        place=form.place.data,
        kit=tuple(form.kit.data or ()),
        helps=tuple(form.helps.data or ()),
        feeds=tuple(form.feeds.data or ()),
        not_with=tuple(form.not_with.data or ()),
        loads=tuple(form.loads.data or ()),
        levels=tuple(form.levels.data or ()),
        tags=tuple(form.tags.data or ()),
        unless_school=drill.unless_school if drill else {},
        source="the coach",
        own=True,
    )
