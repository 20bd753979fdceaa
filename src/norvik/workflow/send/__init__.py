"""A review on its way to its swimmer: links, mail, and what comes back."""
