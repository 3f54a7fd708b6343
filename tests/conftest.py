import os

# Playwright keeps an event loop in the main thread; Django then refuses plain queries unless told
# otherwise.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
