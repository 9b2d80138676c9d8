"""Cost of the board and a client's results as the rest of the database grows."""
