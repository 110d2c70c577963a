"""The application that gunicorn serves, warmed up before its workers are forked."""

import gc
import os
from pathlib import Path

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
application = get_wsgi_application()


def warm_up() -> None:
    """Compile the templates and match one colour, so that nobody's first tap waits for it.

    What is in memory then never becomes garbage: the collector need not look at it again.
    """
    import numpy as np
    from django.template.loader import get_template

    from engine.bowl.match import match
    from engine.bowl.weigh import Scale
    from engine.dye.shelf import demo_shelf
    from engine.hair.canvas import Canvas

    for path in Path(__file__).parent.glob("*/templates/**/*.html"):
        get_template(str(path).partition("/templates/")[2])
    match(Canvas(level=10), list(demo_shelf().values())[:4], np.array([60.0, 20.0, 20.0]), scale=Scale(), max_shades=1)
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)  # a page makes thousands of short-lived objects, and hardly a cycle


warm_up()
