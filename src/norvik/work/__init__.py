"""Long work itself: an order that holds all it needs, films, and a result. No database.

So it is done the same way by the worker beside the database and by one on another machine.
"""
