"""Bytes and text from values, and values from bytes: open formats only."""
