"""How days and numbers are written; what a browser's own field for a day sends and takes is the same everywhere."""

DATE_INPUT_FORMATS = ["%Y-%m-%d"]
DATETIME_INPUT_FORMATS = ["%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y-%m-%dT%H:%M"]
TIME_INPUT_FORMATS = ["%H:%M", "%H:%M:%S"]
USE_THOUSAND_SEPARATOR = False
