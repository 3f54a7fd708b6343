"""The API, one router a subject."""

from ninja import NinjaAPI

from inkwell.accounts.api import router as accounts
from inkwell.accounts.person import person_auth
from inkwell.analysis.api import router as analysis
from inkwell.cards.api import router as cards
from inkwell.days.api import router as days
from inkwell.kit.api import router as kit
from inkwell.productions.api import router as productions
from inkwell.rendering.api import router as rendering
from inkwell.scans.api import router as scans
from inkwell.setups.api import router as setups
from inkwell.stills.api import router as stills
from inkwell.trials.api import router as trials

from . import problems
from .text import FitParser

api = NinjaAPI(
    title="Inkwell Moth",
    version="1",
    auth=person_auth,
    docs_url=None,
    openapi_url="/openapi.json",
    parser=FitParser(),
)
problems.install(api)
api.add_router("", accounts, tags=["session"])
api.add_router("", productions, tags=["productions"])
api.add_router("", setups, tags=["set-ups"])
api.add_router("", rendering, tags=["rendering"])
api.add_router("", analysis, tags=["analysis"])
api.add_router("", cards, tags=["cards"])
api.add_router("", trials, tags=["trials"])
api.add_router("", stills, tags=["stills"])
api.add_router("", scans, tags=["scans"])
api.add_router("", kit, tags=["kit"])
api.add_router("", days, tags=["days"])
