"""Caching, cores and sampling: how work is shared out and remembered. No physics."""
