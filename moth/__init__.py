"""Light for interviews and dramatic scenes, computed. Knows nothing of web or database."""
