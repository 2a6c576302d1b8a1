"""Django's chores."""

import os
import sys

from django.core.management import execute_from_command_line


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    os.umask(0o077)  # what is written is for the owner alone
    try:
        execute_from_command_line(sys.argv)
    except OSError as error:
        # The settings already need the data folder; whatever comes later says its own line.
        sys.exit(
            f"caltin: {error.filename or 'the data folder'}: {error.strerror}. Set CALTIN_DATA to a folder that can "
            "be written and has room."
        )


if __name__ == "__main__":
    main()
