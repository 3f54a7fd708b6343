"""What was acknowledged is there after the worst: a server or an engine killed, a database brought
back from a file. No browser is needed to see it.
"""

import contextlib
import json
import os
import signal
import subprocess
import threading
import time

import httpx
import psutil
import psycopg
import pytest

from tests.served import ROOT, database_killed, engines_of, in_shell, served


@pytest.fixture(scope="module")
def cluster(tmp_path_factory):
    """A local folder with a PostgreSQL and an engine of its own, which may be killed."""
    folder = tmp_path_factory.mktemp("kept")
    in_shell(folder, "secrets_ready", "start_postgres")
    yield folder
    in_shell(folder, "stop_postgres", 'rm -rf "$DATA"')


@pytest.fixture(scope="module")
def kept(cluster):
    with served("inkwell_kept", local=cluster) as server:
        yield server


def signed_in(server):
    client = httpx.Client(base_url=server.url, timeout=120)
    token = {"X-CSRFToken": client.get("/api/session").json()["csrf"]}
    body = {"username": "gaffer", "password": server.password}
    answer = client.post("/api/session", json=body, headers=token)
    client.headers["X-CSRFToken"] = answer.json()["csrf"]
    return client


def first_setup(client):
    scene = client.get("/api/productions").json()[0]["scenes"][0]
    return client.get(f"/api/setups/{scene['setups'][0]['id']}").json()


def renamed(client, record, title):
    """Store a set-up under another title; its record as answered."""
    document = {**record["document"], "title": title}
    body = {
        "document": document,
        "base_version": record["version"],
        "gesture": "named anew",
        "key": f"named {title}",
    }
    answer = client.put(f"/api/setups/{record['id']}", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_killed_server_has_kept_what_it_acknowledged(kept):
    client = signed_in(kept)
    record = renamed(client, first_setup(client), "Before the lights went out")
    kept.process.send_signal(signal.SIGKILL)
    kept.process.wait()
    kept.start()
    # The same session, too: nobody signs in again because a process ended.
    found = client.get(f"/api/setups/{record['id']}").json()
    assert found["document"]["title"] == "Before the lights went out"
    assert found["version"] == record["version"]
    # And the same command sent again, as a browser does that heard no answer, does nothing twice.
    body = {
        "document": found["document"],
        "base_version": record["version"] - 1,
        "gesture": "named anew",
        "key": "named Before the lights went out",
    }
    again = client.put(f"/api/setups/{record['id']}", json=body)
    assert again.status_code == 200 and again.json()["version"] == record["version"]


def test_a_killed_engine_is_started_again(kept, cluster):
    client = signed_in(kept)
    record = first_setup(client)
    question = {"document": record["document"], "client": "somebody"}
    path = f"/api/setups/{record['id']}/schools"
    first = client.post(path, json=question)
    assert first.status_code == 200, first.text
    engines = engines_of(cluster)
    assert engines
    for engine in engines:
        engine.kill()
        engine.wait(20)
    # One answer may tell that the engine went; whoever asks again is answered, by the same light.
    until = time.monotonic() + 90
    while (second := client.post(path, json=question)).status_code == 503:
        assert second.headers["Retry-After"] and time.monotonic() < until
        time.sleep(0.5)
    assert second.status_code == 200 and second.json() == first.json()


def test_a_killed_database_has_kept_what_was_acknowledged(kept, cluster):
    client = signed_in(kept)
    record = first_setup(client)
    path, document = f"/api/setups/{record['id']}", record["document"]
    version, refused = record["version"], 0
    for step in range(20):
        if step in (6, 13):
            database_killed(cluster)
            gone = time.monotonic()
        body = {
            "document": {**document, "title": f"Step {step}"},
            "base_version": version,
            "gesture": "kept through it",
            "key": f"step {step}",
        }
        # A browser sends a command again until it is answered; its key tells that it is the same
        # one.
        while (answer := client.put(path, json=body)).status_code == 503:
            refused += 1
            assert answer.headers["Retry-After"] and time.monotonic() - gone < 60
            in_shell(cluster, "start_postgres")
        assert answer.status_code == 200, answer.text
        version += 1
        assert answer.json()["version"] == version
    assert refused >= 2
    found = client.get(path).json()
    assert (found["version"], found["document"]["title"]) == (version, "Step 19")
    gestures = [row["gesture"] for row in client.get(f"{path}/revisions").json()]
    assert gestures.count("kept through it") == 20


def runners(folder):
    """The processes that run trials for one local folder."""
    for process in psutil.process_iter(["cmdline"]):
        if "inkwell.trials" in (process.info["cmdline"] or []):
            with contextlib.suppress(psutil.Error):
                if process.environ().get("INKWELL_LOCAL") == str(folder):
                    yield process


def test_a_trial_goes_on_after_worker_server_runner_and_database_are_killed(kept, cluster):
    client = signed_in(kept)
    production = client.get("/api/productions").json()[0]["id"]
    heads = ["point-60", "point-150", "panel-small", "mat-2x2", "fresnel-100", "bulb"]
    rows = [{"name": h, "steps": [{"kind": "head", "key": h}]} for h in heads]
    near = [{"name": f"{d} m", "steps": [{"kind": "distance", "value": d}]} for d in (1.2, 1.6)]
    plan = {"stage": "face", "rows": {"choices": rows}, "columns": {"choices": near}}
    body = {"title": "Through it all", "plan": plan}
    made = client.post(f"/api/productions/{production}/trials", json=body)
    assert made.status_code == 201, made.text
    path = f"/api/trials/{made.json()['id']}"

    def worker():
        (runner,) = runners(cluster)
        workers = [p for p in runner.children(recursive=True) if "spawn_main" in str(p.cmdline())]
        workers[-1].kill()

    def server():
        kept.process.send_signal(signal.SIGKILL)
        kept.process.wait()
        kept.start()

    def runner():
        for process in runners(cluster):
            for one in [*process.children(recursive=True), process]:
                one.kill()

    # The database last: while it is away the workers go on, and all that is left may be done by
    # the time it is back.
    blows = [(1, worker), (3, server), (5, runner), (7, lambda: database_killed(cluster))]
    until = time.monotonic() + 400
    while True:
        assert time.monotonic() < until
        answer = client.get(path)
        if answer.status_code == 503:
            in_shell(cluster, "start_postgres")
            continue
        trial = answer.json()
        if trial["done"] == 12:
            break
        if blows and trial["done"] >= blows[0][0]:
            blows.pop(0)[1]()
        time.sleep(0.3)
    assert not blows
    assert {(c["row"], c["column"]) for c in trial["sheet"]} == {
        (r, c) for r in range(6) for c in range(2)
    }
    assert all(c["state"] == "done" and c["figures"]["level"] > 0 for c in trial["sheet"])
    # Each was given out once, but for those that were under way when the runner went.
    access = json.loads((cluster / "database.json").read_text()) | {"host": "127.0.0.1"}
    access.pop("name")
    with psycopg.connect(**access, dbname="inkwell_kept") as connection:
        begun = connection.execute("select sum(begun) from trials_cell").fetchone()[0]
    assert begun <= 12 + 2 * (os.cpu_count() or 1)


def script(server, *words):
    return subprocess.run(
        ["bash", *words],
        cwd=ROOT,
        env=server.environment,
        capture_output=True,
        text=True,
        stdin=subprocess.DEVNULL,
        timeout=300,
    )


@contextlib.contextmanager
def somebody_who_comes_back(cluster):
    """Someone who holds the database open and opens it again whenever put out, as the runner of
    trials does.
    """
    access = json.loads((cluster / "database.json").read_text()) | {"host": "127.0.0.1"}
    access |= {"dbname": "inkwell_kept"}
    del access["name"]
    gone, came = threading.Event(), []

    def come_back():
        while not gone.is_set():
            with contextlib.suppress(psycopg.Error), psycopg.connect(**access) as connection:
                came.append(True)
                while not gone.is_set():
                    connection.execute("select pg_sleep(0.05)")

    thread = threading.Thread(target=come_back)
    thread.start()
    try:
        yield
    finally:
        gone.set()
        thread.join(20)
    assert came


def test_a_backup_brings_everything_back(kept, cluster, tmp_path):
    client = signed_in(kept)
    record = renamed(client, first_setup(client), "As it was in the backup")
    file = tmp_path / "records.backup"
    done = script(kept, "script/backup", str(file))
    assert done.returncode == 0, done.stderr
    assert file.stat().st_mode & 0o077 == 0
    renamed(client, record, "After the backup")
    kept.stop()
    bad = tmp_path / "other.txt"
    bad.write_text("nothing of ours")
    refused = script(kept, "script/restore", str(bad))
    assert refused.returncode == 1 and "nothing was changed" in refused.stderr
    with somebody_who_comes_back(cluster):
        done = script(kept, "script/restore", str(file))
    assert done.returncode == 0, done.stderr
    kept.start()
    found = signed_in(kept).get(f"/api/setups/{record['id']}").json()
    assert found["document"]["title"] == "As it was in the backup"
    # What stood before is set aside, not lost.
    place = json.loads((cluster / "database.json").read_text())
    place["dbname"] = place.pop("name")
    access = {"host": "127.0.0.1", "autocommit": True, **place}
    with psycopg.connect(**access) as connection:
        rows = connection.execute(
            "select datname from pg_database where datname like 'inkwell_kept_before_%'"
        ).fetchall()
    # The newest: a run that was broken off may have left its own.
    aside = max(rows)[0]
    with psycopg.connect(**{**access, "dbname": aside}) as connection:
        title = connection.execute(
            "select title from setups_setup where id = %s", [record["id"]]
        ).fetchone()
    assert title == ("After the backup",)
    with psycopg.connect(
        **{**access, "user": "postgres", "password": (cluster / "superuser").read_text()}
    ) as owner:
        owner.execute(f'drop database "{aside}"')
