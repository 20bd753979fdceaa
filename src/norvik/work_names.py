"""What each kind of long work is called, in the jobs table and wherever it is asked for."""

OPEN, PREPARE = "open-recording", "prepare-recording"
FOLLOW, FILM_MODEL = "follow-point", "film-model"
READ, MAKE_FILM = "read-clip", "make-film"
#: On the database itself.
BACK_UP, RELEASE = "back-up", "release-films"
