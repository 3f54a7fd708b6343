"""The server's door: uvicorn inkwell.config.asgi:application."""

import os
import threading

from django.core.asgi import get_asgi_application

from .gate import Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "inkwell.config.settings")
application = Gate(get_asgi_application())


def _warm_up():
    from inkwell.rendering.service import engine

    connect = getattr(engine(), "connect", None)
    if connect:
        connect()


# The engine starts beside the server: the first look finds it listening.
threading.Thread(target=_warm_up, name="warm-up", daemon=True).start()
