"""Rooms and rigs whose light two independent renderers have worked out; see docs/accuracy.md."""
