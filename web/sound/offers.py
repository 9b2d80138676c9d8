"""Whether simulated instruments are available."""

from django.conf import settings


def offer_simulated() -> bool:
    """Return a made-up voice in a real record would mislead: only where the settings say so."""
    return settings.OFFER_SIMULATED_VOICE
