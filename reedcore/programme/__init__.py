"""A programme: its document, the tasks as prescribed, the plan for the check, and edits."""
