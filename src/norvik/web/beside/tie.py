"""Two cameras on one swim: tied by instants that both show, or by what both heard."""

from __future__ import annotations

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.core.time.sound_offset import Samples
from norvik.files import names
from norvik.footage.sound import read_sound
from norvik.store import tied_recordings
from norvik.web.beside.films import paired
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage
from norvik.web.shared.language import times
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.tie import SOUND_HZ, by_sound, tie_films

blueprint = Blueprint("tie", __name__, url_prefix="/clips/<int:clip_id>/beside")


@blueprint.post("/tie")
def tie(clip_id: int) -> ResponseReturnValue:
    """The frames on the screen are one instant. A second one is put beside the first."""
    pairing = _both(clip_id)
    form = request.form
    frames = form.get("frame", -1, type=int), form.get("at", -1, type=int)
    films = pairing.one, pairing.other
    if any(film.clamped(f) != f for film, f in zip(films, frames, strict=True)):
        raise MarkError("This frame is not in the film. Reload the page.")
    instants = [frames]
    there = tied_recordings.between(database(), *_recordings(pairing))
    if there is not None and form.get("as") == "second":
        instants = [there.instants[0], frames]
    made = tie_films(database(), *films, instants, current_user.id)
    said = "Tied by two instants." if len(instants) > 1 else "Tied: both run by one clock."
    if made.clocks.drift is not None:
        said += f" The clocks drift apart by {60_000 * made.clocks.drift:+.0f} ms per minute."
    if made.copied:
        said += f" {times(made.copied, 'mark')} copied to the film without marks."
    return jsonify(sentence=said.replace("-", "−"))


@blueprint.post("/untie")
def untie(clip_id: int) -> ResponseReturnValue:
    tied_recordings.untie(database(), *_recordings(_both(clip_id)))
    return jsonify(sentence="No longer tied. Marks stay where they are.")


@blueprint.get("/by-sound.json")
def sound(clip_id: int) -> ResponseReturnValue:
    """Two frames that belong together by what both microphones heard."""
    pairing = _both(clip_id)
    found = by_sound(pairing.one, pairing.other, _heard)
    if found is None:
        raise MarkError("The two sounds have nothing in common. Find a splash or a touch in both.")
    offset, (frame, other) = found
    sure = "" if offset.clear else " Another offset fits nearly as well: look closely."
    return jsonify(
        frame=frame,
        at=other,
        clear=offset.clear,
        sentence=f"By the sound these two frames are one instant.{sure} If a splash agrees, press "
        "X to tie them.",
    )


def _heard(recording_id: int) -> Samples | None:
    path = footage().at_hand(names.sound(recording_id))
    return read_sound(path, SOUND_HZ) if path.is_file() else None


def _both(clip_id: int) -> Pairing:
    pairing = paired(clip_id)
    if pairing.other.clip is not None:
        asked.clip(pairing.other.clip.id)
    return pairing


def _recordings(pairing: Pairing) -> tuple[int, int]:
    if pairing.one.clip is None or pairing.other.clip is None:
        raise MarkError("Two cameras are two recordings. These films come from one.")
    return pairing.one.clip.recording.id, pairing.other.clip.recording.id
