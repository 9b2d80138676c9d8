"""The client's sign-in, the player and its requests, and typed or imported logs."""
