"""Pieces: what was decided, with its history; what was done on paper; what was worked out."""

from __future__ import annotations

import json
import uuid
import zlib
from typing import Any

from django.conf import settings
from django.db import models

from server.api.removable import Removable
from server.pictures.models import Picture


class PackedJSONField(models.BinaryField):  # type: ignore[type-arg]  # Django itself takes no argument
    """JSON data, compressed: the states of a document differ little, and there are many of them."""

    def from_db_value(self, held: Any, *_: Any) -> Any:
        return None if held is None else unpacked(bytes(held))

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return super().get_db_prep_value(packed(value), connection, prepared)


def packed(data: Any) -> bytes:
    """JSON data as they are stored."""
    return zlib.compress(json.dumps(data, ensure_ascii=False, separators=(",", ":")).encode(), 6)


def unpacked(held: bytes) -> Any:
    """The data of what `packed` gave. Raises zlib.error or ValueError for anything else."""
    return json.loads(zlib.decompress(held))


class Piece(Removable):
    """One work. `version` grows with every write; `position` is where in the history it stands."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    title = models.CharField(max_length=120)
    version = models.PositiveIntegerField(default=1)
    position = models.PositiveIntegerField(default=0)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]


class Revision(models.Model):
    """One state of a piece's document (see server.pieces.document.schema).

    picture: the one that the document names, so that the database itself keeps it as long as any step does.
    """

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="revisions")
    position = models.PositiveIntegerField()
    document = PackedJSONField()
    picture = models.ForeignKey(Picture, null=True, on_delete=models.RESTRICT, related_name="revisions")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["piece", "position"], name="one_revision_per_position")]


class Written(models.Model):
    """A write that was done, by the key that its sender gave it: the same key again does nothing more."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=40)
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_write_per_key")]


class Tick(models.Model):
    """What was done of one pass of a piece: its state (nothing, `done` or `skipped`) since `at`, and a note."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="ticks")
    pass_id = models.CharField(max_length=40)
    state = models.CharField(max_length=8, blank=True)
    note = models.CharField(max_length=500, blank=True)
    at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["piece", "pass_id"], name="one_tick_per_pass")]


class Comparison(models.Model):
    """A photograph of the drawing, and how it was read. number: of the piece's photographs, from 1; corners, frame,
    chart: see core.compare.questions.Photographed; beside: swatches of known sticks, with `stick` and what it was known
    as (`lab`, `error`); moved: places (x, y in parts of the picture) that the artist has
    moved, by spot; places: what was read, by spot, as core.compare.reading.PlaceRead with what was wanted there then;
    taken: corrections that are on the sheet as another round."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="comparisons")
    picture = models.ForeignKey(Picture, on_delete=models.RESTRICT, related_name="comparisons")
    number = models.PositiveSmallIntegerField()
    corners = models.JSONField()
    frame = models.JSONField()
    chart = models.JSONField(null=True)
    beside = models.JSONField(default=list)
    moved = models.JSONField(default=dict)
    places = models.JSONField(default=dict)
    edges = models.JSONField(default=list)
    said = models.JSONField(default=list)
    bare = models.BooleanField(default=False)
    usual = models.FloatField()
    mean = models.FloatField()
    taken = models.JSONField(default=list)
    note = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["piece", "number"], name="one_comparison_per_number")]


class ReadOff(models.Model):
    """What the maps of a figure's layers have (server.pieces.document.drawn.FigureRead), by the digest of the plan of
    which they are."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="read_offs")
    key = models.CharField(max_length=32)
    held = models.JSONField()
    made = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["piece", "key"], name="one_read_off_per_plan")]


class Result(models.Model):
    """Something that was worked out, by the digest of everything that it depends on. Safe to delete at any time."""

    key = models.CharField(max_length=32, primary_key=True)
    held = models.JSONField()
    made = models.DateTimeField(auto_now_add=True, db_index=True)
