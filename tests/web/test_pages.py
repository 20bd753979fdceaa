"""The pages: signing in, bringing in, marking, judging, reviewing, and every refusal."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.strokes import STROKES
from norvik.settings import Settings
from norvik.store import jobs, marks, recordings, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web import create_app
from norvik.web.clip.keys import EVENT_KEYS, KEY_GROUPS
from norvik.web.shared.login_attempts import PER_ACCOUNT, PER_ADDRESS, LoginAttempts
from norvik.web.shared.route_deeds import OPEN
from tests.conftest import PASSWORD, BroughtIn
from tests.marking import steady_arm
from tests.uploading import upload
from tests.web.judged import review


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path, brought_in: BroughtIn) -> int:
    tilde = Swimmer("Tilde Vassholm", kit=("fins", "buoy"))
    return brought_in(settings, [tilde], (small_clip, {}))[0]


HTMX = {"HX-Request": "true"}


def test_everything_but_the_sign_in_needs_an_account(settings: Settings) -> None:
    app = create_app(settings, immediate_jobs=True)
    with app.test_client() as stranger:
        for rule in app.url_map.iter_rules():
            if rule.endpoint in OPEN:
                continue
            url = re.sub(r"<any\(([^,)]+)[^>]*>", r"\1", rule.rule)
            url = re.sub(r"<[^>]+>", "1", url)
            method = "POST" if "GET" not in rule.methods else "GET"
            app.config["WTF_CSRF_ENABLED"] = False
            answer = stranger.open(url, method=method)
            if rule.endpoint.startswith("link."):
                # A link is opened by its token: a guess gets the page that there is none.
                assert answer.status_code == 404, rule
                assert "link doesn’t open" in answer.text
                continue
            assert answer.status_code == 302, rule
            assert "/sign-in" in answer.location


def test_wrong_password_and_unknown_person_get_the_same_sentence(
    settings: Settings, client: FlaskClient
) -> None:
    client.post("/sign-out")
    answers = [
        client.post("/sign-in", data={"email": email, "password": password}).text
        for email, password in (("coach@kvarnholm.example", "wrong"), ("x@y.example", PASSWORD))
    ]
    assert all("Wrong e-mail or password" in a for a in answers)


def test_guessing_a_password_is_stopped(client: FlaskClient) -> None:
    client.post("/sign-out")

    def answer(password: str, email: str = "coach@kvarnholm.example", address: str = "10.0.0.1"):  # type: ignore[no-untyped-def]
        data = {"email": email, "password": password}
        return client.post("/sign-in", data=data, environ_overrides={"REMOTE_ADDR": address})

    assert [answer("wrong").status_code for _ in range(PER_ACCOUNT)] == [422] * PER_ACCOUNT
    stopped = answer(PASSWORD, "Coach@Kvarnholm.example")
    assert stopped.status_code == 429
    assert "Too many wrong passwords" in stopped.text
    # Neither the person elsewhere nor somebody else is kept out by it.
    assert answer("wrong", "other@kvarnholm.example").status_code == 422
    assert answer(PASSWORD, address="10.0.0.2").status_code == 302


def test_the_right_password_forgets_the_wrong_ones() -> None:
    tries = LoginAttempts()
    for _ in range(PER_ACCOUNT - 1):
        tries.wrong("10.0.0.1", "a@b.example")
    assert not tries.too_many("10.0.0.1", "a@b.example")
    tries.right("10.0.0.1", "A@b.example")
    tries.wrong("10.0.0.1", "a@b.example")
    assert not tries.too_many("10.0.0.1", "a@b.example")
    # One address that goes through many accounts is stopped, too.
    for n in range(PER_ADDRESS):
        tries.wrong("10.0.0.9", f"{n}@b.example")
    assert tries.too_many("10.0.0.9", "new@b.example")
    assert not tries.too_many("10.0.0.1", "new@b.example")


@pytest.mark.parametrize("target", ["//evil.example/", "https://evil.example/", "/\\evil.example"])
def test_signing_in_never_leads_away(client: FlaskClient, target: str) -> None:
    client.post("/sign-out")
    answer = client.post(
        f"/sign-in?next={target}", data={"email": "coach@kvarnholm.example", "password": PASSWORD}
    )
    assert answer.location == "/"


def test_a_forged_request_is_refused(settings: Settings, client: FlaskClient) -> None:
    client.application.config["WTF_CSRF_ENABLED"] = True
    answer = client.post("/swimmers/new", data={"name": "Forged"})
    assert answer.status_code == 400
    assert "too old" in answer.text
    answer = client.post("/clips?swimmer=1", data=b"x")
    assert answer.status_code == 400


def test_cookies_and_headers(client: FlaskClient) -> None:
    client.post("/sign-out")
    answer = client.post(
        "/sign-in", data={"email": "coach@kvarnholm.example", "password": PASSWORD}
    )
    cookie = answer.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Lax" in cookie
    policy = client.get("/").headers["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "http:" not in policy


def test_pages_name_no_other_host(client: FlaskClient, clip: int) -> None:
    for url in ("/", "/swimmers/", "/clips/new", f"/clips/{clip}/", f"/clips/{clip}/judge/",
                review(client, clip)):  # fmt: skip
        page = client.get(url).text
        assert not re.findall(r"https?://(?!www\.w3\.org)[^\s\"']+", page), url


def test_empty_pages_say_what_to_do(client: FlaskClient) -> None:
    steps = client.get("/").text
    assert "Add a swimmer" in steps
    assert "Mark one stroke cycle" in steps
    assert "New swimmer" in client.get("/clips/new").text
    assert "library is empty" in client.get("/library/").text
    assert "trash is empty" in client.get("/trash/").text
    assert "Free on the disk" in client.get("/storage/").text
    client.post("/swimmers/new", data={"name": "Tilde Vassholm", "level": "beginner"})
    steps = client.get("/").text
    # One step is done, the next is the one that can be pressed.
    assert steps.count(">Done<") == 1
    assert re.search(r'class="button button-now" href="/clips/new">Add a clip', steps)


def test_swimmer_form(client: FlaskClient, settings: Settings) -> None:
    answer = client.post("/swimmers/new", data={"name": " ", "level": "beginner"})
    assert answer.status_code == 422
    assert "Give the swimmer a name" in answer.text
    client.post(
        "/swimmers/new",
        data={"name": "Tilde Vassholm", "level": "advanced", "usual_breath": "left",
              "pain": ["shoulder"], "kit": ["fins", "buoy"], "school-glide": "continuous",
              "school-roll": "made-up"},
    )  # fmt: skip
    with connected(settings.database) as connection:
        (swimmer,) = swimmers.all_by_name(connection)
    assert swimmer.pain == ("shoulder",)
    assert swimmer.schools == {"glide": "continuous"}
    assert "Continuous drive" in client.get(f"/swimmers/{swimmer.id}").text


def test_a_clip_goes_from_upload_to_the_bench(client: FlaskClient, clip: int) -> None:
    assert "<video" in client.get(f"/clips/{clip}/").text
    frames = client.get(f"/clips/{clip}/frames.json").json
    assert (frames["first"], frames["last"], frames["whole"]) == (0, 89, True)
    assert frames["interval"] == pytest.approx(1 / 30, abs=1e-6)
    with client.get(frames["film"], headers={"Range": "bytes=0-99"}) as part:
        assert (part.status_code, len(part.data)) == (206, 100)
    for picture in ("poster.jpg", "frames/89.jpg", "frames/89.jpg?w=320"):
        with client.get(f"/clips/{clip}/{picture}") as answer:
            assert answer.mimetype == "image/jpeg"
            assert answer.data[:2] == b"\xff\xd8"
    assert client.get(f"/clips/{clip}/frames/90.jpg").status_code == 404


def test_uploads_that_cannot_be_used(
    client: FlaskClient, clip: int, small_clip: Path, tmp_path: Path
) -> None:
    text = tmp_path / "film.mp4"
    text.write_text("not a film")
    answer = upload(client, text)
    assert answer.status_code == 422
    assert "not a video" in answer.json["sentence"]
    again = upload(client, small_clip)
    assert again.status_code == 409
    assert again.json["there"] == f"/clips/{clip}/"
    for facts in (
        {"swimmer_id": 9}, {"view": "inside"}, {"filmed_on": "soon"}, {"stretch": 0},
        {"pace_s": "fast"}, {"pace_s": "9:99"}, {"pool_m": 2}, {"effort": "lazy"},
    ):  # fmt: skip
        answer = upload(client, text, **facts)
        assert answer.status_code in (404, 422)
        assert answer.json["sentence"].endswith(".")


def test_progress_then_refresh(client: FlaskClient, clip: int, settings: Settings) -> None:
    assert client.get("/recordings/1/progress").headers["HX-Refresh"] == "true"
    with connected(settings.database) as connection:
        recordings.set_waiting(connection, 1)
        job = jobs.add(connection, "prepare-recording", {"recording_id": 1}, 1)
        jobs.claim(connection, job, 0)
        jobs.tell(connection, job, 0, "Making the review copy", 0.42)
    page = client.get(f"/clips/{clip}/").text
    assert "Making the review copy" in page
    assert "42 %" in page
    assert client.get(f"/clips/{clip}/judge/").status_code == 409
    client.post("/recordings/1/cancel")
    with connected(settings.database) as connection:
        assert jobs.by_id(connection, job).cancel_asked


def mark(
    client: FlaskClient, clip: int, frame: int, event: str, lane: str = "arm", side: str = "right"
):  # type: ignore[no-untyped-def]
    return client.post(
        f"/clips/{clip}/marks",
        data={"frame": frame, "lane": lane, "side": side, "event": event},
        headers=HTMX,
    )


def test_marks_are_saved_at_once_and_every_part_is_redrawn(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    for frame in (0, 10, 18, 30):
        mark(client, clip, frame, "next")
    answer = mark(client, clip, 45, "next")
    assert answer.status_code == 200
    with connected(settings.database) as connection:
        stored = marks.of_clip(connection, clip)
    assert [m.event for m in stored] == ["entry", "catch", "press", "exit", "entry"]
    # 45 frames of 1/30 s: 40 cycles/min, 80 strokes/min.
    assert "80.0" in answer.text
    assert "40.00" in answer.text
    for part in ('id="rope"', 'id="numbers"', 'id="undo"', 'id="told"'):
        assert part in answer.text


def test_move_delete_undo_redo(client: FlaskClient, clip: int, settings: Settings) -> None:
    mark(client, clip, 5, "entry")
    assert "moved to frame 9" in client.post(f"/clips/{clip}/marks/1/move", data={"frame": 9}).text
    assert "deleted" in client.post(f"/clips/{clip}/marks/1/delete").text
    assert "is back on frame 9" in client.post(f"/clips/{clip}/undo").text
    assert "back on frame 5" in client.post(f"/clips/{clip}/undo").text
    assert "removed" in client.post(f"/clips/{clip}/undo").text
    assert "Nothing to undo" in client.post(f"/clips/{clip}/undo").text
    assert "is back on frame 5" in client.post(f"/clips/{clip}/redo").text


@pytest.mark.parametrize(
    ("frame", "event", "lane", "side"),
    [(90, "entry", "arm", "right"), (-1, "entry", "arm", "right"), (3, "out", "arm", "right"),
     (3, "entry", "arm", ""), (3, "entry", "hand", "right"), (3, "entry", "breath", "right")],
)  # fmt: skip
def test_marks_that_cannot_stand(
    client: FlaskClient, clip: int, frame: int, event: str, lane: str, side: str
) -> None:
    answer = mark(client, clip, frame, event, lane, side)
    assert answer.status_code == 422
    assert answer.headers["HX-Retarget"] == "#notice"
    assert 'role="alert"' in answer.text


def mark_two_arms(client: FlaskClient, clip: int) -> None:
    # Long glides: 50 % entry, 22 % pull.
    shares = (0.50, 0.10, 0.22, 0.18)
    events = steady_arm("right", 0.1, 1.2, 2, shares) + steady_arm("left", 0.7, 1.1, 2, shares)
    for m in events:
        if m.time_s < 2.95:
            mark(client, clip, round(m.time_s * 30), m.event, "arm", m.side)


def test_from_marks_to_a_review_file(client: FlaskClient, clip: int, settings: Settings) -> None:
    mark_two_arms(client, clip)
    page = client.get(f"/clips/{clip}/judge/").text
    assert "Overgliding" in page
    assert "more good thing" in page
    for what, side in (("long-line", ""), ("high-elbow", "left"), ("thumb-first", "right")):
        answer = client.post(
            f"/clips/{clip}/judge/seen",
            data={"what": what, "side": side, "degree": "clear", "frame": 12},
            headers=HTMX,
        )
        assert answer.status_code == 200
    page = client.post(f"/clips/{clip}/judge/focus", data={"fault": "thumb-first"}).text
    assert "This loads the shoulder" in page
    client.post(f"/clips/{clip}/judge/focus", data={"fault": "overglide"})
    answer = client.post(
        f"/clips/{clip}/judge/focus", data={"fault": "overglide", "move": "up"}, headers=HTMX
    )
    assert re.search(r"1\. Overgliding", answer.text)
    client.post(
        review(client, clip),
        data={"words": "Long and calm.", "film_again_on": "2027-01-10", "done": "yes"},
    )
    page = client.get(review(client, clip)).text
    for text in ("Long and calm.", "10 January 2027", "the body lies long".capitalize(),
                 "As one hand lets go", "strokes/min", "doctor or physiotherapist",
                 "Never swim alone", "patient reach"):  # fmt: skip
        assert text in page, text
    order = [
        page.index(t)
        for t in ("What you do well", "the one thing", "What we look at", "For the record")
    ]
    assert order == sorted(order)
    answer = client.get(f"{review(client, clip)}file")
    assert answer.headers["Content-Disposition"].startswith("attachment")
    file = answer.text
    assert "data:image/jpeg;base64," in file
    assert "data:font/woff2;base64," in file
    # Self-contained: it names nothing that lies outside.
    assert not re.findall(r'(?:src|href)="(?!data:|#)', file)
    assert not re.findall(r"url\((?!data:|#)", file)
    assert "<script" not in file
    assert "Reviewed" in client.get("/").text


def test_at_most_three_points_and_only_found_ones(client: FlaskClient, clip: int) -> None:
    ids = ("thumb-first", "head-forward", "legs-low", "reaches-down")
    for what in ids:
        client.post(f"/clips/{clip}/judge/seen", data={"what": what, "degree": "clear"})
    for what in ids[:3]:
        assert client.post(f"/clips/{clip}/judge/focus", data={"fault": what}).status_code == 200
    answer = client.post(f"/clips/{clip}/judge/focus", data={"fault": ids[3]}, headers=HTMX)
    assert answer.status_code == 422
    assert "3 focuses are chosen" in answer.text
    answer = client.post(f"/clips/{clip}/judge/focus", data={"fault": "scissor"})
    assert answer.status_code == 422


def test_drills_can_be_taken_out_but_not_made_unsuitable(client: FlaskClient, clip: int) -> None:
    client.post(f"/clips/{clip}/judge/seen", data={"what": "legs-low", "degree": "clear"})
    client.post(f"/clips/{clip}/judge/focus", data={"fault": "legs-low"})
    url = f"/clips/{clip}/judge/drills"
    answer = client.post(url, data={"fault": "legs-low", "drill": "torpedo-kick"})
    assert answer.status_code == 200
    assert "Torpedo kick" not in client.get(review(client, clip)).text
    assert client.post(url, data={"fault": "legs-low", "drill": "heads-up"}).status_code == 422


def test_the_coach_chooses_the_still_of_a_focus(client: FlaskClient, clip: int) -> None:
    client.post(f"/clips/{clip}/judge/seen", data={"what": "legs-low", "degree": "clear"})
    url = f"/clips/{clip}/judge/still"
    assert client.post(url, data={"fault": "legs-low", "frame": 33}).status_code == 422
    client.post(f"/clips/{clip}/judge/focus", data={"fault": "legs-low"})
    assert client.post(url, data={"fault": "legs-low", "frame": 90}).status_code == 422
    assert "frame 33" in client.post(url, data={"fault": "legs-low", "frame": 33}).text
    assert "/stills/33.jpg" in client.get(review(client, clip)).text


def test_a_tick_is_taken_away(client: FlaskClient, clip: int) -> None:
    url = f"/clips/{clip}/judge/seen"
    assert (
        "Thumb-first entry"
        in client.post(url, data={"what": "thumb-first", "side": "left", "degree": "slight"}).text
    )
    answer = client.post(url, data={"what": "thumb-first", "side": "left", "degree": ""})
    assert "No fault found yet" in answer.text
    assert client.post(url, data={"what": "made-up", "degree": "clear"}).status_code == 422
    assert (
        client.post(url, data={"what": "legs-low", "side": "left", "degree": "clear"}).status_code
        == 422
    )


def test_the_slow_motion_factor_can_be_corrected(client: FlaskClient, clip: int) -> None:
    for frame in (0, 45):
        mark(client, clip, frame, "entry")
    assert "80.0" in client.get(f"/clips/{clip}/").text
    url = f"/clips/{clip}/time/stretch"
    answer = client.post(url, data={"from_frame": 0, "factor": "2"}, headers=HTMX)
    assert answer.headers["HX-Trigger"] == "timebase-changed"
    assert "160.0" in client.get(f"/clips/{clip}/").text
    for wrong in ("0", "-1", "nan", "x", ""):
        assert client.post(url, data={"from_frame": 0, "factor": wrong}).status_code == 422
    assert client.post(url, data={"from_frame": 90, "factor": 2}).status_code == 422


def test_deleting_a_clip_removes_its_files(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    client.get(f"/clips/{clip}/frames/5.jpg?w=320").close()
    client.post("/library/throw-away", data={"ids": clip})
    assert client.get(f"/clips/{clip}/").status_code == 200
    client.post("/trash/delete", data={"ids": clip})
    for folder in (settings.originals, settings.copies, settings.pictures):
        assert list(folder.iterdir()) == []
    answer = client.get(f"/clips/{clip}/")
    assert answer.status_code == 404
    assert "has been deleted" in answer.text


def test_an_unforeseen_error_is_a_sentence(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("norvik.web.squad.today.context", lambda: 1 / 0)
    answer = client.get("/")
    assert answer.status_code == 500
    assert "ZeroDivision" not in answer.text
    assert "try again" in answer.text


KEY_FILES = ("bench-keys", "bench", "transport", "talk-bar")


def test_every_key_in_the_help_works_somewhere() -> None:
    folder = Path(__file__).parents[2] / "src/norvik/web"
    script = "".join(next(folder.rglob(f"{n}.js")).read_text() for n in KEY_FILES)
    buttons = (folder / "clip/templates/bench/page.html").read_text()
    signs = {"1": "n + 1", "…": "SPEEDS", "6": "n + 1", "<": '"<"', ">": '">"', ".": '"."',
             ",": '","', "←": "ArrowLeft", "→": "ArrowRight", "Space": '" "', "Esc": "Escape",
             "−": '"-"',
             "+": '"+"', "[": '"["', "]": '"]"', "?": '"?"', "Delete": "Delete",
             "Enter": "Enter: [", "T": '"Shift+T"', "Page": "PageDown", "Down,": "PageDown",
             "Up": "PageUp"}  # fmt: skip
    assert script.count("SPEEDS") > 1
    for _, rows in KEY_GROUPS:
        for keys, _ in rows:
            for key in keys.replace("Shift", "").replace("Ctrl", "").split():
                letter = key.lower()
                known = (
                    signs.get(key, "\0") in script
                    or re.search(rf"^  {letter}: \[", script, re.MULTILINE)
                    or f'data-key="{letter}"' in buttons
                    or letter in EVENT_KEYS.values()
                )
                assert known, key


def test_no_letter_means_two_things_in_one_stroke() -> None:
    script = (Path(__file__).parents[2] / "src/norvik/web/clip/scripts/bench-keys.js").read_text()
    own = set(re.findall(r"^  (\w): \[", script, re.MULTILINE))
    assert {"f", "v", "z"} <= own
    taken = own | {"q", "w", "b"}
    for stroke in STROKES.values():
        legs = stroke.leg_cycle or ("beat",)
        letters = [EVENT_KEYS[e] for e in (*stroke.arm_events, *legs)]
        letters += ["l", "r"] if stroke.alternating else []
        assert len(letters) == len(set(letters)), stroke.name
        assert not taken & set(letters), stroke.name
        assert all(EVENT_KEYS[e] in e or e == "beat" for e in (*stroke.arm_events, *legs))


@pytest.mark.parametrize("stroke", ["backstroke", "breaststroke", "butterfly"])
def test_other_strokes_are_marked_and_timed(
    client: FlaskClient, settings: Settings, small_clip: Path, stroke: str
) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    clip = upload(client, small_clip, stroke=stroke).json["clip"]
    side = "left" if stroke == "backstroke" else ""
    for frame in (0, 10, 20, 30, 45):
        answer = mark(client, clip, frame, "next", side=side)
        assert answer.status_code == 200
    opens = "out" if stroke == "breaststroke" else "entry"
    with connected(settings.database) as connection:
        stored = [m.event for m in marks.of_clip(connection, clip)]
    assert stored[0] == stored[-1] == opens
    assert "40.00" in answer.text
    page = client.get(f"/clips/{clip}/").text
    assert ">Judge</a>" in page
    judged = client.get(f"/clips/{clip}/judge/")
    assert judged.status_code == 200
    assert {"backstroke": "Head off the water", "breaststroke": "Diving hands",
            "butterfly": "Breathes too high"}[stroke] in judged.text  # fmt: skip
    assert "Dolphin kick from the knees" in judged.text
    if stroke == "breaststroke":
        for frame, event in ((12, "heels"), (20, "set"), (26, "close")):
            assert mark(client, clip, frame, event, "leg", "").status_code == 200
        assert 'class="floats kick"' in client.get(f"/clips/{clip}/rope?frame=0").text


def test_strokes_can_be_turned_and_scrubbed(client: FlaskClient) -> None:
    for stroke in ("freestyle", "backstroke", "breaststroke", "butterfly", "wall"):
        page = client.get(f"/strokes/{stroke}/").text
        assert 'role="img"' in page
    side = client.get("/strokes/butterfly/figure?view=side&step=4").text
    assert side != client.get("/strokes/butterfly/figure?view=side&step=20").text
    front = client.get("/strokes/butterfly/figure?view=front&step=4&fault=fly-wide").text
    assert "Pull too wide" in front
    assert front.count("<svg") == 2
    turned = client.get("/strokes/butterfly/figure?round=43&over=200&step=4").text
    assert 'data-round="45" data-over="90"' in turned
    assert "seen turned 45°, 90° from above, just after" in turned
    # From above and below there is no line of the water; a little over it there is.
    assert 'class="line"' not in turned
    assert 'class="line"' in client.get("/strokes/butterfly/figure?round=200&over=2").text
    laid = client.get("/strokes/butterfly/figure?step=4&fault=fly-wide&laid=1").text
    assert laid.count("<svg") == 1
    assert "with how it should look as an outline" in laid
    # The coach's words on the page, not those of the files.
    page = client.get("/strokes/breaststroke/").text
    assert '<dt class="font-bold">recovery</dt>' in page
    assert "> shoot" not in page
    assert client.get("/strokes/sidestroke/").status_code == 404
    assert client.get("/strokes/wall/figure?view=inside&step=999&fault=none").status_code == 200
