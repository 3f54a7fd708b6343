"""Frames that were put aside: kept with the set-up, by whom and how many."""

import base64
import io

import pytest
from PIL import Image

from inkwell.setups.frozen import MOST, WIDEST
from inkwell.setups.models import Frozen
from moth.tests.scenes import data


def url(size=(64, 36), kind="PNG", colour=(200, 80, 40)):
    file = io.BytesIO()
    Image.new("RGB", size, colour).save(file, kind)
    return f"data:image/{kind.lower()};base64,{base64.b64encode(file.getvalue()).decode()}"


def freeze(hand, setup, name="Frame 1", **more):
    body = {"name": name, "picture": url(), "document": data(title="As it was"), **more}
    return hand.call("POST", f"/api/setups/{setup.pk}/frozen", body)


def test_a_frame_is_kept_with_its_picture_and_its_light(hand, hands, setup):
    made = freeze(hand, setup)
    assert made.status_code == 201, made.content
    frame = made.json()
    assert frame["author"] == "editor" and frame["document"]["title"] == "As it was"
    # Whoever is in the production finds it, and nobody else.
    (seen,) = hands["viewer"].get(f"/api/setups/{setup.pk}/frozen").json()
    assert (seen["id"], seen["name"]) == (frame["id"], "Frame 1")
    path = f"/api/frozen/{frame['id']}"
    picture = hands["viewer"].get(f"{path}/picture.jpg")
    with Image.open(io.BytesIO(picture.content)) as image:
        assert image.format == "JPEG" and image.getpixel((20, 20))[0] > 180
    assert hands["stranger"].get(f"{path}/picture.jpg").status_code == 404
    named = hand.call("PUT", path, {"name": "Before lunch"}).json()
    assert named["name"] == "Before lunch" and named["document"] == frame["document"]
    assert hand.call("DELETE", path).status_code == 204
    assert hand.get(f"/api/setups/{setup.pk}/frozen").json() == []
    # The set-up itself is as it was.
    assert hand.get(f"/api/setups/{setup.pk}").json()["version"] == 1


def test_none_is_dropped_to_make_room(hand, setup):
    Frozen.objects.bulk_create(
        Frozen(setup=setup, name=f"Frame {k}", picture=b"", document=data()) for k in range(MOST)
    )
    refused = freeze(hand, setup, "One more")
    assert refused.status_code == 422 and "let one go" in refused.json()["detail"]
    assert setup.frozen.count() == MOST and setup.frozen.first().name == "Frame 0"


def test_a_large_picture_is_made_smaller(hand, setup):
    pk = freeze(hand, setup, picture=url((3000, 1688), "JPEG")).json()["id"]
    with Image.open(io.BytesIO(bytes(Frozen.objects.get(pk=pk).picture))) as image:
        assert image.size == (WIDEST, round(WIDEST * 1688 / 3000))


@pytest.mark.parametrize(
    "picture",
    [
        "",
        "data:image/png;base64,####",
        "data:image/png;base64,aGVsbG8=",
        "data:text/html;base64,aGVsbG8=",
        "data:image/svg+xml;base64,PHN2Zy8+",
        "https://127.0.0.1/a.png",
        url()[:90],
        url((9000, 8)),
    ],
)
def test_what_is_no_picture_is_refused(hand, setup, picture):
    refused = freeze(hand, setup, picture=picture)
    assert refused.status_code == 422 and "no picture" in refused.json()["detail"]
    assert setup.frozen.count() == 0
