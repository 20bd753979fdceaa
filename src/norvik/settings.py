"""Where Norvik keeps things. Nothing is made when this is imported."""

from __future__ import annotations

import os
import secrets
from dataclasses import dataclass
from pathlib import Path

import platformdirs

#: The file with the key that signs sessions.
SECRET_KEY = "secret-key"


@dataclass(frozen=True, slots=True)
class Settings:
    """Where things lie, and which engines carry them.

    data: the database and what is under way. footage: where films lie, a folder that machines share
    or s3://bucket; empty for the data folder. queue_at: redis://... where workers on other machines
    take jobs; empty for a queue in the data folder. Names of files in the database are relative to
    `files`.
    """

    data: Path
    footage: str = ""
    queue_at: str = ""

    @classmethod
    def from_environment(cls) -> Settings:
        """NORVIK_DATA names the data folder; without it, the user's own data folder serves.

        NORVIK_FOOTAGE and NORVIK_QUEUE name the engines for more than one machine.
        """
        named = os.environ.get("NORVIK_DATA")
        return cls(
            Path(named or platformdirs.user_data_dir("norvik")).expanduser().absolute(),
            os.environ.get("NORVIK_FOOTAGE", ""),
            os.environ.get("NORVIK_QUEUE", ""),
        )

    @property
    def in_bucket(self) -> bool:
        return self.footage.startswith("s3://")

    @property
    def files(self) -> Path:
        """Under it lie films and all files that the database names; of a bucket, those at hand."""
        if self.footage and not self.in_bucket:
            return Path(self.footage).expanduser().absolute()
        return self.data

    @property
    def work(self) -> Path:
        """What a job is making just now; all of it can be made again."""
        return self.data / "work"

    @property
    def database(self) -> Path:
        return self.data / "norvik.sqlite3"

    @property
    def queue(self) -> Path:
        return self.data / "queue.sqlite3"

    @property
    def originals(self) -> Path:
        """Files as they were brought, never changed."""
        return self.files / "originals"

    @property
    def papers(self) -> Path:
        """Scans of signed consents."""
        return self.files / "papers"

    @property
    def incoming(self) -> Path:
        """Uploads that are not complete yet."""
        return self.data / "incoming"

    @property
    def copies(self) -> Path:
        return self.files / "copies"

    @property
    def model_films(self) -> Path:
        """The model swimmer filmed beside clips; all of it can be made again."""
        return self.files / "model-films"

    @property
    def pictures(self) -> Path:
        """Posters and stills; all of it can be made again."""
        return self.files / "pictures"

    @property
    def films(self) -> Path:
        """Films that were made to be sent."""
        return self.files / "films"

    @property
    def talk_sounds(self) -> Path:
        """The sound of talks as they are mended just now; all of it can be made again."""
        return self.files / "talk-sounds"

    @property
    def compiled_pages(self) -> Path:
        """Templates as the server runs them; all of it can be made again."""
        return self.data / "compiled-pages"

    @property
    def mails(self) -> Path:
        """What the simulated mail server was given."""
        return self.data / "mails"

    def relative(self, path: Path) -> str:
        return path.relative_to(self.files).as_posix()

    def prepare(self) -> None:
        """Make the folders."""
        for folder in (
            self.originals,
            self.incoming,
            self.copies,
            self.pictures,
            self.model_films,
            self.films,
            self.talk_sounds,
            self.papers,
            self.work,
            self.compiled_pages,
        ):
            folder.mkdir(parents=True, exist_ok=True)
        # Films of people and password hashes: nobody else on this computer looks in.
        self.data.chmod(0o700)
        if self.files != self.data and self.files.stat().st_uid == os.getuid():
            self.files.chmod(self.files.stat().st_mode & 0o770)

    def secret_key(self) -> str:
        """The key that signs sessions; made once, readable by its owner only."""
        path = self.data / SECRET_KEY
        try:
            descriptor = os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
        except FileExistsError:
            return path.read_text(encoding="ascii").strip()
        with os.fdopen(descriptor, "w", encoding="ascii") as file:
            key = secrets.token_hex(32)
            file.write(key)
        return key
