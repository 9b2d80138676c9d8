"""The catalogue: tasks, ladders and spoken material, including the clinic’s own."""
