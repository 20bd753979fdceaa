"""A coach's talk over the films of a review: recorded, mended, put together."""
