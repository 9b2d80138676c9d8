"""The pages about one client, a module each."""
