"""What the scheduling of trials costs, with stand-in work: python -m bench.scheduling

The runner's own code hands cells from a database of its own to a stand-in for the cluster whose
workers take no time, and stores what comes back. What is left is what a cell costs beside its work.
"""

import os
import time

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "inkwell.config.settings")

SEEN = 2.5
"""Seconds that a cell's work takes, to put the cost beside."""
FRAME = os.urandom(40_000)
"""As large as a cell's PNG."""


class Done:
    """A cell's future that is done at once."""

    status = "finished"

    def __init__(self, key):
        self._key = key

    def done(self):
        return True

    def result(self):
        return {
            "figures": {"soft": 12.0},
            "words": {},
            "png": FRAME,
            "exr": FRAME * 4,
            "seconds": SEEN,
        }

    def release(self):
        pass


class Cluster:
    """So many workers that take no time."""

    def __init__(self, workers):
        self._workers = workers

    def scheduler_info(self, n_workers=-1):
        return {"workers": {f"tls://{k}": {} for k in range(self._workers)}}

    def submit(self, work, *args, key, **kwargs):
        return Done(key)


def measured(workers, cells, people=3):
    """Seconds a cell costs, with so many workers and cells."""
    from django.contrib.auth import get_user_model

    from inkwell.productions.models import Production
    from inkwell.trials import runner
    from inkwell.trials.models import Cell, Trial

    runner.wait = lambda futures, **_: None
    names = [f"p{workers}-{cells}-{k}" for k in range(people)]
    users = [get_user_model().objects.create(username=name) for name in names]
    production = Production.objects.create(title="Stand-in")
    trials = [
        Trial.objects.create(
            production=production,
            title="t",
            author=user,
            plan={"unit": "key", "level": "same"},
        )
        for user in users
    ]
    document = {"title": "x" * 2000}
    Cell.objects.bulk_create(
        Cell(
            trial=trials[k % people],
            row=k // 100,
            column=k % 100,
            key=f"{workers}-{cells}-{k}",
            document=document,
        )
        for k in range(cells)
    )
    start = time.perf_counter()
    runner._Runner(Cluster(workers)).go(0)
    took = time.perf_counter() - start
    assert Cell.objects.filter(trial__in=trials, state="done").count() == cells
    production.delete()
    return took / cells


def main():
    import django

    django.setup()
    from django.test.runner import DiscoverRunner

    tests = DiscoverRunner(verbosity=0, interactive=False)
    made = tests.setup_databases()
    try:
        for workers, cells in ((2, 1000), (16, 1000), (64, 1000), (64, 10_000)):
            cost = measured(workers, cells)
            busy = SEEN / cost
            print(
                f"{workers:3d} workers, {cells:6,d} cells: {1000 * cost:6.2f} ms a cell,"
                f" the runner is busy {100 * cost / SEEN * workers:.0f} % of the time;"
                f" alone it would do for {busy:.0f} workers",
                flush=True,
            )
    finally:
        tests.teardown_databases(made)


if __name__ == "__main__":
    main()
