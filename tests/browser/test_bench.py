"""The bench in a real browser: the right frame in either way, filmstrip, look, loops, touch."""

from __future__ import annotations

import random
import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from norvik.footage import review_copy
from norvik.intake.receive import receive
from norvik.jobs.runner import run_job, run_through
from norvik.settings import Settings
from norvik.store import clips, cuts, drawings, marks, swimmers, users
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.conftest import EMAIL, SQUAD, bring_in, opened, until
from tests.browser.serving import READ_NUMBER, Server, sign_in
from tests.clips import numbered_clip
from tests.conftest import PASSWORD, PASSWORD_HASH
from tests.footage.odd_files import irregular

#: As on plain http at an address in the local network: no decoding by the page itself.
PLAIN = "delete window.VideoDecoder"
FRAMES = 240


@pytest.fixture(scope="module")
def prepared(tmp_path_factory: pytest.TempPathFactory, empty_database: Path) -> Path:
    """A data folder with a clip that is ready, to be copied for each test."""
    folder = tmp_path_factory.mktemp("prepared")
    film = numbered_clip(folder / "film.mp4", irregular(FRAMES), options={"g": "250", "bf": "3"})
    made = Settings(folder / "data")
    made.prepare()
    shutil.copy(empty_database, made.database)
    with connected(made.database) as connection:
        users.add(connection, EMAIL, "Sunniva Kragholt", "head-coach", PASSWORD_HASH)
        for name in SQUAD:
            swimmers.add(connection, Swimmer(name))
        bring_in(made, connection, film, 1)
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return made.data


@pytest.fixture
def settings(tmp_path: Path, prepared: Path) -> Settings:
    shutil.copytree(prepared, tmp_path / "data")
    return Settings(tmp_path / "data")


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    with connected(settings.database) as connection:
        yield connection


@pytest.fixture
def squad() -> list[int]:
    return [1, 2]


@pytest.fixture
def clip() -> int:
    return 1


def open_bench(page: Page, server: Server, clip: int) -> None:
    page.goto(f"{server.address}/clips/{clip}/")
    page.wait_for_selector('#bench[data-ready="true"]')


def at(page: Page) -> int:
    """The frame that is counted, after making sure that it is the one that is seen."""
    counted = page.evaluate("() => window.norvik.stage.settled()")
    assert page.evaluate(READ_NUMBER, 640) == counted
    return int(counted)


@pytest.mark.parametrize("script", [None, PLAIN], ids=["decoding", "film elements"])
def test_the_frame_that_is_seen_is_the_frame_that_is_counted(
    browser: Browser, server: Server, clip: int, script: str | None
) -> None:
    with opened(browser, server, script) as page:
        open_bench(page, server, clip)
        assert page.evaluate("() => window.norvik.stage.decoder !== null") == (script is None)
        rng = random.Random(3)
        for _ in range(60):
            frame = rng.randrange(FRAMES)
            page.evaluate("frame => window.norvik.stage.goto(frame)", frame)
            assert at(page) == frame
            page.keyboard.press("ArrowRight")
            assert at(page) == min(FRAMES - 1, frame + 1)
        # Many wishes at once: the last one counts.
        page.evaluate("() => { for (let n = 0; n < 200; n += 7) window.norvik.stage.goto(n); }")
        assert at(page) == 196
        for key, frame in (("Home", 0), ("End", FRAMES - 1)):
            page.evaluate("frame => window.norvik.stage.goto(frame)", frame)
            assert at(page) == frame, key


#: A browser under load: it says that it has sought before the new picture is there.
HASTY = (
    PLAIN
    + """;
const { set, get } = Object.getOwnPropertyDescriptor(HTMLMediaElement.prototype, "currentTime");
Object.defineProperty(HTMLMediaElement.prototype, "currentTime", {
  get,
  set(time) {
    set.call(this, time);
    this.dispatchEvent(new Event("seeked"));
  },
});
"""
)


def test_a_picture_that_comes_late_is_waited_for(
    browser: Browser, server: Server, clip: int
) -> None:
    with opened(browser, server, HASTY) as page:
        open_bench(page, server, clip)
        for frame in (201, 17, 183, 184, 60):
            seen = page.evaluate(
                "async frame => { await window.norvik.stage.goto(frame);"
                f" return ({READ_NUMBER})(640); }}",
                frame,
            )
            assert seen == frame


def test_filmstrip_look_loops_and_place(page: Page, server: Server, clip: int) -> None:
    open_bench(page, server, clip)
    strip = page.locator("#filmstrip").bounding_box()
    assert strip is not None
    y = strip["y"] + strip["height"] / 2

    def x_of(frame: int) -> float:
        return float(strip["x"] + strip["width"] * frame / (FRAMES - 1))

    # Dragging is frame-exact; with Shift six pixels are one frame; the wheel is one frame.
    page.mouse.move(x_of(60), y)
    page.mouse.down()
    assert at(page) == 60
    page.mouse.move(x_of(180), y, steps=5)
    assert at(page) == 180
    page.keyboard.down("Shift")
    page.mouse.move(x_of(180) + 19, y, steps=3)
    assert at(page) == 183
    page.keyboard.up("Shift")
    page.mouse.up()
    page.mouse.wheel(0, 100)
    page.wait_for_function("() => window.norvik.stage.wish === 184")
    # Marks of any kind are jumped to, on both sides.
    for frame, key in ((40, "e"), (55, "c"), (90, "e")):
        page.evaluate("frame => window.norvik.stage.goto(frame)", frame)
        page.keyboard.press(key)
        expect(page.locator("#told")).to_contain_text(f"frame {frame}")
    for key, frame in (
        ("[", 55),
        ("[", 40),
        ("]", 55),
        ("]", 90),
        ("Shift+[", 40),
        ("Shift+]", 90),
    ):
        page.keyboard.press(key)
        page.wait_for_function("frame => window.norvik.stage.shown === frame", arg=frame)
    # Closer keeps the point under the pointer; mirrored, cleared up and brighter for the eye alone.
    picture = page.locator("#picture")
    page.keyboard.press(".")
    page.keyboard.press("m")
    page.keyboard.press("g")
    style = picture.get_attribute("style") or ""
    assert "scale(1.5)" in style
    assert "scaleX(-1)" in style
    assert "clear-water" in style
    page.keyboard.press("0")
    assert "scale(1)" in (picture.get_attribute("style") or "")
    page.get_by_role("button", name="Brightness and contrast").click()
    page.locator('input[name="brightness"]').fill("1.6")
    assert "brightness(1.6)" in (picture.get_attribute("style") or "")
    assert at(page) == 90  # what is read from the picture has not changed
    # Six speeds.
    for key, speed in zip("123456", (1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2), strict=True):
        page.keyboard.press(key)
        assert page.evaluate("() => window.norvik.stage.speed") == speed
    # A loop is kept by name.
    page.evaluate("() => window.norvik.stage.goto(100)")
    page.keyboard.press("q")
    page.evaluate("() => window.norvik.stage.goto(130)")
    page.keyboard.press("w")
    page.keyboard.press("j")
    page.get_by_label("Name of the loop").fill("best catch, left")
    page.keyboard.press("Enter")
    expect(page.locator("#loops")).to_contain_text("best catch, left")
    page.keyboard.press("Escape")
    kept = ("/place", "frame=77")
    with page.expect_request_finished(lambda r: (r.url[-6:], r.post_data) == kept):
        page.evaluate("() => window.norvik.stage.goto(77)")
    # Next time it opens where it was left, looked at in the same way, the loop still there.
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    assert at(page) == 77
    assert "scaleX(-1)" in (picture.get_attribute("style") or "")
    page.keyboard.press("j")
    page.get_by_role("button", name="best catch, left").first.click()
    page.wait_for_function("() => window.norvik.stage.playing")
    page.wait_for_timeout(700)
    assert 99 <= page.evaluate("() => window.norvik.stage.shown") <= 135


def test_a_part_ends_where_it_ends(
    page: Page, server: Server, clip: int, database: sqlite3.Connection, squad: list[int]
) -> None:
    recording = clips.by_id(database, clip).recording.id
    part = cuts.add(database, recording, None, 60, 100, squad[1], "butterfly")
    open_bench(page, server, part)
    assert at(page) == 60
    page.keyboard.press("ArrowLeft")
    assert at(page) == 60
    page.evaluate("() => window.norvik.stage.goto(95)")
    page.keyboard.press("5")
    page.keyboard.press(" ")
    page.wait_for_function("() => window.norvik.stage.playing")
    page.wait_for_function("() => !window.norvik.stage.playing && !window.norvik.stage.seeking")
    assert at(page) == 100


def test_the_bench_by_touch(browser: Browser, server: Server, clip: int) -> None:
    tablet = {"viewport": {"width": 1024, "height": 768}, "has_touch": True}
    with opened(browser, server, **tablet) as page:
        open_bench(page, server, clip)
        strip = page.locator("#filmstrip").bounding_box()
        assert strip is not None
        page.touchscreen.tap(strip["x"] + strip["width"] * 60 / (FRAMES - 1), strip["y"] + 20)
        page.wait_for_function("() => window.norvik.stage.wish === 60")
        page.get_by_role("button", name="Forward 1 frame", exact=True).tap()
        assert at(page) == 61
        page.locator('[data-do="next"]').tap()
        expect(page.locator("#told")).to_contain_text("frame 61")
        expect(page.locator(".rope .tick")).to_have_count(1)
        # A finger finds every button, and none hides behind another.
        for button in page.locator(".key:visible").all():
            box = button.bounding_box()
            assert box is not None
            assert box["height"] >= 36, button.inner_text()
            assert box["x"] + box["width"] <= 1024.5
        assert page.evaluate("document.documentElement.scrollWidth") <= 1024


def test_a_finger_on_the_rope_scrolls_up_and_down_and_seeks_sideways(
    browser: Browser, server: Server, clip: int
) -> None:
    phone = {"viewport": {"width": 390, "height": 844}, "has_touch": True}
    with opened(browser, server, **phone) as page:
        open_bench(page, server, clip)
        page.evaluate("() => window.norvik.stage.goto(40)")
        page.wait_for_function("() => window.norvik.stage.shown === 40")
        rope = page.locator("#rope-frame")
        rope.scroll_into_view_if_needed()
        touched = page.context.new_cdp_session(page)

        def drag(across: int, down: int) -> None:
            box = rope.bounding_box()
            assert box is not None
            x, y = box["x"] + 0.5 * box["width"], box["y"] + 0.5 * box["height"]
            touched.send("Input.dispatchTouchEvent", {
                "type": "touchStart", "touchPoints": [{"x": x, "y": y}]})  # fmt: skip
            for n in range(1, 9):
                touched.send("Input.dispatchTouchEvent", {
                    "type": "touchMove",
                    "touchPoints": [{"x": x + across * n / 8, "y": y + down * n / 8}]})  # fmt: skip
            touched.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

        before = page.evaluate("() => window.scrollY")
        room = page.evaluate(
            "() => document.documentElement.scrollHeight - window.innerHeight - window.scrollY"
        )
        drag(0, 120 if before > room else -120)
        page.wait_for_function("y => Math.abs(window.scrollY - y) > 40", arg=before)
        page.wait_for_function("() => window.norvik.stage.shown === 40")
        # Until the page has come to rest from the push.
        page.wait_for_function(
            "() => { const was = window.rested; window.rested = window.scrollY;"
            " return was === window.scrollY; }",
            polling=200,
        )
        scrolled = page.evaluate("() => window.scrollY")
        drag(100, 0)
        page.wait_for_function("() => window.norvik.stage.shown > 60")
        assert page.evaluate("() => window.scrollY") == scrolled


def test_a_recording_grows_under_the_coachs_hands(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    monkeypatch.setattr(review_copy, "FIRST_STRETCH_S", 0.0)
    film = numbered_clip(tmp_path / "long.mp4", [n / 60 for n in range(FRAMES)])
    with film.open("rb") as stream:
        clip, job = receive(settings, database, stream, film.name, Facts(squad[0]))
    following = run_job(settings, job)
    assert following is not None
    open_bench(page, server, clip)
    so_far = page.evaluate("() => window.norvik.stage.last")
    assert so_far < FRAMES - 1
    page.evaluate("() => window.norvik.stage.goto(5)")
    page.keyboard.press("e")
    expect(page.locator(".rope .tick")).to_have_count(1)
    # What plays goes on playing when the longer film comes.
    page.evaluate("() => { const { stage } = window.norvik; stage.loop = { from: 2, to: 8 }; }")
    page.keyboard.press(" ")
    page.wait_for_function("() => window.norvik.stage.playing")
    run_through(settings, following)
    page.wait_for_function(f"() => window.norvik.stage.last === {FRAMES - 1}")
    page.wait_for_function("() => window.norvik.stage.playing")
    page.keyboard.press(" ")
    page.keyboard.press("Escape")
    page.evaluate("() => window.norvik.stage.goto(5)")
    assert at(page) == 5
    page.evaluate("() => window.norvik.stage.goto(230)")
    assert at(page) == 230
    expect(page.locator(".rope .tick")).to_have_count(1)


def test_proposals_are_confirmed_one_by_one(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    for begin in (0, 60):
        for event, into in (("entry", 0), ("catch", 15), ("press", 25), ("exit", 45)):
            marks.place(database, clip, None, begin + into, "arm", "right", event)
    open_bench(page, server, clip)
    # One whole cycle is not enough, unless it is copied forward.
    expect(page.locator(".proposals path")).to_have_count(0)
    page.keyboard.press("7")
    expect(page.locator(".proposals path")).not_to_have_count(0)
    marks.place(database, clip, None, 120, "arm", "right", "entry")
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    ticks, numbers = page.locator(".rope .tick"), page.locator('[data-name="Stroke rate"] b')
    expect(ticks).to_have_count(9)
    rate = numbers.inner_text()
    expect(page.locator(".proposals path")).not_to_have_count(0)
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("catch here?")
    proposed = at(page)
    assert 120 < proposed < 150
    assert numbers.inner_text() == rate  # a proposal enters no number
    expect(ticks).to_have_count(9)
    # Moved by a frame, confirmed; the next one comes by itself.
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(ticks).to_have_count(10)
    expect(page.locator("#told")).to_contain_text("pull here?")
    found = [(m.frame, m.event) for m in marks.of_clip(database, clip) if m.frame > 120]
    assert found == [(proposed + 1, "catch")]
    # Far away, Enter leads back instead of marking.
    page.evaluate("() => window.norvik.stage.goto(230)")
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("pull here?")
    expect(ticks).to_have_count(10)
    assert at(page) < 200


def test_a_lane_is_hidden_and_its_marks_are_passed_over(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    marks.place(database, clip, None, 20, "arm", "right", "entry")
    marks.place(database, clip, None, 40, "breath", "right", "air")
    marks.place(database, clip, None, 60, "arm", "right", "catch")
    open_bench(page, server, clip)
    ticks = page.locator('[data-lane="breath"] .tick')
    expect(ticks).to_have_css("visibility", "visible")
    page.locator('[data-name="breath"]').focus()
    page.keyboard.press("Enter")
    expect(ticks).to_have_css("visibility", "hidden")
    expect(page.locator("#told")).to_have_text("Breath: hidden.")
    page.evaluate("() => window.norvik.stage.goto(20)")
    page.keyboard.press("]")
    page.wait_for_function("() => window.norvik.stage.shown === 60")
    # It stays hidden over a reload, and is shown again by a mark in it.
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    expect(page.locator('[data-name="breath"]')).to_have_attribute("aria-pressed", "false")
    page.evaluate("() => window.norvik.stage.goto(70)")
    page.keyboard.press("d")
    expect(page.locator('[data-lane="breath"] .tick')).to_have_count(2)
    expect(ticks.first).to_have_css("visibility", "visible")
    # The lane of the chosen mark by one key.
    page.keyboard.press("Shift+H")
    expect(ticks.first).to_have_css("visibility", "hidden")


def test_play_that_was_pressed_as_a_longer_film_comes_is_not_lost(
    page: Page, server: Server, clip: int
) -> None:
    open_bench(page, server, clip)
    longer = """async (presses) => {
      const { stage } = norvik;
      await stage.goto(0);
      const begun = Array.from({ length: presses }, () => stage.toggle());
      const film = stage.frames.film.split("?")[0] + "?" + presses;
      const frames = Object.create(Object.getPrototypeOf(stage.frames));
      await stage.extend(Object.assign(frames, stage.frames, { film }));
      await Promise.all(begun);
    }"""
    page.evaluate(longer, 1)
    until(page, lambda: page.evaluate("norvik.stage.shown > 5"))
    assert page.evaluate("norvik.stage.playing")
    page.keyboard.press(" ")
    until(page, lambda: not page.evaluate("norvik.stage.playing"))
    # Pressed twice, it stands.
    page.evaluate(longer, 2)
    page.wait_for_timeout(400)
    assert not page.evaluate("norvik.stage.playing")
    assert page.evaluate("norvik.stage.shown") == 0


def test_marks_are_placed_on_the_beat_while_it_plays(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    """Each mark lies on the frame that was seen when its key went down; then it is moved."""
    open_bench(page, server, clip)
    page.evaluate(
        """() => {
          const { stage } = window.norvik;
          window.pressed = [];
          window.addEventListener("keydown", (event) => {
            if (event.key === "f") window.pressed.push(stage.shown);
          }, true);
        }"""
    )
    page.keyboard.press("2")
    page.keyboard.press(" ")
    for n in range(4):
        page.wait_for_function(f"() => window.norvik.stage.shown >= {10 + 12 * n}")
        page.keyboard.press("f")
    expect(page.locator(".rope .tick")).to_have_count(4)
    assert page.evaluate("() => window.norvik.stage.playing")
    page.keyboard.press(" ")
    found = marks.of_clip(database, clip)
    assert [m.frame for m in found] == page.evaluate("() => window.pressed")
    assert [m.event for m in found] == ["entry", "catch", "press", "exit"]
    page.keyboard.press("[")
    page.keyboard.press("Control+ArrowLeft")
    expect(page.locator("#told")).to_contain_text("moved to frame")


def test_a_key_right_after_going_to_a_mark_is_for_that_mark(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    open_bench(page, server, clip)
    for frame in (10, 22, 40):
        page.evaluate(f"() => window.norvik.stage.goto({frame})")
        page.keyboard.press("f")
    expect(page.locator(".rope .tick")).to_have_count(3)
    # The frame of the mark is slow to come, and the coach does not wait for it.
    page.evaluate(
        """() => {
          const { stage } = window.norvik;
          const go = stage.goto.bind(stage);
          stage.goto = (frame) => new Promise((done) => {
            window.frameComes = () => go(frame).then(done);
          });
        }"""
    )
    page.keyboard.press("[")
    page.keyboard.press("Control+ArrowLeft")
    expect(page.locator("#told")).to_contain_text("Right catch moved to frame 21")
    page.evaluate("() => window.frameComes()")
    assert [m.frame for m in marks.of_clip(database, clip)] == [10, 21, 40]


def test_a_late_answer_does_not_take_the_chosen_mark_away(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    open_bench(page, server, clip)
    page.evaluate("() => window.norvik.stage.goto(10)")
    page.keyboard.press("f")
    expect(page.locator(".rope .tick")).to_have_count(1)
    held: list[Route] = []
    page.route("**/marks", lambda route: held.append(route))
    page.evaluate("() => window.norvik.stage.goto(22)")
    page.keyboard.press("f")
    until(page, lambda: bool(held))
    page.keyboard.press("[")
    expect(page.locator("#told")).to_have_text("right entry, frame 10")
    held[0].continue_()
    expect(page.locator(".rope .tick")).to_have_count(2)
    page.keyboard.press("Control+ArrowRight")
    expect(page.locator("#told")).to_contain_text("Right hand entry moved to frame 11")
    assert [m.frame for m in marks.of_clip(database, clip)] == [11, 22]
    # What is marked next is chosen again.
    page.unroute("**/marks")
    page.evaluate("() => window.norvik.stage.goto(40)")
    page.keyboard.press("f")
    expect(page.locator(".rope .tick")).to_have_count(3)
    page.keyboard.press("Control+ArrowRight")
    expect(page.locator("#told")).to_contain_text("moved to frame 41")


def test_marks_on_their_way_do_not_lose_count(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    """Without a connection one key still means the next event, and the next breath."""
    open_bench(page, server, clip)
    page.context.set_offline(True)
    for n in range(4):
        page.evaluate(f"() => window.norvik.stage.goto({10 + 10 * n})")
        page.keyboard.press("f")
        page.keyboard.press("v")
    expect(page.locator("#told")).to_contain_text("8 changes waiting")
    page.context.set_offline(False)
    expect(page.locator(".rope .tick")).to_have_count(8)
    found = [(m.lane, m.event, m.side) for m in marks.of_clip(database, clip)]
    assert [(e, s) for lane, e, s in found if lane == "arm"] == [
        (event, "right") for event in ("entry", "catch", "press", "exit")
    ]
    assert [(e, s) for lane, e, s in found if lane == "breath"] == [
        ("turn", "right"), ("air", "right"), ("down", ""), ("turn", "right")
    ]  # fmt: skip


def test_two_people_mark_one_clip(
    browser: Browser, page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    """Nobody's marks replace the other's; undo takes back one's own; each sees both after it."""
    users.add(database, "second@kvarnholm.example", "Torvald Berg", "head-coach", PASSWORD_HASH)
    open_bench(page, server, clip)
    with browser.new_context(viewport={"width": 1280, "height": 800}) as context:
        other = context.new_page()
        sign_in(other, server.address, "second@kvarnholm.example", PASSWORD)
        open_bench(other, server, clip)
        for n, at_work in enumerate((page, other, page, other)):
            at_work.evaluate(f"() => window.norvik.stage.goto({20 + 15 * n})")
            at_work.keyboard.press("e" if n < 2 else "c")
            expect(at_work.locator(".rope .tick")).to_have_count(n + 1)
        page.keyboard.press("z")
        expect(page.locator("#told")).to_contain_text("removed")
        expect(page.locator(".rope .tick")).to_have_count(3)
        assert [m.frame for m in marks.of_clip(database, clip)] == [20, 35, 65]
        other.keyboard.press("z")
        expect(other.locator(".rope .tick")).to_have_count(2)
        assert [m.frame for m in marks.of_clip(database, clip)] == [20, 35]


def test_an_angle_is_clicked_on_the_picture_and_moved(
    page: Page, server: Server, clip: int, database: sqlite3.Connection
) -> None:
    # The bend of the elbow is seen from the front.
    database.execute("UPDATE clips SET view = 'front-under'")
    """However the picture is zoomed and mirrored, a click lands on the pixel that is seen."""
    open_bench(page, server, clip)
    page.evaluate("() => window.norvik.stage.goto(30)")

    def client_of(x: float, y: float) -> tuple[float, float]:
        place = page.evaluate(
            "([x, y]) => { const p = new DOMPoint(x, y).matrixTransform("
            "document.getElementById('overlay').getScreenCTM()); return [p.x, p.y]; }",
            [x, y],
        )
        return place[0], place[1]

    # The corners of the overlay lie on those of the picture, as the browser lays it out.
    box = page.evaluate(
        """() => { const still = window.norvik.stage.picture, b = still.getBoundingClientRect();
          const wide = still.width ?? still.videoWidth, high = still.height ?? still.videoHeight;
          const s = Math.min(b.width / wide, b.height / high);
          return [b.x + (b.width - s * wide) / 2, b.y + (b.height - s * high) / 2, s, wide]; }"""
    )
    assert client_of(0, 0) == pytest.approx(box[:2], abs=0.6)
    assert client_of(box[3], 0)[0] == pytest.approx(box[0] + box[2] * box[3], abs=0.6)

    def take(*clicks: tuple[float, float]) -> None:
        page.locator('[data-do="take-measure"][data-name="elbow-angle"]').click()
        expect(page.locator("#told")).to_contain_text("Click right side: shoulder")
        for click in clicks:
            page.mouse.click(*client_of(*click))

    page.keyboard.press("Shift+M")
    take((200, 100), (300, 100), (300, 180))
    expect(page.locator("#drawing-said")).to_have_text("Right elbow angle in the pull: 90°")
    expect(page.locator("#overlay text")).to_have_text("90°")
    # Nearer, aside and mirrored.
    for _ in range(2):
        page.keyboard.press(".")
    page.keyboard.press("m")
    take((260, 150), (330, 150), (330, 200))
    expect(page.locator("#overlay circle.handle")).to_have_count(6)
    found = drawings.of_clip(database, clip)
    for stored, first in zip(found, ((200, 100), (260, 150)), strict=True):
        assert stored.points[0] == pytest.approx(first, abs=1.0)
        assert stored.frame == 30
    # A point is taken hold of and moved; on another frame nothing is drawn.
    handle = page.locator('#overlay circle.handle[data-point="2"]').last
    middle = handle.bounding_box()
    assert middle is not None
    page.mouse.move(middle["x"] + middle["width"] / 2, middle["y"] + middle["height"] / 2)
    page.mouse.down()
    page.mouse.move(*client_of(400, 150), steps=4)
    page.mouse.up()
    expect(page.locator("#drawing-said")).to_have_text("Right elbow angle in the pull: 180°")
    assert drawings.of_clip(database, clip)[1].points[2] == pytest.approx((400, 150), abs=1.5)
    expect(page.locator("#overlay text").last).to_have_text("180°")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#overlay circle.handle")).to_have_count(0)
    page.keyboard.press("ArrowLeft")
    expect(page.locator("#overlay circle.handle")).to_have_count(6)
    # Escape leaves it half clicked; nothing is kept.
    page.locator('[data-do="take-measure"][data-name="elbow-angle"]').click()
    page.mouse.click(*client_of(300, 150))
    page.keyboard.press("Escape")
    expect(page.locator("#told")).to_have_text("Cancelled.")
    page.get_by_role("button", name="Delete Elbow angle in the pull on frame 30").first.click()
    expect(page.locator("#overlay circle.handle")).to_have_count(3)
    assert len(drawings.of_clip(database, clip)) == 1
