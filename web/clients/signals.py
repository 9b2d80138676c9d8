"""What others may want to know of: the apps that build on the record listen here."""

from django.dispatch import Signal

#: Sent with ``client`` inside the transaction when the client's record has changed.
record_changed = Signal()
