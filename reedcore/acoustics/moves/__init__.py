"""Sounds that move: glides, trills, bubbles, bursts, joined sounds, notes in a row, and speech."""
