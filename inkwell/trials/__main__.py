"""Run the cells that wait: python -m inkwell.trials"""

import os

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "inkwell.config.settings")
    import django

    django.setup()
    from inkwell.trials.runner import run

    run()
