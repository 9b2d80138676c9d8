"""What a page says, however its template is laid out."""


def read(response) -> str:
    """The page's HTML with every run of white space as one space, as a browser shows it."""
    return " ".join(response.content.decode().split())
