"""Looking back on one client: what was practised, drawn and told from the same figures."""
