"""Words as they stand in a sentence."""


def sentence_case(words: str) -> str:
    """With a capital first."""
    return words[:1].upper() + words[1:]
