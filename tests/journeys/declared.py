"""What every control is declared to do, by view, by a pattern of its kind and its name, or its words.

get, post: a request to that view, with the name and value of what was pressed. with: a field that goes along with its
form. change: a field that is sent when it changes. local: something on the page changes, and nothing is sent. type: the
same, of a field that is typed into. file: the machine's own chooser opens.
"""

from typing import Final

Declared = dict[str, dict[str, str]]


def asked(view: str) -> dict[str, str]:
    """What stands at the gates of a coat: a strand test, and a signature with its reason."""
    return {
        "summary (Strand test|.* cautions?)": "local",
        "input:text (strand_min|colour_seen)": f"with post {view}",
        "input:checkbox stretch_held": f"with post {view}",
        "button passed": f"post {view}",
        "input:text reason": f"with post {view}",
        "button Sign": f"post {view}",
    }


FRONT: Final[Declared] = {
    "consult": {
        "a Read the hair →": "get visits:read",
        r"input:(radio|checkbox) \w+": "change post visits:consult",
        "input:date born_on": "change post visits:consult",
        "input:text (resistant|sensitivities)": "change post visits:consult",
        "textarea wish": "change post visits:consult",
        "select (work|part)": "with post visits:past",
        "input:date done_on": "with post visits:past",
        "button (Add|remove)": "post visits:past",
        "select (line|clear)": "with post visits:skin-test",
        "input:(date tested_on|time tested_at)": "with post visits:skin-test",
        "button Record": "post visits:skin-test",
    },
    "read": {
        "a (front|left side|right side|back): .*": "get visits:read",
        "a (roots|lengths|mids|ends|face frame|crown|nape|whole head)": "get visits:read",
        "button (rung|warmth|lean|porosity|family|old_k_s)": "post visits:read",
        "button Keep th(ese numbers|is reading)": "post visits:read",
        "input:text (level|warmth|lean|porosity|grey)": "change post visits:read",
        "select old_shade": "change post visits:read",
        "button school": "post visits:school",
        "summary (Zones|Colour reader)": "local",
        "button (parting|switch)": "post visits:zones",
        "button (length_cm|regrowth_cm)": "post visits:place",
        "select part": "with post visits:add-zone",
        "input:text zone_name": "with post visits:add-zone",
        "button Add": "post visits:add-zone",
        "select (held_level|fault)": "with post visits:reader",
        "button Take 5 readings": "post visits:reader",
        "a From a photo": "get bench:read-photo",
        "a To the Bench": "get bench:bench",
        "a Choose the aim →": "get bench:bench",
        "a Read .* →": "get visits:read",
        "summary Where it lies.*": "local",
        "input:text (length_cm|regrowth_cm|from_cm|to_cm|area_percent|strand_percent)": "with post visits:place",
        "select pattern": "with post visits:place",
        "input:checkbox left_alone": "with post visits:place",
        "button Set it": "post visits:place",
    },
    "read-photo": {
        "input:file photo": "file",
        "button Take this photo": "post bench:read-photo",
        "a Back to Read": "get visits:read",
    },
    "route": {
        "a (roots|mids|ends|face frame|crown|nape|whole head)": "get route:route",
        "button route": "post route:choose",
        "a Warmth": "get bench:bench",
        "a Read the lifted hair": "get visits:read",
        "summary (Toner levels|Developer)": "local",
        "input:text (colour_grams|parts|strong_percent|weak_percent|wanted_percent)": "change get route:route",
        "a To the Bench →": "get bench:bench",
    }
    | asked("route:gate"),
    "plan": {
        "input:time begins_at": "change post route:begin",
        r"summary .*: change .*": "local",
        "input:text (apply_min|minutes)": "with post route:step",
        "button (Set|forget|first)": "post route:step",
        "button hands": "post route:hands",
        "button total_grams": "post route:bowl",
        "a To the Bench →": "get bench:bench",
    },
}

MASTHEAD: Final[Declared] = {
    "masthead": {
        "a Rainshade": "get cards:list",
        "a Cards": "get cards:list",
        "a Chairs": "get chairs:chairs",
        "a Card": "get cards:card",
        "a Consult": "get visits:consult",
        "a Read": "get visits:read",
        "a Aim": "get bench:bench",
        "a Route": "get route:route",
        "a Plan": "get route:plan",
        "a Bench": "get bench:bench",
        "a Pour": "get pour:pour",
        "a Clock": "get clocks:clock",
        "a Result": "get result:result",
        "a Care": "get result:care",
        "button Sign out": "post sign-out",
    },
    "door": {
        "input:text username": "with post sign-in",
        "input:password password": "with post sign-in",
        "button Sign in": "post sign-in",
    },
}

KEYS: Final = {
    "1 to 9": {"2": "local", "5": "local"},
    "0": {"0": "local"},
    "-": {"-": "local"},
    "=": {"=": "local"},
    "c": {"c": "local"},
    "up": {"ArrowUp": "post bench:pour", "Shift+ArrowUp": "post bench:pour"},
    "down": {"ArrowDown": "post bench:pour", "Shift+ArrowDown": "post bench:pour"},
    "/": {"/": "local"},
    "z": {"z": "get bench:bench"},
    "k": {"k": "get bench:bench"},
    "l": {"l": "get bench:bench"},
    "s": {"s": "get bench:bench"},
    "d": {"d": "get bench:bench"},
    "h": {"h": "get bench:bench"},
    "a": {"a": "get bench:bench"},
    "u": {"u": "post bench:walk"},
    "U": {"U": "post bench:walk"},
    "b": {"b": "local"},
    "?": {"?": "local"},
    "Esc": {"Escape": "local"},
}
"""By the words of the sheet of keys on the Bench: what is pressed, and what it does."""

BENCH: Final[Declared] = {
    "bench": {
        "button line": "post bench:line",
        "input:search ": "type",
        "input:checkbox ": "local",
        "input:radio shade": "local",
        "a (Steer|Aim|Photo|Warmth|Zones…|Daylight|Salon|Evening)": "get bench:bench",
        "a (Lift|Lift to .*|Fill|Colour|Glaze|Seal|Coats…)( on| done)?": "get bench:bench",
        "button (purpose|to_level)": "post bench:coats",
        "button way: (.* (earlier|later)|Remove (Lift to .*|Colour|Glaze|Seal)|Set|On it, too)": "post bench:coats",
        "input:text (minutes|vol|parts|plain_grams|product)": "with post bench:coats",
        "select to_zone": "with post bench:coats",
        "a read it now": "get visits:read",
        "a (Hit H|Adjust A|whole head|roots|mids|ends|face frame|crown|nape)( .*)?": "get bench:bench",
        "a (Back Esc|A fresh bowl: .*)": "get bench:bench",
        "button way: (Scale|Mixed)": "post bench:mix",
        "button way: (Undo|Redo).*": "post bench:walk",
        "button way: (Add zone|Split .*|A bowl of its own|Remove it|Rename|Set seam)": "post bench:zones",
        "button way: (One bowl with it|Copy my bowl to it|Even with it)": "post bench:zones",
        "input:text (zone_name|name|blend)": "with post bench:zones",
        "select (part|other)": "with post bench:zones",
        "a Read its hair": "get visits:read",
        "button Take [0-9]": "post bench:take",
        "button Add these 1": "post bench:add",
        "input:radio (max_shades|step|stock|lines)": "change get bench:bench",
        "input:file photo": "file",
        "button Take this photo": "post bench:send-photo",
        "svg (plane|depth)": "post bench:aim",
        "input:text (lightness|chroma|hue)": "with post bench:aim",
        "button (Aim here|clear|everywhere)": "post bench:aim",
        "a Find the route →": "get route:route",
        "input:range washes": "change get bench:bench",
        "a see Pour": "get pour:pour",
        "input:text total_grams": "change post bench:wanted",
        "button (tap|by|Set)": "post bench:pour",
        "input:text grams": "with post bench:pour",
        r"button [+].* off.*": "post bench:add",
        "input:text note": "with post bench:save",
        "button Save to card": "post bench:save",
        "a Pour →": "get pour:pour",
    },
}

SINK: Final[Declared] = {
    "pour": {
        "a Pour .* now": "get pour:pour",
        "a [1-9] (Lift|Colour|Glaze): .*": "get pour:pour",
        "summary (Simulated scale|A gate is shut)": "local",
        "input:checkbox (in_metal|other_developer)": "change post pour:mixing",
        "input:text (grams|lot)": "with post pour:weigh",
        "button (Note it|by_scale)": "post pour:weigh",
        "button (put|tare|fault)": "post pour:pan",
        "button next": "post pour:mix",
        "a To the Clock →": "get clocks:clock",
        "a To the Bench →": "get bench:bench",
    }
    | asked("pour:gate"),
    "clock": {
        "button Sound": "local",
        "select kind": "with post clocks:start",
        "input:text (minutes|batches|vol|to_level)": "with post clocks:start",
        "input:checkbox (guarded|in_metal|damp|heat)": "with post clocks:start",
        "button (Start .*|all)": "post clocks:start",
        "summary (Lightener|Set right|Put on at .*)": "local",
        "button (answer|seen|forget|more|stings|rinse|rinse_all)": "post clocks:act",
        "button (Set|not_rinsed)": "post clocks:correct",
        "input:time at": "with post clocks:correct",
        "a To the Bench": "get bench:bench",
        "a Judge the result →": "get result:result",
    }
    | asked("clocks:gate"),
}

HANDED: Final[Declared] = {
    "result": {
        "a (roots|mids|ends|face frame|crown|nape|whole head)( ✓)?": "get result:result",
        "input:checkbox (dry|two_lights)": "with post result:judge",
        "button (place|reader)": "post result:judge",
        "a By a photo or a file": "get result:photo",
        "textarea words": "with post result:tweak",
        "input:checkbox aim": "with post result:tweak",
        "button Note(d: change)? it": "post result:tweak",
        "a It went wrong: put it right": "get result:correct",
        "button Keep, and hand over →": "post result:keep",
    },
    "care": {
        "input:text (washes_a_week|given)": "change post result:care",
        "input:checkbox (hot_water|pool|sun)": "change post result:care",
        "input:date next_on": "change post result:care",
        "button Keep": "post result:care",
        "button goes": "post result:leftover",
        "a Hand-out": "get result:handout",
        "a PDF": "get formats:handout",
        "a Calendar": "get formats:calendar",
        "a To the card →": "get cards:card",
    },
    "correct": {
        "a (too (bright|dark|warm)|green|uneven|pale root|tone it down for work)": "get result:correct",
        "button Aim at it on the Bench →": "post result:aim-at",
    },
    "cards": {
        "input:search q": "type get cards:list",
        "button Find": "get cards:list",
        "summary By colour, level, date": "local",
        "input:text (lightness|chroma|hue|level)": "change get cards:list",
        "input:date (since|until)": "change get cards:list",
        "a New client": "get clients:new",
        "a [A-Z].*(nothing mixed yet|[0-9]{4} .*)": "get cards:card",
        "a Logbook as CSV": "get formats:logbook",
        "a Take cards in": "get formats:take",
    },
    "card": {
        "button (Go on with|Start) today's visit →": "post visits:start",
        "button Repeat today the formula of .*": "post cards:repeat",
        "a Again, changed": "get cards:again",
        "input:checkbox formula": "with get cards:compare",
        "button Compare two": "get cards:compare",
        "a (Card as PDF|JSON|Palette|Spectra .CGATS.)": "get formats:card",
    },
    "again": {
        "button Take .*": "post cards:repeat",
        "a This formula as JSON": "get formats:formula",
    },
    "chairs": {
        "button Sound": "local",
        "a Seat a client →": "get cards:list",
        "a Clock.*": "get clocks:clock",
        "a Apply.*": "get clocks:clock",
        "a Hand over.*": "get result:care",
        "a Judge.*": "get result:result",
        "a (Mix|Aim).*": "get bench:bench",
        "a Consult.*": "get visits:consult",
        "input:text time_zone": "with post chairs:time-zone",
        "button Set": "post chairs:time-zone",
        "a House rules": "get shelf:house",
    },
    "house": {
        "select (school|watch|strong_lift)": "with post shelf:house",
        "input:number colour_from_years": "with post shelf:house",
        "input:checkbox (minors_stop|health_stops)": "with post shelf:house",
        "button Keep the rules": "post shelf:house",
        "input:number (developer_vol|test_lasts_days)": "with post shelf:line",
        "input:checkbox asks_test": "with post shelf:line",
        "input:text declares": "with post shelf:line",
        "button Keep (?!the rules).*": "post shelf:line",
    },
    "take": {
        "a The schema of a card": "get formats:schema",
        "input:file file": "file",
        "input:checkbox (leave_out|prefers_file)": "with post formats:take",
        "button Take in →": "post formats:take",
    },
    "new": {
        "input:text (name|about)": "with post clients:new",
        "textarea notes": "with post clients:new",
        "a Leave": "get cards:list",
        "button Open the card →": "post clients:new",
    },
}
