"""Sound on its way in, whoever it is from: takes, their stream, and how good they are."""
