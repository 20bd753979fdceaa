"""What pages offer: links, forms and requests of a page, and which of them a role may not do."""

from __future__ import annotations

from html.parser import HTMLParser
from typing import NamedTuple
from urllib.parse import urlsplit

from flask import Flask
from werkzeug.exceptions import HTTPException

from norvik.web.shared.route_deeds import deed_of, is_open
from norvik.workflow.access import DEEDS


class Offer(NamedTuple):
    method: str
    address: str


class Offers(HTMLParser):
    """Everything in a page that leads somewhere when it is pressed."""

    def __init__(self, own: str) -> None:
        """own: the page's address, to which a form without one goes."""
        super().__init__()
        self._own = own
        self.found: set[Offer] = set()
        self._method, self._action = "get", ""
        #: Open fieldsets, each with whether it is disabled: nothing in such a one can be pressed.
        self._fieldsets: list[bool] = []

    def handle_endtag(self, tag: str) -> None:
        if tag == "fieldset" and self._fieldsets:
            self._fieldsets.pop()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        named = {name: value or "" for name, value in attrs}
        if tag == "fieldset":
            self._fieldsets.append("disabled" in named)
        if tag == "a" and "href" in named:
            self.found.add(Offer("GET", named["href"]))
        if any(self._fieldsets):
            return
        if tag == "form":
            self._method = named.get("method", "get").upper()
            self._action = named.get("action", "") or self._own
            by_script = any(name.startswith(("hx-", "data-")) for name in named)
            # A form that only a script sends has a place of its own; a dialog's leads nowhere.
            if not by_script and self._method in ("GET", "POST") and "id" not in named:
                self.found.add(Offer(self._method, self._action))
        if "formaction" in named:
            self.found.add(Offer(named.get("formmethod", self._method).upper(),
                                 named["formaction"]))  # fmt: skip
        for method in ("get", "post", "patch", "delete"):
            if f"hx-{method}" in named:
                self.found.add(Offer(method.upper(), named[f"hx-{method}"]))


def not_for(app: Flask, role: str, page: str, own: str) -> set[str]:
    """Routes that a page at the address `own` offers and the role may not use."""
    offers = Offers(own)
    offers.feed(page)
    address = app.url_map.bind("localhost")
    found = set()
    for offer in offers.found:
        parts = urlsplit(offer.address)
        if parts.scheme or parts.netloc or not parts.path.startswith("/"):
            continue
        try:
            endpoint, _ = address.match(parts.path, method=offer.method)
        except HTTPException:
            continue
        if is_open(endpoint, endpoint.partition(".")[0]):
            continue
        if deed_of(endpoint, offer.method) not in DEEDS[role]:
            found.add(f"{offer.method} {endpoint}")
    return found
