"""The keys of the bench, as its help lists them."""

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
        ),
    ),
    (
        "Breath and legs",
        (
            ("V", "the next of turn, air, face down"),
            ("T A D", "turn, air, face down"),
            ("B", "bubbles begin, end"),
            ("K", "beat of the legs"),
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
