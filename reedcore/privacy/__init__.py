"""What may leave a clinic without giving anybody away."""

from .alike import LEAST_ALIKE, Traits, made_alike

__all__ = ["LEAST_ALIKE", "Traits", "made_alike"]
