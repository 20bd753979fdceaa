"""The film-like style: one truth with the plain one, a closed body, light that obeys physics."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.demo.people import everything
from norvik.demo.seed import SHIPPED
from norvik.footage.follow import follow, grey_frames
from norvik.model.camera import VIEWS, camera_for
from norvik.model.dials import usual_swim
from norvik.model.film import Conditions, Shot, Take, film, shot_of
from norvik.model.filmlike.beams import Beams
from norvik.model.filmlike.body_mesh import body_mesh
from norvik.model.filmlike.light import lit
from norvik.model.filmlike.pool import FilmPool
from norvik.model.filmlike.raster import raster
from norvik.model.filmlike.shot import FilmlikeShot
from norvik.model.filmlike.skin import PLACES, SIZE, SUITS, Look, atlas
from norvik.model.filmlike.skin_points import nearest, place
from norvik.model.filmlike.tube import Mesh, bent_line, tube
from norvik.model.filmlike.water import DEEP, SUN, caustics, gathered, swell, through

LOOK = Look((142, 176, 224), (96, 52, 30), (60, 92, 214))
STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly", "wall")


def take(stroke: str = "freestyle", view: str = "side-under", dots: bool = False) -> Take:
    seconds = 6.0 if stroke == "wall" else 2.0
    swim = usual_swim(stroke)
    return Take(swim, seconds=seconds, fps=30, view=view, style="filmlike", dots=dots)


@pytest.mark.parametrize("stroke", STROKES)
def test_both_styles_have_one_truth(stroke: str) -> None:
    plain, real = Shot(replace(take(stroke), style="plain")), shot_of(take(stroke))
    assert isinstance(real, FilmlikeShot)
    assert plain.plan == real.plan
    assert plain.camera == real.camera
    for name, points in plain.joints.items():
        assert (points == real.joints[name]).all()


def test_a_style_that_is_none_is_refused() -> None:
    with pytest.raises(ValueError, match="watercolour is no style"):
        shot_of(replace(take(), style="watercolour"))


@pytest.mark.parametrize("view", VIEWS)
def test_a_frame_is_the_same_whenever_it_is_painted(view: str) -> None:
    first, second = FilmlikeShot(take(view=view)), FilmlikeShot(take(view=view))
    first.frame(40)
    first.frame(10)
    painted = first.frame(20)
    assert painted.shape == (720, 1280, 3)
    assert (painted == second.frame(20)).all()
    assert (painted != second.frame(21)).any()


@pytest.mark.parametrize("stroke", STROKES)
@pytest.mark.parametrize("view", ["side-under", "front-under"])
def test_the_body_covers_its_bones(stroke: str, view: str) -> None:
    """No bend leaves a gap: every point of every bone lies within what is painted."""
    shot = FilmlikeShot(take(stroke, view))
    bones = [("neck", "pelvis"), ("neck", "crown")] + [
        (f"{side}_{a}", f"{side}_{b}")
        for side in ("left", "right")
        for a, b in (("shoulder", "elbow"), ("elbow", "wrist"), ("hip", "knee"),
                     ("knee", "ankle"), ("wrist", "fingertip"))
    ]  # fmt: skip
    for n in range(0, len(shot.times), 7):
        mesh = body_mesh(shot.joints, n, 1.78)
        seen = raster(mesh, mesh, shot.camera, 0.0, 0.0, PLACES)
        assert seen is not None
        for a, b in bones:
            ends = shot.joints[a][n], shot.joints[b][n]
            # Between spread fingers there is water.
            shares = (0.05, 0.3, 0.5) if "fingertip" in b else (0.05, 0.3, 0.6, 0.93)
            along = np.array([ends[0] + s * (ends[1] - ends[0]) for s in shares])
            for x, y in shot.camera.project(along):
                if not (2 < x < 1278 and 2 < y < 718):
                    continue
                assert seen.solid[int(y) - seen.top, int(x) - seen.left], (n, a, b)


def ball(radius: float, centre: tuple[float, float, float]) -> Mesh:
    down = np.linspace(0.001, np.pi - 0.001, 40)
    turn = 2 * np.pi * np.arange(60) / 60
    ring = np.sin(down)[:, None]
    points = np.stack(
        [ring * np.cos(turn), ring * np.sin(turn), np.cos(down)[:, None] + 0 * turn], axis=-1
    )
    uv = np.zeros((40, 61, 2))
    return Mesh(np.array(centre) + radius * points, uv, "head")


def test_a_ball_is_seen_as_geometry_says() -> None:
    """Against the plain formula: where a ray meets a ball, and which way the ball faces there."""
    camera = camera_for("side-under")
    centre, radius = (0.1, 0.2, -0.5), 0.3
    mesh = ball(radius, centre)
    seen = raster([mesh], [mesh], camera, 0.0, 0.0, PLACES)
    assert seen is not None
    away = seen.place - np.array(centre)
    distance = np.linalg.norm(away, axis=1)
    inside = seen.normal @ camera.axes[2] < -0.3
    assert distance[inside] == pytest.approx(radius, abs=0.003)
    facing = np.sum(away * seen.normal, axis=1) / distance
    assert facing[inside].min() > 0.99
    # As large in the picture as a ball of that size there.
    middle = camera.project(np.array(centre))
    reach = camera.px_per_m(float(camera.seen(np.array(centre))[2])) * radius
    assert seen.solid.sum() == pytest.approx(np.pi * reach**2, rel=0.02)
    assert seen.left + seen.solid.shape[1] / 2 == pytest.approx(middle[0], abs=3)


def test_the_nearer_of_two_balls_is_seen() -> None:
    camera = camera_for("side-under")
    near, far = ball(0.1, (0.0, -0.5, -0.5)), ball(0.2, (0.0, 0.5, -0.5))
    seen = raster([near, far], [near, far], camera, 0.0, 0.0, PLACES)
    assert seen is not None
    x, y = camera.project(np.array([0.0, -0.5, -0.5]))
    depth = seen.image(seen.depth)[int(y - seen.top) // 2, int(x - seen.left) // 2]
    assert depth == pytest.approx(4.0 - 0.5 - 0.1, abs=0.01)


def test_a_body_out_of_the_picture_is_not_seen() -> None:
    mesh = ball(0.1, (50.0, 0.0, 0.0))
    assert raster([mesh], [mesh], camera_for("side-under"), 0.0, 0.0, PLACES) is None


def test_a_body_that_leaves_the_picture_is_lit_to_its_last_sliver() -> None:
    camera = camera_for("side-under")
    edge_m = np.interp(
        camera.width_px, camera.project(np.array([[0.0, 0, -0.5], [9.0, 0, -0.5]]))[:, 0], [0, 9]
    )
    seen = []
    # A tenth of a pixel at a time.
    for x in edge_m + 0.1 + np.linspace(-0.03, 0.01, 200):
        mesh = ball(0.1, (float(x), 0.0, -0.5))
        seen.append(raster([mesh], [mesh], camera, 0.0, 0.0, PLACES))
    assert seen[0] is not None
    assert seen[-1] is None
    slivers = [one for one in seen if one is not None]
    assert all(len(one.place) for one in slivers)
    assert min(one.solid.sum() for one in slivers) < 200
    for one in slivers[-3:]:
        skin = np.zeros((SIZE, SIZE, 3), np.uint8)
        assert np.isfinite(lit(one, skin, camera, 0.0, 0.0, 0.3, 1.0)).all()


def test_a_tube_keeps_its_thickness_round_a_bend() -> None:
    corners = [np.array(p, float) for p in ((0, 0, 0), (1, 0, 0), (1, 0, 1))]
    shares = np.linspace(0, 2, 41)
    line = bent_line(corners, shares, 0.2)
    assert line[0] == pytest.approx(corners[0])
    assert line[-1] == pytest.approx(corners[2])
    # Rounded as a parabola is: off the corner by half of the way to the middle of its two ends.
    assert np.linalg.norm(line[20] - corners[1]) == pytest.approx(0.05 * np.sqrt(2), rel=0.01)
    half = np.full(41, 0.05)
    made = tube("arm", line, np.tile([0.0, 1.0, 0.0], (41, 1)), half, half, 16)
    # Between the discs that close it.
    away = np.linalg.norm(made.points[1:-1] - line[:, None], axis=-1)
    assert away == pytest.approx(0.05, rel=1e-6)


def test_water_takes_red_first_and_much_of_it_is_its_own_colour() -> None:
    """Beer and Lambert: what two metres leave is the square of what one leaves."""
    ones = np.full((1, 3), 200.0, np.float32)
    none, one, two, far = (
        through(ones, np.array([m], np.float32), 0.0)[0] for m in (0.0, 1.0, 2.0, 60.0)
    )
    assert none == pytest.approx(200)
    black = [through(0 * ones, np.array([m], np.float32), 0.0)[0] for m in (1.0, 2.0)]
    assert (two - black[1]) / 200 == pytest.approx(((one - black[0]) / 200) ** 2, rel=1e-3)
    blue, green, red = one - black[0]
    assert red < green < blue
    assert far == pytest.approx(DEEP, rel=0.02)


def test_caustics_repeat_without_a_seam() -> None:
    picture = caustics()
    inside = np.abs(np.diff(picture, axis=0)).mean()
    for edge in (picture[0] - picture[-1], picture[:, 0] - picture[:, -1]):
        assert np.abs(edge).mean() < 1.5 * inside
    x = np.linspace(0, 6, 50, dtype=np.float32)
    assert gathered(x, x, 0.5).shape == x.shape
    assert gathered(x, x, 0.5).min() >= 0
    assert gathered(x, x, 0.5).max() <= 1


def test_the_pool_lies_where_the_camera_looks() -> None:
    """A ray down into water is bent by the law of Snell: sin above = 1.333 sin below."""
    camera = camera_for("overhead")
    pool = FilmPool(camera, 0.0, 0.0)
    rays = pool._rays
    row, column = 40, 500
    half = replace(camera, width_px=640, height_px=360)
    x_px, y_px = column + 0.5 - 320, row + 0.5 - 180
    way = (x_px * half.axes[0] + y_px * half.axes[1]) / half.focal_px + half.axes[2]
    way /= np.linalg.norm(way)
    down = camera.position[2] / -way[2]
    meets = np.array(camera.position) + down * way
    assert rays.surface_x[row, column] == pytest.approx(meets[0], abs=0.01)
    sine = np.hypot(way[0], way[1])
    below = np.arcsin(sine / 1.333)
    floor = meets[0] + way[0] / sine * np.tan(below) * 1.85
    assert rays.x_m[row, column] == pytest.approx(floor, abs=0.02)


def test_waves_are_small_and_move() -> None:
    x = np.linspace(0, 10, 400, dtype=np.float32)
    assert np.abs(swell(x, 0 * x, 0.0)).max() < 0.03
    assert np.abs(swell(x, 0 * x, 0.0) - swell(x, 0 * x, 0.2)).max() > 0.003


def specks_under(shot: FilmlikeShot, n: int) -> NDArray[np.float64]:
    at = shot._spray.specks(n).at
    return at[at[:, 2] <= 0]


def test_drops_fly_after_a_hand_went_in_and_not_before() -> None:
    shot = FilmlikeShot(take("freestyle"))
    entry = next(
        c.at["entry"] for c in shot.plan.arms["right"] if 0.4 < c.at.get("entry", 0) < 1.85
    )
    others = [
        c.at["entry"] for lane in shot.plan.arms.values() for c in lane if c.at["entry"] != entry
    ]

    def flying(time_s: float) -> int:
        n = int(np.abs(shot.times - time_s).argmin())
        return int((shot._spray.specks(n).at[:, 2] > 0).sum())

    assert min(abs(entry - o) for o in others) > 0.3
    assert flying(entry - 0.06) == 0
    assert flying(entry + 0.1) > 15


def test_bubbles_come_while_the_swimmer_breathes_out_and_rise_behind_the_mouth() -> None:
    shot = FilmlikeShot(replace(take("breaststroke"), seconds=4.0))
    breath = next(b for b in shot.plan.breaths if b.bubbles_on and 1.0 < b.bubbles_on < 3.0)
    assert breath.bubbles_on is not None
    n = int(np.abs(shot.times - breath.bubbles_on - 0.3).argmin())
    mouth = shot.joints["mouth"][n]
    found = np.concatenate([s.at for s in shot._spray._breath(float(shot.times[n]))])
    assert len(found) > 20
    assert found[:, 0].mean() < mouth[0] - 0.05
    assert found[:, 2].mean() > mouth[2]
    assert shot._spray._breath(breath.bubbles_on - 0.02) == [] or breath.turn > 0


def test_every_suit_has_its_own_cut_and_every_swimmer_a_skin_of_their_own() -> None:
    made = {cut: atlas(replace(LOOK, cut=cut)) for cut in SUITS}
    assert all(picture.shape == (SIZE, SIZE, 3) for picture in made.values())
    pictures = list(made.values())
    for k, one in enumerate(pictures):
        for other in pictures[k + 1 :]:
            assert (one != other).any()
    assert (atlas(replace(LOOK, seed=2)) != pictures[0]).any()


def test_builds_differ_in_girth_and_children_have_large_heads() -> None:
    shot = FilmlikeShot(take())

    def thick(height_m: float, girth: float, part: int) -> float:
        mesh = body_mesh(shot.joints, 10, height_m, girth)[part]
        middle = mesh.points[len(mesh.points) // 2]
        return float(np.linalg.norm(middle - middle.mean(axis=0), axis=1).max()) / height_m

    assert thick(1.78, 1.2, 0) == pytest.approx(1.2 * thick(1.78, 1.0, 0), rel=0.03)
    assert thick(1.3, 1.0, 1) > 1.1 * thick(1.78, 1.0, 1)


def test_dots_are_where_the_joints_are() -> None:
    shot = FilmlikeShot(take("freestyle", dots=True))
    bare = FilmlikeShot(take("freestyle"))
    n = 31
    with_dots, without = shot.frame(n).astype(int), bare.frame(n).astype(int)
    x, y = (int(v) for v in shot.camera.project(shot.joints["right_knee"][n]))
    assert np.abs(with_dots - without)[y - 2 : y + 3, x - 2 : x + 3].mean() > 40
    assert with_dots[y - 1 : y + 2, x - 1 : x + 2].min() > 180


@pytest.mark.parametrize("style", ["plain", "filmlike"])
def test_a_shaken_camera_takes_the_truth_along(tmp_path: Path, style: str) -> None:
    held = replace(take("freestyle", dots=True), style=style, seconds=1.2)
    shaken = replace(held, conditions=replace(held.conditions, shake_px=14.0))
    film(shaken, tmp_path / "shaken.mp4")
    truth = json.loads((tmp_path / "shaken.truth.json").read_text())
    shot = shot_of(shaken)
    assert 3 < np.abs(shot.shaken).max() <= 14
    n = 31
    x, y = (int(v) for v in truth["joints_px"]["right_knee"][n])
    assert shot.frame(n)[y - 1 : y + 2, x - 1 : x + 2].min() > 170
    still = Shot(held).camera.project(Shot(held).joints["right_knee"][n])
    assert np.array(truth["joints_px"]["right_knee"][n]) - still == pytest.approx(
        shot.shaken[n], abs=0.02
    )


def test_company_swims_in_the_lane_behind() -> None:
    alone, beside = take("freestyle"), take("freestyle")
    beside = replace(beside, conditions=replace(beside.conditions, company=True))
    one, two = (shot_of(t).frame(20).astype(int) for t in (alone, beside))
    changed = np.abs(one - two).sum(axis=2) > 12
    assert 3_000 < changed.sum() < 150_000
    # The swimmer of the film hides it: in the middle of the trunk nothing has changed.
    shot = Shot(alone)
    middle = 0.5 * (shot.joints["neck"][20] + shot.joints["pelvis"][20])
    x, y = (int(v) for v in shot.camera.project(middle))
    assert not changed[y - 3 : y + 4, x - 3 : x + 4].any()


def sunny(view: str, sun: float) -> np.ndarray:
    return shot_of(replace(take("freestyle", view), conditions=Conditions(sun=sun))).frame(30)


def test_the_sun_changes_light_and_sky_and_not_the_swimmer() -> None:
    hall, open_air = sunny("side-under", 0.0), sunny("side-under", 1.0)
    # Over the water line: a blue sky instead of a grey wall.
    blue = open_air[5:30, 600:700].mean(axis=(0, 1))
    assert blue[0] > blue[2] + 40
    grey = hall[5:30, 600:700].mean(axis=(0, 1))
    assert abs(grey[0] - grey[2]) < 15
    # In the water brighter lines of light, and as deep a colour between them.
    wall = np.s_[300:600, 100:1180]
    assert open_air[wall][..., 1].std() > 1.2 * hall[wall][..., 1].std()
    assert sunny("side-under", 0.5)[5, 640, 0] == pytest.approx(
        (int(hall[5, 640, 0]) + int(open_air[5, 640, 0])) / 2, abs=4
    )


def test_from_below_the_sun_stands_in_the_window_where_snell_puts_it() -> None:
    """Looked up to, its direction is bent toward the vertical: sine over 1.333."""
    bright = sunny("below", 1.0).astype(int).sum(axis=2) - sunny("below", 0.0).astype(int).sum(
        axis=2
    )
    camera = camera_for("below")
    sines = SUN[:2] / 1.333
    way = np.array([*sines, np.sqrt(1 - np.sum(sines**2))])
    x, y = camera.project(np.array(camera.position) + way * 1.8)
    rows, columns = np.nonzero(bright > 260)
    assert columns.mean() == pytest.approx(x, abs=110)
    assert rows.mean() == pytest.approx(y, abs=110)


def test_beams_come_in_with_the_sun_and_lean_with_it() -> None:
    """The brightest line through a beam goes as Snell bends the way of the sun."""
    camera = camera_for("side-under")
    picture = np.zeros((360, 640, 3), np.float32)
    Beams(camera, 0.0, 1.0).shine(picture, 0.0, 1.0)
    assert picture[170:].max() > picture[330:].max() > 0
    grey = picture[..., 0]
    high, low = grey[180], grey[260]
    off = {
        d: float(np.corrcoef(high[100:540], low[100 + d : 540 + d])[0, 1]) for d in range(-60, 61)
    }
    best = max(off, key=off.__getitem__)
    # The sun stands behind the swimmer: light comes down forward, to the right.
    assert best > 0


def test_a_point_of_the_skin_is_followed_without_a_dot(tmp_path: Path) -> None:
    """Within 4 pixels in the middle and 12 in 95 of 100 frames, lost rather than wrong."""
    swim = replace(usual_swim("breaststroke"), seed=5)
    filmed = Take(swim, seconds=1.0, fps=60, style="filmlike", conditions=Conditions(crf=18))
    out = tmp_path / "bare.mp4"
    film(filmed, out)
    shot, begin = FilmlikeShot(filmed), 12
    pictures = dict(grey_frames(out, Fraction(60), 0, 59))
    frames = range(begin, 60)
    away: list[float] = []
    for part, ring in (("leg", 6), ("leg", 8), ("trunk", 5)):
        point = nearest(shot, begin, part, ring)
        assert point is not None
        (x, y), _ = place(shot, begin, point)
        for step in follow(((n, pictures[n]) for n in frames), x, y, 1 / 60):
            (x, y), seen = place(shot, step.frame, point)
            if seen and step.x is not None and step.y is not None:
                away.append(float(np.hypot(step.x - x, step.y - y)))
    assert len(away) >= 30
    assert np.median(away) <= 4
    assert np.percentile(away, 95) <= 12


def test_a_film_like_clip_is_a_film(tmp_path: Path) -> None:
    out = tmp_path / "real.mp4"
    told: list[int] = []
    film(replace(take("butterfly", "overhead"), seconds=0.5), out, told.append)
    assert told == list(range(1, 16))
    with av.open(str(out)) as made:
        assert sum(1 for _ in made.decode(video=0)) == 15
    assert out.with_suffix(".truth.json").is_file()


@pytest.mark.parametrize("clip", [c for _, c in everything() if c.at_once], ids=lambda c: c.name)
def test_the_films_that_come_along_are_what_their_takes_make(clip) -> None:  # type: ignore[no-untyped-def]
    """Run scripts/make-demo-films.py where this fails: figure, water or take have changed."""
    path, wanted = SHIPPED / clip.name, clip.takes[0]
    assert path.stat().st_size < 4_000_000
    shot = shot_of(wanted)
    times, there = [], {}
    with av.open(str(path)) as made:
        for n, frame in enumerate(made.decode(video=0)):
            times.append(float(frame.pts * frame.time_base))
            if n in (50, 200, 400):
                there[n] = frame.to_ndarray(format="bgr24").astype(float)
    assert len(times) == len(wanted.frame_times())
    assert np.array(times) == pytest.approx(wanted.frame_times(), abs=1e-4)
    for n, picture in there.items():
        away = np.mean((picture - shot.frame(n)) ** 2)
        assert 10 * np.log10(255**2 / away) > 27, n
