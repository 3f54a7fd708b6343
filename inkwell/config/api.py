"""The API, one router a subject."""

from ninja import NinjaAPI
from ninja.security import django_auth

from inkwell.accounts.api import router as accounts
from inkwell.productions.api import router as productions
from inkwell.setups.api import router as setups
from inkwell.setups.camera import router as camera
from inkwell.setups.card import router as card
from inkwell.setups.judging import router as judging
from inkwell.setups.light import router as light
from inkwell.setups.metering import router as metering

from . import problems

api = NinjaAPI(
    title="Inkwell Moth", version="1", auth=django_auth, docs_url=None, openapi_url="/openapi.json"
)
problems.install(api)
api.add_router("", accounts, tags=["session"])
api.add_router("", productions, tags=["productions"])
api.add_router("", setups, tags=["set-ups"])
api.add_router("", light, tags=["light"])
api.add_router("", camera, tags=["camera"])
api.add_router("", metering, tags=["metering"])
api.add_router("", judging, tags=["judging"])
api.add_router("", card, tags=["card"])
