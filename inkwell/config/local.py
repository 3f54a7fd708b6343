"""What is generated on each machine: the secret key and the way to the database."""

import json
import os
from pathlib import Path

from django.core.exceptions import ImproperlyConfigured


def _read(folder, name):
    path = Path(folder) / name
    try:
        return path.read_text().strip()
    except OSError:
        raise ImproperlyConfigured(f"{path} is missing: run script/setup first.") from None


def secret_key(folder):
    """Secret key from the environment or the local folder."""
    return os.environ.get("INKWELL_SECRET_KEY") or _read(folder, "secret-key")


def database_settings(folder):
    """Django's settings of the database on loopback."""
    place = json.loads(_read(folder, "database.json"))
    return {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("INKWELL_DATABASE", place["name"]),
        "USER": place["user"],
        "PASSWORD": place["password"],
        "HOST": "127.0.0.1",
        "PORT": place["port"],
        # One pool for all request threads: opening a connection costs more than a reading.
        "OPTIONS": {
            "connect_timeout": 2,
            "pool": {"min_size": 1, "max_size": 12, "timeout": 3},
        },
    }
