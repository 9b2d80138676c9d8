"""Which build of Still Reed this is."""

from functools import cache
from importlib import metadata


@cache
def version() -> str:
    """Return the version of the installed release; in a checkout, that it is one."""
    try:
        return metadata.version("still-reed")
    except metadata.PackageNotFoundError:
        return "a checkout"
