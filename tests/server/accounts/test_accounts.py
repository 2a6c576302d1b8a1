"""Signing in and out: by link, by password, everywhere."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from core.errors import InputError
from server.accounts import services
from server.accounts.models import EntryLink

JSON: dict[str, Any] = {"content_type": "application/json"}


def spend(browser: Client, token: str) -> Any:
    return browser.post("/api/session/link", {"token": token}, **JSON)


def sign_in(browser: Client, name: str, password: str, **headers: str) -> Any:
    return browser.post("/api/session", {"name": name, "password": password}, headers=headers, **JSON)


def test_a_link_signs_in_once(artist: User) -> None:
    token = services.make_link(artist)
    browser, again = Client(), Client()
    assert spend(browser, token).json() == {"name": "ines"}
    assert browser.get("/api/session").json() == {"name": "ines"}
    refused = spend(again, token)
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["code"] == "link_spent"
    assert again.get("/api/session").json() == {"name": None}


def test_looking_at_the_page_of_a_link_spends_nothing(artist: User) -> None:
    token = services.make_link(artist)
    for look in ("get", "head", "get", "options"):
        answer = getattr(Client(), look)(f"/enter/{token}")
        assert answer.status_code == 200
        assert answer.headers["Cache-Control"] == "no-store"
        assert answer.headers["Referrer-Policy"] == "same-origin"  # no other site is told the address
    assert spend(Client(), token).status_code == 200


def test_a_wrong_or_old_link_signs_nobody_in(artist: User) -> None:
    token = services.make_link(artist)
    EntryLink.objects.update(expires=timezone.now() - timedelta(seconds=1))
    for wrong in (token, "guess", "x" * 200):
        browser = Client()
        assert spend(browser, wrong).status_code == 422
        assert browser.get("/api/session").json() == {"name": None}


def test_a_retired_artist_gets_no_entry(artist: User) -> None:
    token = services.make_link(artist)
    artist.is_active = False
    artist.save()
    with pytest.raises(InputError, match="used already"):
        services.use_link(token)


def test_the_token_itself_is_not_stored(artist: User) -> None:
    token = services.make_link(artist)
    assert not EntryLink.objects.filter(digest=token).exists()
    assert EntryLink.objects.count() == 1


def test_the_start_command_prints_a_link_with_the_public_address(
    db: None, settings: Any, capsys: pytest.CaptureFixture[str]
) -> None:
    settings.ADDRESS = "https://caltin.example.org"
    call_command("entrylink", "nova")
    link = capsys.readouterr().out.strip()
    assert link.startswith("https://caltin.example.org/enter/")
    assert services.use_link(link.rpartition("/")[2]) == User.objects.get(username="nova")


@pytest.fixture
def known(artist: User) -> Callable[[], Client]:
    """Makes browsers in which ines is signed in with her password."""
    artist.set_password("salt-wind-77")
    artist.save()

    def make() -> Client:
        browser = Client(headers={"User-Agent": "Mozilla/5.0 (X11; Linux x86_64)"})
        assert sign_in(browser, "ines", "salt-wind-77").json() == {"name": "ines"}
        return browser

    return make


def test_a_password_can_be_set_and_used(artist: User) -> None:
    browser = Client()
    browser.force_login(artist)
    assert browser.put("/api/session/password", {"password": "salt-wind-77"}, **JSON).status_code == 204
    assert browser.get("/api/session").json() == {"name": "ines"}  # still signed in here
    new = Client()
    wrong = sign_in(new, "ines", "nope")
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["code"] == "wrong_sign_in"
    assert sign_in(new, "ines", "salt-wind-77").json() == {"name": "ines"}
    assert new.delete("/api/session").status_code == 204
    assert new.get("/api/session").json() == {"name": None}


def test_a_new_password_signs_out_everywhere_else(known: Callable[[], Client]) -> None:
    here, there = known(), known()
    assert here.put("/api/session/password", {"password": "tar-and-oakum-8"}, **JSON).status_code == 204
    assert here.get("/api/session").json() == {"name": "ines"}
    assert there.get("/api/session").json() == {"name": None}
    assert len(here.get("/api/sessions").json()) == 1


@pytest.mark.parametrize("weak", ["short", "password", "ines", "12345678"])
def test_a_weak_password_is_refused(weak: str, artist: User) -> None:
    browser = Client()
    browser.force_login(artist)
    answer = browser.put("/api/session/password", {"password": weak}, **JSON)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["code"] == "weak_password"


def test_passwords_are_kept_with_argon2(known: Callable[[], Client], artist: User) -> None:
    artist.refresh_from_db()
    assert artist.password.startswith("argon2")


def test_guessing_is_slowed_down_whatever_the_guesser_says_of_itself(artist: User) -> None:
    answers = [
        sign_in(Client(REMOTE_ADDR=f"10.0.0.{i}"), "ines", f"guess {i}", **{"X-Forwarded-For": f"192.0.2.{i}"})
        for i in range(30)
    ]
    assert [a.status_code for a in answers] == [422] * 10 + [429] * 20
    assert answers[-1].json()["errors"][0]["code"] == "too_many_tries"


@pytest.fixture
def quick_hashes(settings: Any) -> None:
    """Guesses that cost nothing, where they are only counted."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


def test_guessing_many_names_from_one_place_is_slowed_down(quick_hashes: None, db: None) -> None:
    answers = [sign_in(Client(), f"artist {i}", "x", **{"X-Forwarded-For": f"192.0.2.{i}"}) for i in range(32)]
    assert [a.status_code for a in answers] == [422] * 30 + [429] * 2


def test_behind_a_proxy_of_ones_own_places_are_told_by_what_it_saw(quick_hashes: None, settings: Any, db: None) -> None:
    settings.REST_FRAMEWORK = settings.REST_FRAMEWORK | {"NUM_PROXIES": 1}
    for place in ("198.51.100.1", "198.51.100.2"):
        said = {"X-Forwarded-For": f"192.0.2.9, {place}"}  # the first is made up, the last is the proxy's
        codes = [sign_in(Client(), f"artist {i}", "x", **said).status_code for i in range(31)]
        assert codes == [422] * 30 + [429]


def test_requests_from_elsewhere_are_refused(artist: User) -> None:
    browser = Client(enforce_csrf_checks=True)
    assert sign_in(browser, "ines", "x").json()["errors"][0]["code"] == "forbidden"
    assert spend(browser, services.make_link(artist)).json()["errors"][0]["code"] == "forbidden"
    browser.force_login(artist)
    answer = browser.post("/api/pieces", {"title": "x"}, **JSON)
    assert answer.status_code == 403
    assert answer.json()["errors"][0]["code"]


def test_the_button_of_a_link_works_over_https_from_caltins_own_page_alone(artist: User) -> None:
    browser, token = Client(enforce_csrf_checks=True), services.make_link(artist)
    browser.get(f"/enter/{token}", secure=True)
    sent = {"X-CSRFToken": browser.cookies["csrftoken"].value}
    for origin, status in (("null", 403), ("https://elsewhere.example", 403), ("https://testserver", 200)):
        headers = sent | {"Origin": origin}
        answer = browser.post("/api/session/link", {"token": token}, headers=headers, secure=True, **JSON)
        assert answer.status_code == status, origin


def test_ones_own_sessions_are_listed_and_ended(known: Callable[[], Client], stranger: User) -> None:
    here, there, other = known(), known(), Client()
    other.force_login(stranger)
    rows = here.get("/api/sessions").json()
    assert [row["here"] for row in rows].count(True) == 1
    assert {row["device"] for row in rows} == {"Linux"}
    assert len(rows) == 2
    assert not {row["id"] for row in rows} & set(Session.objects.values_list("session_key", flat=True))
    gone = next(row["id"] for row in rows if not row["here"])
    assert other.delete(f"/api/sessions/{gone}").status_code == 404
    assert here.delete(f"/api/sessions/{gone}").status_code == 204
    assert there.get("/api/session").json() == {"name": None}
    assert here.get("/api/session").json() == {"name": "ines"}
    assert here.delete(f"/api/sessions/{gone}").status_code == 404


def test_what_is_too_old_is_swept_away(artist: User, known: Callable[[], Client]) -> None:
    services.make_link(artist)
    old = services.make_link(artist)
    known()
    known()
    EntryLink.objects.filter(digest=services.digest_of(old)).update(expires=timezone.now() - timedelta(days=1))
    Session.objects.filter(pk=Session.objects.first().pk).update(expire_date=timezone.now() - timedelta(days=1))
    assert services.sweep() == 2
    assert EntryLink.objects.count() == Session.objects.count() == 1


def test_no_cache_keeps_what_is_private(known: Callable[[], Client]) -> None:
    browser = known()
    for address in ("/api/session", "/api/pieces", "/api/sessions", "/api/account/space"):
        answer = browser.get(address)
        assert answer.headers["Cache-Control"] == "no-store"
        assert "geolocation=()" in answer.headers["Permissions-Policy"]
