"""What may leave a clinic without giving anybody away."""

from .k_anonymity import LEAST_ALIKE, Traits, made_alike

__all__ = ["LEAST_ALIKE", "Traits", "made_alike"]
