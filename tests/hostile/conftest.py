"""Whoever sends what no page of ours would."""

from tests.web.conftest import as_client, as_clinician, clock, prescribed  # noqa: F401
