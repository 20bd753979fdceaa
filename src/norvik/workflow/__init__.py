"""What belongs together for one clip: stored marks in, the core's answers out.

The pages, the review file and the command line all come through here, so that they agree.
"""
