"""A trial of sixty cells on three machines of which one is killed, then the server, then the
database: python -m bench.hosts (as root: the machines are network namespaces made for it, joined by
a bridge of their own and taken down again).

Prints what became of every cell, how often one was paid twice, and how long it took.
"""

import contextlib
import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import mock

import httpx
import psycopg

from bench.trials import begin
from tests.served import ROOT, database_killed, engines_of, in_shell, served

HOSTS, BRIDGE, NET = 3, "mothbench", "10.214.86"
PORT = 8786


def ip(*words, check=True):
    subprocess.run(["ip", *words], check=check, stdin=subprocess.DEVNULL, capture_output=not check)


@contextlib.contextmanager
def hosts():
    """Names of so many network namespaces that reach one bridge and nothing else."""
    names = [f"{BRIDGE}-{k}" for k in range(HOSTS)]

    def down():
        for name in names:
            ip("netns", "del", name, check=False)
        ip("link", "del", BRIDGE, check=False)

    down()
    try:
        ip("link", "add", BRIDGE, "type", "bridge")
        ip("addr", "add", f"{NET}.1/24", "dev", BRIDGE)
        ip("link", "set", BRIDGE, "up")
        for k, name in enumerate(names):
            ip("netns", "add", name)
            ip("link", "add", f"moth{k}", "type", "veth", "peer", "name", "eth0", "netns", name)
            ip("link", "set", f"moth{k}", "master", BRIDGE, "up")
            ip("-n", name, "addr", "add", f"{NET}.{10 + k}/24", "dev", "eth0")
            ip("-n", name, "link", "set", "eth0", "up")
            ip("-n", name, "link", "set", "lo", "up")
        yield names
    finally:
        down()


@contextlib.contextmanager
def cluster(names, folder):
    """A scheduler, and a worker on each machine, under certificates made for it; the processes of
    the workers.
    """
    keys = folder / "cluster"
    subprocess.run([sys.executable, "-m", "inkwell.trials.certificates", keys], check=True)
    tls = ["--tls-ca-file", keys / "ca.pem", "--tls-cert", keys / "own.pem"]
    tls += ["--tls-key", keys / "own.key"]
    address = f"tls://{NET}.1:{PORT}"

    def start(*command):
        # A group of its own: what it started ends with it.
        log = (folder / "cluster.log").open("a")
        quiet = {"stdin": subprocess.DEVNULL, "stdout": log, "stderr": log}
        return subprocess.Popen([*map(str, command)], cwd=ROOT, start_new_session=True, **quiet)

    dask = [sys.executable, "-m"]
    at = ["--protocol", "tls", "--host", f"{NET}.1", "--port", PORT, "--no-dashboard"]
    running = [start(*dask, "distributed.cli.dask_scheduler", *at, *tls)]
    try:
        work = ["--nworkers", 1, "--nthreads", 1, "--no-dashboard"]
        workers = [
            start(
                *("ip", "netns", "exec", name, *dask, "distributed.cli.dask_worker", address),
                *tls,
                *work,
            )
            for name in names
        ]
        running += workers
        yield address, workers
    finally:
        for process in running:
            _end(process)


def _end(process):
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def through_it(server, folder, workers):
    """The trial at its end, and what was done to whom after how many cells."""
    client, path = begin(server)
    blows = [
        ("a worker", lambda: _end(workers[0])),
        ("the server", lambda: _kill_and_start(server)),
        ("the database", lambda: _database_killed_and_started(folder)),
    ]
    told, start = [], time.perf_counter()
    while True:
        try:
            answer = client.get(path)
            trial = answer.json() if answer.status_code == 200 else None
        except httpx.TransportError:
            trial = None
        if trial is None:
            time.sleep(0.5)
            continue
        came = trial["done"] + trial["failed"]
        if blows and came >= trial["cells"] * (4 - len(blows)) / 5:
            name, blow = blows.pop(0)
            blow()
            told.append(f"{name} after {came}")
        if came == trial["cells"]:
            return trial, told, time.perf_counter() - start
        time.sleep(0.5)


def _kill_and_start(server):
    server.process.send_signal(signal.SIGKILL)
    server.process.wait()
    server.start()


def _database_killed_and_started(folder):
    database_killed(folder)
    time.sleep(2)
    in_shell(folder, "start_postgres")


def main():
    if os.geteuid():
        sys.exit("Network namespaces are made by root alone: run this as root.")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        folder.chmod(0o755)
        in_shell(folder, "secrets_ready", "start_postgres")
        try:
            with (
                hosts() as names,
                cluster(names, folder) as (address, workers),
                mock.patch.dict(os.environ, {"INKWELL_CLUSTER": address}),
                served("inkwell_hosts", local=folder) as server,
            ):
                trial, told, took = through_it(server, folder, workers)
                print("| what | measured |")
                print("|---|---|")
                print(f"| killed | {', '.join(told)} |")
                ends = f"{trial['done']} done, {trial['failed']} failed of {trial['cells']}"
                print(f"| cells | {ends} |")
                print(f"| took | {took:.0f} s |")
                print(f"| given out more than once | {again(folder)} |")
        finally:
            for engine in engines_of(folder):
                engine.kill()
                engine.wait(20)
            in_shell(folder, "stop_postgres", 'rm -rf "$DATA"')


def again(folder):
    """How many cells were given out more than once."""
    place = json.loads((folder / "database.json").read_text())
    access = {"host": "127.0.0.1", "port": place["port"], "user": place["user"]}
    with psycopg.connect(**access, password=place["password"], dbname="inkwell_hosts") as found:
        row = found.execute("select count(*) from trials_cell where begun > 1").fetchone()
    return row[0]


if __name__ == "__main__":
    main()
