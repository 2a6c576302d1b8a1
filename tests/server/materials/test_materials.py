import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from rest_framework.test import APIClient

from server.materials import services
from server.materials.models import Stick, Tray
from tests.server.conftest import Json, only_tray, save, settled

CSV = "code,name,medium,hex,opacity\nA1,oak,pencil,#7a5a3c,semi\nA2,ash,pencil,#c0b0a0,opaque\n"


def test_there_is_everything_to_choose_from(client: APIClient) -> None:
    said = client.get("/api/materials").json()
    assert {row["id"]: row["size"] for row in said["ranges"]} == {
        "gangway-36": 36,
        "long-pier-72": 72,
        "small-tray-24": 24,
        "ebb-24": 24,
        "breakwater-60": 60,
        "quay-chalk-48": 48,
        "rigging-36": 36,
        "keel-24": 24,
        "winch-48": 48,
        "lantern-16": 16,
    }
    assert {"smooth-white", "medium-white", "toothy-white", "marker-card"} <= {row["id"] for row in said["papers"]}
    layers = {row["id"]: row["layers"] for row in said["papers"]}
    assert layers["smooth-white"]["pencil"] < layers["toothy-white"]["pencil"]
    assert {"darks_first", "pale_base_first"} <= {row["id"] for row in said["methods"]}
    pencil, marker, pastel, oil, opaque = said["media"]
    assert [tool["code"] for tool in pencil["tools"]] == ["stump", "putty", "blade"]
    assert set(opaque["over"]) == {"pencil", "marker", "pastel", "oil_pastel"}
    assert [row["lies"] for row in said["media"]] == ["film", "ink", "crumbs", "paste", "body"]
    assert oil["usual_paper"] == "oil-paper"
    assert pastel["techniques"] == ["lay", "glaze", "smudge"]
    assert pencil["techniques"] == ["lay", "burnish"]
    assert (pencil["usual_paper"], pencil["usual_method"]) == ("medium-white", "darks_first")
    assert (marker["word"], marker["usual_paper"], marker["pressures"]) == ("marker", "marker-card", ["light"])
    assert len(said["value_greys"]) == 11


def test_a_list_is_read_in_as_a_tray(client: APIClient) -> None:
    made = client.post("/api/trays", {"name": "mine", "csv": CSV}, format="json")
    assert made.status_code == 201
    held = only_tray(client)
    assert held == made.json()
    assert [stick["code"] for stick in held["sticks"]] == ["A1", "A2"]
    assert held["sticks"][0]["swatch"]["hex"] == "#7a5a3c"


def test_a_range_starts_a_tray_that_computes_like_the_range(client: APIClient, artist: User) -> None:
    made = client.post("/api/trays", {"name": "big", "range": "long-pier-72"}, format="json").json()
    tray = services.get_tray(artist, made["id"])
    assert services.as_core(tray).sticks == services.ranges()["long-pier-72"].sticks


@pytest.mark.parametrize(
    ("body", "code", "field"),
    [
        ({"name": "x", "csv": CSV.replace("#7a5a3c", "#7a5a")}, "bad_tray_row", "row 2, hex"),
        ({"name": "x", "csv": CSV + "A1,elm,pencil,#123456,semi\n"}, "double_code", "row 4, code"),
        ({"name": "x", "csv": CSV.splitlines()[0]}, "empty_tray", "tray"),
        ({"name": "x", "csv": ""}, "tray_header", "row 1"),
        ({"name": "x", "range": "nowhere"}, "no_range", "range"),
    ],
)
def test_a_wrong_list_is_refused_and_nothing_is_stored(
    body: dict[str, str], code: str, field: str, client: APIClient
) -> None:
    answer = client.post("/api/trays", body, format="json")
    assert answer.status_code == 422
    assert (answer.json()["errors"][0]["code"], answer.json()["errors"][0]["field"]) == (code, field)
    assert Tray.objects.count() == Stick.objects.count() == 0


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({}, 400),
        ({"name": "x", "csv": CSV, "range": "long-pier-72"}, 422),
        ({"name": "n" * 81, "csv": CSV}, 400),
        ({"name": " ", "csv": CSV}, 400),
    ],
)
def test_an_ill_formed_request_is_refused(body: dict[str, str], status: int, client: APIClient) -> None:
    assert client.post("/api/trays", body, format="json").status_code == status


def test_an_artist_sees_only_their_own_trays(other: APIClient, client: APIClient, tray_id: str) -> None:
    assert other.get("/api/trays").json() == []
    assert other.patch(f"/api/trays/{tray_id}", {"name": "mine now"}, format="json").status_code == 404
    assert other.delete(f"/api/trays/{tray_id}").status_code == 404
    assert len(client.get("/api/trays").json()) == 1
    assert client.delete(f"/api/trays/{tray_id}").status_code == 204
    assert client.get("/api/trays").json() == []


def test_there_is_a_limit_to_trays(client: APIClient, artist: User, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MAX_TRAYS", 1)
    services.start_tray(artist, "one", "small-tray-24")
    answer = client.post("/api/trays", {"name": "two", "csv": CSV}, format="json")
    assert answer.json()["errors"][0]["code"] == "too_many_trays"


def test_everything_a_list_says_of_a_stick_is_kept(client: APIClient, artist: User) -> None:
    spectrum = " ".join(["0.3"] * 31)
    csv = (
        "code,name,medium,hex,opacity,light_hex,heavy_hex,black_hex,spectrum\n"
        f"A1,oak,pencil,#7a5a3c,semi,#c0a890,#7f6043,#4a3a2a,\nA2,ash,pencil,,semi,,,,{spectrum}\n"
    )
    made = client.post("/api/trays", {"name": "mine", "csv": csv}, format="json").json()
    oak, ash = services.as_core(services.get_tray(artist, made["id"])).sticks
    assert (oak.light_hex, oak.heavy_hex, oak.black_hex) == ("#c0a890", "#7f6043", "#4a3a2a")
    assert ash.spectrum == (0.3,) * 31


PAPER = {
    "name": "Old card",
    "lab": [88.0, 2.0, 10.0],
    "tooth": 0.3,
    "coats": 9,
    "media": ["pencil", "marker"],
}


def test_a_paper_of_ones_own_is_kept_and_only_ones_own(client: APIClient, other: APIClient) -> None:
    made = client.post("/api/papers", PAPER, format="json")
    assert made.status_code == 201
    (held,) = client.get("/api/papers").json()
    assert held == made.json()
    assert held["swatch"]["lab"] == PAPER["lab"]
    assert other.get("/api/papers").json() == []
    assert other.delete(f"/api/papers/{held['id']}").status_code == 404
    assert other.get(f"/api/papers/{held['id']}/tooth").status_code == 404
    assert client.delete(f"/api/papers/{held['id']}").status_code == 204
    assert client.get("/api/papers").json() == []


@pytest.mark.parametrize(
    ("change", "status"),
    [
        ({"lab": [120, 0, 0]}, 422),
        ({"lab": [90, 0]}, 400),
        ({"tooth": 2}, 422),
        ({"coats": 0}, 422),
        ({"media": []}, 422),
        ({"media": ["crayon"]}, 422),
        ({"name": ""}, 400),
        ({"name": "n" * 61}, 400),
    ],
    ids=str,
)
def test_a_paper_that_cannot_be_is_refused(change: dict[str, object], status: int, client: APIClient) -> None:
    assert client.post("/api/papers", PAPER | change, format="json").status_code == status
    assert client.get("/api/papers").json() == []


def test_there_is_a_limit_to_papers(client: APIClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MAX_PAPERS", 1)
    client.post("/api/papers", PAPER, format="json")
    answer = client.post("/api/papers", PAPER, format="json")
    assert answer.json()["errors"][0]["code"] == "too_many_papers"


def test_the_tooth_of_a_paper_is_a_picture(client: APIClient) -> None:
    answer = client.get("/api/papers/toothy-white/tooth")
    assert answer["Content-Type"] == "image/png"
    assert answer.content.startswith(b"\x89PNG")
    assert client.get("/api/papers/no-such-paper/tooth").status_code == 404


def test_a_method_of_ones_own_comes_out_of_a_file_plans_and_goes_out_again(
    client: APIClient, other: APIClient, piece: Json
) -> None:
    file = client.get("/api/methods/pale_base_first/file").content.decode()
    mine = file.replace('name = "', 'name = "My own ')
    made = client.post("/api/methods", {"file": mine}, format="json")
    assert made.status_code == 201, made.content
    method = made.json()
    assert method["name"].startswith("My own ") and client.get("/api/methods").json() == [method]
    assert client.get(f"/api/methods/{method['id']}/file").content.decode() == mine
    setup = piece["document"]["setup"] | {"method": method["id"]}
    saved = save(client, piece, piece["document"] | {"setup": setup}).json()
    planned = settled(
        lambda: client.post(
            f"/api/pieces/{piece['id']}/layers", {"version": saved["version"], "layers": 3}, format="json"
        )
    )
    assert planned.status_code == 200, planned.content
    assert client.get(f"/api/pieces/{piece['id']}/sheet").json()["steps"]
    # It goes along with the piece, and is another's own then.
    data = b"".join(client.get(f"/api/pieces/{piece['id']}/file").streaming_content)
    taken = other.post("/api/bundles", {"file": SimpleUploadedFile("a.zip", data)}, format="multipart").json()
    (theirs,) = other.get("/api/methods").json()
    shown = other.get(f"/api/pieces/{taken['pieces'][0]['id']}").json()
    assert shown["document"]["setup"]["method"] == theirs["id"] != method["id"] and shown["troubles"] == []
    assert b"".join(other.get(f"/api/pieces/{shown['id']}/file").streaming_content) == data
    # Nobody else's, and gone when it is forgotten.
    assert other.delete(f"/api/methods/{method['id']}").status_code == 404
    assert other.get(f"/api/methods/{method['id']}/file").status_code == 404
    assert client.delete(f"/api/methods/{method['id']}").status_code == 204
    assert "There is no method" in client.get(f"/api/pieces/{piece['id']}").json()["troubles"][0]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (("medium = \"pencil\"", "medium = \"lard\""), "is for “lard”"),
        (("slack_l", "slakc_l"), "unknown key “slakc_l”"),
        (("first_pressures = [", "first_pressures = [\"harder\", "), "has “harder” in first_pressures"),
        (("slack_l = ", "slack_l = 1e9 #"), "a number that cannot be"),
        (("name = ", "name = = "), "it is not TOML"),
    ],
)  # fmt: skip
def test_a_method_that_cannot_be_is_refused_by_its_key(change: tuple[str, str], said: str, client: APIClient) -> None:
    file = client.get("/api/methods/darks_first/file").content.decode()
    refused = client.post("/api/methods", {"file": file.replace(*change, 1)}, format="json")
    assert refused.status_code == 422 and said in refused.json()["errors"][0]["message"]
    assert client.get("/api/methods").json() == []
