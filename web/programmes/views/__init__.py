"""The pages of a programme, a module each."""
