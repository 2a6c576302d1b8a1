"""Settings. On one's own machine nothing needs to be set; see docs/operations.md for the rest.

CALTIN_DATA      folder for the database, the pictures and the secret (default: data/)
CALTIN_ADDRESS   what sign-in links begin with (default: http://127.0.0.1 and the port)
CALTIN_HOSTS     host names under which a public server is reached, separated by commas
CALTIN_PORT      port on this machine (default: 8000)
CALTIN_PROXIES   how many proxies of one's own stand before the server (default: 1 if public, else 0); who asks is told
                 by what the outermost of them saw, never by what a browser says of itself
CALTIN_PUBLIC    1 behind HTTPS: secure cookies, redirect, HSTS
"""

from __future__ import annotations

import os
import re
import tomllib
from pathlib import Path

from server.secret import secret_key

ROOT = Path(__file__).parents[1]
DATA_DIR = Path(os.environ.get("CALTIN_DATA", ROOT / "data")).resolve()
PICTURES_DIR = DATA_DIR / "pictures"
VIEWS_DIR = DATA_DIR / "views"
RANGES_DIR = ROOT / "demo/ranges"
WEB_DIST = ROOT / "web/dist"
PUBLIC = os.environ.get("CALTIN_PUBLIC") == "1"
ADDRESS = os.environ.get("CALTIN_ADDRESS", f"http://127.0.0.1:{os.environ.get('CALTIN_PORT', '8000')}").rstrip("/")
VERSION = str(tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]["version"])

SECRET_KEY = secret_key(DATA_DIR)
DEBUG = False
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]", *filter(None, os.environ.get("CALTIN_HOSTS", "").split(","))]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "csp",
    "rest_framework",
    "drf_spectacular",
    "server.api",
    "server.accounts",
    "server.imagined",
    "server.materials",
    "server.pictures",
    "server.trials",
    "server.pieces",
    "server.practice",
    "server.sharing",
    "server.personal",
]
MIDDLEWARE = [
    "server.api.middleware.PrivateAnswers",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]
USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "caltin.sqlite3",
        # A file also in tests: databases in memory know no waiting when several threads write.
        "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
# Only counts tries to sign in and uploads, which must go on when the disk is full.
CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}

PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("MinimumLengthValidator", "CommonPasswordValidator", "UserAttributeSimilarityValidator")
]
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "server.api.errors.csrf_failure"

STATIC_URL = "/static/"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
WHITENOISE_USE_FINDERS = True


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:  # a setting of that name
    """Whether the name of a file changes with what is in it, as the build names all but the page itself."""
    return re.search(r"-[\w-]{8}\.\w+(\.gz)?$", path) is not None


DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "img-src": ["'self'", "data:", "blob:"],
        "object-src": ["'none'"],
        "base-uri": ["'none'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
if PUBLIC:
    SECURE_SSL_REDIRECT = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365
    SECURE_HSTS_INCLUDE_SUBDOMAINS = True
    SECURE_HSTS_PRELOAD = True
    SESSION_COOKIE_SECURE = True
    CSRF_COOKIE_SECURE = True

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.api.parsers.SoundJSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "DEFAULT_THROTTLE_RATES": {"sign_in_by_place": "30/min", "sign_in_by_artist": "10/min", "upload": "60/min"},
    "NUM_PROXIES": int(os.environ.get("CALTIN_PROXIES", "1" if PUBLIC else "0")),
    "EXCEPTION_HANDLER": "server.api.errors.handler",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Caltin",
    "DESCRIPTION": "Skin colour, planned before the paper is touched.",
    "VERSION": VERSION,
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "COMPONENT_SPLIT_PATCH": False,
    "ENUM_NAME_OVERRIDES": {
        "PlaceEnum": "core.look.roles.PLACES",
        "RoleEnum": "core.look.roles.ROLES",
        "EntryKindEnum": "core.notebook.found.KINDS",
        "PracticeKindEnum": "core.practice.asked.KINDS",
        "SurroundKindEnum": "core.surround.region.KINDS",
    },
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "server.api.schema.with_refusals",
    ],
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
