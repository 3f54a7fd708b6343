"""What is raised when the engine is lost."""


class EngineAway(Exception):
    """The engine did not answer; what it had in hand is lost, and asking again starts it anew."""
