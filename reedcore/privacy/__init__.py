"""De-identification of data that leaves a clinic."""

from .k_anonymity import LEAST_ALIKE, Traits, generalise_traits

__all__ = ["LEAST_ALIKE", "Traits", "generalise_traits"]
