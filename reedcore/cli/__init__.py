"""The command line, for people with a folder of recordings."""
