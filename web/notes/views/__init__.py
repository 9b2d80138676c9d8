"""Notes and reports, and the referral letter."""
