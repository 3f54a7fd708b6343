"""Scans that a set-up names, laid on this machine's shelf before light is asked for."""

from moth.place.scans import on_shelf, shelve

from .models import Scan


def named(document):
    """Digests of the scans that a set-up names.

    Parameters
    ----------
    document : moth.document.Setup
    """
    return sorted({item.scan for item in document.furniture if item.scan})


def supply(document):
    """Lay a set-up's scans on the shelf, where they are missing and the database has them.

    Parameters
    ----------
    document : moth.document.Setup
    """
    for digest in named(document):
        if not on_shelf(digest):
            for data in packed([digest]).values():
                shelve(data)


def packed(digests):
    """Packed scans by their digests, of those that the database has."""
    rows = Scan.objects.filter(digest__in=digests).values_list("digest", "data")
    return {digest: bytes(data) for digest, data in rows}
