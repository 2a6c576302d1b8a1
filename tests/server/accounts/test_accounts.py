from datetime import timedelta

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from server.accounts import services
from server.accounts.models import EntryLink


def test_a_link_signs_in_once(client: object, artist: User) -> None:
    token = services.make_link(artist)
    browser = Client()
    assert browser.get(f"/enter/{token}").headers["Location"] == "/"
    assert browser.get("/api/session").json() == {"name": "ines"}
    again = Client()
    assert again.get(f"/enter/{token}").headers["Location"] == "/sign-in?link=spent"
    assert again.get("/api/session").json() == {"name": None}


def test_a_wrong_or_old_link_signs_nobody_in(artist: User) -> None:
    token = services.make_link(artist)
    EntryLink.objects.update(expires=timezone.now() - timedelta(seconds=1))
    for wrong in (token, "guess", "x" * 200):
        browser = Client()
        browser.get(f"/enter/{wrong}")
        assert browser.get("/api/session").json() == {"name": None}


def test_a_retired_artist_gets_no_entry(artist: User) -> None:
    token = services.make_link(artist)
    artist.is_active = False
    artist.save()
    assert services.use_link(token) is None


def test_the_token_itself_is_not_stored(artist: User) -> None:
    token = services.make_link(artist)
    assert not EntryLink.objects.filter(digest=token).exists()
    assert EntryLink.objects.count() == 1


def test_old_links_are_swept_away(artist: User) -> None:
    services.make_link(artist)
    EntryLink.objects.update(expires=timezone.now() - timedelta(days=1))
    services.make_link(artist)
    assert EntryLink.objects.count() == 1


def test_the_start_command_prints_a_link(db: None, capsys: pytest.CaptureFixture[str]) -> None:
    call_command("entrylink", "nova", "--address", "http://127.0.0.1:9999")
    link = capsys.readouterr().out.strip()
    assert link.startswith("http://127.0.0.1:9999/enter/")
    assert services.use_link(link.rpartition("/")[2]) == User.objects.get(username="nova")


def test_a_password_can_be_set_and_used(artist: User) -> None:
    browser = Client()
    browser.force_login(artist)
    assert (
        browser.put("/api/session/password", {"password": "salt-wind-77"}, content_type="application/json").status_code
        == 204
    )
    assert browser.get("/api/session").json() == {"name": "ines"}  # still signed in here
    new = Client()
    wrong = new.post("/api/session", {"name": "ines", "password": "nope"}, content_type="application/json")
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["code"] == "wrong_sign_in"
    right = new.post("/api/session", {"name": "ines", "password": "salt-wind-77"}, content_type="application/json")
    assert right.json() == {"name": "ines"}
    assert new.delete("/api/session").status_code == 204
    assert new.get("/api/session").json() == {"name": None}


@pytest.mark.parametrize("weak", ["short", "password", "ines", "12345678"])
def test_a_weak_password_is_refused(weak: str, artist: User) -> None:
    browser = Client()
    browser.force_login(artist)
    answer = browser.put("/api/session/password", {"password": weak}, content_type="application/json")
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["code"] == "weak_password"


def test_passwords_are_kept_with_argon2(artist: User) -> None:
    services.set_password(artist, "salt-wind-77")
    assert artist.password.startswith("argon2")


def test_guessing_is_slowed_down(artist: User) -> None:
    browser = Client()
    answers = [
        browser.post("/api/session", {"name": "ines", "password": f"guess {i}"}, content_type="application/json")
        for i in range(12)
    ]
    assert [a.status_code for a in answers[:10]] == [422] * 10
    assert answers[-1].status_code == 429
    assert answers[-1].json()["errors"][0]["code"] == "too_many_tries"


def test_requests_from_elsewhere_are_refused(artist: User) -> None:
    browser = Client(enforce_csrf_checks=True)
    browser.force_login(artist)
    answer = browser.post("/api/pieces", {"title": "x"}, content_type="application/json")
    assert answer.status_code == 403
    assert answer.json()["errors"][0]["code"]
