"""Where Norvik keeps things. Nothing is made when this is imported."""

from __future__ import annotations

import os
import secrets
from dataclasses import dataclass
from pathlib import Path

import platformdirs


@dataclass(frozen=True, slots=True)
class Settings:
    """All paths hang on the data folder. Paths in the database are relative to it."""

    data: Path

    @classmethod
    def from_environment(cls) -> Settings:
        """NORVIK_DATA names the data folder; without it, the user's own data folder serves."""
        named = os.environ.get("NORVIK_DATA")
        return cls(Path(named or platformdirs.user_data_dir("norvik")).expanduser().absolute())

    @property
    def database(self) -> Path:
        return self.data / "norvik.sqlite3"

    @property
    def queue(self) -> Path:
        return self.data / "queue.sqlite3"

    @property
    def originals(self) -> Path:
        """Files as they were brought, never changed."""
        return self.data / "originals"

    @property
    def papers(self) -> Path:
        """Scans of signed consents."""
        return self.data / "papers"

    @property
    def incoming(self) -> Path:
        """Uploads that are not complete yet."""
        return self.data / "incoming"

    @property
    def copies(self) -> Path:
        return self.data / "copies"

    @property
    def model_films(self) -> Path:
        """The model swimmer filmed beside clips; all of it can be made again."""
        return self.data / "model-films"

    @property
    def pictures(self) -> Path:
        """Posters and stills; all of it can be made again."""
        return self.data / "pictures"

    @property
    def films(self) -> Path:
        """Films that were made to be sent."""
        return self.data / "films"

    @property
    def talk_sounds(self) -> Path:
        """The sound of talks as they are mended just now; all of it can be made again."""
        return self.data / "talk-sounds"

    @property
    def mails(self) -> Path:
        """What the simulated mail server was given."""
        return self.data / "mails"

    def film(self, recording_id: int) -> Path:
        """Where the review copy of a recording lies once it is whole."""
        return self.copies / f"{recording_id}.mp4"

    def sound(self, recording_id: int) -> Path:
        return self.copies / f"{recording_id}.m4a"

    def strip(self, recording_id: int) -> Path:
        return self.pictures / f"strip-{recording_id}.jpg"

    def made_of(self, recording_id: int) -> list[Path]:
        """All files there are that were made from a recording's original."""
        films = [p for p in self.copies.glob(f"{recording_id}[-.]*") if p.is_file()]
        return films + list(self.pictures.glob(f"*-{recording_id}.*"))

    def relative(self, path: Path) -> str:
        return path.relative_to(self.data).as_posix()

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
        ):
            folder.mkdir(parents=True, exist_ok=True)
        # Films of people and password hashes: nobody else on this computer looks in.
        self.data.chmod(0o700)

    def secret_key(self) -> str:
        """The key that signs sessions; made once, readable by its owner only."""
        path = self.data / "secret-key"
        try:
            descriptor = os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
        except FileExistsError:
            return path.read_text(encoding="ascii").strip()
        with os.fdopen(descriptor, "w", encoding="ascii") as file:
            key = secrets.token_hex(32)
            file.write(key)
        return key
