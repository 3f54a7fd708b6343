"""Trials of a production: kept with their cells, run beside the desk."""
