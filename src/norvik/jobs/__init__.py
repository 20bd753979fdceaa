"""Long work: the queue that carries it, the worker that does it, recovery after a crash."""
