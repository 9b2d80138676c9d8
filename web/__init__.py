"""Everything that speaks HTTP or SQL."""
