"""Films held at the same instant of the stroke: which ones, how, and what is laid across."""
