"""Where a sound was held, and what it measures."""
