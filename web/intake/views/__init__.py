"""What a device sends of a session, and logs typed or imported."""
