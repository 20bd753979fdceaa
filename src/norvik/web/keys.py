"""The keys of the bench, as its help lists them."""

#: The letter of each event's button, as it stands in the word.
EVENT_KEYS = {
    "entry": "e",
    "catch": "c",
    "press": "p",
    "shoulder": "s",
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
            ("← →", "1 frame back, on"),
            ("Shift ← →", "10 frames back, on"),
            ("Space", "play, pause"),
            ("1 2 3 4", "speed ⅛, ¼, ½, 1"),
            ("Q  W", "loop from here, to here"),
            ("Esc", "no loop"),
        ),
    ),
    (
        "Mark an arm",
        (
            ("F", "the next expected event"),
            ("L  R", "left arm, right arm"),
            ("E C P S X", "entry, catch, press, shoulder, exit"),
            ("O I S N", "breaststroke: out, in, shoot, long"),
        ),
    ),
    (
        "Breath and legs",
        (
            ("V", "the next of turn, air, face down"),
            ("T A D", "turn, air, face down"),
            ("B", "bubbles begin, end"),
            ("K", "beat of the legs"),
            ("H E C", "breaststroke: heels, set, close"),
        ),
    ),
    (
        "Marks and rope",
        (
            ("[  ]", "mark before, after"),
            ("Ctrl ← →", "move the chosen mark 1 frame"),
            ("Delete", "delete the chosen mark"),
            ("Z  Y", "undo, do again"),
            ("+  −", "closer, wider"),
            ("?", "these keys"),
        ),
    ),
)
