"""One place at several times."""

from ..errors import DocumentError


def at_state(setup, state_id):
    """A set-up turned to one of its states: sky, and levels and whites of the units, as that has
    kept them; a unit that was brought in since is off there.

    Parameters
    ----------
    setup : Setup
    state_id : str

    Returns
    -------
    Setup
        The same where that state stands already: what stands is newer than what it kept.

    Raises
    ------
    DocumentError
        Where there is no such state.

    Examples
    --------
    >>> from .bare import bare
    >>> lamp = {"id": "k", "name": "Key", "head": "bulb", "position": [1, 1, 2], "aim": [2, 2, 1]}
    >>> night = {"id": "n", "name": "Night", "units": [{"id": "k", "dimmer": 0.1}]}
    >>> s = bare(units=[lamp], states=[night])
    >>> at_state(s, "n").units[0].dimmer, at_state(s, "n").state
    (0.1, 'n')
    """
    state = next((s for s in setup.states if s.id == state_id), None)
    if state is None:
        raise DocumentError(f"There is no state '{state_id}'.", "state")
    if setup.state == state_id:
        return setup
    levels = {level.id: level.model_dump(exclude={"id"}) for level in state.units}
    units = tuple(u.model_copy(update=levels.get(u.id, {"on": False})) for u in setup.units)
    return setup.model_copy(update={"sky": state.sky, "units": units, "state": state_id})
