"""The arithmetic behind the targets, each piece usable by itself."""
