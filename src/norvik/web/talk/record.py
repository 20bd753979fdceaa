"""What a page records comes in here, a few seconds at a time."""

from __future__ import annotations

import msgspec
from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue

from norvik.core.errors import TalkError
from norvik.store import talks
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.talk import record
from norvik.workflow.talk.record import Bit, Place

blueprint = Blueprint("recording_talk", __name__, url_prefix="/talks/<int:talk_id>/takes")


@blueprint.post("/")
def begin(talk_id: int) -> ResponseReturnValue:
    """A new take in its place. The same key gives the same take, however often it comes."""
    talk, form = asked.talk(talk_id), request.form
    place = Place(form.get("after", type=int), form.get("at", type=float), form.get("how", ""))
    take_id = record.begin(database(), talk, form.get("key", ""), form.get("mime", ""), place)
    return jsonify(take=take_id)


@blueprint.post("/<int:take_id>/bits/<int:n>")
def bit(talk_id: int, take_id: int, n: int) -> ResponseReturnValue:
    """Keep a few seconds. Answered once they are on the disk; a second time they change nothing."""
    talk, form = asked.talk(talk_id), request.form
    sound = request.files.get("sound")
    try:
        deeds = msgspec.json.decode(form.get("deeds", "[]"))
        inks = msgspec.json.decode(form.get("inks", "{}"))
    except msgspec.DecodeError as error:
        raise TalkError("This piece of the recording cannot be read. Reload the page.") from error
    data = b""
    if sound is not None:
        data = sound.read()
        sound.close()
    arrived = Bit(n, data, deeds, inks, form.get("until", 0.0, type=float))
    new = record.take_bit(database(), talk, take_id, arrived, asked.clip)
    return jsonify(kept=n, new=new, length=talks.take(database(), talk_id, take_id).length_ms)
