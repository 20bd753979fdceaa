"""One module for each command of the console script."""
