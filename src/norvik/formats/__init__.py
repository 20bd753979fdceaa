"""Open formats, read and written. docs/formats.md describes each."""
