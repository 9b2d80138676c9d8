"""Incoming sound: takes, their stream and their quality."""
