"""Attacks on a running Norvik, for administrators and testers; the suite has short forms."""
