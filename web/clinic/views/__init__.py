"""The clinic's settings, its people, and pages for its lead only."""
