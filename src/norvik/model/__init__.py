"""The model swimmer: a figure whose every instant is known, filmed by a simulated camera.

It may use the plain containers of the core (Mark) and nothing there that computes, so that it can
check the core from outside.
"""
