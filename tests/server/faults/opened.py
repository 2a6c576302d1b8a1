"""Print what the artist of a data folder sees: the pieces, the first of them, and it after a redo, as JSON. Arguments:
chores to be done before."""

from __future__ import annotations

import json
import os
import sys

import django


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    os.umask(0o077)  # as manage.py has it
    django.setup()
    from django.core.management import call_command

    for chore in sys.argv[1:]:
        call_command(chore, stdout=sys.stderr)
    from django.contrib.auth.models import User
    from rest_framework.test import APIClient

    client = APIClient(headers={"Host": "localhost"})
    client.force_authenticate(User.objects.get(username="ines"))
    rows = client.get("/api/pieces").json()
    address = f"/api/pieces/{rows[0]['id']}"
    piece = client.get(address).json()
    picture = client.get(f"/api/pictures/{piece['document']['picture']}").status_code
    trays = [client.get(f"/api/trays/{row['id']}").json() for row in client.get("/api/trays").json()]
    client.post(f"{address}/redo", {"version": piece["version"]}, format="json")
    redone = client.get(address).json()
    print(json.dumps({"rows": rows, "piece": piece, "picture": picture, "trays": trays, "redone": redone}))


if __name__ == "__main__":
    main()
