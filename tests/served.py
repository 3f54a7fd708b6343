"""The real server on a database of its own, as script/demo starts it: for browser tests and the
bench.
"""

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import psutil
import psycopg

from inkwell.rendering.apart import socket_of

ROOT = Path(__file__).resolve().parents[1]
LOCAL = Path(os.environ.get("INKWELL_LOCAL", ROOT / ".local"))
CHROMIUM = {
    "executable_path": "/usr/bin/chromium",
    "args": [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
    ],
}


def in_shell(folder, *functions):
    """Call functions of script/lib.sh with a local folder of their own."""
    subprocess.run(
        ["bash", "-c", "\n".join([". script/lib.sh", *functions])],
        cwd=ROOT,
        env={**os.environ, "INKWELL_LOCAL": str(folder)},
        check=True,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        timeout=120,
    )


def database_killed(cluster):
    known = cluster / "data-directory"
    data = Path(known.read_text()) if known.exists() else cluster / "postgres"
    os.kill(int((data / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)


def engines_of(folder):
    """The processes that work out light for one local folder."""
    socket = socket_of(folder)
    return [p for p in psutil.process_iter(["cmdline"]) if socket in (p.info["cmdline"] or [])]


class Server:
    """Start and stop uvicorn; the database stays, so that a stop is a lost connection."""

    def __init__(self, database, frame, local):
        self.environment = {
            **os.environ,
            "INKWELL_LOCAL": str(local),
            "INKWELL_DATABASE": database,
            "INKWELL_FRAME": str(frame),
        }
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            self.port = s.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.password = (local / "demo-password").read_text().strip()
        self.process = None

    def manage(self, *args):
        subprocess.run(
            [sys.executable, "manage.py", *args],
            cwd=ROOT,
            env=self.environment,
            check=True,
            stdout=subprocess.DEVNULL,
        )

    def start(self):
        self.process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "uvicorn",
                "inkwell.config.asgi:application",
                "--host",
                "127.0.0.1",
                "--port",
                str(self.port),
                "--log-level",
                "warning",
            ],
            cwd=ROOT,
            env=self.environment,
        )
        for _ in range(300):
            with contextlib.suppress(OSError):
                urllib.request.urlopen(self.url + "/api/session", timeout=5).read()
                return
            time.sleep(0.1)
        raise RuntimeError("the server did not come up")

    def stop(self):
        if self.process and self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            try:
                self.process.wait(10)
            except subprocess.TimeoutExpired:
                self.process.kill()
                self.process.wait()


@contextlib.contextmanager
def served(database, frame=640, local=LOCAL):
    """A server with the demo loaded into a fresh database; whole frames `frame` pixels wide. The
    folder `local` says where PostgreSQL is.
    """
    place = json.loads((local / "database.json").read_text())
    access = {
        "host": "127.0.0.1",
        "port": place["port"],
        "user": place["user"],
        "password": place["password"],
        "dbname": place["name"],
        "autocommit": True,
    }

    def drop(connection):
        connection.execute(f'drop database if exists "{database}" with (force)')

    with psycopg.connect(**access) as connection:
        drop(connection)
        connection.execute(f'create database "{database}"')
    server = Server(database, frame, local)
    try:
        server.manage("migrate", "-v", "0")
        server.manage("load_demo")
        server.start()
        yield server
    finally:
        server.stop()
        with psycopg.connect(**access) as connection:
            drop(connection)
