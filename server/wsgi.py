"""What gunicorn runs."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
os.umask(0o077)  # what is written is for the owner alone
application = get_wsgi_application()

from server.start import start  # noqa: E402  # needs Django set up

start()
