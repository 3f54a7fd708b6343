"""Rough handling: whatever arrives, the answer is a sentence and the records stay whole."""

import copy

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from inkwell.setups.models import Revision, Setup
from moth.tests.scenes import data

NASTY = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**30), 10**30),
    st.floats(),
    st.text(max_size=20),
    st.just([]),
    st.just({}),
    st.just([1, 2, 3]),
    st.just([[[[]]]]),
    st.just("9" * 5000),
    st.just({"$ref": "#"}),
)


def places(value, path=()):
    """Every place in a document."""
    found = [path] if path else []
    items = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    for key, inner in items:
        found += places(inner, (*path, key))
    return found


PLACES = places(data())


def spoiled(place, value):
    document = copy.deepcopy(data())
    at = document
    for key in place[:-1]:
        at = at[key]
    at[place[-1]] = value
    return document


@settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.sampled_from(PLACES), NASTY)
def test_no_spoiled_document_breaks_the_server(hands, setup, place, value):
    try:
        answer = hands["editor"].call(
            "POST",
            f"/api/setups/{setup.pk}/look",
            {"document": spoiled(place, value), "picture": False},
        )
    except UnicodeEncodeError:
        return  # a lone surrogate cannot be sent at all
    assert answer.status_code in (200, 422, 400), (place, value, answer.content)
    if answer.status_code != 200:
        assert answer["Content-Type"] == "application/problem+json" and answer.json()["detail"]
    assert Revision.objects.filter(setup=setup).count() == 1


@pytest.mark.parametrize("name", ["", " ", "x" * 81, None, 5, ["a"]])
def test_names_that_are_none_are_refused(name, hands, scene):
    for path in (f"/api/productions/{scene.production_id}", f"/api/scenes/{scene.pk}"):
        assert hands["owner"].call("PATCH", path, {"title": name}).status_code == 422
    assert hands["owner"].call("POST", "/api/productions", {"title": name}).status_code == 422


@pytest.mark.parametrize(
    "title", ["Ünïcödé ☼ night", "<script>alert(1)</script>", "a" * 80, "'; drop table x; --"]
)
def test_any_name_survives(title, hands, scene):
    made = hands["editor"].call("POST", f"/api/scenes/{scene.pk}/setups", {"title": title}).json()
    assert made["document"]["title"] == title
    out = hands["editor"].get(f"/api/setups/{made['id']}/export")
    assert (
        out.status_code == 200
        and "\n" not in out["Content-Disposition"]
        and out["Content-Disposition"].isascii()
    )


def test_what_is_deleted_is_gone_with_all_its_parts(hands, setup, scene):
    hands["editor"].call(
        "PUT",
        f"/api/setups/{setup.pk}",
        {"document": data(title="b"), "base_version": 1, "gesture": "b"},
    )
    assert hands["editor"].call("DELETE", f"/api/scenes/{scene.pk}").status_code == 204
    assert not Setup.objects.exists() and not Revision.objects.exists()


def test_methods_that_do_not_exist_are_refused(hands, setup):
    for method in ("PATCH", "POST", "TRACE", "OPTIONS"):
        assert 400 <= hands["owner"].call(method, f"/api/setups/{setup.pk}").status_code < 500


def test_pages_say_what_they_may_load(client, db):
    answer = client.get("/api/session")
    assert "default-src 'self'" in answer["Content-Security-Policy"]
    assert answer["X-Frame-Options"] == "DENY" and answer["X-Content-Type-Options"] == "nosniff"
    page = client.get("/setups/1")
    assert (
        page.status_code == 200
        and b'<div id="root">' in page.content
        and page["Cache-Control"] == "no-cache"
    )


def test_two_writes_at_once_are_one_after_the_other(hands, setup):
    """The same base twice: the first is stored, the second is told."""
    bodies = [
        {"document": data(title=t), "base_version": 1, "gesture": t} for t in ("first", "second")
    ]
    answers = [
        hands["editor"].call("PUT", f"/api/setups/{setup.pk}", b).status_code for b in bodies
    ]
    assert answers == [200, 409]
    assert Setup.objects.get(pk=setup.pk).title == "first"
