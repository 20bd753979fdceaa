"""What everybody has to be able to use: names on controls, labels, headings, and contrast."""

from __future__ import annotations

import re
from html.parser import HTMLParser
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.clip.rope import LETTERS
from tests.uploading import upload
from tests.web.judged import review

STYLES = Path(__file__).parents[2] / "src/norvik/web/styles/norvik.css"


class Page(HTMLParser):
    """Collects controls with their names, labels, pictures and headings."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.nameless: list[str] = []
        self.labels: set[str] = set()
        self.fields: list[dict[str, str | None]] = []
        self.pictures: list[dict[str, str | None]] = []
        self.headings: list[int] = []
        self.ids: list[str] = []
        self.landmarks: set[str] = set()
        self._open: list[tuple[str, dict[str, str | None], list[str]]] = []
        self._in_label = 0
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        found = dict(attrs)
        if found.get("id"):
            self.ids.append(str(found["id"]))
        if tag in ("main", "nav", "header"):
            self.landmarks.add(tag)
        if tag == "label":
            self._in_label += 1
            if found.get("for"):
                self.labels.add(str(found["for"]))
        if re.fullmatch("h[1-6]", tag):
            self.headings.append(int(tag[1]))
        if tag in ("input", "select", "textarea") and found.get("type") != "hidden":
            found["in label"] = "yes" if self._in_label else None
            self.fields.append(found)
        if tag == "img":
            self.pictures.append(found)
        if tag in ("button", "a"):
            self._open.append((tag, found, []))

    def handle_data(self, data: str) -> None:
        for _, _, text in self._open:
            text.append(data)

    def handle_endtag(self, tag: str) -> None:
        if tag == "label":
            self._in_label -= 1
        if self._open and self._open[-1][0] == tag:
            _, found, text = self._open.pop()
            hidden = found.get("aria-hidden") == "true"
            if not (hidden or "".join(text).strip() or found.get("aria-label")):
                self.nameless.append(str(found))


@pytest.fixture
def pages(client: FlaskClient, settings: Settings, small_clip: Path) -> dict[str, Page]:
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Tilde Vassholm", pain=("shoulder",)))
    clip = upload(client, small_clip, swimmer_id=swimmer).json["clip"]
    client.post(
        f"/clips/{clip}/marks", data={"frame": 3, "lane": "arm", "side": "left", "event": "next"}
    )
    client.post(f"/clips/{clip}/judge/seen", data={"what": "thumb-first", "degree": "clear"})
    client.post(f"/clips/{clip}/judge/focus", data={"fault": "thumb-first"})
    plan = {"weekday": ["1", "3"], "size": "60", "by": "minutes", "pool": "33 1/3", "unit": "m",
            "starts_on": "2026-11-30"}  # fmt: skip
    client.post(f"{review(client, clip)}plan", data=plan)
    client.post("/recordings/1/cut/parts", data={"first": 10, "last": 40})
    client.post("/recordings/1/cut/parts", data={"first": 50, "last": 80})
    client.post("/library/throw-away", data={"ids": 3})
    urls = ["/", "/swimmers/", "/library/", "/trash/", "/storage/", "/recordings/1/cut/",
            f"/clips/{clip}/facts",
            "/swimmers/new", "/swimmers/1", "/clips/new", "/strokes/wall/",
            f"/clips/{clip}/", f"/clips/{clip}/judge/", review(client, clip),
            f"/clips/{clip}/causes/?whole=1", f"{review(client, clip)}plan", "/plans/1/",
            "/plans/1/event", "/drills/", "/drills/fist", "/drills/new",
            "/drills/cues"]  # fmt: skip
    return {url: Page(client.get(url).text) for url in urls}


def test_every_control_has_a_name_and_every_field_a_label(pages: dict[str, Page]) -> None:
    for url, page in pages.items():
        assert page.nameless == [], url
        for field in page.fields:
            named = field["in label"] or field.get("aria-label") or field.get("id") in page.labels
            assert named, (url, field)
        for picture in page.pictures:
            assert picture.get("alt") is not None, (url, picture)


def test_every_page_has_one_title_its_parts_and_no_double_ids(pages: dict[str, Page]) -> None:
    for url, page in pages.items():
        assert page.headings.count(1) >= 1, url
        assert {"main", "header"} <= page.landmarks, url
        doubled = {i for i in page.ids if page.ids.count(i) > 1}
        assert doubled == set(), url


def test_the_numbers_of_points_in_a_plan_can_be_read() -> None:
    """White on each point's colour, and each colour against the page (WCAG 2.2, 1.4.3, 1.4.11)."""
    found = re.findall(r"--focus: (#[0-9a-f]{6});", STYLES.read_text())
    assert len(found) == 5
    assert all(contrast("#ffffff", colour) >= 4.5 for colour in found)
    assert len(set(found)) == 5


def luminance(colour: str) -> float:
    """Relative luminance as WCAG 2.2 defines it."""
    parts = [int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5)]
    linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def colours(part: str) -> dict[str, str]:
    return dict(re.findall(r"--color-([\w-]+): (#[0-9a-f]{6});", part))


SCREEN, PAPER = STYLES.read_text().split("@media print", 1)
COLOURS = colours(SCREEN)


def test_the_contrast_formula_on_known_pairs() -> None:
    # WCAG 2.2: black on white is 21:1; #767676 on white is the well-known 4.54:1.
    assert contrast("#000000", "#ffffff") == pytest.approx(21)
    assert contrast("#767676", "#ffffff") == pytest.approx(4.54, abs=0.01)


@pytest.mark.parametrize(
    ("text", "ground"),
    [
        ("ink", "tile"), ("ink", "white"), ("muted", "tile"), ("muted", "white"),
        ("water", "white"),
        ("caution", "white"), ("caution", "caution-pale"), ("deep", "now"), ("ink", "shallow"),
        ("foam", "deep"), ("foam", "depth"), ("mist", "deep"), ("mist", "depth"), ("deep", "foam"),
        ("caution-light", "deep"), ("ink", "entry"), ("ink", "catch"), ("ink", "recovery"),
    ],
)  # fmt: skip
def test_text_contrast_is_at_least_4_5_to_1(text: str, ground: str) -> None:
    # WCAG 2.2, success criterion 1.4.3.
    assert contrast(COLOURS[text], COLOURS[ground]) >= 4.5


@pytest.mark.parametrize("text", ["foam", "mist", "caution-light"])
def test_on_paper_what_was_light_on_dark_is_dark_on_white(text: str) -> None:
    assert contrast(colours(PAPER)[text], "#ffffff") >= 4.5


def test_phases_have_a_colour_a_pattern_and_a_letter() -> None:
    macros = STYLES.parents[1] / "templates" / "_macros.html"
    patterns = dict(re.findall(r'<pattern id="ph-(\w+)"(.*?)</pattern>', macros.read_text(), re.S))
    drawn = {re.sub(r"#[0-9a-f]{6}", "", patterns[phase]) for phase in LETTERS}
    # Entry and pull are both plain: the lightest and the darkest, so that grey tells them apart.
    assert len(drawn) >= len(LETTERS) - 1
    assert len(set(LETTERS.values())) == len(LETTERS)
    greys = {phase: luminance(COLOURS[phase]) for phase in LETTERS}
    assert max(greys, key=greys.__getitem__) == "entry"
    assert min(greys, key=greys.__getitem__) == "pull"
    assert contrast(COLOURS["entry"], COLOURS["pull"]) > 3
