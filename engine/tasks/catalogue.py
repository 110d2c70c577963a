"""Every task by name."""

from collections.abc import Mapping
from typing import Final

from engine.tasks.common import Task
from engine.tasks.forecasting import FORECASTING
from engine.tasks.mixing import MIXING
from engine.tasks.routing import ROUTING
from engine.tasks.teaching import TEACHING
from engine.tasks.visiting import VISITING

TASKS: Final[Mapping[str, Task]] = {**FORECASTING, **MIXING, **TEACHING, **VISITING, **ROUTING}
