"""Accuracy on sound of known truth, and speed next to general-purpose libraries."""
