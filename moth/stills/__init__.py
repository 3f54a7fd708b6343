"""Stills: a picture brought in, read, laid over a figure, and its light taken apart.

Each module is asked for by its own name: opening one takes no rays.
"""
