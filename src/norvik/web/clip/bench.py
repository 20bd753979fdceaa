"""The bench: watch a clip frame by frame and mark it. Every mark is saved at once."""

from __future__ import annotations

from dataclasses import replace

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.core.strokes import STROKES
from norvik.core.strokes.definitions import button_names, definitions, event_name
from norvik.store import best_rhythms, clips, jobs, last_positions, loops, marks
from norvik.store.clips import Clip, Facts
from norvik.store.undo import undoable
from norvik.web.clip import drawing_panel
from norvik.web.clip.facts_form import FactsForm
from norvik.web.clip.keys import EVENT_KEYS, KEY_GROUPS
from norvik.web.clip.numbers import panel
from norvik.web.clip.reading_card import reading_card
from norvik.web.clip.rope_state import rope_context
from norvik.web.draw.event_figures import event_figures
from norvik.web.shared import asked
from norvik.web.shared.choices import choices
from norvik.web.shared.database import database, footage
from norvik.web.shared.facts import number_of
from norvik.web.shared.language import times
from norvik.web.shared.undo import toast_on_next_page
from norvik.workflow import moving
from norvik.workflow.clip_timing import ClipTiming, note_doubts, time_clip
from norvik.workflow.hidden_marks import hidden_marks, stroke_of_hidden
from norvik.workflow.mark import (
    delete_cycle,
    delete_hidden,
    delete_mark,
    mark,
    move_mark,
    step_back,
    step_on,
)
from norvik.workflow.reading import proposed

blueprint = Blueprint("bench", __name__, url_prefix="/clips/<int:clip_id>")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    clip = asked.clip(clip_id)
    if not clip.watchable:
        original = clip.recording.original_path
        return render_template(
            "intake/preparing.html",
            clip=clip,
            recording=clip.recording,
            clip_id=clip.id,
            job=jobs.newest_of(database(), clip.recording.id),
            can_try_again=clip.state == "failed"
            and original is not None
            and footage().has(original),
        )
    timed = time_clip(database(), clip)
    note_doubts(database(), timed)
    place = last_positions.of(database(), clip_id, current_user.id)
    at = place if place is not None and clip.holds(place) else clip.first_frame
    return render_template(
        "bench/page.html",
        place=at,
        kept_loops=loops.of_clip(database(), clip_id),
        levels=clip.recording.levels,
        parts=[c for c in clips.of_recording(database(), clip.recording.id) if c.is_part],
        **context(timed, at),
        **drawing_panel.context(timed),
    )


@blueprint.get("/rope")
def rope(clip_id: int) -> ResponseReturnValue:
    """The rope alone, when another stretch of the clip comes into view."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return render_template("bench/_rope.html", **rope_context(timed, _int("frame")))


@blueprint.get("/parts")
def parts(clip_id: int) -> ResponseReturnValue:
    """All parts that marks and time base change, when either changed elsewhere."""
    return changed_parts(asked.ready_clip(clip_id), _int("frame"), "")


@blueprint.post("/place")
def keep_place(clip_id: int) -> ResponseReturnValue:
    """Remember where this person stopped."""
    clip = asked.ready_clip(clip_id)
    frame = _int("frame")
    if clip.holds(frame):
        last_positions.put(database(), clip_id, current_user.id, frame)
    return "", 204


@blueprint.post("/loops")
def keep_loop(clip_id: int) -> ResponseReturnValue:
    """Keep the loop that is set, under a name."""
    clip = asked.ready_clip(clip_id)
    begin, end = _int("from"), _int("to")
    if not clip.holds(begin) or not clip.holds(end):
        raise MarkError("Set both ends of the loop first, with Q and W.")
    loops.keep(database(), clip_id, request.form.get("name", ""), begin, end)
    return _loops(clip)


@blueprint.post("/loops/<int:loop_id>/delete")
def delete_loop(clip_id: int, loop_id: int) -> ResponseReturnValue:
    loops.delete(database(), clip_id, loop_id)
    return _loops(asked.clip(clip_id))


def _loops(clip: Clip) -> ResponseReturnValue:
    return render_template(
        "bench/_loops.html", clip=clip, kept_loops=loops.of_clip(database(), clip.id)
    )


@blueprint.route("/facts", methods=["GET", "POST"])
def facts(clip_id: int) -> ResponseReturnValue:
    """What the clip is: swimmer, stroke, view, role and the rest."""
    clip = asked.clip(clip_id)
    form = FactsForm(clip.facts)
    if form.validate_on_submit():
        said = form.facts()
        said = replace(said, filmed_on=said.filmed_on or clip.filmed_on)
        judgement = request.form.get("judgement", "")
        lines = moving.what_hangs(database(), clip) if said.swimmer_id != clip.swimmer_id else []
        if lines and clip.swimmer_id and judgement not in ("stays", "goes"):
            return _ask_about_judgement(clip, said, lines)
        along = judgement == "goes" if lines else None
        with undoable(database(), current_user.id, moving.parts_of(database(), clip_id)) as step:
            moving.move(database(), clip, said, along)
            clips.set_day_guessed(database(), clip_id, False)
            if said.swimmer_id != clip.swimmer_id:
                step.text = "Clip moved to another swimmer."
            elif said != clip.facts:
                step.text = "Clip changed."
        toast_on_next_page(step)
        return redirect(url_for("bench.show", clip_id=clip_id))
    page = render_template("bench/facts.html", clip=clip, form=form, **choices())
    return page, 422 if form.errors else 200


def _ask_about_judgement(clip: Clip, said: Facts, lines: list[str]) -> ResponseReturnValue:
    """What was judged was judged of a person: it goes along, or is taken away, knowingly."""
    name = asked.swimmer(said.swimmer_id).name if said.swimmer_id else "unassigned"
    return render_template(
        "bench/move.html",
        clip=clip,
        new_name=name,
        lines=lines,
        plans=moving.plans_on(database(), clip),
        fields=[
            (name, value)
            for name, value in request.form.items(multi=True)
            if name not in ("csrf_token", "judgement")
        ],
    )


@blueprint.post("/stroke")
def back_to_stroke(clip_id: int) -> ResponseReturnValue:
    """The stroke that the hidden marks were placed in is the right one after all."""
    clip = asked.ready_clip(clip_id)
    stroke = request.form.get("stroke", "")
    if stroke not in STROKES:
        raise MarkError("This stroke is not known. Reload the page.")
    with undoable(database(), current_user.id, [("clips", "id", clip_id)]) as step:
        clips.set_facts(database(), clip_id, replace(clip.facts, stroke=stroke))
        step.text = f"Stroke set back to {stroke}."
    toast_on_next_page(step)
    return redirect(url_for("bench.show", clip_id=clip_id))


@blueprint.post("/marks/delete-hidden")
def delete_hidden_marks(clip_id: int) -> ResponseReturnValue:
    """Delete the marks that belong to another stroke than the clip's; undo brings them back."""
    delete_hidden(database(), current_user.id, asked.ready_clip(clip_id))
    return redirect(url_for("bench.show", clip_id=clip_id))


@blueprint.post("/marks")
def place(clip_id: int) -> ResponseReturnValue:
    clip, form = asked.ready_clip(clip_id), request.form
    frame = _int("frame")
    placed = mark(
        database(), current_user.id, clip, frame, form.get("lane", ""), form.get("side", ""),
        form.get("event", ""), number_of(form.get("metres", "")),
    )  # fmt: skip
    return changed_parts(clip, frame, f"{_named(placed)} marked on frame {frame}", placed.id)


@blueprint.post("/marks/<int:mark_id>/move")
def move(clip_id: int, mark_id: int) -> ResponseReturnValue:
    clip, frame = asked.ready_clip(clip_id), _int("frame")
    moved = move_mark(database(), current_user.id, clip, mark_id, frame)
    return changed_parts(clip, frame, f"{_named(moved)} moved to frame {frame}", moved.id)


@blueprint.post("/marks/<int:mark_id>/delete")
def delete(clip_id: int, mark_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    gone = delete_mark(database(), current_user.id, clip, mark_id)
    return changed_parts(clip, gone.frame, f"{_named(gone)} on frame {gone.frame} deleted")


@blueprint.post("/marks/<int:mark_id>/delete-cycle")
def delete_whole_cycle(clip_id: int, mark_id: int) -> ResponseReturnValue:
    """Delete the whole cycle that a mark of an arm opens or lies in, as one step."""
    clip = asked.ready_clip(clip_id)
    count, frame = delete_cycle(database(), current_user.id, clip, mark_id)
    return changed_parts(clip, frame, f"Cycle of {times(count, 'mark')} deleted")


@blueprint.post("/undo")
def undo(clip_id: int) -> ResponseReturnValue:
    return _step_back_or_on(clip_id, "undo")


@blueprint.post("/redo")
def redo(clip_id: int) -> ResponseReturnValue:
    return _step_back_or_on(clip_id, "redo")


def _step_back_or_on(clip_id: int, which: str) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    step = step_back if which == "undo" else step_on
    change = step(database(), current_user.id, clip)
    if change is None:
        return changed_parts(clip, _int("frame"), f"Nothing to {which}")
    changed = change.after or change.before
    assert changed is not None  # a change has at least one end
    if change.count > 1:
        told = f"{change.count} marks {'are back' if change.after else 'removed'}"
    elif change.before is None:
        told = f"{_named(changed)} is back on frame {changed.frame}"
    elif change.after is None:
        told = f"{_named(changed)} on frame {changed.frame} removed"
    else:
        told = f"{_named(changed)} back on frame {changed.frame}"
    return changed_parts(clip, changed.frame, told, changed.id if change.after else None)


def changed_parts(
    clip: Clip, frame: int, told: str, mark_id: int | None = None
) -> ResponseReturnValue:
    """All parts of the page that a mark changes, in one answer."""
    timed = time_clip(database(), clip)
    note_doubts(database(), timed)
    return render_template(
        "bench/_parts.html", **context(timed, frame), told=told, told_mark=mark_id, told_frame=frame
    )


def context(timed: ClipTiming, frame: int) -> dict[str, object]:
    """What the page and its parts show; the same for both."""
    left = proposed(database(), timed)
    can_undo, can_redo = marks.can_undo_redo(database(), timed.clip.id, current_user.id)
    return {
        **rope_context(timed, frame, left),
        "clip": timed.clip,
        "timed": timed,
        "base": timed.time_base,
        "key_groups": KEY_GROUPS,
        "rules": timed.timing.resolved.stroke,
        "event_keys": EVENT_KEYS,
        "definitions": definitions(timed.clip.stroke),
        "event_names": button_names(),
        "event_figures": event_figures(timed.clip.stroke, timed.clip.view),
        "panel": panel(timed, request.values.get("topic")),
        "hidden": len(hidden_marks(timed)),
        "hidden_stroke": stroke_of_hidden(timed),
        "reading": reading_card(timed, left),
        "timed_marks": len(timed.marks),
        "best_rhythm": best_rhythms.of_clip(database(), timed.clip.id),
        "can_undo": can_undo,
        "can_redo": can_redo,
    }


def _named(mark: marks.StoredMark) -> str:
    words = f"{mark.side} {event_name(mark.event)} {mark.note}".strip()
    return words[:1].upper() + words[1:]


def _int(name: str) -> int:
    return request.values.get(name, -1, type=int)
