import os

from hypothesis import settings

# Playwright keeps an event loop in the main thread; Django then refuses plain queries unless told
# otherwise.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

# A landing does not hang on the day's luck; the search for new counterexamples goes on at every
# desk.
settings.register_profile("ci", derandomize=True)
if os.environ.get("CI"):
    settings.load_profile("ci")
