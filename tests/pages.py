"""Page texts, independent of the template's layout."""


def read(response) -> str:
    """Return the page's HTML with white space as single spaces, as a browser shows it."""
    return " ".join(response.content.decode().split())
