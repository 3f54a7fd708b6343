"""Run the cells that wait: python -m inkwell.trials"""

import os

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "inkwell.config.settings")
    import django

    django.setup()
    from django.db import OperationalError, ProgrammingError

    from inkwell.trials.runner import give_way, run

    give_way()
    try:
        run()
    except (OperationalError, ProgrammingError) as error:
        # The next that sees cells wait starts another.
        raise SystemExit(f"The runner of trials ends: {error}") from None
