"""Headless Chromium as the system ships it, quiet on the network."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, sync_playwright

QUIET = (
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--disable-default-apps", "--disable-dev-shm-usage",
)  # fmt: skip


@contextmanager
def chromium() -> Iterator[Browser]:
    """A running browser, closed afterwards."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=list(QUIET))
        try:
            yield browser
        finally:
            browser.close()
