"""The record, helpers, and the remaining data of an erased record."""

from .client import SAY_SO, Client, Helper
from .erasure import Erasure

__all__ = ["SAY_SO", "Client", "Erasure", "Helper"]
