"""From samples to the track: one row of plain figures for every 10 ms of sound."""
