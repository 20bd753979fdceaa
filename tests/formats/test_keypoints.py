"""Keypoints of other trackers: read, named as we name them, and refused with a sentence."""

from __future__ import annotations

import pytest

from norvik.core.errors import TracksFileError
from norvik.formats.keypoints_csv import point_name, read_keypoints, read_points, write_keypoints
from norvik.formats.tracks_csv import Row, write_tracks

HEADER = "scorer,a,a,a\nbodyparts,nose,nose,nose\ncoords,x,y,likelihood\n"


def test_what_is_written_is_read_again() -> None:
    points = {
        "left wrist": {40: (1.5, 2.25, 0.5), 42: (3.0, 4.0, 1.0)}, "head": {41: (7.0, 8.0, 0.25)},
    }  # fmt: skip
    rows = read_points(write_keypoints(40, 42, points).encode(), 40)
    assert len(rows) == 3 * 2
    again: dict[str, dict[int, tuple[float, float, float]]] = {}
    for row in rows:
        if row.x is None or row.y is None:
            assert row.state == "lost"
            continue
        assert row.confidence is not None
        again.setdefault(row.point, {})[row.frame] = row.x, row.y, row.confidence
    assert again == points


def test_a_name_is_never_a_formula() -> None:
    """Whoever opens the table in a spreadsheet program runs nothing that a file brought in."""
    text = write_keypoints(0, 0, {"=1+1": {0: (1.0, 2.0, 1.0)}})
    assert text.splitlines()[1] == "bodyparts,'=1+1,'=1+1,'=1+1"
    assert read_keypoints(text.encode(), 0)[0].point == "=1+1"


def test_a_table_of_our_own_is_told_from_keypoints() -> None:
    row = Row(9, None, "buoy", 1.0, 2.0, "anchor", 1.0)
    assert read_points(write_tracks([row]).encode(), 40) == [row]


@pytest.mark.parametrize(
    ("written", "name"),
    [
        # The seventeen keypoints of the COCO data set (Lin et al. 2014), as its files write them.
        *((f"{side}_{joint}", f"{side} {joint}") for side in ("left", "right")
          for joint in ("ear", "shoulder", "elbow", "wrist", "hip", "knee", "ankle")),
        ("nose", "nose"), ("left_eye", "left eye"),
        # Other ways to write them, common practice.
        ("LWrist", "left wrist"), ("RightKnee", "right knee"), ("wrist_l", "left wrist"),
        ("R.Ankle", "right ankle"), ("l-hip", "left hip"), ("LBigToe", "left toes"),
        ("left_foot_index", "left toes"), ("Buoy 2", "buoy 2"),
    ],
)  # fmt: skip
def test_joints_are_called_as_a_coach_calls_them(written: str, name: str) -> None:
    assert point_name(written) == name


def test_what_another_program_leaves_open_is_read() -> None:
    """Decimal commas, semicolons, a likelihood that is missing, `nan` where nothing was seen."""
    text = HEADER.replace(",", ";") + "0;1,5;2,5;\n1;nan;nan;0,9\n\n2;3;4;0\n"
    rows = read_keypoints(text.encode(), 10)
    assert rows == [
        Row(10, None, "nose", 1.5, 2.5, "followed", 1.0),
        Row(11, None, "nose", None, None, "lost", 0.0),
        Row(12, None, "nose", None, None, "lost", 0.0),
    ]


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        (HEADER.replace("bodyparts", "individuals,1,1,1\nbodyparts"), "one swimmer"),
        ("scorer,a,a,a\ncoords,x,y,likelihood\n0,1,2,1\n", "three rows"),
        (HEADER.replace("likelihood", "z"), "columns x, y and likelihood"),
        ("scorer\nbodyparts\ncoords\n0\n", "columns x, y and likelihood"),
        (HEADER.replace("nose,nose,nose", "nose,nose,ear"), "one name of at most 40"),
        ("scorer,a,a,a,a,a,a\nbodyparts,nose,nose,nose,nose,nose,nose\n"
         "coords,x,y,likelihood,x,y,likelihood\n", "nose is in this file twice"),
        (HEADER, "holds no point"),
        (HEADER + "0,1,2\n", "line 4: 4 cells are needed, not 3"),
        (HEADER + "0,1,2,1\n0,1,2,1\n", "line 5: frame 0 appears twice"),
        (HEADER + "0.5,1,2,1\n", "whole number"),
        (HEADER + "0,one,2,1\n", "“one” in x is no number"),
        (HEADER + "0,inf,2,1\n", "“inf” in x is no number"),
        (HEADER + "0,1,,1\n", "one of x and y of nose is missing"),
        (HEADER + "0,1,2,7\n", "between 0 and 1"),
        (HEADER + '0,"1,2,1\n', "line 4: "),
    ],
)  # fmt: skip
def test_damaged_keypoints_are_refused_whole(text: str, sentence: str) -> None:
    with pytest.raises(TracksFileError) as refusal:
        read_points(text.encode(), 0)
    assert sentence in refusal.value.sentence


def test_bytes_that_are_no_text_are_refused() -> None:
    with pytest.raises(TracksFileError, match="UTF-16"):
        read_keypoints(b"\xff\xfes", 0)
    with pytest.raises(TracksFileError):
        read_points(b"\xff\xfes", 0)
