"""Stills that a production matches: brought in, read, built."""
