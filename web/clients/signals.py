"""Signals for apps that build on the record."""

from django.dispatch import Signal

#: Sent with ``client`` inside the transaction when the client's record has changed.
record_changed = Signal()
