"""A talk that was recorded: played back, mended, given chapters and captions."""

from __future__ import annotations

import threading
from urllib.parse import urlencode

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError, TalkError
from norvik.core.talk.chapters import tied
from norvik.core.talk.pieces import length_of, without
from norvik.footage.talk_sound import Samples, evened, silent_ends, voice, write_sound
from norvik.formats.captions_vtt import read_captions, write_captions
from norvik.store import talks
from norvik.store.talks import Talk
from norvik.web.shared import asked
from norvik.web.shared.database import database, settings
from norvik.web.shared.downloads import attachment
from norvik.web.shared.kept_file import kept_file
from norvik.web.talk.films import TALK_SHAPES, talk_row
from norvik.workflow.talk.assemble import AssembledTalk, assemble, row_of
from norvik.workflow.talk.films import talk_wish

blueprint = Blueprint("mend", __name__, url_prefix="/talks/<int:talk_id>")

_LONGEST_WORDS = 300
_MOST_CAPTIONS = 2000
#: One at a time makes the sound of a talk: who asks twice waits for the first.
_MAKING = threading.Lock()


@blueprint.get("/")
def show(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    review = asked.review(talk.review_id)
    return render_template(
        "talk/mend.html",
        review=review,
        swimmer=asked.swimmer(review.swimmer_id) if review.swimmer_id else None,
        **_lists(talk),
    )


def _lists(talk: Talk) -> dict[str, object]:
    assembled = assemble(database(), talk)
    return {
        "talk": talk,
        "assembled": assembled,
        "films": [talk_row(talk.id, s, talk_wish(talk, s)) for s, _ in TALK_SHAPES],
    }


@blueprint.post("/parts-now")
def parts(talk_id: int) -> ResponseReturnValue:
    """What stands beside the picture, once everything that waited in the browser has come."""
    return _parts(asked.talk(talk_id))


def _parts(talk: Talk, said: str = "") -> ResponseReturnValue:
    now = asked.talk(talk.id)
    return render_template("talk/_parts.html", said=said, **_lists(now))


@blueprint.get("/score.json")
def score(talk_id: int) -> ResponseReturnValue:
    """What is heard and seen, for the page that plays it."""
    talk = asked.talk(talk_id)
    assembled = assemble(database(), talk)
    written = assembled.written()
    written["sound"] = url_for("mend.sound", talk_id=talk_id, r=talk.revision)
    written["films"] = {
        str(clip_id): url_for("media.frames", clip_id=clip_id) for clip_id in assembled.clips
    }
    return jsonify(written)


@blueprint.get("/sound.m4a")
def sound(talk_id: int) -> ResponseReturnValue:
    """What is heard, evened out. Made when first asked for and kept until the talk changes."""
    talk = asked.talk(talk_id)
    path = settings().talk_sounds / f"{talk.id}-{talk.revision}.m4a"
    with _MAKING:
        if not path.is_file():
            heard = _voice(talk)
            if not len(heard):
                raise NotFoundError("Nothing has been recorded in this talk yet.")
            write_sound(evened(heard), path)
            for old in settings().talk_sounds.glob(f"{talk.id}-*.m4a"):
                if old != path:
                    old.unlink(missing_ok=True)
    return kept_file(path, mimetype="audio/mp4", max_age=0)


def _voice(talk: Talk) -> Samples:
    return voice(row_of(database(), talk), lambda take: talks.sound_of(database(), take))


# ---- mending ----


@blueprint.post("/cut")
def cut(talk_id: int) -> ResponseReturnValue:
    """Take a stretch out."""
    talk = asked.talk(talk_id)
    begin, end = _ms("from"), _ms("to")
    talks.set_pieces(
        database(), talk.id, without(row_of(database(), talk), min(begin, end), max(begin, end))
    )
    return _parts(talk, f"{abs(end - begin) / 1000:.1f} s cut out.")


@blueprint.post("/trim")
def trim(talk_id: int) -> ResponseReturnValue:
    """Take the silence off the beginning and the end."""
    talk = asked.talk(talk_id)
    before, behind = silent_ends(_voice(talk))
    if before + behind < 100:
        return _parts(talk, "No silence at the beginning or the end.")
    row = row_of(database(), talk)
    kept = without(row, length_of(row) - behind, length_of(row)) if behind >= 100 else None
    if kept is not None:
        talks.set_pieces(database(), talk.id, kept)
        row = row_of(database(), asked.talk(talk.id))
    if before >= 100:
        talks.set_pieces(database(), talk.id, without(row, 0, before))
    return _parts(talk, f"{(before + behind) / 1000:.1f} s of silence cut off.")


@blueprint.post("/undo")
def undo(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    return _parts(talk, "Undone." if talks.undo(database(), talk.id) else "Nothing to undo.")


@blueprint.post("/redo")
def redo(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    return _parts(talk, "Redone." if talks.redo(database(), talk.id) else "Nothing to redo.")


@blueprint.get("/speak")
def speak(talk_id: int) -> ResponseReturnValue:
    """To the page that was on the screen at an instant, to speak on there or to add something."""
    talk = asked.talk(talk_id)
    at, how = _ms("at"), request.values.get("how", "on")
    return redirect(_speak(assemble(database(), talk), at, how))


def _speak(assembled: AssembledTalk, at_ms: float, how: str = "on") -> str:
    films = assembled.seen_at(at_ms).films
    if not films or films[0].clip is None:
        raise TalkError("No film is on the picture here. Choose another place.")
    values: dict[str, object] = {
        "talk": assembled.talk.id, "at": round(at_ms), "how": how, "frame": films[0].frame,
    }  # fmt: skip
    if len(films) < 2:
        return f"{url_for('bench.show', clip_id=films[0].clip)}?{urlencode(values)}"
    values["with"] = films[1].clip or films[1].figure or "model"
    return f"{url_for('side_by_side.show', clip_id=films[0].clip)}?{urlencode(values)}"


@blueprint.post("/delete")
def delete(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    talks.delete(database(), talk.id)
    for path in settings().talk_sounds.glob(f"{talk.id}-*.m4a"):
        path.unlink(missing_ok=True)
    return redirect(url_for("talk_path.show", review_id=talk.review_id))


# ---- chapters and captions ----


@blueprint.post("/chapters")
def name_chapter(talk_id: int) -> ResponseReturnValue:
    """Other words for a chapter; empty ones give it its own name back."""
    talk, form = asked.talk(talk_id), request.form
    take = talks.take(database(), talk.id, form.get("take", 0, type=int))
    talks.name_chapter(database(), talk.id, take.id, _ms("take_ms"), _words("words"))
    return _parts(talk, "Chapter renamed.")


@blueprint.post("/captions")
def add_caption(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    words = _words("words")
    if not words:
        raise TalkError("Write the caption first.")
    row = row_of(database(), talk)
    begin = _ms("from")
    made = tied(row, begin, begin + max(800.0, min(7000.0, 70.0 * len(words))), words)
    if not made:
        raise TalkError("Captions lie inside the talk. Go to the place where it is said.")
    talks.add_captions(database(), talk.id, made)
    return _parts(talk, "Caption added.")


@blueprint.post("/captions/<int:caption_id>")
def change_caption(talk_id: int, caption_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    words = _words("words")
    talks.change_caption(database(), talk.id, caption_id, words)
    return _parts(talk, "Caption changed." if words else "Caption deleted.")


@blueprint.get("/captions.vtt")
def captions(talk_id: int) -> ResponseReturnValue:
    talk = asked.talk(talk_id)
    return attachment(write_captions(_shown(talk)), f"talk {talk.id}.vtt", "text/vtt")


def _shown(talk: Talk) -> list[tuple[float, float, str]]:
    return [(c.at_ms, c.to_ms, c.words) for c in assemble(database(), talk).captions]


@blueprint.post("/captions.vtt")
def bring_captions(talk_id: int) -> ResponseReturnValue:
    """Captions from a WebVTT file, in place of those there are."""
    talk = asked.talk(talk_id)
    file = request.files.get("file")
    if file is None:
        raise NotFoundError("Choose a WebVTT file first.")
    cues = read_captions(file.read(2_000_000))
    if len(cues) > _MOST_CAPTIONS:
        raise TalkError(f"A talk has at most {_MOST_CAPTIONS} captions.")
    row = row_of(database(), talk)
    made = [c for begin, end, words in cues for c in tied(row, begin, end, words)]
    if not made:
        raise TalkError("No caption of this file lies inside the talk.")
    talks.add_captions(database(), talk.id, made, anew=True)
    return redirect(url_for("mend.show", talk_id=talk_id))


def _ms(name: str) -> float:
    value = request.values.get(name, -1.0, type=float)
    if not 0 <= value <= 1e8:
        raise TalkError("Choose a place in the talk first.")
    return float(value)


def _words(name: str) -> str:
    words = " ".join(request.form.get(name, "").split())
    if len(words) > _LONGEST_WORDS:
        raise TalkError(f"At most {_LONGEST_WORDS} letters.")
    return words
