"""Settings of the Django project."""

from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF

from studio.settings import environment

ROOT = Path(__file__).resolve().parents[2]

SECRET_KEY = environment.SECRET_KEY
DEBUG = environment.DEBUG
TESTING = environment.TESTING
NEW_STUDIOS = environment.NEW_STUDIOS
IDLE_HOURS = environment.IDLE_HOURS
METRICS_TOKEN, METRICS_FOLDER = environment.METRICS_TOKEN, environment.METRICS_FOLDER
PERSON_RATE, PERSON_BURST = (10_000.0, 10_000.0) if TESTING else (environment.PERSON_RATE, environment.PERSON_BURST)
DEMO_PASSWORD = environment.DEMO_PASSWORD
ALLOWED_HOSTS = environment.HOSTS
CSRF_TRUSTED_ORIGINS = environment.TRUSTED_ORIGINS

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.messages",
    "django.contrib.postgres",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "django_htmx",
    "studio.ui",
    "studio.accounts",
    "studio.people",
    "pgtrigger",
    "pghistory",
    "studio.trace",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "procrastinate.contrib.django",
    "studio.taught",
    "studio.supplies",
    "studio.shelf",
    "studio.clients",
    "studio.visits",
    "studio.photos",
    "studio.readings",
    "studio.head",
    "studio.bench",
    "studio.pour",
    "studio.clocks",
    "studio.cards",
    "studio.guesses",
    "studio.portrait",
    "studio.route",
    "studio.result",
    "studio.chairs",
    "studio.learning",
    "studio.practice",
    "studio.formats",
    "studio.archives",
    "studio.api",
    "studio.looks",
    "studio.demo",
]

MIDDLEWARE = [
    "studio.ui.logs.Requests",
    "studio.ui.middleware.Health",
    "studio.api.edge.Edge",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "studio.ui.middleware.KeptByNobody",
    "studio.ui.middleware.KeepsCookie",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "studio.ui.speaking.OwnLanguage",
    "studio.people.limit.Limit",
    "studio.ui.middleware.SignInFirst",
    "django.contrib.messages.middleware.MessageMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "studio.trace.who.Who",
    "studio.people.lock.Lock",
    "studio.people.doors.Doors",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "studio.ui.middleware.StudioTime",
    "studio.ui.middleware.NoNul",
    "studio.ui.middleware.RefusalHasWords",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "studio.urls"
WSGI_APPLICATION = "studio.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "OPTIONS": {
            "loaders": [("studio.ui.loading.ByLanguage", ["django.template.loaders.app_directories.Loader"])],
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
            "builtins": [
                "django.templatetags.i18n",
                "django.templatetags.l10n",
                "studio.ui.templatetags.spoken",
                "django.templatetags.static",
                "studio.ui.templatetags.ui",
            ],
        },
    }
]

# A pool holds connections open between requests; tests open and drop databases, so they go without.
# No page asks for so much that compiling its statement pays: where the planner guessed so, of tables that it knows
# little of yet, that took seconds for a single row.
QUICK = {"options": "-c jit=off"}
# A connection that is lent for one transaction keeps nothing: what is prepared on it may be asked for on another.
BORROWED: dict[str, object] = {"prepare_threshold": None}
DATABASES = {"default": environment.DATABASE | {"OPTIONS": QUICK}}
if not TESTING:
    DATABASES["default"]["CONN_HEALTH_CHECKS"] = True  # a connection that a restart of the database broke is not used
    DATABASES["default"]["OPTIONS"] = {
        "pool": {"min_size": 1, "max_size": environment.POOL_MOST, "timeout": 5},
        "server_side_binding": True,  # so that statements can be prepared and planned once
        **(BORROWED if environment.BEHIND_POOLER else QUICK | {"prepare_threshold": 2}),
    }
    DATABASES["default"]["DISABLE_SERVER_SIDE_CURSORS"] = environment.BEHIND_POOLER
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "studio.accounts.backends.StudioBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "studio.accounts.strength.Strength"},
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.MD5PasswordHasher" if TESTING else "studio.accounts.hashers.SmallArgon2",
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "cards:list"
LOGOUT_REDIRECT_URL = "sign-in"

# The package for mail, passwords made anew and second factors; it counts in the database, for all workers.
ACCOUNT_ADAPTER = "studio.accounts.adapters.AccountAdapter"
ACCOUNT_FORMS = {
    "add_email": "studio.accounts.mail_forms.MailForm",
    "reset_password": "studio.accounts.mail_forms.ForgottenForm",
}
ACCOUNT_LOGIN_METHODS = {"username"}
ACCOUNT_SIGNUP_FIELDS = ["username*", "email"]
ACCOUNT_EMAIL_VERIFICATION = "optional"
ACCOUNT_CHANGE_EMAIL = True
ACCOUNT_EMAIL_NOTIFICATIONS = True
ACCOUNT_EMAIL_UNKNOWN_ACCOUNTS = False
ACCOUNT_EMAIL_SUBJECT_PREFIX = ""
ACCOUNT_LOGOUT_ON_PASSWORD_CHANGE = False
ACCOUNT_REAUTHENTICATION_METHODS = ["password", "mfa"]
ACCOUNT_SESSION_REMEMBER = True
MFA_ADAPTER = "studio.accounts.adapters.SecondFactorAdapter"
MFA_SUPPORTED_TYPES = ["totp", "recovery_codes"]
MFA_RECOVERY_CODES_SHOW_ONCE = True
MFA_TOTP_TOLERANCE = 1
CACHES = {"default": {"BACKEND": "django.core.cache.backends.db.DatabaseCache", "LOCATION": "kept_for_a_while"}}
globals().update(environment.MAIL)  # EMAIL_BACKEND, EMAIL_HOST and their like
EMAIL_FILE_PATH = environment.OUTBOX
DEFAULT_FROM_EMAIL = environment.MAIL_FROM

# Ten wrong passwords for one name, or from one place, close the door for a quarter of an hour to machines that do not
# know the person; see studio.accounts.devices.
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = ["username", "ip_address"]  # each alone: one name from many places, many names from one
AXES_USERNAME_CALLABLE = "studio.accounts.devices.counted_name"
AXES_CLIENT_IP_CALLABLE = "studio.accounts.devices.counted_address"
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # who goes on trying does not keep a name shut
AXES_LOCKOUT_TEMPLATE = "accounts/locked_out.html"
AXES_HTTP_RESPONSE_CODE = 429
AXES_RESET_ON_SUCCESS = False  # one good password must not wash away guesses at other names
AXES_VERBOSE = False

# English is what texts are written in; a person's own language goes before their studio's. See studio.ui.speaking.
LANGUAGE_CODE = "en-gb"
LANGUAGES = [("en-gb", "English"), ("de", "Deutsch")]
LOCALE_PATHS = [ROOT / "studio" / "locale"]
FORMAT_MODULE_PATH = ["studio.locale"]
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = environment.STATIC_ROOT
MEDIA_ROOT = environment.FILES
STORAGES = {
    # Archives on their way: a folder, or a bucket. Nothing in it is reached by an address.
    "default": environment.storage(),
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"
        if TESTING or DEBUG
        else "whitenoise.storage.CompressedManifestStaticFilesStorage"
    },
}
WHITENOISE_USE_FINDERS = TESTING or DEBUG

# Nothing comes from elsewhere, and no script or style stands inside a page.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
        "base-uri": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SESSION_ENGINE = "studio.accounts.sessions"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_HTTPONLY = True
CSRF_COOKIE_SAMESITE = "Lax"
if environment.BEHIND_TLS:  # which ends at a front that says so, and lets nobody else say it
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_HSTS_SECONDS, SECURE_HSTS_INCLUDE_SUBDOMAINS = environment.HSTS_S, True
    SILENCED_SYSTEM_CHECKS = ["security.W021"]  # to be on the browsers' own list is for the owner of a domain to ask
CSRF_FAILURE_VIEW = "studio.ui.views.forged"
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
FILE_UPLOAD_HANDLERS = ["studio.ui.uploads.BoundedUpload"]

# What was changed, and by whom, is kept by triggers; rows that are gone have their trace still.
PGHISTORY_APPEND_ONLY = False  # a client who is forgotten leaves none
PGHISTORY_ADMIN_ALL_EVENTS = False

TEST_RUNNER = "tests.runner.CountingRunner"
TEST_COUNTS = environment.TEST_COUNTS

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "studio.ui.logs.JsonLines"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler", **({"formatter": "json"} if environment.LOGS == "json" else {})}
    },
    "root": {"handlers": ["console"], "level": "ERROR" if TESTING else "WARNING"},
    "loggers": {
        "axes": {"level": "ERROR"},
        "rainshade.requests": {"level": "INFO" if environment.LOGS == "json" else "WARNING"},
        "django.request": {"level": "CRITICAL" if TESTING else "WARNING"},
    },
}
