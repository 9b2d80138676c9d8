"""The second step of signing in: a code from another device, or a passkey instead of both steps."""
