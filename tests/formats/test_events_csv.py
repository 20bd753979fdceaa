"""events.csv: what is read, what is reported with its row, and the way back."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.core.errors import EventsFileError
from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.formats.events_csv import frame_interval_from, read_events, write_events

FREE = STROKES["freestyle"]
HEADER = "time_s,lane,side,event,frame,note\r\n"


def read(text: str, stroke: str = "freestyle"):  # type: ignore[no-untyped-def]
    return read_events(text.encode(), STROKES[stroke])


def test_header_in_any_order_and_case_with_spaces_and_a_byte_order_mark() -> None:
    data = "\ufeff Event , SIDE,lane ,Time_S\nEntry , LEFT , Arm , 1.5\n".encode()
    (mark,) = read_events(data, FREE).marks
    assert (mark.event, mark.side, mark.lane, mark.time_s) == ("entry", "left", "arm", 1.5)


def test_blank_records_are_skipped_but_counted() -> None:
    found = read("time_s,lane,side,event\n\n , ,,\n1,arm,left,entry\nx,arm,left,entry\n")
    assert [m.key for m in found.marks] == [4]
    assert [b.row for b in found.bad_rows] == [5]


@pytest.mark.parametrize(
    ("row", "word"),
    [
        ("1,arm,left,entry,3,note,more", "7 cells"),
        ("one,arm,left,entry", "time_s"),
        ("1e3,arm,left,entry", "time_s"),
        ("inf,arm,left,entry", "time_s"),
        ("1_0,arm,left,entry", "time_s"),
        ("٣,arm,left,entry", "time_s"),
        ("9" * 60 + ",arm,left,entry", "time_s"),
        (",arm,left,entry", "time_s"),
        ("1,hand,left,entry", "unknown lane"),
        ("1,arm,up,entry", "unknown side"),
        ("1,arm,left,out", "unknown event"),
        ("1,arm,left", "unknown event"),
        ("1,leg,left,heels", "unknown event"),
        ("1,arm,left,entry,2.5", "whole number"),
        ("1,arm,left,entry,x", "whole number"),
        ("1,course,,pass,,", "metres"),
        ("1,course,,pass,,fifteen", "metres"),
    ],
)
def test_a_row_that_cannot_be_read_is_reported_and_left_out(row: str, word: str) -> None:
    found = read(HEADER + "0,arm,left,entry\r\n" + row + "\r\n2,arm,left,entry\r\n")
    assert [m.key for m in found.marks] == [2, 4]
    assert [b.row for b in found.bad_rows] == [3]
    assert word in found.bad_rows[0].reason


@pytest.mark.parametrize("note", ["15", "15m", "15 m", "15.0 M"])
def test_metres_of_a_pass(note: str) -> None:
    (mark,) = read(HEADER + f"1,course,,pass,,{note}\n").marks
    assert mark.metres == 15


def test_quoted_cells_of_rfc_4180() -> None:
    found = read(
        HEADER + '1,arm,left,entry,,"good, ""long"" reach\nand quiet"\n-2.50,arm,left,exit\n'
    )
    assert found.marks[0].note == 'good, "long" reach\nand quiet'
    assert (found.marks[1].key, found.marks[1].time_s) == (3, -2.5)


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (b"", "no header"),
        (b"\n\n", "no header"),
        (b"time_s,lane,side\n1,arm,left\n", "lacks event"),
        (b"time_s,lane,side,event,time_s\n", "more than once"),
        (b"time_s,lane,side,event\n1,arm,left,entr\xe9e\n", "UTF-8"),
    ],
)
def test_a_file_that_cannot_be_read_at_all(data: bytes, word: str) -> None:
    with pytest.raises(EventsFileError, match=word):
        read_events(data, FREE)


def test_frame_interval_from_the_frame_column() -> None:
    rows = "".join(f"{n * 0.02:.3f},arm,left,entry,{n}\n" for n in (0, 70, 140, 215))
    assert frame_interval_from(read(HEADER + rows).marks) == pytest.approx(0.02)
    assert (
        frame_interval_from(read(HEADER + "0,arm,left,entry,5\n9,arm,left,exit,5\n").marks) is None
    )
    assert (
        frame_interval_from(read(HEADER + "0,arm,left,entry,9\n9,arm,left,exit,5\n").marks) is None
    )
    assert frame_interval_from(read(HEADER + "0,arm,left,entry\n").marks) is None


EVENTS = [(lane, e) for lane in ("arm", "leg", "breath", "wall") for e in FREE.events_of(lane)]


@given(
    st.lists(
        st.builds(
            lambda t, le, side, frame, note: Mark(t, le[0], side, le[1], frame, note=note),
            st.integers(-10_000_000, 10_000_000).map(lambda n: n / 1000),
            st.sampled_from(EVENTS),
            st.sampled_from(["", "left", "right", "both", "front"]),
            st.none() | st.integers(0, 100_000),
            st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=20).map(str.strip),
        ),
        max_size=20,
    )
)
def test_written_marks_read_back_the_same(marks: list[Mark]) -> None:
    found = read_events(write_events(marks).encode(), FREE)
    assert not found.bad_rows

    def plain(m: Mark) -> tuple[object, ...]:
        return (m.time_s, m.lane, m.side, m.event, m.frame, m.note)

    ordered = sorted(marks, key=lambda m: m.time_s)
    assert [plain(m) for m in found.marks] == [plain(m) for m in ordered]


def test_extra_columns_are_kept() -> None:
    text = "time_s,lane,side,event,Filmed by\r\n1,arm,left,entry,Ivar\r\n2,arm,left,exit,\r\n"
    found = read(text)
    written = write_events(found.marks, found.extra)
    again = read(written)
    assert again.extra[2] == {"filmed by": "Ivar"}


def test_500_damaged_files_never_crash_and_name_their_rows() -> None:
    rng = random.Random(20)
    rows = ["time_s,lane,side,event,frame,note"]
    for n in range(30):
        event = ("entry", "catch", "press", "exit")[n % 4]
        rows.append(f"{n * 0.4:.2f},arm,{'left' if n % 2 else 'right'},{event},{n * 24},")
    whole = "\r\n".join(rows).encode()
    outcomes = {"read": 0, "refused": 0}
    for _ in range(500):
        data = bytearray(whole)
        for _ in range(rng.randint(1, 12)):
            at = rng.randrange(len(data))
            action = rng.randrange(4)
            if action == 0:
                data[at] = rng.randrange(140)
            elif action == 1:
                del data[at : at + rng.randint(1, 40)]
            elif action == 2:
                data[at:at] = rng.choice([b",", b'"', b"\r\n", b"\x00", b"nan", b"-", b"9" * 50])
            else:
                data[at : at + 1] = b""
        try:
            found = read_events(bytes(data), FREE)
        except EventsFileError:
            outcomes["refused"] += 1
            continue
        outcomes["read"] += 1
        last = len(data.split(b"\n")) + data.count(b"\r") + 1
        assert all(2 <= b.row <= last and b.reason for b in found.bad_rows)
        timing = compute_timing(found.marks, "freestyle", frame_interval_from(found.marks))
        assert all(p.reason and p.mark.key for p in timing.problems)
    assert outcomes["read"] > 200
    assert outcomes["refused"] > 20
