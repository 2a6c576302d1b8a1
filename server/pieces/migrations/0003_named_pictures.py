"""Revisions name their picture to the database, and pictures know since when nothing does."""

from __future__ import annotations

from typing import Any

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


def name(apps: Any, _: Any) -> None:
    Picture, Revision = apps.get_model("pieces", "Picture"), apps.get_model("pieces", "Revision")
    owners = {str(key): owner for key, owner in Picture.objects.values_list("pk", "owner_id")}
    for revision in Revision.objects.select_related("piece").iterator(chunk_size=50):
        picture = revision.document.get("picture")
        if picture and owners.get(picture) == revision.piece.owner_id:
            Revision.objects.filter(pk=revision.pk).update(picture=picture)
    Picture.objects.filter(revisions__isnull=False).update(unnamed_since=None)


class Migration(migrations.Migration):
    dependencies = [("pieces", "0002_look")]
    operations = [
        migrations.AddField(
            "picture", "unnamed_since", models.DateTimeField(default=django.utils.timezone.now, null=True)
        ),
        migrations.AddField(
            "revision",
            "picture",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.RESTRICT,
                related_name="revisions",
                to="pieces.picture",
            ),
        ),
        migrations.RunPython(name, migrations.RunPython.noop),
    ]
