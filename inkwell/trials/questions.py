"""What the engine is asked of trials: plain functions, without a database."""

from moth.trials import cells_of


def placed(document, plan):
    """The cells of a plan as fields of the database's rows.

    Parameters
    ----------
    document : moth.document.Setup
        The plan's own, which has been checked.
    plan : moth.trials.TrialPlan

    Returns
    -------
    list of dict
    """
    return [
        {
            "row": cell.row,
            "column": cell.column,
            "key": cell.key,
            "document": cell.setup.model_dump(mode="json") if cell.setup else None,
            "state": "waiting" if cell.setup else "impossible",
            "fault": cell.fault[:300],
        }
        for cell in cells_of(plan)
    ]
