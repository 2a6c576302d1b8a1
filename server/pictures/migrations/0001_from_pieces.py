"""Pictures become an app of their own; their table stays as it is."""

from __future__ import annotations

import uuid

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("pieces", "0003_named_pictures"),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    "Picture",
                    [
                        (
                            "id",
                            models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False),
                        ),
                        ("digest", models.CharField(max_length=64)),
                        ("size_bytes", models.PositiveBigIntegerField()),
                        ("width", models.PositiveIntegerField()),
                        ("height", models.PositiveIntegerField()),
                        ("profile", models.CharField(max_length=80)),
                        ("made", models.DateTimeField(auto_now_add=True)),
                        ("unnamed_since", models.DateTimeField(default=django.utils.timezone.now, null=True)),
                        (
                            "owner",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="pictures",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "db_table": "pieces_picture",
                        "constraints": [
                            models.UniqueConstraint(fields=("owner", "digest"), name="one_picture_per_digest")
                        ],
                    },
                )
            ]
        )
    ]
