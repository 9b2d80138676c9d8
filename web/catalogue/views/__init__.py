"""The catalogue: tasks, the clinic's library, pictures."""
