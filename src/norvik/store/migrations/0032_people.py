"""Who signs in and what they may: roles, squads with their people, sessions, and links to accounts.

Whoever was a coach did everything, and goes on as head coach. Whoever was an assistant saw every
swimmer: they get one squad that holds all of them.
"""

from typing import Any

from yoyo import step

_USERS = """CREATE TABLE IF NOT EXISTS users_with_roles (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL UNIQUE COLLATE NOCASE,
    name TEXT NOT NULL,
    role TEXT NOT NULL
        CHECK (role IN ('head-coach', 'coach', 'assistant', 'swimmer', 'guardian')),
    password_hash TEXT NOT NULL,
    second_factor TEXT NOT NULL DEFAULT '',
    second_factor_used INTEGER NOT NULL DEFAULT 0,
    disabled_at TEXT,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT"""

#: second_factor: the secret of the app, or empty. disabled_at: since when nobody signs in as this.
_TABLES = (
    # digest: SHA-256 of what the browser holds; times are seconds since 1970.
    """CREATE TABLE IF NOT EXISTS sessions (
        id INTEGER PRIMARY KEY,
        user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
        digest TEXT NOT NULL UNIQUE,
        device TEXT NOT NULL DEFAULT '',
        address TEXT NOT NULL DEFAULT '',
        stays INTEGER NOT NULL DEFAULT 0 CHECK (stays IN (0, 1)),
        began_at REAL NOT NULL,
        seen_at REAL NOT NULL
    ) STRICT""",
    "CREATE INDEX IF NOT EXISTS sessions_by_user ON sessions (user_id)",
    # A link by which somebody chooses a password: the first one, or a new one.
    """CREATE TABLE IF NOT EXISTS account_links (
        id INTEGER PRIMARY KEY,
        user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
        kind TEXT NOT NULL CHECK (kind IN ('invitation', 'reset')),
        digest TEXT NOT NULL UNIQUE,
        valid_until REAL NOT NULL,
        used_at REAL
    ) STRICT""",
    # A squad in one season; without days it has no end.
    """CREATE TABLE IF NOT EXISTS squads (
        id INTEGER PRIMARY KEY AUTOINCREMENT,
        name TEXT NOT NULL COLLATE NOCASE,
        season TEXT NOT NULL DEFAULT '',
        starts_on TEXT NOT NULL DEFAULT '',
        ends_on TEXT NOT NULL DEFAULT '',
        UNIQUE (name, season)
    ) STRICT""",
    """CREATE TABLE IF NOT EXISTS squad_swimmers (
        squad_id INTEGER NOT NULL REFERENCES squads (id) ON DELETE CASCADE,
        swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
        PRIMARY KEY (squad_id, swimmer_id)
    ) STRICT, WITHOUT ROWID""",
    "CREATE INDEX IF NOT EXISTS squads_of_swimmer ON squad_swimmers (swimmer_id)",
    """CREATE TABLE IF NOT EXISTS squad_staff (
        squad_id INTEGER NOT NULL REFERENCES squads (id) ON DELETE CASCADE,
        user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
        PRIMARY KEY (squad_id, user_id)
    ) STRICT, WITHOUT ROWID""",
    # Whose own pages a swimmer or a guardian opens.
    """CREATE TABLE IF NOT EXISTS account_swimmers (
        user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
        swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
        PRIMARY KEY (user_id, swimmer_id)
    ) STRICT, WITHOUT ROWID""",
    # Who began an upload: nobody else goes on with it.
    """CREATE TABLE IF NOT EXISTS upload_owners (
        upload_id TEXT PRIMARY KEY,
        user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
        begun_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
    ) STRICT""",
)


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    for table in _TABLES:
        cursor.execute(table)
    cursor.execute("SELECT count(*) FROM pragma_table_info('review_links') WHERE name = 'for_user'")
    if not cursor.fetchone()[0]:
        # A link that opens for one signed-in person alone; its token is told to nobody.
        cursor.execute("ALTER TABLE review_links ADD COLUMN for_user INTEGER "
                       "REFERENCES users (id) ON DELETE CASCADE")  # fmt: skip
    cursor.execute("SELECT count(*) FROM pragma_table_info('users') WHERE name = 'disabled_at'")
    if cursor.fetchone()[0]:
        return
    cursor.execute("DROP TABLE IF EXISTS users_with_roles")
    cursor.execute(_USERS)
    cursor.execute(
        "INSERT INTO users_with_roles (id, email, name, role, password_hash, created_at) "
        "SELECT id, email, name, CASE role WHEN 'coach' THEN 'head-coach' ELSE role END, "
        "password_hash, created_at FROM users"
    )
    # What counts its changes (0023) goes with the table, and is put back.
    cursor.execute("SELECT sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name = 'users'")
    triggers = [row[0] for row in cursor.fetchall()]
    # Foreign keys are off while migrations run: nothing that points at a person goes with this.
    cursor.execute("DROP TABLE users")
    cursor.execute("ALTER TABLE users_with_roles RENAME TO users")
    for trigger in triggers:
        cursor.execute(trigger)
    cursor.execute("SELECT count(*) FROM users WHERE role = 'assistant'")
    if cursor.fetchone()[0]:
        cursor.execute("INSERT OR IGNORE INTO squads (name) VALUES ('All swimmers')")
        cursor.execute("INSERT INTO squad_swimmers SELECT (SELECT min(id) FROM squads), id "
                       "FROM swimmers")  # fmt: skip
        cursor.execute("INSERT INTO squad_staff SELECT (SELECT min(id) FROM squads), id "
                       "FROM users WHERE role = 'assistant'")  # fmt: skip


steps = [step(apply)]
