"""Views for entries of devices, and for logs typed or imported."""
