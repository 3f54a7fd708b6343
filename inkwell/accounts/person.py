"""Whose a request is: the session's, if the page that sends it is open for the same person."""

from urllib.parse import unquote

from ninja.security import SessionAuth


class PersonAuth(SessionAuth):
    """As Django's session says; a page that was opened for somebody else is not signed in.

    Windows of one browser share their cookies: what one person did in one window must not go out
    under the name of who signed in in another. The page names its person (X-Person).
    """

    def authenticate(self, request, key):
        if not request.user.is_authenticated:
            return None
        named = request.headers.get("X-Person")
        if named is not None and unquote(named) != request.user.get_username():
            return None
        return request.user


person_auth = PersonAuth()
