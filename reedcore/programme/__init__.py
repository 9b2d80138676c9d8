"""A programme: its document, what each task asks, its plan for the check, and its edits."""
