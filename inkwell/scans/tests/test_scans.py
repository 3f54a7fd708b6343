"""Models from a file to a lit set-up."""

import io

import pytest
import trimesh
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from inkwell.productions.services import create_production
from inkwell.scans.models import Scan
from inkwell.setups.models import Setup
from inkwell.setups.services import create
from inkwell.setups.tests.test_frozen import freeze
from moth.document import load
from moth.place.scans import shelf
from moth.tests.scenes import data


@pytest.fixture(autouse=True)
def own_shelf(tmp_path, monkeypatch):
    monkeypatch.setenv("MOTH_SCANS", str(tmp_path))


def crate(side=0.5):
    return trimesh.creation.box((side, side, side)).export(file_type="glb")


def sent(hand, production, file, name="Crate", called="crate.glb", up="y"):
    return hand.post(
        f"/api/productions/{production.pk}/scans",
        {"name": name, "up": up, "file": SimpleUploadedFile(called, file)},
        headers={"X-CSRFToken": hand.token},
    )


def with_piece(digest):
    return load(
        data(
            furniture=[
                {
                    "id": "c",
                    "name": "Crate",
                    "kind": "scan",
                    "scan": digest,
                    "position": [1, 1, 0],
                    "size": [0.5, 0.5, 0.5],
                }
            ]
        )
    )


def test_a_model_is_brought_in_listed_and_looked_at_by_members(hands, hand, production):
    answer = sent(hand, production, crate())
    assert answer.status_code == 201, answer.content
    made = answer.json()
    assert made["size"] == pytest.approx([0.5, 0.5, 0.5]) and made["closed"]
    assert made["views"]["front"]["wide"] == pytest.approx(0.52)
    listed = hands["viewer"].get(f"/api/productions/{production.pk}/scans").json()
    assert [s["name"] for s in listed] == ["Crate"]
    view = f"/api/scans/{made['id']}/above.png"
    picture = Image.open(io.BytesIO(hands["viewer"].get(view).content))
    assert picture.size == (480, 480)
    assert hands["stranger"].get(view).status_code == 404
    assert hand.get(f"/api/scans/{made['id']}/below.png").status_code == 404
    assert sent(hands["viewer"], production, crate()).status_code == 403
    # The same file again is the same model.
    assert sent(hand, production, crate(), name="Again").json()["id"] == made["id"]


@pytest.mark.parametrize(
    "file, called, says",
    [
        (b"no model", "a.glb", "no model that can be read"),
        (crate()[:400], "a.glb", "no model that can be read"),
        (b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "a.obj", "no surface"),
    ],
)
def test_bad_files_are_refused_in_a_sentence(hand, production, file, called, says):
    answer = sent(hand, production, file, called=called)
    assert answer.status_code == 422 and says in answer.json()["detail"]
    assert not Scan.objects.exists()


def test_a_full_production_and_an_unknown_axis_are_refused(hand, production, people, monkeypatch):
    monkeypatch.setattr("inkwell.scans.services.KEPT", 0)
    assert "keeps 0 models" in sent(hand, production, crate()).json()["detail"]
    assert sent(hand, production, crate(), up="x").status_code == 422


def test_light_finds_a_model_that_this_machine_has_lost(hand, production, scene, people):
    digest = sent(hand, production, crate()).json()["digest"]
    setup = create(people["owner"], scene, with_piece(digest))
    # A server that was restored from a backup has an empty shelf.
    (shelf() / f"{digest}.npz").unlink()
    document = with_piece(digest).model_dump(mode="json")
    document["furniture"][0]["size"] = [0.6, 0.5, 0.5]
    look = hand.look(setup.pk, {"document": document, "client": "one"})
    assert look["readings"]["marks"]
    assert (shelf() / f"{digest}.npz").exists()


def test_a_model_nobody_has_is_told(hand, scene, setup):
    document = with_piece("0" * 32).model_dump(mode="json")
    answer = hand.call("POST", f"/api/setups/{setup.pk}/look", {"document": document, "client": ""})
    assert answer.status_code == 422
    assert "The model 'Crate' is not on this machine" in answer.json()["detail"]


def test_a_model_in_a_frame_put_aside_is_held(hand, production, setup):
    held = sent(hand, production, crate()).json()
    draft = with_piece(held["digest"]).model_dump(mode="json")
    frame = freeze(hand, setup, document=draft).json()
    answer = hand.call("DELETE", f"/api/scans/{held['id']}")
    assert answer.status_code == 409 and "holds it" in answer.json()["detail"]
    assert hand.call("DELETE", f"/api/frozen/{frame['id']}").status_code == 204
    assert hand.call("DELETE", f"/api/scans/{held['id']}").status_code == 204


def test_a_model_goes_for_good_unless_a_set_up_holds_it(hand, production, scene, people):
    held = sent(hand, production, crate()).json()
    free = sent(hand, production, crate(0.7), name="Other").json()
    setup = create(people["owner"], scene, with_piece(held["digest"]))
    emptied = with_piece(held["digest"]).model_dump(mode="json")
    emptied["furniture"] = []
    body = {"document": emptied, "version": setup.version, "gesture": "struck"}
    hand.call("PUT", f"/api/setups/{setup.pk}", body)
    elsewhere = create_production(people["stranger"], "Elsewhere").scenes.create(title="There")
    create(people["stranger"], elsewhere, with_piece(free["digest"]))
    answer = hand.call("DELETE", f"/api/scans/{free['id']}")
    assert answer.status_code == 409 and "of another production" in answer.json()["detail"]
    Setup.objects.filter(scene=elsewhere).delete()
    answer = hand.call("DELETE", f"/api/scans/{held['id']}")
    assert answer.status_code == 409 and "'Test set-up' holds it" in answer.json()["detail"]
    assert hand.call("DELETE", f"/api/scans/{free['id']}").status_code == 204
    assert [s.name for s in Scan.objects.all()] == ["Crate"]
    assert not (shelf() / f"{free['digest']}.npz").exists()
