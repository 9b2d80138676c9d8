"""Helpers for words inside sentences."""


def sentence_case(words: str) -> str:
    """Return the text with a capital first letter."""
    return words[:1].upper() + words[1:]
