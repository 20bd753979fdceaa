"""The film-like style: a closed, textured body in real-looking water, from the same motion."""
