"""The baseline sheet and the targets."""
