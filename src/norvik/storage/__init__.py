"""Room on the disk: what lies where, what can be given up, and deleting for good."""
