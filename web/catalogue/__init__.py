"""What can be prescribed: tasks, ladders and spoken material, the clinic’s own included."""
