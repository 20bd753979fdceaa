"""The trade's tables as shipped, and their checked loader."""

from norvik.catalogue.loader import load

__all__ = ["load"]
