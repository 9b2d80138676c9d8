"""Calculations for props and instruments."""
