"""The demo: Kvarnholm Masters, an invented squad in an invented 25 m indoor pool."""
