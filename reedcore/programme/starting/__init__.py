"""Programmes to start from, fitted to one client: notes, seconds, levels and props."""

from .client import AcceptedTarget, ClientFigures
from .fitting import fitted_item
from .programmes import beside_programmes, fitted_beside, starting_programme, starting_programmes
from .refitting import for_anybody, refit_programme

__all__ = [
    "AcceptedTarget",
    "ClientFigures",
    "beside_programmes",
    "fitted_beside",
    "fitted_item",
    "for_anybody",
    "refit_programme",
    "starting_programme",
    "starting_programmes",
]
