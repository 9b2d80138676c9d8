"""The command line, for people who have a folder of recordings."""
