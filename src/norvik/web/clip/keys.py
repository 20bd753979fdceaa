"""The keys of the bench, as its help lists them."""

#: The letter of each event's button, as it stands in the word.
EVENT_KEYS = {
    "entry": "e",
    "catch": "c",
    "press": "p",
    "shoulder": "s",
    "push-end": "n",
    "exit": "x",
    "out": "o",
    "in": "i",
    "shoot": "s",
    "long": "n",
    "beat": "k",
    "heels": "h",
    "set": "e",
    "close": "c",
}

KEY_GROUPS = (
    (
        "Watch",
        (
            ("← →", "back, forward 1 frame"),
            ("Shift ← →", "back, forward 10 frames"),
            ("Space", "play, pause"),
            ("1 … 6", "speed 1/16, ⅛, ¼, ½, 1, 2"),
            ("<  >", "slower, faster"),
            ("Q  W", "loop from here, to here"),
            ("J", "saved loops"),
            ("Esc", "no loop"),
            ("U", "sound on, off"),
        ),
    ),
    (
        "View",
        (
            (".  ,", "zoom in, out; also the wheel"),
            ("0", "the whole picture"),
            ("M", "mirror: left on right"),
            ("G", "enhance murky water"),
            ("Shift M", "measure on the frame"),
            ("Shift D", "show something on the picture"),
            ("Shift P", "save the frame as a still"),
            ("Shift N", "a remark in your own words on this frame"),
        ),
    ),
    (
        "Mark an arm",
        (
            ("F", "the next expected event"),
            ("Enter", "to the next proposal; confirm it"),
            ("Shift Enter", "skip a proposal"),
            ("Ctrl Enter", "confirm the proposed cycle you see"),
            ("Ctrl Shift Enter", "confirm all that is proposed"),
            ("Shift O", "proposals: least sure first, or in time"),
            ("7", "copy one marked cycle forward"),
            ("L  R", "left arm, right arm"),
            ("E C P S X", "entry, catch, pull, under the shoulder, exit"),
            ("N", "backstroke: end of the push"),
            ("O I S N", "breaststroke: outsweep, insweep, recovery, extension"),
        ),
    ),
    (
        "Breath and legs",
        (
            ("V", "the next of head turn, mouth out, face in"),
            ("T A D", "head turn, mouth out, face in"),
            ("Shift L  R", "breathes to the left, right"),
            ("B", "exhaling starts, ends"),
            ("K", "kick; tap it in time while the film plays"),
            ("H E C", "breaststroke: heels up, feet out, feet together"),
        ),
    ),
    (
        "Wall and course",
        (
            ("9", "the next of touch, push-off, breakout; after a start signal: block, water"),
            ("8", "the head passes 5, 10, 15 … m"),
        ),
    ),
    (
        "Talk",
        (
            ("Shift T", "record a talk over the film; pause"),
            ("Page Down, Up", "next, previous point of the review"),
        ),
    ),
    (
        "Marks and timeline",
        (
            ("[  ]", "previous, next mark"),
            ("Shift [  ]", "previous, next of the same kind"),
            ("Ctrl ← →", "move the selected mark by 1 frame"),
            ("Delete", "delete the selected mark"),
            ("Shift Delete", "delete its whole cycle"),
            ("Z  Y", "undo, redo; drawings while their panel is open"),
            ("Shift H", "hide or show a row"),
            ("+  −", "timeline zoom in, out"),
            ("Shift I", "what the numbers mean, and what is normal"),
            ("?", "these keys"),
        ),
    ),
)
