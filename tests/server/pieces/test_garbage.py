"""A picture lives as long as something names it; then it goes, with everything made of it, and nothing else does."""

from __future__ import annotations

import threading
import time
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.db import IntegrityError, connection, transaction
from django.utils import timezone
from rest_framework.test import APIClient

from server.api.folder import finish_part, sweep_parts
from server.pictures import services as pictures
from server.pictures.models import Picture
from server.pieces import garbage
from server.pieces.models import Piece, Revision
from tests.conftest import picture_bytes
from tests.server.conftest import Json, save, upload, written

LATER = pictures.GRACE + timedelta(hours=1)


def files(settings: Any) -> set[str]:
    """Names of pictures and shown copies."""
    folders = (Path(settings.PICTURES_DIR), Path(settings.VIEWS_DIR))
    return {str(file.relative_to(folder)) for folder in folders for file in folder.rglob("*") if file.is_file()}


def remove_for_good(client: APIClient, piece: Json) -> None:
    for kind in ("pieces", "removed"):
        assert client.delete(f"/api/{kind}/{piece['id']}").status_code == 204


def days_pass() -> None:
    """What was noted so far was noted longer ago than the time of grace."""
    Picture.objects.exclude(unnamed_since=None).update(unnamed_since=timezone.now() - LATER)


def test_a_deleted_piece_frees_its_space_at_once_and_its_picture_after_the_time_of_grace(
    client: APIClient, piece: Json, picture_id: str, settings: Any
) -> None:
    assert client.get(f"/api/pictures/{picture_id}").status_code == 200
    assert len(files(settings)) == 2  # as it was put in, and as it is shown
    Picture.objects.update(made=timezone.now() - LATER)
    used = client.get("/api/account/space").json()
    assert used["pictures"] == 1
    assert used["used"] == Picture.objects.get().size_bytes > 0
    remove_for_good(client, piece)
    assert client.get("/api/account/space").json()["used"] == 0
    garbage.sweep()
    assert len(files(settings)) == 2
    days_pass()
    garbage.sweep()
    assert files(settings) == set()
    assert client.get(f"/api/pictures/{picture_id}").status_code == 404


def test_where_space_is_short_what_nothing_names_goes_at_once(
    client: APIClient, piece: Json, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(pictures, "MAX_TOTAL_BYTES", Picture.objects.get().size_bytes + 20)
    assert client.get(f"/api/pictures/{piece['picture']['id']}").status_code == 200
    Picture.objects.update(made=timezone.now() - LATER)
    another = picture_bytes((1, 2, 3))
    refused = upload(client, another)
    assert refused.json()["errors"][0]["code"] == "no_space"
    assert len(files(settings)) == 2
    client.delete(f"/api/pieces/{piece['id']}")
    assert upload(client, another).status_code == 422  # what can be put back is kept whole
    client.delete(f"/api/removed/{piece['id']}")
    kept = upload(client, another)
    assert kept.status_code == 201
    assert [str(row.pk) for row in Picture.objects.all()] == [kept.json()["id"]]
    assert len(files(settings)) == 1


def test_a_picture_that_only_the_history_names_stays(client: APIClient, piece: Json, settings: Any) -> None:
    without = save(client, piece, piece["document"] | {"picture": None}).json()
    garbage.sweep()
    days_pass()
    garbage.sweep()
    assert len(files(settings)) == 1
    back = written(client, without, "undo").json()
    assert back["picture"]["id"] == piece["picture"]["id"]


def test_a_picture_is_kept_while_another_artist_names_it(
    client: APIClient, other: APIClient, piece: Json, settings: Any
) -> None:
    same = upload(other, picture_bytes((190, 140, 110))).json()
    theirs = other.post("/api/pieces", {"title": "b"}, format="json").json()
    assert save(other, theirs, theirs["document"] | {"picture": same["id"]}).status_code == 200
    remove_for_good(client, piece)
    days_pass()
    garbage.sweep()
    assert other.get(f"/api/pictures/{same['id']}").status_code == 200
    assert Picture.objects.count() == 1


def test_a_picture_put_in_again_has_its_time_of_grace_anew(client: APIClient, picture_id: str, settings: Any) -> None:
    days_pass()
    assert upload(client, picture_bytes((190, 140, 110))).json()["id"] == picture_id
    garbage.sweep()
    assert len(files(settings)) == 1


def test_orphans_and_half_written_files_go_and_what_is_being_written_stays(
    client: APIClient, picture_id: str, settings: Any
) -> None:
    (kept,) = files(settings)
    folder = Path(settings.PICTURES_DIR) / "aa"
    folder.mkdir(exist_ok=True)
    (folder / ("0" * 62)).write_bytes(b"a picture whose row was never written")
    (folder / ".part-now").write_bytes(b"being uploaded")
    Path(settings.VIEWS_DIR).mkdir(exist_ok=True)
    (Path(settings.VIEWS_DIR) / f"{'0' * 64}-1800.jpg").write_bytes(b"shown once")
    call_command("tidy")
    assert files(settings) == {kept, "aa/.part-now"}
    assert sweep_parts() == 1
    assert files(settings) == {kept}


def test_the_database_itself_keeps_a_named_picture(piece: Json) -> None:
    with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("DELETE FROM pieces_picture")
        connection.check_constraints()


def test_deleting_an_account_leaves_nothing_of_it(
    client: APIClient, other: APIClient, artist: User, piece: Json, settings: Any
) -> None:
    upload(other, picture_bytes((1, 2, 3)))
    assert client.delete(f"/api/pieces/{piece['id']}").status_code == 204  # what was removed goes with all else
    wrong = client.post("/api/account/farewell", {"name": "Ines"}, format="json")
    assert wrong.json()["errors"][0]["code"] == "not_the_name"
    assert len(files(settings)) == 2
    assert client.post("/api/account/farewell", {"name": "ines"}, format="json").status_code == 204
    assert not Piece.every.exists()
    assert not Revision.objects.exists()
    assert len(files(settings)) == 1
    assert Picture.objects.get().owner.username == "bo"


@pytest.mark.django_db(transaction=True)
def test_a_sweep_and_uploads_at_the_same_moment_leave_no_picture_without_its_file(
    settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The same few pictures put in and swept away again and again, on a slow disk: what has a row has a file."""

    def slowly(part: Any, path: Path) -> None:
        finish_part(part, path)
        time.sleep(0.004)

    monkeypatch.setattr(pictures, "finish_part", slowly)
    artists = [User.objects.create(username=f"artist {i}") for i in range(2)]
    data = [picture_bytes((i, 2 * i, 3 * i)) for i in range(3)]
    failures: list[BaseException] = []
    stop = threading.Event()
    missing: set[str] = set()

    def work(job: Any) -> None:
        try:
            job()
        except BaseException as error:
            failures.append(error)
        finally:
            connection.close()

    def put_in(user: User) -> None:
        for i in range(40):
            picture = pictures.store_picture(user, data[i % 3])
            with transaction.atomic():  # nobody sweeps here
                if Picture.objects.filter(pk=picture.pk).exists() and not pictures.file_of(picture.digest).exists():
                    missing.add(picture.digest)

    def sweep() -> None:
        while not stop.is_set():
            Picture.objects.update(unnamed_since=timezone.now() - timedelta(seconds=0.02))
            pictures.sweep_pictures(timedelta(seconds=0.01))

    sweeper = threading.Thread(target=work, args=(sweep,))
    uploads = [threading.Thread(target=work, args=(lambda user=user: put_in(user),)) for user in artists]
    sweeper.start()
    for thread in uploads:
        thread.start()
    for thread in uploads:
        thread.join()
    stop.set()
    sweeper.join()
    assert failures == []
    assert missing == set()
    pictures.sweep_pictures(timedelta(0))
    assert files(settings) == set()
