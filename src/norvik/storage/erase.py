"""Erasing one swimmer: every row, file, picture, talk, link and job of theirs, and what they leave.

What stays is said in the report: the consent record where the club keeps it, films on which others
are as well, and numbers in the trail that no longer lead to anybody.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from norvik.core.words import plain
from norvik.files.footage import TALK_SOUNDS
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.storage.release import files_of_recordings, remove_doomed
from norvik.store import club, erasing, files_to_delete, swimmer_removal, trail, trash
from norvik.store.connection import rewrite, rewrite_file, transaction
from norvik.store.swimmer_removal import Belongings


@dataclass(frozen=True)
class Erased:
    """What went, counted, and what stays, each a sentence."""

    belongings: Belongings
    recordings: int = 0
    files: int = 0
    films: int = 0
    talks: int = 0
    links: int = 0
    jobs: int = 0
    accounts: int = 0
    consents: int = 0
    stays: tuple[str, ...] = field(default=())


def what_stays(connection: sqlite3.Connection, swimmer_id: int) -> tuple[str, ...]:
    """What erasing will leave, before it is done."""
    shared = erasing.shared_recordings(connection, swimmer_id)
    said = []
    if club.house(connection, "consent-outlives") and erasing.consents(connection, swimmer_id):
        said.append(
            "The consent record with its names and papers, without films: the club keeps it as "
            "proof that filming was allowed."
        )
    if shared:
        said.append(
            f"{len(shared)} films on which other swimmers are as well. The clips of this swimmer "
            "on them go; whoever opens the other clips may still see them swim by."
            if len(shared) > 1
            else "One film on which other swimmers are as well. The clip of this swimmer on it "
            "goes; whoever opens the other clips may still see them swim by."
        )
    said.append("Lines of the trail, with a number instead of the name.")
    said.append(
        "Backups made before, until their generations are dropped. Whoever restores one: this "
        "swimmer is erased again."
    )
    said.append(
        "Names that a coach typed into texts about others: Norvik cannot know what is meant."
    )
    return tuple(said)


def erase(
    connection: sqlite3.Connection, settings: Settings, swimmer_id: int, name: str,
    by: int | None,
) -> Erased:  # fmt: skip
    """Erase a swimmer, put away or not. Rows first, all or none; then files; then free pages."""
    stays = what_stays(connection, swimmer_id)
    had = swimmer_removal.belongings(connection, swimmer_id)
    with transaction(connection):
        clip_ids = swimmer_removal.clips_of(connection, swimmer_id)
        talk_ids = erasing.talks(connection, swimmer_id)
        links = erasing.links(connection, swimmer_id)
        films = erasing.films_showing(connection, clip_ids)
        gone_films = erasing.delete_films(connection, films)
        consents = _consents(connection, settings, swimmer_id, name)
        jobs = erasing.delete_jobs(connection, swimmer_id, clip_ids, talk_ids)
        accounts = erasing.delete_accounts(connection, swimmer_id)
        _rename_shared(connection, swimmer_id, name)
        trash.put(connection, clip_ids)
        gone = trash.delete(connection, clip_ids)
        sounds = [
            sound.name
            for talk_id in talk_ids
            for sound in footage_of(settings).listed(f"{TALK_SOUNDS}/{talk_id}-")
        ]
        files = [*files_of_recordings(settings, gone), *gone_films, *sounds]
        files_to_delete.add(connection, files)
        erasing.put_away(connection, swimmer_id)
        swimmer_removal.delete(connection, swimmer_id)
        erasing.delete_traces(connection, clip_ids)
        trail.add(connection, by, "erased", "swimmer", swimmer_id, None, "", "")
    remove_doomed(connection, settings)
    free_pages(connection, settings)
    return Erased(
        had, len(gone), len(files), len(films), len(talk_ids), links, jobs, accounts, consents,
        stays,
    )  # fmt: skip


def erase_again(
    connection: sqlite3.Connection, settings: Settings, ids: Sequence[int]
) -> list[int]:
    """After a restore: erase those who had been erased since. Gives those who were there."""
    there = [n for n in ids if erasing.name_of(connection, n) is not None]
    for swimmer_id in there:
        name = erasing.name_of(connection, swimmer_id) or ""
        erase(connection, settings, swimmer_id, name, None)
    return there


def erase_who_left(connection: sqlite3.Connection, settings: Settings, before: str) -> int:
    """Erase who was removed before an instant (ISO 8601 in UTC). How many."""
    due = [s for s in swimmer_removal.removed(connection) if s.removed_at < before]
    for one in due:
        erase(connection, settings, one.id, one.name, None)
    return len(due)


def free_pages(connection: sqlite3.Connection, settings: Settings) -> None:
    """Rewrite the databases, so that pages which nobody uses hold nothing of what was deleted."""
    rewrite(connection)
    for path in (settings.queue, settings.data / "uploads.sqlite3"):
        if path.is_file():
            rewrite_file(path)


def _consents(
    connection: sqlite3.Connection, settings: Settings, swimmer_id: int, name: str
) -> int:
    """Records of consent stay with the name, or go with their papers; how many went."""
    if club.house(connection, "consent-outlives"):
        erasing.keep_consents(connection, swimmer_id, name)
        return 0
    papers, count = erasing.delete_consents(connection, swimmer_id)
    files_to_delete.add(connection, papers)
    return count


def _rename_shared(connection: sqlite3.Connection, swimmer_id: int, name: str) -> None:
    """Files that stay for others do not bear the swimmer's name."""
    for recording_id, original in erasing.shared_recordings(connection, swimmer_id):
        if _bears(original, name.split()):
            ending = original[original.rfind(".") :] if "." in original else ""
            erasing.rename_recording(connection, recording_id, f"film {recording_id}{ending}")


def _bears(file_name: str, parts: Iterable[str]) -> bool:
    words = set(re.split(r"[^a-z0-9]+", plain(file_name)))
    return any(plain(part) in words for part in parts if len(part) > 2)
