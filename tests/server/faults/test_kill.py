"""What must survive a killed server, and the demo loaded twice."""

from pathlib import Path

from django.contrib.auth.models import User
from django.core.management import call_command
from rest_framework.test import APIClient

from server.pieces.models import Piece
from tools.site import Visitor, manage, running, seen, to_send


def test_what_was_saved_survives_kill_9_and_goes_through_backup_and_restore(data: Path, tmp_path: Path) -> None:
    with running(data) as server:
        visitor = Visitor.signed_in(server)
        piece = visitor.ask(f"/api/pieces/{visitor.ask('/api/pieces').json[0]['id']}").json
        piece["document"]["spots"][0]["name"] = "just before the lights went out"
        saved = visitor.ask(f"/api/pieces/{piece['id']}", to_send(piece), "PUT").json
        # A server that is killed while a picture comes in leaves half a file.
        half = next((data / "pictures").iterdir()) / ".part-killed"
        half.write_bytes(b"half a picture")
    assert half.exists()

    archive, restored = tmp_path / "backup.zip", tmp_path / "restored"
    assert manage(data, "backup", archive).returncode == 0
    assert manage(restored, "restore", archive).returncode == 0
    for folder in (data, restored):
        with running(folder) as server:
            assert not half.exists()  # swept when the server started again
            visitor = Visitor.signed_in(server)
            assert visitor.ask(f"/api/pieces/{piece['id']}").json == saved
            picture = visitor.ask(f"/api/pictures/{saved['document']['picture']}").body
            assert picture.startswith(b"\xff\xd8")


def test_the_demo_is_loaded_once_and_two_pieces_are_planned_in_layers(db: None) -> None:
    for _ in range(2):
        call_command("loaddemo", "demo")
    assert Piece.objects.count() == 3
    client = APIClient()
    client.force_authenticate(User.objects.get(username="demo"))
    trays = client.get("/api/trays").json()
    assert len(trays) == 6
    (tray,) = (row["id"] for row in trays if row["name"] == "Long Pier 72")
    sticks = client.get(f"/api/trays/{tray}").json()["sticks"]
    darkest = min(stick["swatch"]["value"] for stick in sticks if "black" not in stick["name"])
    without_caution = []
    for row in client.get("/api/pieces").json():
        piece = client.get(f"/api/pieces/{row['id']}").json()
        assert piece["troubles"] == []
        planned = len(piece["document"]["layers"]) > 0
        assert planned == row["title"].startswith(("Night watch", "Below deck"))
        by_figure = {figure["id"]: 0 for figure in piece["document"]["figures"]}
        for spot in seen(piece):
            by_figure[spot["figure"]] += 1
            if not planned:
                continue
            outcome = spot["outcome"]
            assert outcome["trouble"] == ""
            if piece["document"]["imagined"]:
                continue  # between a red and a blue lamp much lies beyond pencils, and is said to
            said = {caution["code"] for caution in outcome["cautions"]}
            without_caution.append(not said)
            # Good recipes deserve none. The darkest shade lies beyond what pencils reach, a deep lip by lamp beyond
            # their chroma; the blue of a shadow under the sky takes violets that fade, and greys.
            # Out of the lights black stays.
            lit = spot["role"] in ("light", "highlight")
            dark = outcome["target"]["value"] < (darkest if lit else piece["found"]["reach"]["darkest"])
            if not dark:
                assert "too_dark_for_tray" not in said
            if spot["role"] == "light":
                # A layer lies over an area: at some of its places the next one covers it.
                assert said - {"too_dark_for_tray"} <= {"too_strong_for_tray", "lost_under_colour"}
        assert len(by_figure) == 2
        assert min(by_figure.values()) >= 12
    assert sum(without_caution) >= 0.8 * len(without_caution)
