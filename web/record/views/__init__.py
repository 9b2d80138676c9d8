"""The record as it is read."""
