"""What outlives a restore: the epoch of the records, the journal beside them, the site's keys."""
