"""What was decided, what was done on paper and what was worked out are kept apart from now on.

Every state of a document is brought into the present schema, without what was worked out, and packed; the ticks and
notes of the state in which a piece stands become rows.
"""

from __future__ import annotations

import logging
from typing import Any

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import server.pieces.models

log = logging.getLogger(__name__)


def part(apps: Any, _: Any) -> None:
    Revision, Tick = apps.get_model("pieces", "Revision"), apps.get_model("pieces", "Tick")
    if not Revision.objects.exists():
        return
    # It needs all of the computation, which takes longer to load than a new folder takes to be made.
    from server.pieces.document.migrate import migrate, work_in

    for revision in Revision.objects.select_related("piece").defer("packed").iterator(chunk_size=50):
        held = revision.document
        try:
            done, notes = work_in(held).values()
            stands = revision.position == revision.piece.position
            rows = [
                Tick(
                    piece=revision.piece,
                    pass_id=str(pass_id)[:40],
                    state=str(done.get(pass_id, ""))[:8],
                    note=str(notes.get(pass_id, ""))[:500],
                    at=revision.made if pass_id in done else None,
                )
                for pass_id in dict.fromkeys([*done, *notes])
                if stands
            ]
            Tick.objects.bulk_create(rows, ignore_conflicts=True)
            held = migrate(held)
        except Exception:
            # It stays as it was: opening the piece says that this state cannot be read.
            log.exception("revision %s holds no document", revision.pk)
        Revision.objects.filter(pk=revision.pk).update(packed=held)


class Migration(migrations.Migration):
    dependencies = [("pieces", "0003_named_pictures"), ("pictures", "0001_from_pieces")]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    "revision",
                    "picture",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.RESTRICT,
                        related_name="revisions",
                        to="pictures.picture",
                    ),
                ),
                migrations.DeleteModel("Picture"),
            ]
        ),
        migrations.CreateModel(
            "Tick",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("pass_id", models.CharField(max_length=40)),
                ("state", models.CharField(blank=True, max_length=8)),
                ("note", models.CharField(blank=True, max_length=500)),
                ("at", models.DateTimeField(null=True)),
                (
                    "piece",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="ticks", to="pieces.piece"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("piece", "pass_id"), name="one_tick_per_pass")]
            },
        ),
        migrations.CreateModel(
            "Written",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=40)),
                ("at", models.DateTimeField(auto_now_add=True, db_index=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "piece",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="pieces.piece"),
                ),
            ],
            options={"constraints": [models.UniqueConstraint(fields=("owner", "key"), name="one_write_per_key")]},
        ),
        migrations.CreateModel(
            "Result",
            [
                ("key", models.CharField(max_length=32, primary_key=True, serialize=False)),
                ("held", models.JSONField()),
                ("made", models.DateTimeField(auto_now_add=True, db_index=True)),
            ],
        ),
        migrations.AddField(
            "revision", "packed", server.pieces.models.PackedJSONField(null=True)
        ),
        migrations.RunPython(part, migrations.RunPython.noop),
        migrations.RemoveField("revision", "document"),
        migrations.RenameField("revision", "packed", "document"),
        migrations.AlterField("revision", "document", server.pieces.models.PackedJSONField()),
    ]
