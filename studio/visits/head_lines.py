"""The lines of a drawn head from four sides: shoulders, face and features, and its parts as shapes to tap."""

from typing import Final

from engine.language import later
from studio.visits.models import Zone

MIDDLE_X: Final = 50.0
Shapes = tuple[tuple[str, str], ...]
SIDE: Final[Shapes] = (
    (Zone.Part.CROWN, "M31 33C35 15 51 6 66 10C81 14 89 29 89 44H42C39 39 35 35 31 33Z"),
    (Zone.Part.ROOTS, "M42 17C53 6 72 6 80 19L74 24C66 15 55 16 48 24Z"),
    (Zone.Part.FRAME, "M31 33C35 35 39 39 42 44L40 80L30 84C26 66 27 48 31 33Z"),
    (Zone.Part.MIDS, "M42 44H89C91 58 90 70 88 80H40Z"),
    (Zone.Part.NAPE, "M74 62C80 62 86 62 90 61C91 68 90 75 88 80H76Z"),
    (Zone.Part.ENDS, "M40 80H88L85 112C70 116 52 116 40 112Z"),
)
FRONT: Final[Shapes] = (
    (Zone.Part.CROWN, "M26 45C23 20 37 8 50 8C63 8 77 20 74 45C71 34 64 26 50 25C36 26 29 34 26 45Z"),
    (Zone.Part.FRAME, "M26 45C29 34 36 27 45 25C37 38 34 56 35 78L22 84C20 68 22 55 26 45Z"),
    (Zone.Part.FRAME, "M74 45C71 34 64 27 55 25C63 38 66 56 65 78L78 84C80 68 78 55 74 45Z"),
    (Zone.Part.ENDS, "M22 84L35 78L36 112C31 115 25 115 20 112Z"),
    (Zone.Part.ENDS, "M78 84L65 78L64 112C69 115 75 115 80 112Z"),
)
BACK: Final[Shapes] = (
    (Zone.Part.CROWN, "M24 46C21 20 36 8 50 8C64 8 79 20 76 46Z"),
    (Zone.Part.ROOTS, "M45 9H55V32H45Z"),
    (Zone.Part.MIDS, "M24 46H76L78 80H22Z"),
    (Zone.Part.NAPE, "M36 62H64L61 80H39Z"),
    (Zone.Part.PANEL, "M65 46H73L75 80H67Z"),
    (Zone.Part.ENDS, "M22 80H78L76 112C60 117 40 117 24 112Z"),
)
FRONT_FACE: Final = (
    "M44 82V93L24 103Q16 107 14 120H86Q84 107 76 103L56 93V82",
    "M32 38C31 58 36 72 44 80Q50 85 56 80C64 72 69 58 68 38C66 24 58 18 50 18C42 18 34 24 32 38Z",
    "M38 46Q42 43.5 46 46M54 46Q58 43.5 62 46M39 50Q42 48.5 45 50M55 50Q58 48.5 61 50"
    "M49 51L47.5 61H52M44 69Q50 72 56 69",
)
SIDE_FACE: Final = (
    "M46 80L44 96Q34 102 30 120H88Q86 106 76 98L73 58",
    "M37 20C29 28 28 38 29 44L25 56Q25 58 28.5 58.5L28 63L30 65L29 68L31 70C30 78 34 83 41 83Q52 82 55 70L74 62V30Z",
    "M31 46L36 45M32 50.5Q34 49 36 50M31 68H35",
)
BACK_FACE: Final = (
    "M27 42C27 21 37 11 50 11C63 11 73 21 73 42Q72 70 50 74Q28 70 27 42Z",
    "M42 66V93L24 103Q16 107 14 120H86Q84 107 76 103L58 93V66",
    "",
)
# Name; shoulders, face and features; shapes; and whether the drawing is mirrored.
VIEWS: Final = (
    (later("front"), FRONT_FACE, FRONT, False),
    (later("left side"), SIDE_FACE, SIDE, False),
    (later("right side"), SIDE_FACE, SIDE, True),
    (later("back"), BACK_FACE, BACK, False),
)
