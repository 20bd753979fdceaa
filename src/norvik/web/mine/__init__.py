"""The own pages of a swimmer, or of a guardian for a child."""
