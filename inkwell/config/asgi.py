"""The server's door: uvicorn inkwell.config.asgi:application."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "inkwell.config.settings")
application = get_asgi_application()
