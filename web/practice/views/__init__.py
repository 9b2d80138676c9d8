"""The client's way in, the player and what it sends, and logs typed or imported."""
