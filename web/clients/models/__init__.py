"""The record, the people who help, and what is left of an erased record."""

from .client import SAY_SO, Client, Helper
from .erasure import Erasure

__all__ = ["SAY_SO", "Client", "Erasure", "Helper"]
