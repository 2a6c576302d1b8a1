"""Bundles: written the same to the byte, and refused by name whatever is wrong with them."""

from __future__ import annotations

import io
import json
import struct
import zipfile
from collections.abc import Callable

import pytest

from core.errors import InputError
from core.exchange import bundle
from core.exchange.bundle import FORMAT, MAX_BUNDLE_BYTES, Bundle, head, written
from core.exchange.tray_bundle import tray_of_bundle

HEAD = head("1.2.3")


def of(*parts: tuple[str, bytes]) -> bytes:
    return b"".join(written([HEAD, *parts]))


def opened(data: bytes) -> Bundle:
    return Bundle(io.BytesIO(data), len(data))


def by_hand(fill: Callable[[zipfile.ZipFile], None]) -> bytes:
    """An archive of the library's own making."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(*HEAD)
        fill(archive)
    return out.getvalue()


def linked(archive: zipfile.ZipFile) -> None:
    entry = zipfile.ZipInfo("papers.json")
    entry.external_attr = 0o120777 << 16
    archive.writestr(entry, "/etc/passwd")


def twice(archive: zipfile.ZipFile) -> None:
    with pytest.warns(UserWarning):
        archive.writestr(*HEAD)


def test_the_same_parts_are_the_same_bytes_and_any_program_opens_them() -> None:
    parts = [("papers.json", b"[]"), ("pictures/a.jpg", bytes(200_000))]
    data = of(*parts)
    assert data == of(*parts)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        assert archive.namelist() == ["caltin.json", "papers.json", "pictures/a.jpg"]
        assert json.loads(archive.read("caltin.json")) == {"caltin_bundle": FORMAT, "version": "1.2.3"}
    held = opened(data)
    assert held.names("pictures/") == ["pictures/a.jpg"] and "papers.json" in held
    assert held.data("pictures/a.jpg") == bytes(200_000) and held.json("papers.json") == []


def test_a_part_unpacks_no_further_than_it_may_whatever_its_directory_says() -> None:
    data = by_hand(lambda archive: archive.writestr("papers.json", b" " * 3_000_000))
    with pytest.raises(InputError, match=r"papers\.json unpacks into more than 1 MB"):
        opened(data).data("papers.json", 2**20)
    # The directory made to say that it is small: what it really holds is told by its checksum, or by its end.
    small = data.replace(struct.pack("<I", 3_000_000), struct.pack("<I", 10))
    assert small != data
    with pytest.raises(InputError, match=r"papers\.json is damaged"):
        opened(small).data("papers.json", 2**20)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no zip archive"),
        (b"PK\x03\x04" + bytes(40), "no zip archive"),
        (of(("papers.json", b"[]"))[:-30], "no zip archive"),
        (by_hand(lambda archive: archive.writestr("../papers.json", "[]")), "“../papers.json” is no name"),
        (by_hand(lambda archive: archive.writestr("/papers.json", "[]")), "“/papers.json” is no name"),
        (by_hand(lambda archive: archive.writestr("trays\\a.json", "[]")), "is no name"),
        (by_hand(lambda archive: archive.writestr("trays/../a.json", "[]")), "is no name"),
        (by_hand(lambda archive: archive.writestr("C:/a.json", "[]")), "is no name"),
        (by_hand(linked), "“papers.json” is no file"),
        (by_hand(twice), "“caltin.json” is in it twice"),
        (b"".join(written([("papers.json", b"[]")])), "there is no caltin.json"),
        (b"".join(written([("caltin.json", b'{"caltin_bundle": true}')])), "does not say what it is"),
        (b"".join(written([("caltin.json", b"[]")])), "does not say what it is"),
        (b"".join(written([("caltin.json", b"{" * 99)])), "caltin.json is not JSON"),
    ],
)
def test_what_is_no_bundle_is_refused_by_name(data: bytes, said: str) -> None:
    with pytest.raises(InputError) as refused:
        opened(data)
    assert said in refused.value.message and "what you have is as it was" in refused.value.hint


def test_limits_hold(monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(InputError) as refused:
        Bundle(io.BytesIO(b""), MAX_BUNDLE_BYTES + 1)
    assert refused.value.code == "bundle_too_large"
    monkeypatch.setattr(bundle, "MOST_PARTS", 20)
    many = by_hand(lambda archive: [archive.writestr(f"a{i}.json", b"") for i in range(20)] and None)
    with pytest.raises(InputError, match="it has 21 parts, more than 20"):
        opened(many)
    damaged = bytearray(of(("papers.json", b"[1, 2, 3, 4, 5, 6, 7]" * 40)))
    damaged[damaged.index(b"papers.json") + 40] ^= 0xFF
    with pytest.raises(InputError, match=r"papers\.json is damaged"):
        opened(bytes(damaged)).json("papers.json")


@pytest.mark.parametrize(
    ("part", "said"),
    [
        (b'{"a": NaN}', "no finite number"),
        (b'{"a": 1e999}', "no finite number"),
        (b'{"a": "\\ud83d"}', "half a character"),
        (b"[" * 60 + b"]" * 60, "nested too deeply"),
        (b"\xff\xfe", "is not JSON"),
    ],
)
def test_json_that_could_not_be_kept_is_refused_by_its_path(part: bytes, said: str) -> None:
    with pytest.raises(InputError, match=said):
        opened(of(("papers.json", part))).json("papers.json")


def test_the_only_tray_of_a_bundle_is_meant() -> None:
    tray = b'{"sticks": [{"code": "1", "name": "rope", "medium": "pencil", "hex": "#b49a72", "opacity": "semi"}]}'
    assert tray_of_bundle(of(("trays/a.json", tray)), "mine").sticks[0].name == "rope"
    for parts, code in ((), "no_tray"), ((("trays/a.json", tray), ("trays/b.json", tray)), "several_trays"):
        with pytest.raises(InputError) as refused:
            tray_of_bundle(of(*parts), "mine")
        assert refused.value.code == code
