"""Workers on other machines: they get a job as data and give the result back, over Redis.

None of them opens a database. The house, which is the worker beside the database, answers them.
"""
