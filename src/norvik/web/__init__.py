"""The web application: one module for each screen, one template folder for each."""

from norvik.web.app import create_app

__all__ = ["create_app"]
