"""The public face: a stranger's questions, answered by scripts and from the command line."""

import io
import json
import runpy
import subprocess
import sys
from pathlib import Path

import pytest

import moth
from moth.__main__ import main

ROOT = Path(__file__).resolve().parents[2]
DEMO = ROOT / "inkwell/setups/demo/pilot-chart-store.json"


@pytest.fixture
def ran(capsys, monkeypatch):
    """The command line in this process: its exit code, what it printed, what it said besides."""

    def run(*args, given=""):
        monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(given.encode())))
        code = main(args)
        return code, *capsys.readouterr()

    return run


def test_every_public_name_is_there():
    for name in moth.__all__:
        assert callable(getattr(moth, name))
    with pytest.raises(AttributeError):
        moth.nothing  # noqa: B018


def test_the_light_is_asked_without_web_or_database():
    code = "import sys, moth; moth.read(moth.bare()); print('django' in sys.modules)"
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT, env={"HOME": "/"}
    )
    assert done.stdout.strip() == "False", done.stderr


def test_units_alone_load_no_ray_library():
    code = "import sys, moth.units; print('embreex' in sys.modules, 'numba' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT)
    assert done.stdout.split() == ["False", "False"], done.stderr


@pytest.mark.parametrize("name", ["book_light", "ratio", "frame"])
def test_the_examples_run(name, tmp_path, monkeypatch, capsys):
    out = tmp_path / "frame.png"
    monkeypatch.setattr(sys, "argv", [name, str(DEMO), str(out)])
    runpy.run_path(str(ROOT / "examples" / f"{name}.py"), run_name="__main__")
    said = capsys.readouterr().out
    assert {
        "book_light": "The book costs",
        "ratio": "asked 4:1, metered 4.00:1",
        "frame": "Key side",
    }[name] in said
    assert name != "frame" or out.stat().st_size > 10_000


def test_a_book_light_is_rigged_and_read_in_one_line(ran):
    code, rigged, said = ran("rig", str(DEMO), "key", "book")
    assert code == 0 and "Local codes" in said
    read = json.loads(ran("read", "-", given=rigged)[1])
    plain = json.loads(ran("read", str(DEMO))[1])
    level = lambda told: next(u["face_footcandles"] for u in told["units"] if u["id"] == "key")
    assert 0 < level(read) < level(plain)


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (("rig", str(DEMO), "nobody", "book"), "There is no unit 'nobody'"),
        (("rig", str(DEMO), "key", "cheese"), "invalid choice"),
        (("read", "/nowhere.json"), "cannot be read"),
    ],
)
def test_what_cannot_be_is_said(args, said, ran):
    code, _, told = ran(*args)
    assert code in (1, 2) and said in told


def test_a_process_of_its_own_ends_with_what_the_command_line_returns():
    done = subprocess.run(
        [sys.executable, "-m", "moth", "read", "/nowhere.json"],
        capture_output=True,
        text=True,
        cwd=ROOT,
    )
    assert done.returncode == 1 and "cannot be read" in done.stderr
    assert "Traceback" not in done.stderr
