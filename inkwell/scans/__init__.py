"""Scans and models of a production: brought in, measured, taken off the list."""
