"""Side by side: films held at the same instant of the stroke."""

from __future__ import annotations

from dataclasses import asdict

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.strokes.definitions import event_name
from norvik.core.time.in_step import CycleEvents
from norvik.files import names
from norvik.model.stance import STEPS, VIEW_OF, events_of, stance
from norvik.model.wish import ModelWish
from norvik.store import jobs, tied_recordings
from norvik.store.jobs import Job
from norvik.web.beside.films import (
    fault_name,
    fault_of,
    film_words,
    first_film,
    is_figure,
    keys,
    pair_with,
    wish,
)
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage, queue
from norvik.work_names import FILM_MODEL
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.side_by_side.across import opposite, size_of
from norvik.workflow.side_by_side.choices import FIGURE, choices_for, film_of
from norvik.workflow.side_by_side.figure import beside_figure
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.model_film import faults_of
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.paths import followed_in_both
from norvik.workflow.side_by_side.tie import clocks_of
from norvik.workflow.side_by_side.trunks import trunks_of

blueprint = Blueprint("side_by_side", __name__, url_prefix="/clips/<int:clip_id>/beside")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """The page; without a second clip in the address the best one is taken."""
    one = first_film(clip_id)
    clip = one.clip
    assert clip is not None
    wanted = keys(one)
    films = [_shown(one, n, key) for n, key in enumerate(wanted)]
    dials = tables_of(database(), clip.stroke).faults
    return render_template(
        "beside/page.html",
        clip=clip,
        one=_head(one, None),
        films=films,
        keys=wanted,
        choices=choices_for(database(), clip, asked.within()),
        arms=one.resolved.stroke.arms,
        events=[(e, event_name(e)) for e in one.resolved.stroke.arm_events],
        faults=[(f, dials[f].name) for f in faults_of(clip.stroke) if f in dials],
        state=_state(one, [f["state"] for f in films]),
        can_tie=len(wanted) == 1 and films[0]["kind"] == "clip" and _can_tie(one, films[0]["film"]),
        tie=_tie_words(one, films[0]["film"]) if films[0]["kind"] == "clip" else None,
    )


@blueprint.get("/frames.json")
def frames(clip_id: int) -> ResponseReturnValue:
    """The other films' frames for each frame of this one, for another way or another cycle."""
    one = first_film(clip_id)
    return jsonify(_state(one, [_shown(one, n, key)["state"] for n, key in enumerate(keys(one))]))


@blueprint.get("/filming")
def filming(clip_id: int) -> ResponseReturnValue:
    """How far the model swimmer's film is; when it is there, the page is loaded anew."""
    one = first_film(clip_id)
    waits = [w for key in keys(one) if (w := _waiting(one, key))]
    page = render_template("beside/_filming.html", clip=one.clip, waiting=waits)
    return page, 200, {} if waits else {"HX-Refresh": "true"}


def _shown(one: Film, which: int, key: str) -> dict[str, object]:
    """One of the other films as the page shows it. kind: clip, model or figure."""
    waiting = _waiting(one, key)
    if is_figure(key) or waiting is not None:
        # While the model is being filmed, its drawing stands in for it.
        figure = _figure(one, fault_of(key))
        figure |= {"waiting": waiting, "key": f"{FIGURE}:{fault_of(key)}".rstrip(":")}
        return figure
    pairing = pair_with(one, film_of(database(), asked.person(), key, one), wish(which))
    return {
        "kind": "model" if pairing.other.model else "clip",
        "film": pairing.other,
        "paths": followed_in_both(database(), pairing) if which == 0 else [],
        **_head(pairing.other, one),
        "state": _pair_state(pairing),
    }


def _waiting(one: Film, key: str) -> Job | None:
    """The job that films the model; None where there is nothing to wait for."""
    if not key.startswith("model"):
        return None
    film = film_of(database(), asked.person(), key, one)
    assert film.model is not None
    wished: ModelWish = film.model.wish
    path = footage().at_hand(names.model_film(wished.name))
    if path.is_file():
        path.touch()
        return None
    job = jobs.newest_alike(database(), FILM_MODEL, asdict(wished))
    if job is None or job.state in ("done", "cancelled") or "again" in request.args:
        made = jobs.add(database(), FILM_MODEL, asdict(wished), None)
        queue().put(made)
        job = jobs.by_id(database(), made)
    return None if path.is_file() else job


def _figure(one: Film, fault: str) -> dict[str, object]:
    beside = beside_figure(one, request.args.get("side", ""))
    view = VIEW_OF.get(one.view, "side")
    fault = fault if fault in faults_of(one.stroke) else ""
    shares = events_of(one.stroke)
    opens = next(iter(shares))
    cycle = [[e, event_name(e), round(STEPS * share), _phase_of(one, e)]
             for e, share in shares.items()]  # fmt: skip
    return {
        "kind": FIGURE,
        "stances": [stance(one.stroke, n / STEPS, view, fault) for n in range(STEPS)],
        "title": f"with the fault: {fault_name(one.stroke, fault)}" if fault
                 else "as it should look",
        "about": "drawn figure at the same phase",
        "state": {
            "kind": FIGURE, "way": "phase", "cannot": beside.cannot, "side": beside.side, "m": 0,
            "frames": beside.stances, "mirror": None,
            "cycles": [[*cycle, [opens, event_name(opens), STEPS, ""]]],
        },
    }  # fmt: skip


def _head(film: Film, beside: Film | None) -> dict[str, object]:
    title, about = film_words(film, beside)
    width, height = size_of(film)
    return {"title": title, "about": about, "width": width, "height": height, "clip": film.clip,
            "model": film.model.wish.name if film.model else ""}  # fmt: skip


def _pair_state(pairing: Pairing) -> dict[str, object]:
    trunks = [trunks_of(database(), film) for film in (pairing.one, pairing.other)]
    return {
        "kind": "model" if pairing.other.model else "clip",
        "way": pairing.way,
        "cannot": pairing.cannot,
        "side": pairing.wish.other_side,
        "m": pairing.wish.m,
        "frames": pairing.frames,
        "mirror": opposite(*trunks),
        "cycles": [_cycle(pairing.other, c) for c in pairing.cycles[1]],
    }


def _state(one: Film, others: list[object]) -> dict[str, object]:
    """What the page needs: frames from the first one on, cycles of all as frames of their events.

    begin: the frame on which it opens.
    """
    how = wish()
    side = one.side(how.side)
    mine = one.cycles(side)
    way = how.way
    begin = one.first
    if how.one_frame is not None:
        begin = one.clamped(how.one_frame)
    elif way == "phase" and how.n < len(mine):
        begin = one.frame_of(mine[how.n].begin_s)
    return {
        "asked": way,
        "side": side,
        "event": how.event,
        "n": how.n,
        "first": one.first,
        "begin": begin,
        "cycles": [_cycle(one, c) for c in mine],
        "others": others,
    }


def _cycle(film: Film, cycle: CycleEvents) -> list[list[object]]:
    """[event, its name, frame, the phase that begins there] from the opening to the end."""
    events = [(e, film.frame_of(t)) for e, t in cycle.events]
    events.append((cycle.events[0][0], film.frame_of(cycle.end_s)))
    return [[e, event_name(e), frame, _phase_of(film, e)] for e, frame in events]


def _phase_of(film: Film, event: str) -> str:
    """The phase that begins with an event of the arm; empty for one inside a phase."""
    return next((p.name for p in film.resolved.stroke.phases if p.start == event), "")


def _can_tie(one: Film, other: object) -> bool:
    assert isinstance(other, Film)
    return bool(
        one.clip and other.clip and one.clip.swimmer_id == other.clip.swimmer_id
        and one.stroke == other.stroke and one.clip.recording.id != other.clip.recording.id
    )  # fmt: skip


def _tie_words(one: Film, other: object) -> dict[str, object] | None:
    """How two cameras are tied, and how much their clocks drift apart."""
    assert isinstance(other, Film)
    if one.clip is None or other.clip is None:
        return None
    tie = tied_recordings.between(database(), one.clip.recording.id, other.clip.recording.id)
    if tie is None:
        return None
    clocks = clocks_of(tie, one, other)
    u = clocks.drift_u
    return {
        "instants": tie.instants,
        "drift_ms_per_min": None if clocks.drift is None else 60_000 * clocks.drift,
        "plus_minus": None if u is None else 1.96 * 60_000 * u,
    }
