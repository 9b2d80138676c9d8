"""Accuracy on sound of known truth, and speed beside general-purpose libraries."""
