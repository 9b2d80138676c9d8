"""State that survives a restore: the epoch of the records, the journal, the site's keys."""
