"""Programmes to start from, fitted to one client: notes, seconds, levels and props."""

from .client import AcceptedTarget, ClientFigures
from .fitting import fitted_item
from .programmes import beside_programmes, fitted_beside, starting_programme, starting_programmes
from .refitting import refit_programme, without_client_details

__all__ = [
    "AcceptedTarget",
    "ClientFigures",
    "beside_programmes",
    "fitted_beside",
    "fitted_item",
    "refit_programme",
    "starting_programme",
    "starting_programmes",
    "without_client_details",
]
