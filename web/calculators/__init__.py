"""The calculations behind the targets, each available separately."""
