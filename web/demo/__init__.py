"""The demo clinic."""
