"""What the board and a client's results cost as the rest of the database grows."""
