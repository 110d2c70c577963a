"""The application that gunicorn serves, warmed up before its workers are forked."""

import gc
import os
from pathlib import Path

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
application = get_wsgi_application()


def warm_up() -> None:
    """Compile the templates and the loops of the search, so that nobody's first tap waits for it.

    What is in memory then never becomes garbage: the collector need not look at it again.
    """
    from django.template.loader import get_template

    from engine.bowl import warm

    for path in Path(__file__).parent.glob("*/templates/**/*.html"):
        get_template(str(path).partition("/templates/")[2])
    warm.warm_up()
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)  # a page makes thousands of short-lived objects, and hardly a cycle


warm_up()
