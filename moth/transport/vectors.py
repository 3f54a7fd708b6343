"""Places and directions as plain triples, which the compiled loops keep in registers."""

from numba import njit


@njit(inline="always")
def dot(a, b):
    """Of two triples."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@njit(inline="always")
def added(a, b):
    return a[0] + b[0], a[1] + b[1], a[2] + b[2]


@njit(inline="always")
def minus(a, b):
    """Difference of two triples."""
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@njit(inline="always")
def scaled(a, by):
    """A triple times a number."""
    return a[0] * by, a[1] * by, a[2] * by


@njit(inline="always")
def at_row(rows, i):
    """A row as a triple."""
    return rows[i, 0], rows[i, 1], rows[i, 2]


@njit(inline="always")
def put(rows, i, a):
    """Write a triple into a row."""
    rows[i, 0], rows[i, 1], rows[i, 2] = a
