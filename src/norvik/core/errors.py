"""Errors that carry a sentence for the person in front of the screen.

NorvikError                 any refusal that the user can act on
├── TimeBaseError           frame times or a time stretch that cannot be right
├── MarkError               a mark that cannot be where it was asked for
├── ChoiceError             a tick or a choice that cannot be made
├── EventsFileError         an events file that cannot be read at all
├── TracksFileError         a table of followed points that cannot be read
├── LengthsError            a length log that cannot be right, or a table of it
├── FootageError            a file that is not usable footage
│   └── DiskFullError       the disk ran full while footage was written
├── PlanError               a plan, or a change of one, that cannot be
├── PoolTestError           what was written down of a pool test cannot be right
├── CatalogueError          the shipped tables contradict themselves
├── MeasureError            points on a frame that cannot give what they are clicked for
├── TalkError               a recorded talk, or a change of one, that cannot be
├── LinkError               a link to a review that cannot be made or sent
├── AccountError            an account, a password or a squad that cannot be as asked
├── ConsentError            something that nobody has allowed for a swimmer
├── BackupError             a backup that cannot be made, or is not whole
├── BreathHoldingError      words that may ask for breath-holding
├── StoreError              the data folder cannot be used as it is
├── NotFoundError           something that was asked for is not there (any more)
├── ForbiddenError          something that this person may not see or change
├── NotReadyError           a clip whose film is still being prepared
└── FrameError              a frame that a clip does not have
"""


class NorvikError(Exception):
    """What was wrong and what to do, in one plain sentence or two."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class TimeBaseError(NorvikError):
    """Raised when frame times do not grow, or a stretch or interval is not above 0."""


class MarkError(NorvikError):
    """Raised when a mark names an unknown lane, event, side or frame."""


class ChoiceError(NorvikError):
    """Raised when a tick or a choice is not on the list, or no room is left for it."""


class EventsFileError(NorvikError):
    """Raised when an events file is not UTF-8, has no header, or lacks a required column."""


class MeasureError(NorvikError):
    """Raised when points clicked on a frame cannot give the measure that they are clicked for."""


class TracksFileError(NorvikError):
    """Raised when a table of followed points is not UTF-8, lacks a column, or has wrong lines."""


class LengthsError(NorvikError):
    """Raised when a row of a length log cannot be read, or a length cannot be as it is said."""


class PlanError(NorvikError):
    """Raised when a plan cannot be made as asked, or a change of it would break it."""


class PoolTestError(NorvikError):
    """Raised when what was written down of a pool test is missing, or cannot be."""


class FootageError(NorvikError):
    """Raised when a file holds no picture that can be decoded."""


class DiskFullError(FootageError):
    """Raised when there is no room left for a review copy."""


class ReadingError(NorvikError):
    """Raised when a film cannot be read by itself: a network is missing, damaged or another."""


class StoreError(NorvikError):
    """The data folder cannot be used as it is."""


class BreathHoldingError(NorvikError):
    """Words of a drill may ask for breath-holding: the coach has to say what is meant."""


class CatalogueError(NorvikError):
    """Raised at load when a fault, drill or band refers to something that is not there."""


class NotFoundError(NorvikError):
    """Raised when a swimmer, clip, mark or finding does not exist (any more)."""


class ForbiddenError(NorvikError):
    """Raised when the person who asks may not see or change something."""


class ApartError(NorvikError):
    """A clip that is in no review is to be judged: somebody has to say in which."""


class NotReadyError(NorvikError):
    """Raised when a clip is asked for whose film is still being prepared."""


class FrameError(NorvikError):
    """Raised when a frame is named that lies outside of a clip."""


class TalkError(NorvikError):
    """Raised when something of a recorded talk cannot be kept or mended as asked."""


class LinkError(NorvikError):
    """Raised when a link to a review cannot be made or sent: consent, address or day is missing."""


class AccountError(NorvikError):
    """Raised when an account, a password or a squad cannot be made or changed as asked."""


class ConsentError(NorvikError):
    """Raised when something is asked for that nobody has allowed for a swimmer, or no more."""


class BackupError(NorvikError):
    """Raised when a backup cannot be made, looked through or brought back."""
