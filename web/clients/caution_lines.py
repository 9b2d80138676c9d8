"""The cautions on a record, in words."""

from reedcore.safety import Caution

from .models import Client
from .wording import CAUTION_NAMES


def cautions_of(client: Client) -> list[str]:
    """Return the cautions on record, in words."""
    return [CAUTION_NAMES[code] for code in Caution if code in client.caution_codes]
