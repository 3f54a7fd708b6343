"""Cells run beside the desk, on Dask: by default on this machine's own cores, after all else.

One runner a database. What it does is in the database before and after each cell, so that it may
end at any moment: the next takes up what waits. A server that sees cells wait starts one.
"""

import json
import logging
import os
import subprocess
import sys
import time
from contextlib import contextmanager, suppress
from pathlib import Path

from django.conf import settings
from django.db import InterfaceError, OperationalError, connection, transaction
from django.db.models import F

from inkwell.rendering.apart import HAND
from inkwell.scans.supply import named, packed, supply
from moth.document import load
from moth.trials import run_document

from .models import Cell, State

log = logging.getLogger(__name__)
# Dask tells of every coming and going; psycopg of every try while the database is away.
for name in ("distributed", "psycopg.pool"):
    logging.getLogger(name).setLevel(logging.ERROR)
IDLE = 30.0
"""How long a runner waits for more work before it ends [s]."""
STARTING = 20.0
"""How long one that was started may take to hold the lock [s]; who looks meanwhile starts none."""
_last_start = [float("-inf")]
AWAY = 60.0
"""How long it waits for the database to come back [s]."""
LOCK = 0x1A4B
"""Number of the database's lock that one runner holds."""
LOOK = 10.0
"""How often it looks whether there is more to do while none is done [s]."""
TELL = 2.0
"""How often the records office is told who is at work [s]."""
WORKERS = "trials.json"
"""File of the local folder in which that stands."""
AHEAD = 1
"""Cells that wait at each worker, so that none stands still while the database is asked."""


def ensure_running():
    """Start a runner unless one holds the lock; called whenever somebody sees cells wait."""
    if settings.ENGINE == "inside" or time.monotonic() < _last_start[0] + STARTING:
        return
    with connection.cursor() as cursor:
        cursor.execute(
            "select count(*) from pg_locks where locktype = 'advisory' and objid = %s"
            " and database = (select oid from pg_database where datname = current_database())",
            [LOCK],
        )
        if cursor.fetchone()[0]:
            return
    _last_start[0] = time.monotonic()
    with open(settings.LOCAL_DIR / "trials.log", "a") as said:
        # It outlives the server, whose own output somebody may wait for.
        subprocess.Popen(
            [sys.executable, "-m", "inkwell.trials"],
            stdin=subprocess.DEVNULL,
            stdout=said,
            stderr=said,
            start_new_session=True,
            cwd=Path(__file__).parents[2],
        )


def _open():
    return Cell.objects.filter(state=State.WAITING, trial__stopped=False)


def run(idle=IDLE):
    """Run cells until none has been waiting for a while; at once nothing where another does so."""
    with _alone() as mine:
        if not mine:
            return
        with _cluster() as client:
            _Runner(client).go(idle)


@contextmanager
def _alone():
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s)", [LOCK])
        mine = cursor.fetchone()[0]
    try:
        yield mine
    finally:
        if mine:
            try:
                with connection.cursor() as cursor:
                    cursor.execute("select pg_advisory_unlock(%s)", [LOCK])
            except (OperationalError, InterfaceError):
                pass  # with the connection went the lock


@contextmanager
def _cluster():
    """A client of the cluster that the settings name, or of one on this machine."""
    # Here, and not above: servers know this file too, and start half a second sooner without.
    from dask.distributed import Client, LocalCluster, Security

    if settings.CLUSTER:
        folder = settings.LOCAL_DIR / "cluster"
        security = Security(
            tls_ca_file=str(folder / "ca.pem"),
            tls_client_cert=str(folder / "own.pem"),
            tls_client_key=str(folder / "own.key"),
            require_encryption=True,
        )
        with Client(settings.CLUSTER, security=security, timeout="15s") as client:
            yield client
        return
    with (
        LocalCluster(
            n_workers=os.cpu_count() or 1,
            threads_per_worker=1,
            # Whoever could speak to it could run what he likes: certificates that live as long.
            protocol="tls://",
            security=True,
            host="127.0.0.1",
            dashboard_address="127.0.0.1:0",
            silence_logs=logging.ERROR,
        ) as cluster,
        Client(cluster) as client,
    ):
        yield client


def give_way():
    """Let this process and all it starts run only while nothing else wants to."""
    if hasattr(os, "SCHED_IDLE"):
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    else:
        os.nice(19)


class _Runner:
    """Cells on their way from the database through the cluster and back."""

    def __init__(self, client):
        self._client = client
        self._running: dict = {}
        self._turns: dict = {}
        self._told = float("-inf")
        self._sent: dict = {}

    def go(self, idle):
        from dask.distributed import wait

        until = time.monotonic() + idle
        _through(self._take_back)
        while True:
            _through(self._fill)
            self._tell()
            if self._running:
                # None may be done for long: heavy ones, or a hand that is at work.
                with suppress(TimeoutError):
                    wait(list(self._running), timeout=LOOK, return_when="FIRST_COMPLETED")
                self._harvest()
                until = time.monotonic() + idle
            elif time.monotonic() >= until:
                return
            else:
                time.sleep(0.3)

    def _tell(self):
        """Note for the records office who is at work; see :mod:`inkwell.trials.office`."""
        if time.monotonic() < self._told + TELL:
            return
        self._told = time.monotonic()
        workers = self._client.scheduler_info(n_workers=-1)["workers"]
        rows = [
            {
                "name": str(found.get("name") or address),
                "memory": found.get("metrics", {}).get("memory", 0),
                "limit": found.get("memory_limit") or 0,
                "seen": found.get("last_seen", 0),
            }
            for address, found in workers.items()
        ]
        told = {"at": time.time(), "under_way": len(self._running), "workers": rows}
        path = settings.LOCAL_DIR / WORKERS
        # Whoever reads it meanwhile reads the old one whole.
        fresh = path.with_suffix(f".{os.getpid()}")
        fresh.write_text(json.dumps(told))
        fresh.replace(path)

    def _take_back(self):
        """What a runner before left half done waits again."""
        Cell.objects.filter(state=State.RUNNING).update(state=State.WAITING)

    def _fill(self):
        workers = len(self._client.scheduler_info(n_workers=-1)["workers"]) or 1
        while len(self._running) < workers * (1 + AHEAD):
            cell = self._next()
            if cell is None:
                return
            if self._known(cell):
                continue
            Cell.objects.filter(pk=cell.pk).update(state=State.RUNNING, begun=F("begun") + 1)
            future = self._client.submit(
                run_document,
                cell.document,
                cell.trial.plan["unit"],
                cell.trial.plan["level"],
                None if settings.CLUSTER else str(settings.LOCAL_DIR / HAND),
                self._scans(cell),
                key=cell.key,
                retries=2,
            )
            self._running[future] = cell

    def _scans(self, cell):
        """The models that a cell needs: laid on the shelf of this machine, or sent to others once a
        worker.
        """
        document = load(cell.document)
        if not settings.CLUSTER:
            supply(document)
            return []
        for digest, data in packed([d for d in named(document) if d not in self._sent]).items():
            self._sent[digest] = self._client.scatter(data, broadcast=True)
        return [self._sent[digest] for digest in named(document) if digest in self._sent]

    def _next(self):
        """The next cell of whoever has waited longest since their last: nobody's three hundred go
        before another's three.
        """
        under_way = [cell.key for cell in self._running.values()]
        found = _open().exclude(key__in=under_way)
        people = set(found.order_by().values_list("trial__author", flat=True).distinct())
        if not people:
            return None
        whose = min(people, key=lambda person: self._turns.get(person, 0.0))
        self._turns[whose] = time.monotonic()
        cells = found.filter(trial__author=whose).select_related("trial")
        return cells.order_by("trial_id", "row", "column").first()

    def _known(self, cell):
        """Whether the same was found before, for this or another trial: then it is taken over."""
        before = Cell.objects.filter(key=cell.key, state=State.DONE).first()
        if before is None:
            return False
        _store(cell, {k: getattr(before, k) for k in RESULT})
        return True

    def _harvest(self):
        for future in [f for f in self._running if f.done()]:
            cell = self._running.pop(future)
            if future.status == "finished":
                result = future.result()
                _through(_store, cell, result)
            else:
                error = future.exception() if future.status == "error" else None
                log.error("cell %s failed", cell, exc_info=error)
                words = str(error) or type(error).__name__ if error else "it was given up"
                _through(
                    lambda cell=cell, words=words: Cell.objects.filter(pk=cell.pk).update(
                        state=State.FAILED, fault=words[:300]
                    )
                )
            future.release()


RESULT = ("figures", "words", "png", "exr", "wall", "seconds")


def _store(cell, result):
    with transaction.atomic():
        Cell.objects.filter(pk=cell.pk).update(
            state=State.DONE, fault="", **{k: result[k] for k in RESULT}
        )


def _through(act, *args):
    """Do something with the database, if need be once it is back."""
    until = time.monotonic() + AWAY
    while True:
        try:
            return act(*args)
        except (OperationalError, InterfaceError):
            if time.monotonic() > until:
                raise
            connection.close()
            time.sleep(1)
            _hold_again()


def _hold_again():
    """The lock went with the connection; if another runner has it now, it does the rest."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("select pg_try_advisory_lock(%s)", [LOCK])
            if not cursor.fetchone()[0]:
                raise SystemExit("another runner has taken over")
    except (OperationalError, InterfaceError):
        pass  # not back yet: it is tried again
