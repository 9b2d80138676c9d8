"""Props and instruments: what they do, as arithmetic."""
