"""Sending reviews: links for one swimmer or for a whole evening, mail, and who opened them."""
