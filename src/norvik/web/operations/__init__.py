"""What an administrator watches: whether it lives, whether it is ready, and figures."""
