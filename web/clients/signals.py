"""What others may want to know of: the apps that build on the record listen here."""

from django.dispatch import Signal

#: The record of a client says something else than before; sent with ``client``, in its transaction.
record_changed = Signal()
