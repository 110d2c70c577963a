"""Words for people: every refusal and engine error, each saying what to do next."""

from collections.abc import Mapping
from typing import Final

from engine.errors import EmptyBowl, EmptyShelf, EngineError, OutOfRange, WrongType
from studio.ui.refusal import Refusal

LABELS: Final[Mapping[str, str]] = {
    "level": "Level",
    "share": "Share in clear",
    "washes": "Washes",
    "amount": "How much",
    "pack": "A pack",
    "paid": "One costs",
    "warmth": "Warmth",
    "lean": "Lean",
    "porosity": "Porosity",
    "grey": "Grey share",
    "yellowing": "Yellowing",
    "grams": "Grams",
    "plain_grams": "Grams",
    "total_grams": "Grams wanted",
    "lightness": "Depth",
    "chroma": "Strength",
    "hue": "Hue",
    "blend": "Seam",
    "keep": "Part kept",
    "old_k_s": "Old colour",
    "strong_percent": "The stronger",
    "weak_percent": "The weaker",
    "wanted_percent": "The strength wanted",
    "colour_grams": "Grams of colour",
    "parts": "Parts of developer",
    "minutes": "Minutes",
    "minutes_more": "Minutes more",
    "vol": "Developer",
    "to_level": "Level to stop at",
    "lift_to": "Lift to level",
    "factor": "Times of everything",
    "apply_min": "Minutes of application",
    "hands": "Pairs of hands",
    "sections": "Sections",
    "left_g": "Grams left",
    "length_cm": "Length, cm",
    "regrowth_cm": "Regrowth, cm",
    "from_cm": "From, cm",
    "to_cm": "To, cm",
    "area_percent": "Scalp, %",
    "strand_percent": "Strands, %",
    "washes_a_week": "Washes a week",
    "batches": "Batches",
    "price": "Price",
}

# What a gate that stops the work is called on a button; one that is not here has its code's words.
GATE_NAMES: Final[Mapping[str, str]] = {
    "health_stopped": "doctor's note",
    "minor_stopped": "guardian's word",
    "lift_too_much": "lift too far",
    "strand_failed": "strand test failed",
    "test_reacted": "sensitivity test reacted",
    "unknown_chemistry": "unknown chemistry",
}

REFUSALS: Final[Mapping[str, str]] = {
    "stale": (
        "This bowl was changed in another window: {since}. Your change ({attempt}) was not made, and nothing "
        "was overwritten. You now see the bowl as it stands; make the change again if you still want it."
    ),
    "stale_reading": (
        "This hair was read again in another window. You now see that reading; what you typed was not saved: {attempt}."
    ),
    "nul": "What was sent holds a character that no text has (NUL). Nothing was changed; type it again.",
    "not_a_number": "{label} needs a number, for example {example}.",
    "out_of_range": "{label}: {low:g} to {high:g}{unit} can be taken; {given:g} was typed.",
    "negative_grams": "Grams can't be negative. Type 0 to take a shade out.",
    "too_many_grams": "A single pour holds at most {most:g} g; {given:g} g was typed. Nothing was changed.",
    "pot_full": (
        "The largest pot takes {most:g} g, and this would make {total:g} g. "
        "Mix it in {pots} batches; nothing was changed."
    ),
    "empty_bowl": "The bowl is empty: pour a shade first.",
    "no_aim": "There is no aim yet: tap a colour on the plane, or type depth, strength and hue.",
    "aim_not_showable": (
        "No screen shows this colour, so it can't be judged here: at this depth and hue, "
        "strength goes up to {most:.0f}."
    ),
    "line_gone": "That bowl was of a line that is no longer on the shelf: the step stays as it is.",
    "nothing_to_undo": "There is nothing left to undo.",
    "nothing_to_redo": "There is nothing to redo.",
    "unknown_unit": "Amounts can be typed in g, oz, fl oz, ml, squeezes, drops or tubes; a plain number is grams.",
    "already_mixed": "{mixed:g} g of this is mixed in already and can't come out. Add something else, or start afresh.",
    "zone_gone": "That zone is no longer on this head. Nothing was changed; you see the zones as they stand.",
    "pattern_unknown": "Choose which strands.",
    "stretch_half": "A stretch has both ends: from and to, in cm from the scalp.",
    "stretch_crossed": "A stretch ends further from the scalp than it begins.",
    "stretch_past": "The hair is {length:g} cm long: a stretch can't go on to {given:g} cm.",
    "strands_over": "The strands of {part} would come to {total:.0f} %: leave room for one another.",
    "coat_gone": "That coat is no longer on this zone. Nothing was changed; you see its coats as they stand.",
    "coat_unsaid": "This zone has several coats by now, and it was not said which is meant. Nothing was changed.",
    "coat_plain": "Nothing is mixed for that coat: take another one in hand.",
    "coat_begun": "That coat is on the hair already: it neither moves nor goes, and undo stops before it.",
    "coat_at_end": "It stands at the end of the row already.",
    "coat_there": "{zone} has a coat from this bowl already.",
    "last_coat": "It is the only coat of this zone that is mixed, and stays. Leave the zone alone, or remove the zone.",
    "lift_over_colour": "Lightener after colour takes out again what was just put on: lift first, then colour.",
    "lifted_already": "The hair is that light already: lift to a level above it.",
    "fill_of_natural": "Natural hair has its own warmth: a fill puts back what lightener took.",
    "nothing_by_hand": "Say how far to lift, or that it is filled first: with neither, it is colour only.",
    "not_plain": "What is in that coat's bowl is weighed on Pour.",
    "not_a_lift": "Only a lift ends at a level.",
    "purpose_unknown": "Choose what the coat is for.",
    "too_many_coats": "A zone takes at most {most} coats here. Remove one first.",
    "stock_short": "{line}: too little is left on the shelf for this bowl.",
    "none_short": "The shelf holds all that goes into this bowl.",
    "begun_short": "Some of it is in the bowl already. Pour what is left of {names}, mark it as mixed, and Adjust it.",
    "no_line_for": "Nothing on the shelf can be mixed for that: {purpose}.",
    "line_not_for": "A coat to {purpose} is not mixed from {line}.",
    "bowl_of_another_kind": "One bowl can't be for both: one coat is to {own}, the other to {other}.",
    "zone_unnamed": "A zone needs a name.",
    "zone_name_taken": "There is a zone of that name already.",
    "coat_on": "Something is on {zone} now: rinse it before the zones are changed.",
    "zone_worked": "{zone} has been worked on today: it can be parted further, but not go or be one with other hair.",
    "zone_part_unknown": "Choose which part of the head the zone is.",
    "too_many_zones": "A head has at most {most} zones here. Remove one first.",
    "last_zone": "This is the only zone of the head, and stays.",
    "no_neighbour": "There is no other zone with a colour to even this one with.",
    "nothing_to_adjust": "There is nothing to add: pour first, or mark the bowl as mixed.",
    "no_carrier": "{line} has nothing that thins it: put its clear on the shelf, or choose another line.",
    "integrity_unknown": "Say how the integrity test went: it goes back, it stays long, or its curl is gone.",
    "nothing_planned": "There is no coat to agree to yet: add one on the Bench.",
    "head_busy": "{head} keeps the aim of this visit: {why}.",
    "head_gone": "No such visit of today can take the aim: look again at who is read.",
    "kind_unknown": "Choose what kind of hair it is: family is lightened, natural, grey or yellowed.",
    "old_unknown": "Choose an old colour from the list.",
    "photo_missing": "Choose a photo first.",
    "photo_too_large": "The photo is too large: up to {most} MB are taken.",
    "photo_unreadable": "That file is not a photo that can be read here. JPEG, HEIC, PNG and WebP can.",
    "photo_pixels": "The photo has too many pixels: up to {most} megapixels of its kind are taken.",
    "photo_busy": "Other photos are still being read. Send it again in a moment.",
    "photo_too_small": "The photo is too small: each side needs at least {least} pixels.",
    "photo_outside": "Tap inside the photo.",
    "photo_over_exposed": "The {what} is burnt out there. Tap another place, or take the photo with less light.",
    "photo_in_the_dark": "The {what} is lost in the dark there. Tap another place, or take it with more light.",
    "photo_paper_in_shadow": "That is too dark for white paper: it lies in shadow. Tap it where the light falls.",
    "photo_paper_uneven": "The paper is uneven there. Tap it away from its edge, from print, and from a shadow.",
    "photo_paper_not_white": "That is too strongly coloured for white paper. Tap paper, or leave it out.",
    "unknown_shade": "That shade is not in this line; choose one from the shelf.",
    "stale_consult": (
        "This consult was changed in another window. You now see it as it stands; nothing was overwritten, "
        "and your last change was not made."
    ),
    "stale_client": (
        "This was changed in another window, and is by now: {now}. Nothing was overwritten, and what you typed "
        "is still here: keep it to put it in that place, or leave it."
    ),
    "name_not_typed": "Type the name as it stands on the card, {name}. Nothing was forgotten.",
    "clock_still_runs": "A clock runs on {name}: rinse first. Nothing was forgotten.",
    "zone_unknown": "No such time zone is known. Choose one from the list, such as Europe/Lisbon.",
    "school_unknown": "Choose one of the two schools.",
    "past_unknown": "Choose what was done, and where.",
    "past_after_visit": "That day is after this visit: earlier work can't be.",
    "past_too_old": "That is too long ago to be on this hair.",
    "test_in_future": "That day is still to come: a test is recorded when it has been read.",
    "gate_final": "No signature opens this gate.",
    "gate_gone": "That gate no longer stands in the way.",
    "gate_signed": "This gate is signed already.",
    "gate_shut": "A safety gate is shut: {sentence}",
    "not_licensed": "Only a licensed colourist can sign a gate.",
    "reason_missing": "A signature needs its reason in words.",
    "carrier_strand": "A carrier colours nothing: a strand of it tells nothing.",
    "too_many_strands": "{most} strands of one tube are noted: forget one that tells little.",
    "more_than_left": "The record says that {left} g are left: no more than that can be gone. Count the tube first.",
    "expired_already": "{day} has passed: what is out of date goes back, and not on the shelf.",
    "scale_below_nothing": "The scale says less than nothing: take everything off it and tare it.",
    "lighter_than_tube": "An empty tube weighs {empty} g, and this is {given} g: was the tube on the scale?",
    "stock_too_much": "More than {most} g of one tube is more than a shelf holds: look at the number again.",
    "empty_list": "There is no tube in this list to put on the shelf.",
    "line_name_taken": "A line called {name} is on the shelf already: add to that one, or give another name.",
    "too_many_lines": "A shelf holds {most} lines here.",
    "too_many_shades": "A line holds {most} tubes here.",
    "list_in_use": (
        "More hangs on {names} by now, such as bowls, cards, strands or deliveries: the list stays. "
        "Take single tubes off instead."
    ),
    "tube_name_taken": "Another tube of this line is called {said}.",
    "key_taken": "The key {said} pours another tube of this line.",
    "code_taken": "Another tube of this line has the code {said}.",
    "not_owner": "Only an owner says who works here.",
    "role_unknown": "Choose what they are from the list.",
    "licence_not_held": "An apprentice and the front desk hold no licence: leave it off, or make them a colourist.",
    "last_owner": "Somebody must own the studio: make another an owner first.",
    "invitation_unknown": "This link lets nobody in. Ask for a new one.",
    "invitation_over": "This link was used, withdrawn, or is too old. Ask for a new one.",
    "sign_in_taken": "Somebody signs in by this name already: take another.",
    "studio_taken": "A studio has this name already: take another.",
    "way_unknown": "That button is not of this page. Look again, and press once more.",
    "not_for_desk": "This is for those who work at a chair.",
    "not_for_apprentice": "An owner or a colourist hands out what is kept about a client, or forgets it.",
    "hand_unknown": "Choose who signs.",
    "word_wrong": "That is not the PIN or password of who is signed in here.",
    "pin_wrong": "That is not their PIN.",
    "pin_shut": "The PIN is shut after too many wrong ones. The password opens, at the sign-in.",
    "pin_form": "A PIN has {least} to {most} digits.",
    "pin_easy": "That PIN is tried first: not all digits alike, nor one after another.",
    "sign_in_over": "That sign-in has ended already.",
    "not_your_password": "That is not your password.",
    "works_elsewhere": "They work in another studio, too: how they sign in is theirs alone. Mail helps them.",
    "invitation_for_another": "This link makes a new password for somebody else.",
    "is_here": "You work in this studio already.",
    "not_of_first": "Your password, mail and second factor are seen to at {first}, where you came first. Choose it "
    "under You.",
    "nothing_to_bring_back": "It is there already, or was never deleted.",
    "consent_withdrawn": "The client has withdrawn the consent to {what}: nothing of that is kept, and the gates don't "
    "know of it. Mind it yourself today, or ask, and note on the card that she agrees.",
    "consent_unasked": "This house asks first: note on the card that the client agrees to {what}.",
    "consent_of_what": "Choose what is agreed to.",
    "hand_gone": "Choose a colleague who works at a chair here.",
    "hand_wrong": "That is not the password of who signs.",
    "house_not_licensed": "Only a licensed colourist sets the house's rules.",
    "vol_without_developer": "A line that takes developer needs its strength; one that takes none has none.",
    "strand_outcome": "Say whether the strand passed or failed.",
    "strand_gave": "A strand that gave has not passed. Note it as failed; this mix stays away from this hair.",
    "sheet_noted": "That photo is noted already: its strands are among those that were read.",
    "sheet_no_rows": "Say what lies on the paper: the level and the share of each strand, in its order.",
    "sheet_no_paper": "No sheet of white paper is found in the photo. Lay the strands on one that fills the photo.",
    "sheet_two_papers": "Two white papers are in the photo: which one lies under the strands? Take it with one alone.",
    "sheet_few_strands": "{what} strands are found on the paper, and {wanted} were planned. Lay them apart, inside the "
    "paper's edge, or take the rows out that were not made.",
    "sheet_many_strands": "{what} things lie on the paper, and {wanted} strands were planned. Take the others away, or "
    "add their rows.",
    "sheet_strand_in_shadow": "Strand {what} lies in shadow. Turn the paper to the window, and take the photo again.",
    "sheet_strand_unclear": "Strand {what} says nothing certain: it is burnt out, or lost in the dark. Take the photo "
    "again.",
    "swatch_unknown": "That is none of the locks. Tap one of them.",
    "spectrum_which": "Which of its samples is it? Type its name: {names}.",
    "told_unfit": "That can't be this tube: {message}. Nothing was changed.",
    "supply_taken": "{said} is on the shelf already. Add something that tells them apart.",
    "supply_vol": "A developer needs its strength in vol; nothing else has one.",
    "supply_more_than_left": "{left} are left by the record. Count it first, if there is more.",
    "lesson_gone": "That record is no longer here as it was. Nothing was changed; look at it anew.",
    "photo_no_paper": "Tap the white paper first: without it a reading would guess at the light.",
    "reader_not_there": "The colour reader does not answer. Plug it in, or read by eye.",
    "reader_lost": "The colour reader stopped half way. Nothing was kept; try again.",
    "readings_garbage": "What the colour reader sent is no colour. Nothing was kept; start it anew, or read by eye.",
    "readings_unsteady": "The readings are too far apart. Hold the reader still on one place, and try again.",
    "readings_too_few": "Too few readings stood together. Try again.",
    "no_target": "There is no aim yet: the route follows from it.",
    "route_unknown": "Choose one of the routes that are shown.",
    "weighed_in": (
        "Something was weighed into this bowl since, and it can't become a bowl of another line. Begin a fresh bowl."
    ),
    "nothing_poured": "Nothing was poured of it: type what went in, or take it from the scale.",
    "not_in_recipe": "That is not in this recipe. Add it on the Bench, which forecasts what it does.",
    "batch_mixed": "This batch is mixed. Begin the next one to pour again.",
    "batch_not_mixed": "The batch in hand is not mixed yet.",
    "lines_left": "Nothing of {names} is in yet: pour it, or take it out of the recipe on the Bench.",
    "fault_unknown": "The simulated scale knows no such fault.",
    "clock_kind_unknown": "Choose what goes on the hair.",
    "clock_running": "{zone} has {what} on it. Rinse that first.",
    "nothing_to_start": "Nothing of that kind is due: it is on already, or was rinsed.",
    "too_many_spots": "{most} spots are marked already: take one away first.",
    "way_gone": "That way is no longer offered: the hair is another by now. You now see those that are.",
    "strand_no_look": (
        "The reader that ships with the app reads strands of a bowl, and nothing is mixed for this one. "
        "Untick it, and say the colour in words."
    ),
    "no_line_name": "The line needs a name here.",
    "join_gone": "What it was to go on beside is no longer on this head. Nothing was changed; choose again.",
    "join_apart": (
        "What joins is rinsed with what it joins: {zone} can't be in foil, in sections or rinsed by itself as well. "
        "Nothing was changed."
    ),
    "join_twice": "That coat joins another itself, or is joined: only what stands by itself can be joined.",
    "before_begin": "Not before: that is earlier than the visit begins ({begins}). Nothing was changed.",
    "turns_unknown": "Those turns name a zone that is not on this head. You now see the plan as it stands; try again.",
    "sections_all_on": "Every section of this zone is on already.",
    "section_last": "That is the last section that is on. Once it is off, say Rinsed.",
    "clock_stopped": "That clock has stopped: it was rinsed.",
    "still_on": "On {zones} something is still on: its clock runs. Rinse it on the Clock, or keep the card as it is.",
    "clock_not_rinsed": "That is on the hair still: it was not rinsed yet.",
    "check_unknown": "Say whether it is under, on or over what is wanted.",
    "moment_unknown": "Choose what to set right: when it was put on, or when it was rinsed.",
    "moment_ahead": "That moment is still to come, or more than a day ago.",
    "moment_crossed": "Nothing is rinsed before it was put on. Set the other moment right first.",
    "ladder_place": "Tap one of the locks that are shown.",
    "next_before_visit": "The next visit is after this one, and within two years.",
    "not_a_day": "That is no day: choose one in the calendar.",
    "no_direct_dye": "No direct dye is on the shelf. What needs developer never goes home.",
    "not_a_time": "That is no time of day: type it like 14:30.",
    "colour_in_part": "A colour to look for needs its depth, strength and hue, all three.",
    "file_missing": "Choose a file first.",
    "file_too_large": "The file is too large: up to {most} MB are taken. Bring it in pieces.",
    "file_line": "That file can't be read as readings: {message}. Nothing was kept.",
    "file_not_text": "That file is no text in UTF-8. Save it as CSV or JSON in UTF-8, and send it again.",
    "name_taken": "There is a client of that name already. Add something that tells them apart.",
}


def refusal_words(refusal: Refusal) -> str:
    """One refusal in words."""
    facts = {"label": LABELS.get(refusal.field, refusal.field), **refusal.facts}
    return REFUSALS[refusal.code].format(**facts)


def engine_refusal(error: EngineError) -> Refusal:
    """An error of the engine as a refusal, its field reduced to the form's own name."""
    field = getattr(error, "field", "").rpartition(".")[2]
    match error:
        case OutOfRange():
            unit = f" {error.unit}" if error.unit else ""
            return Refusal("out_of_range", field, low=error.low, high=error.high, given=error.given, unit=unit)
        case WrongType():
            return Refusal("not_a_number", field, example="8.5")
        case EmptyBowl():
            return Refusal("empty_bowl", "grams")
        case EmptyShelf():
            return Refusal("unknown_shade", "shade")
        case _:
            raise error
