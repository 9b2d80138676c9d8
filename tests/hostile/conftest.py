"""Fixtures for requests that no page of ours would send."""

from tests.web.conftest import as_client, as_clinician, clock, prescribed  # noqa: F401
