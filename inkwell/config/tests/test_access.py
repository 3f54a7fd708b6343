"""Every endpoint against every role: nobody outside a production learns anything of it."""

import base64
import io
import json
from pathlib import Path

import numpy as np
import pytest
import trimesh
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from inkwell.accounts.models import User
from inkwell.config.api import api
from inkwell.conftest import PASSWORD
from inkwell.days.models import Day
from inkwell.days.services import put_in_order
from inkwell.kit.models import Gear
from inkwell.scans import services as scans
from inkwell.setups import services
from inkwell.setups.frozen import freeze
from inkwell.stills.models import Still
from inkwell.trials.models import Cell, Trial
from moth.document import load
from moth.planning.day import ShootDay
from moth.stills.kept import keep
from moth.tests.scenes import data
from moth.trials import TrialPlan, stage

FORM = {"title": "New"}
"""Sent as a form with a picture beside it."""
MODEL = {"name": "Crate", "up": "z"}
"""Sent as a form with a model file beside it."""
PATCH = {"part": "units", "id": "key", "change": {"dimmer": 0.5}}
GEAR = {"kind": "head", "key": "point-300", "name": "Ours"}
READ_HEAD = {
    **{"name": "Ours", "head": "point-300", "distance": 2.0, "axis": 800},
    "off": [[20, 400], [40, 80]],
}
BOARD = {
    **{"id": "b", "name": "Board", "material": "foam-white", "position": [2.0, 4.0, 1.5]},
    **{"aim": [2.0, 2.0, 1.2], "size": [1, 1]},
}
SHOT = io.BytesIO()
Image.new("RGB", (64, 36), (90, 80, 70)).save(SHOT, "PNG")
FROZEN = {
    "name": "Frame 1",
    "picture": f"data:image/png;base64,{base64.b64encode(SHOT.getvalue()).decode()}",
    "document": data(),
}
TRIED = {"stage": "face", "rows": {"choices": [{"name": "as it is"}]}}
# (method, path) -> body, and the least role that may. Paths are those of the OpenAPI description.
ENDPOINTS = {
    ("GET", "/api/productions/{pk}"): (None, "viewer"),
    ("PATCH", "/api/productions/{pk}"): ({"title": "New"}, "editor"),
    ("DELETE", "/api/productions/{pk}"): (None, "owner"),
    ("PUT", "/api/productions/{pk}/members"): ({"username": "stranger", "role": "viewer"}, "owner"),
    ("DELETE", "/api/productions/{pk}/members/{username}"): (None, "owner"),
    ("POST", "/api/productions/{pk}/scenes"): ({"title": "New"}, "editor"),
    ("PATCH", "/api/scenes/{pk}"): ({"title": "New"}, "editor"),
    ("DELETE", "/api/scenes/{pk}"): (None, "editor"),
    ("POST", "/api/scenes/{pk}/setups"): ({"title": "New"}, "editor"),
    ("POST", "/api/scenes/{pk}/import"): (data(), "editor"),
    ("GET", "/api/setups/{pk}"): (None, "viewer"),
    ("PUT", "/api/setups/{pk}"): (
        {"document": data(title="Changed"), "base_version": 1, "gesture": "changed"},
        "editor",
    ),
    ("GET", "/api/setups/{pk}/frozen"): (None, "viewer"),
    ("POST", "/api/setups/{pk}/frozen"): (FROZEN, "editor"),
    ("PUT", "/api/frozen/{pk}"): ({"name": "Before lunch"}, "editor"),
    ("DELETE", "/api/frozen/{pk}"): (None, "editor"),
    ("GET", "/api/frozen/{pk}/picture.jpg"): (None, "viewer"),
    ("POST", "/api/setups/{pk}/undo"): ({"base_version": 1}, "editor"),
    ("POST", "/api/setups/{pk}/redo"): ({"base_version": 1}, "editor"),
    ("DELETE", "/api/setups/{pk}"): (None, "editor"),
    ("GET", "/api/setups/{pk}/revisions"): (None, "viewer"),
    ("POST", "/api/setups/{pk}/look"): ({"picture": False}, "viewer"),
    ("POST", "/api/setups/{pk}/inspect"): ({"unit": "key"}, "viewer"),
    ("POST", "/api/setups/{pk}/landing"): ({"unit": "key"}, "viewer"),
    ("POST", "/api/setups/{pk}/map"): ({"plane": "floor"}, "viewer"),
    ("POST", "/api/setups/{pk}/day"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/sun-aims"): (
        {"document": data(grip=[BOARD], sky={"sun": {}}), "grip": "b"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/point"): ({"x": 0.5, "y": 0.5}, "viewer"),
    ("POST", "/api/setups/{pk}/stop"): ({"client": "t"}, "viewer"),
    ("POST", "/api/setups/{pk}/rig"): (
        {"document": data(), "unit": "key", "move": "cloth"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/flag"): (
        {"document": data(), "unit": "key", "thing": "@backdrop"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/reach"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/holding"): (
        {"document": data(grip=[BOARD]), "grip": "b"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/stand"): (
        {"document": data(grip=[BOARD]), "grip": "b"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/board"): (
        {"document": data(), "target": 20, "side": "left", "at": 0},
        "editor",
    ),
    ("GET", "/api/setups/{pk}/card"): (None, "viewer"),
    ("GET", "/api/setups/{pk}/card.{kind}"): (None, "viewer"),
    ("POST", "/api/setups/{pk}/schools"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/ratio"): (
        {"document": data(), "unit": "fill", "target": 4},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/lens"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/level"): ({"document": data(), "unit": "fill"}, "editor"),
    ("POST", "/api/setups/{pk}/restored"): ({"document": data(), "before": data()}, "editor"),
    ("POST", "/api/setups/{pk}/judge"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/ask"): (
        {"document": data(), "wishes": [{"kind": "stop"}], "at": 0},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/moves"): ({}, "editor"),
    ("POST", "/api/setups/{pk}/mends"): ({"reading": "outline 0 hair left"}, "viewer"),
    ("POST", "/api/setups/{pk}/trial"): ({"changed": data()}, "editor"),
    ("POST", "/api/setups/{pk}/walk"): ({"distance": 0.5}, "viewer"),
    ("POST", "/api/setups/{pk}/compare"): ({"revision": 1}, "viewer"),
    ("POST", "/api/setups/{pk}/match"): ({"revision": 1}, "editor"),
    ("GET", "/api/setups/{pk}/units/{unit}/photometry.{kind}"): (None, "viewer"),
    ("GET", "/api/setups/{pk}/layers/{key}"): (None, "viewer"),
    ("GET", "/api/setups/{pk}/thumbnail.png"): (None, "viewer"),
    ("GET", "/api/setups/{pk}/export"): (None, "viewer"),
    ("GET", "/api/setups/{pk}/model"): (None, "viewer"),
    ("PUT", "/api/scenes/{pk}/place"): ({}, "editor"),
    ("POST", "/api/scenes/{pk}/duplicate"): (None, "editor"),
    ("POST", "/api/setups/{pk}/duplicate"): (None, "editor"),
    ("PUT", "/api/setups/{pk}/place"): ({"scene": "{scene}"}, "editor"),
    ("POST", "/api/setups/{pk}/bring-back"): ({"revision": 1, "base_version": 1}, "editor"),
    ("POST", "/api/setups/{pk}/branches"): (
        {"document": data(), "parent": 1, "gesture": "mine"},
        "editor",
    ),
    ("GET", "/api/setups/{pk}/revisions/{number}/picture.png"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/invitations"): ({"role": "viewer"}, "owner"),
    ("GET", "/api/productions/{pk}/trials"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/trials"): ({"title": "New", "plan": TRIED}, "editor"),
    ("POST", "/api/productions/{pk}/trials/effort"): (TRIED, "editor"),
    ("GET", "/api/trials/{pk}"): (None, "viewer"),
    ("PATCH", "/api/trials/{pk}"): ({"notes": "soft"}, "editor"),
    ("DELETE", "/api/trials/{pk}"): (None, "editor"),
    ("POST", "/api/trials/{pk}/stop"): (None, "editor"),
    ("POST", "/api/trials/{pk}/run"): (None, "editor"),
    ("GET", "/api/trials/{pk}/sheet.{kind}"): (None, "viewer"),
    ("GET", "/api/trials/{pk}/cells/{row}/{column}.png"): (None, "viewer"),
    ("GET", "/api/trials/{pk}/cells/{row}/{column}/wall"): (None, "viewer"),
    ("PUT", "/api/trials/{pk}/cells/{row}/{column}"): ({"favourite": True}, "editor"),
    ("GET", "/api/productions/{pk}/stills"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/stills"): (FORM, "editor"),
    ("GET", "/api/productions/{pk}/scans"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/scans"): (MODEL, "editor"),
    ("GET", "/api/scans/{pk}/{view}.png"): (None, "viewer"),
    ("DELETE", "/api/scans/{pk}"): (None, "editor"),
    ("GET", "/api/stills/{pk}"): (None, "viewer"),
    ("PUT", "/api/stills/{pk}"): (
        {"version": 1, "title": "New", "record": {}, "marks": {}},
        "editor",
    ),
    ("DELETE", "/api/stills/{pk}"): (None, "editor"),
    ("GET", "/api/stills/{pk}/picture.jpg"): (None, "viewer"),
    ("POST", "/api/stills/{pk}/read"): ({"record": {}, "marks": {}}, "viewer"),
    ("POST", "/api/stills/{pk}/build"): ({"scene": "{scene}", "title": "New"}, "editor"),
    ("POST", "/api/stills/{pk}/differences"): ({"setup": "{setup}"}, "viewer"),
    ("POST", "/api/stills/{pk}/mend"): (
        {"setup": "{setup}", "version": 1, "gesture": "as", "patches": [PATCH]},
        "editor",
    ),
    ("POST", "/api/trials/{pk}/rig"): ({"row": 0, "column": 0, "scene": "{scene}"}, "editor"),
    ("GET", "/api/setups/{pk}/plan.{kind}"): (None, "viewer"),
    ("POST", "/api/setups/{pk}/proposals"): (
        {"unit": "key", "wish": {}, "source": "catalogue"},
        "editor",
    ),
    ("POST", "/api/setups/{pk}/work"): ({}, "viewer"),
    ("POST", "/api/setups/{pk}/stand-ins"): ({"unit": "key"}, "viewer"),
    ("GET", "/api/productions/{pk}/kit"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/kit"): (GEAR, "editor"),
    ("POST", "/api/productions/{pk}/kit/table"): ({"text": "Kind,Name\nbag,B"}, "editor"),
    ("GET", "/api/productions/{pk}/kit.csv"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/kit/head"): (READ_HEAD, "editor"),
    ("PUT", "/api/kit/{pk}"): (GEAR, "editor"),
    ("DELETE", "/api/kit/{pk}"): (None, "editor"),
    ("GET", "/api/kit/{pk}/head"): (None, "viewer"),
    ("GET", "/api/productions/{pk}/days"): (None, "viewer"),
    ("POST", "/api/productions/{pk}/days"): ({"title": "New", "date": "2026-10-15"}, "editor"),
    ("GET", "/api/days/{pk}"): (None, "viewer"),
    ("PUT", "/api/days/{pk}"): ({"version": 1, "title": "New", "asked": {}}, "editor"),
    ("DELETE", "/api/days/{pk}"): (None, "editor"),
    ("POST", "/api/days/{pk}/order"): (None, "editor"),
    ("POST", "/api/days/{pk}/without"): ({"units": ["Fill"]}, "viewer"),
    ("GET", "/api/days/{pk}/sun/{setup}"): (None, "viewer"),
    ("GET", "/api/days/{pk}/sheet.{kind}"): (None, "viewer"),
}
# Need a signed-in person, or nobody at all, but no production.
PERSONAL = {
    ("GET", "/api/productions"),
    ("POST", "/api/productions"),
    ("GET", "/api/constants"),
    ("POST", "/api/materials/calibrate"),
    ("POST", "/api/camera/facts"),
    ("POST", "/api/session/password"),
    ("DELETE", "/api/session"),
}
OPEN = {
    ("GET", "/api/session"),
    ("POST", "/api/session"),
    # Whoever holds the link may follow it.
    ("GET", "/api/invitations/{token}"),
    ("POST", "/api/invitations/{token}"),
}
FILES = {"plan.": "svg", "card": "csv", "sheet": "csv"}
"""A kind of file by a part of its path."""
RANK = {"viewer": 0, "editor": 1, "owner": 2}


def test_no_endpoint_is_forgotten():
    described = {
        (m.upper(), path)
        for path, methods in api.get_openapi_schema()["paths"].items()
        for m in methods
    }
    assert described == set(ENDPOINTS) | PERSONAL | OPEN


def tried(setup):
    """A trial of the set-up's production, its one cell done."""
    trial = Trial.objects.create(
        production=setup.scene.production,
        title="Heads",
        plan=TrialPlan.model_validate(
            {"rows": TRIED["rows"], "setup": stage("face"), "unit": "key"}
        ).model_dump(mode="json"),
    )
    Cell.objects.create(trial=trial, row=0, column=0, key="k", state="done", png=b"p", exr=b"e")
    return trial


def picture():
    file = io.BytesIO()
    Image.new("RGB", (640, 360), (90, 80, 70)).save(file, "PNG")
    return file.getvalue()


def marked(setup):
    """A still of the set-up's production in which a key is marked: what it says is of no matter."""
    with open(Path(__file__).parent / "marked-still.json") as file:
        given = json.load(file)
    code = np.full((360, 640, 3), 0.4)
    return Still.objects.create(
        production=setup.scene.production,
        title="Marked",
        width=640,
        height=360,
        code=keep(code),
        shown=picture(),
        **given,
    )


def planned(setup):
    """A day of the set-up's production, in order; its set-up has a place under the sun."""
    document = {**setup.current.document, "site": {}}
    revise("owner", setup, document)
    asked = ShootDay(shots=[{"setup": setup.pk}])
    day = Day.objects.create(
        production=setup.scene.production, title="Day", asked=asked.model_dump(mode="json")
    )
    put_in_order(User.objects.get(username="owner"), day.pk)
    return day


def revise(name, setup, document):
    user = User.objects.get(username=name)
    services.revise(user, setup.pk, load(document), setup.version, "placed")


def modelled(setup):
    """A model of the set-up's production that no set-up holds."""
    file = trimesh.creation.box((1, 1, 1)).export(file_type="glb")
    owner = User.objects.get(username="owner")
    upload = SimpleUploadedFile("crate.glb", file)
    return scans.bring_in(owner, setup.scene.production, "Crate", "y", upload)


def frozen(setup):
    """A frame of the set-up that was put aside."""
    owner = User.objects.get(username="owner")
    made = freeze(owner, setup.pk, FROZEN["name"], FROZEN["picture"], load(FROZEN["document"]))
    return made["id"]


def geared(setup):
    return Gear.objects.create(production=setup.scene.production, **GEAR)


def address(path, setup):
    pk = (
        setup.scene.production_id
        if "/productions/" in path
        else planned(setup).pk
        if "/days/" in path
        else geared(setup).pk
        if "/kit/" in path
        else setup.scene_id
        if "/scenes/" in path
        else tried(setup).pk
        if "/trials/" in path
        else marked(setup).pk
        if "/stills/" in path
        else frozen(setup)
        if path.startswith("/api/frozen/")
        else modelled(setup).pk
        if "/scans/" in path
        else setup.pk
    )
    return (
        path.replace("{pk}", str(pk))
        .replace("{username}", "viewer")
        .replace("{view}", "front")
        .replace("{key}", "0" * 32)
        .replace("{number}", "1")
        .replace("{unit}", "key")
        .replace("{row}", "0")
        .replace("{column}", "0")
        .replace("{setup}", str(setup.pk))
        .replace("{kind}", next((k for part, k in FILES.items() if part in path), "ldt"))
    )


@pytest.mark.parametrize("who", ["nobody", "stranger", "viewer", "editor", "owner"])
@pytest.mark.parametrize("endpoint", ENDPOINTS, ids=lambda e: f"{e[0]} {e[1]}")
def test_endpoint_for_role(endpoint, who, setup, hands):
    body, least = ENDPOINTS[endpoint]
    if body and body.get("scene") == "{scene}":
        body = {**body, "scene": setup.scene_id}
    if body and body.get("setup") == "{setup}":
        body = {**body, "setup": setup.pk}
    if body is FORM or body is MODEL:
        model = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
        file = ("a.png", picture()) if body is FORM else ("a.obj", model)
        form = {**body, "file": SimpleUploadedFile(*file)}
        hand = hands[who]
        path = address(endpoint[1], setup)
        response = hand.post(path, form, headers={"X-CSRFToken": hand.token})
    else:
        response = hands[who].call(endpoint[0], address(endpoint[1], setup), body)
    if who == "nobody":
        assert response.status_code == 401
    elif who == "stranger":
        assert response.status_code == 404
        assert "Saltmarsh" not in response.content.decode()
    elif RANK[who] < RANK[least]:
        assert response.status_code == 403
    elif "{key}" in endpoint[1]:
        assert response.status_code == 404  # a member, but a layer nobody asked for
    elif endpoint[1].endswith(("undo", "redo", "day")):
        assert response.status_code == 422  # nothing to undo yet, and no place on the earth
    else:
        assert response.status_code in (200, 201, 204), response.content
    if response.status_code >= 400:
        assert response["Content-Type"] == "application/problem+json"
        assert response.json()["detail"]


@pytest.mark.parametrize("endpoint", sorted(PERSONAL), ids=lambda e: f"{e[0]} {e[1]}")
def test_personal_endpoints_need_a_person(endpoint, hands):
    assert (
        hands["nobody"].call(*endpoint, {"title": "x", "old": "x", "new": "x"}).status_code == 401
    )


def test_edits_need_the_token(setup, hands):
    hand = hands["owner"]
    hand.token = "wrong"
    assert hand.call("DELETE", f"/api/setups/{setup.pk}").status_code == 403
    assert (
        hand.call("POST", "/api/session", {"username": "owner", "password": PASSWORD}).status_code
        == 403
    )


def test_a_viewer_may_not_look_at_drafts(setup, hands):
    assert (
        hands["viewer"]
        .call("POST", f"/api/setups/{setup.pk}/look", {"document": data(), "picture": False})
        .status_code
        == 403
    )


def test_a_layer_of_one_set_up_is_not_served_through_another(setup, scene, people, hands):
    from inkwell.productions.services import create_production
    from inkwell.setups.services import create
    from moth.tests.scenes import setup as small

    look = hands["owner"].look(setup.pk, {})
    key = look["layers"]["key"]["coarse"]
    mine = hands["owner"].get(f"/api/setups/{setup.pk}/layers/{key}")
    assert (
        mine.status_code == 200
        and "immutable" in mine["Cache-Control"]
        and "private" in mine["Cache-Control"]
    )
    foreign = create(
        people["stranger"],
        create_production(people["stranger"], "Other").scenes.create(title="s"),
        small(title="o", units=[]),
    )
    assert hands["stranger"].get(f"/api/setups/{foreign.pk}/layers/{key}").status_code == 404


def test_sign_in_out_and_password(people, hands):
    hand = hands["nobody"]
    wrong = hand.call("POST", "/api/session", {"username": "editor", "password": "guess"})
    assert wrong.status_code == 401 and wrong.json()["path"] == "password"
    signed = hand.call("POST", "/api/session", {"username": "editor", "password": PASSWORD})
    assert signed.json()["username"] == "editor"
    hand.token = signed.json()["csrf"]
    assert (
        hand.call("POST", "/api/session/password", {"old": "no", "new": "long enough 77"}).json()[
            "path"
        ]
        == "old"
    )
    weak = hand.call("POST", "/api/session/password", {"old": PASSWORD, "new": "12345"})
    assert weak.status_code == 422 and weak.json()["path"] == "new"
    changed = hand.call("POST", "/api/session/password", {"old": PASSWORD, "new": "flood-gauge-9x"})
    assert changed.status_code == 200
    hand.token = changed.json()["csrf"]
    assert hand.call("DELETE", "/api/session").json()["username"] is None
    assert hand.get("/api/productions").status_code == 401


def test_a_production_keeps_an_owner(production, hands):
    path = f"/api/productions/{production.pk}/members"
    assert hands["owner"].call("DELETE", path + "/owner").status_code == 422
    assert (
        hands["owner"].call("PUT", path, {"username": "owner", "role": "viewer"}).status_code == 422
    )
    assert (
        hands["owner"].call("PUT", path, {"username": "ghost", "role": "viewer"}).json()["path"]
        == "username"
    )
    assert (
        hands["owner"].call("PUT", path, {"username": "editor", "role": "owner"}).status_code == 200
    )
    assert hands["owner"].call("DELETE", path + "/owner").status_code == 204


@pytest.mark.django_db
def test_the_admin_site_opens(people, client, setup):
    people["owner"].is_staff = people["owner"].is_superuser = True
    people["owner"].save()
    client.force_login(people["owner"])
    for page in (
        "",
        "accounts/user/",
        "productions/production/",
        "productions/scene/",
        "setups/setup/",
        "setups/revision/",
        "engine/",
        f"setups/setup/{setup.pk}/change/",
        f"productions/production/{setup.scene.production_id}/change/",
    ):
        assert client.get(f"/admin/{page}").status_code == 200, page


def test_the_deployment_check_is_clean_but_for_tls(tmp_path):
    import os
    import subprocess
    import sys

    deployed = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}
    run = lambda **env: subprocess.run(
        [sys.executable, "manage.py", "check", "--deploy"],
        capture_output=True,
        text=True,
        env={**deployed, **env},
    )
    assert "no issues" in run(INKWELL_TLS="1").stdout
    without = run().stderr
    # W004 HSTS, W008 redirect, W012 and W016 secure cookies: TLS in front settles them.
    assert {line.split("(")[1][:13] for line in without.splitlines() if line.startswith("?:")} == {
        f"security.W0{n}" for n in ("04", "08", "12", "16")
    }
