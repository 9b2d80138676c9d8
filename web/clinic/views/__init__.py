"""The clinic's settings, its people, and what only its lead sees."""
