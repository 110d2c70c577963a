"""Words for people: every refusal and engine error, each saying what to do next."""

from collections.abc import Mapping
from typing import Final

from engine.errors import EmptyBowl, EmptyShelf, EngineError, OutOfRange, WrongType
from engine.language import later, say
from studio.ui.refusal import Refusal

LABELS: Final[Mapping[str, str]] = {
    "level": later("Level"),
    "share": later("Share in clear"),
    "washes": later("Washes"),
    "amount": later("How much"),
    "pack": later("A pack"),
    "paid": later("One costs"),
    "warmth": later("Warmth"),
    "lean": later("Lean"),
    "porosity": later("Porosity"),
    "grey": later("Grey share"),
    "yellowing": later("Yellowing"),
    "grams": later("Amount"),
    "plain_grams": later("Amount"),
    "total_grams": later("Amount wanted"),
    "lightness": later("Depth"),
    "chroma": later("Strength"),
    "hue": later("Hue"),
    "blend": later("Seam"),
    "keep": later("Part kept"),
    "old_k_s": later("Old colour"),
    "strong_percent": later("The stronger"),
    "weak_percent": later("The weaker"),
    "wanted_percent": later("The strength wanted"),
    "colour_grams": later("Amount of colour"),
    "parts": later("Parts of developer"),
    "minutes": later("Minutes"),
    "number": later("The answer"),
    "minutes_more": later("Minutes more"),
    "vol": later("Developer"),
    "to_level": later("Level to stop at"),
    "lift_to": later("Lift to level"),
    "factor": later("Times of everything"),
    "apply_min": later("Minutes of application"),
    "hands": later("Pairs of hands"),
    "sections": later("Sections"),
    "left_g": later("Amount left"),
    "length_cm": later("Length, cm"),
    "regrowth_cm": later("Regrowth, cm"),
    "from_cm": later("From, cm"),
    "to_cm": later("To, cm"),
    "area_percent": later("Scalp, %"),
    "strand_percent": later("Strands, %"),
    "washes_a_week": later("Washes a week"),
    "batches": later("Batches"),
    "price": later("Price"),
}

# What each gate that stops the work is called on a button.
GATE_NAMES: Final[Mapping[str, str]] = {
    "under_age": later("under age"),
    "reacted_before": later("reacted before"),
    "test_reacted": later("sensitivity test reacted"),
    "allergy": later("allergy"),
    "stung_today": later("stung today"),
    "scalp_broken": later("scalp broken"),
    "forty_on_scalp": later("forty on scalp"),
    "too_strong": later("too strong"),
    "unknown_chemistry": later("unknown chemistry"),
    "strand_failed": later("strand test failed"),
    "going": later("hair is going"),
    "colour_over_lightener": later("colour over lightener"),
    "past_pack_time": later("past pack time"),
    "near_eyes": later("near eyes"),
    "mixed_kept": later("mixed kept"),
    "sensitivity_test": later("sensitivity test"),
    "scalp_not_sound": later("scalp not sound"),
    "too_strong_for_scalp": later("too strong for scalp"),
    "lift_too_much": later("lift too far"),
    "heat_on_fragile": later("heat on fragile"),
    "minor_stopped": later("guardian's word"),
    "health_stopped": later("doctor's note"),
    "lines_stopped": later("two lines"),
}

REFUSALS: Final[Mapping[str, str]] = {
    "stale": (
        later(
            "This bowl was changed in another window: {since}. Your change ({attempt}) was not made, and nothing was "
            "overwritten. You now see the bowl as it stands; make the change again if you still want it."
        )
    ),
    "stale_reading": (
        later(
            "This hair was read again in another window. You now see that reading; what you typed was not saved: "
            "{attempt}."
        )
    ),
    "nul": later("What was sent holds a character that no text has (NUL). Nothing was changed; type it again."),
    "not_a_number": later("{label} needs a number, for example {example}."),
    "out_of_range": later("{label}: {low:g} to {high:g}{unit} can be taken; {given:g} was typed."),
    "negative_grams": later("An amount can't be negative. Type 0 to take a shade out."),
    "too_many_grams": (
        later("A single pour holds at most {most:weight}; {given:weight} was typed. Nothing was changed.")
    ),
    "pot_full": (
        later(
            "The largest pot takes {most:weight}, and this would make {total:weight}. Mix it in {pots} batches; "
            "nothing was changed."
        )
    ),
    "empty_bowl": later("The bowl is empty: pour a shade first."),
    "no_aim": later("There is no aim yet: tap a colour on the plane, or type depth, strength and hue."),
    "aim_not_showable": (
        later(
            "No screen shows this colour, so it can't be judged here: at this depth and hue, strength goes up to "
            "{most:.0f}."
        )
    ),
    "line_gone": later("That bowl was of a line that is no longer on the shelf: the step stays as it is."),
    "nothing_to_undo": later("There is nothing left to undo."),
    "nothing_to_redo": later("There is nothing to redo."),
    "unknown_unit": later(
        "Amounts can be typed in g, oz, fl oz, ml, squeezes, drops or tubes; a plain number is {unit}."
    ),
    "already_mixed": later(
        "{mixed:weight} of this is mixed in already and can't come out. Add something else, or start afresh."
    ),
    "zone_gone": later("That zone is no longer on this head. Nothing was changed; you see the zones as they stand."),
    "pattern_unknown": later("Choose which strands."),
    "stretch_half": later("A stretch has both ends: from and to, in cm from the scalp."),
    "stretch_crossed": later("A stretch ends further from the scalp than it begins."),
    "stretch_past": later("The hair is {length:g} cm long: a stretch can't go on to {given:g} cm."),
    "strands_over": later("The strands of {part} would come to {total:.0f} %: leave room for one another."),
    "coat_gone": later("That coat is no longer on this zone. Nothing was changed; you see its coats as they stand."),
    "coat_unsaid": later(
        "This zone has several coats by now, and it was not said which is meant. Nothing was changed."
    ),
    "coat_plain": later("Nothing is mixed for that coat: take another one in hand."),
    "coat_begun": later("That coat is on the hair already: it neither moves nor goes, and undo stops before it."),
    "coat_at_end": later("It stands at the end of the row already."),
    "coat_there": later("{zone} has a coat from this bowl already."),
    "last_coat": later(
        "It is the only coat of this zone that is mixed, and stays. Leave the zone alone, or remove the zone."
    ),
    "lift_over_colour": later("Lightener after colour takes out again what was just put on: lift first, then colour."),
    "lifted_already": later("The hair is that light already: lift to a level above it."),
    "fill_of_natural": later("Natural hair has its own warmth: a fill puts back what lightener took."),
    "nothing_by_hand": later("Say how far to lift, or that it is filled first: with neither, it is colour only."),
    "not_plain": later("What is in that coat's bowl is weighed on Pour."),
    "not_a_lift": later("Only a lift ends at a level."),
    "purpose_unknown": later("Choose what the coat is for."),
    "too_many_coats": later("A zone takes at most {most} coats here. Remove one first."),
    "stock_short": later("{line}: too little is left on the shelf for this bowl."),
    "none_short": later("The shelf holds all that goes into this bowl."),
    "begun_short": later(
        "Some of it is in the bowl already. Pour what is left of {names}, mark it as mixed, and Adjust it."
    ),
    "no_line_for": later("Nothing on the shelf can be mixed for that: {purpose}."),
    "line_not_for": later("A coat to {purpose} is not mixed from {line}."),
    "bowl_of_another_kind": later("One bowl can't be for both: one coat is to {own}, the other to {other}."),
    "zone_unnamed": later("A zone needs a name."),
    "zone_name_taken": later("There is a zone of that name already."),
    "coat_on": later("Something is on {zone} now: rinse it before the zones are changed."),
    "zone_worked": later(
        "{zone} has been worked on today: it can be parted further, but not go or be one with other hair."
    ),
    "zone_part_unknown": later("Choose which part of the head the zone is."),
    "too_many_zones": later("A head has at most {most} zones here. Remove one first."),
    "last_zone": later("This is the only zone of the head, and stays."),
    "no_neighbour": later("There is no other zone with a colour to even this one with."),
    "root_look_unknown": later("Choose what the root gets: a shadow, nothing, what the lengths get, or a tap."),
    "root_alone": later("Only a root that has lengths beneath it has a look of its own: split the head first."),
    "root_no_aim": later("Aim the lengths first: a shadow is as deep as they are, and deeper."),
    "nothing_to_adjust": later("There is nothing to add: pour first, or mark the bowl as mixed."),
    "no_carrier": later("{line} has nothing that thins it: put its clear on the shelf, or choose another line."),
    "integrity_unknown": later("Say how the integrity test went: it goes back, it stays long, or its curl is gone."),
    "nothing_planned": later("There is no coat to agree to yet: add one on the Bench."),
    "head_busy": later("{head} keeps the aim of this visit: {why}."),
    "head_gone": later("No such visit of today can take the aim: look again at who is read."),
    "kind_unknown": later("Choose what kind of hair it is: family is lightened, natural, grey or yellowed."),
    "old_unknown": later("Choose an old colour from the list."),
    "photo_missing": later("Choose a photo first."),
    "photo_too_large": later("The photo is too large: up to {most} MB are taken."),
    "photo_unreadable": later("That file is not a photo that can be read here. JPEG, HEIC, PNG and WebP can."),
    "photo_pixels": later("The photo has too many pixels: up to {most} megapixels of its kind are taken."),
    "photo_busy": later("Other photos are still being read. Send it again in a moment."),
    "photo_too_small": later("The photo is too small: each side needs at least {least} pixels."),
    "photo_outside": later("Tap inside the photo."),
    "photo_over_exposed": later("The {what} is burnt out there. Tap another place, or take the photo with less light."),
    "photo_in_the_dark": later("The {what} is lost in the dark there. Tap another place, or take it with more light."),
    "photo_paper_in_shadow": later(
        "That is too dark for white paper: it lies in shadow. Tap it where the light falls."
    ),
    "photo_paper_uneven": later("The paper is uneven there. Tap it away from its edge, from print, and from a shadow."),
    "photo_paper_not_white": later("That is too strongly coloured for white paper. Tap paper, or leave it out."),
    "skill_unknown": later("Choose what to practise."),
    "no_cases": later("Nothing that was kept here has been judged yet: practise something else."),
    "not_mentor": later("Only a licensed colleague sets work and signs it off."),
    "own_work": later("Nobody signs off their own work: ask a colleague."),
    "not_ready": later("Not ready to be signed off: it takes five answers, and step 3."),
    "drill_answered": later("This drill has been answered already: what was answered first counts."),
    "drill_moved_on": later("Another tablet has poured meanwhile. You now see the bowl as it stands."),
    "drill_pours_used": later("All {most} pours are used: say that this is it."),
    "drill_pour": later("Pour one of the shades that are offered, in one of the steps; the bowl holds 120 g."),
    "wear_unknown": later("Choose where the colour is to be seen."),
    "guess_first": later("Write down first what you expect: tap a colour and a depth."),
    "choice_unknown": later("Choose one of the answers."),
    "stroke_of_what": later("Choose what you draw: hair, what is none, or a zone of this head."),
    "strokes_outside": later("Draw inside the photo."),
    "strokes_none": later("Draw over the hair first."),
    "strokes_too_many": later("That is more than can be drawn over one photo: take some strokes away first."),
    "strokes_no_hair": later("No hair was found there. Draw along the hair, and not over what you drew as none."),
    "strokes_two_heads": later("That lies on two heads. Draw over one of them."),
    "strokes_black_and_white": later("The photo has no colours: take one that is not black and white."),
    "unknown_shade": later("That shade is not in this line; choose one from the shelf."),
    "stale_consult": (
        later(
            "This consult was changed in another window. You now see it as it stands; nothing was overwritten, and "
            "your last change was not made."
        )
    ),
    "stale_client": (
        later(
            "This was changed in another window, and is by now: {now}. Nothing was overwritten, and what you typed "
            "is still here: keep it to put it in that place, or leave it."
        )
    ),
    "archive_waits": later("The worker is at an archive already. Wait until it is done."),
    "archive_size": later("An archive has up to {most} GB, and this is no file or a larger one."),
    "archive_no_room": later("This machine has no room for it: {needed} GB free are needed. Nothing was taken in."),
    "archive_part": later("This is not the next piece of the archive. Begin anew."),
    "studio_not_bare": later("An archive comes into an empty studio, and this one has cards or tubes."),
    "who_is_it": later("Say of each name whether it is the same person. Nothing was taken in yet."),
    "name_not_typed": later("Type the name as it stands on the card, {name}. Nothing was forgotten."),
    "clock_still_runs": later("A clock runs on {name}: rinse first. Nothing was forgotten."),
    "zone_unknown": later("No such time zone is known. Choose one from the list, such as Europe/Lisbon."),
    "rung_word": later("Level {level} needs a word of up to 40 letters for what it shows."),
    "school_unknown": later("Choose one of the schools."),
    "past_unknown": later("Choose what was done, and where."),
    "past_after_visit": later("That day is after this visit: earlier work can't be."),
    "past_too_old": later("That is too long ago to be on this hair."),
    "test_in_future": later("That day is still to come: a test is recorded when it has been read."),
    "gate_final": later("No signature opens this gate."),
    "gate_gone": later("That gate no longer stands in the way."),
    "gate_signed": later("This gate is signed already."),
    "gate_shut": later("A safety gate is shut: {sentence}"),
    "not_licensed": later("Only a licensed colourist can sign a gate."),
    "reason_missing": later("A signature needs its reason in words."),
    "carrier_strand": later("A carrier colours nothing: a strand of it tells nothing."),
    "too_many_strands": later("{most} strands of one tube are noted: forget one that tells little."),
    "more_than_left": later(
        "The record says that {left:weight} are left: no more than that can be gone. Count the tube first."
    ),
    "expired_already": later("{day} has passed: what is out of date goes back, and not on the shelf."),
    "scale_below_nothing": later("The scale says less than nothing: take everything off it and tare it."),
    "lighter_than_tube": later(
        "An empty tube weighs {empty:weight}, and this is {given:weight}: was the tube on the scale?"
    ),
    "stock_too_much": later(
        "More than {most:weight} of one tube is more than a shelf holds: look at the number again."
    ),
    "empty_list": later("There is no tube in this list to put on the shelf."),
    "line_name_taken": later("A line called {name} is on the shelf already: add to that one, or give another name."),
    "too_many_lines": later("A shelf holds {most} lines here."),
    "too_many_shades": later("A line holds {most} tubes here."),
    "list_in_use": (
        later(
            "More hangs on {names} by now, such as bowls, cards, strands or deliveries: the list stays. Take single "
            "tubes off instead."
        )
    ),
    "tube_name_taken": later("Another tube of this line is called {said}."),
    "key_taken": later("The key {said} pours another tube of this line."),
    "code_taken": later("Another tube of this line has the code {said}."),
    "not_owner": later("Only an owner says who works here."),
    "key_name": later("Say what the key is for, in up to {most} letters."),
    "key_name_taken": later("A key is called {name} already: end that one, or take another name."),
    "key_reads_nothing": later("Choose what the key reads."),
    "key_health_alone": later("Health facts stand with clients and on cards: let the key read one of them, too."),
    "key_rate": later("Choose how often it may ask from the list."),
    "key_over": later("That day has passed: the key would open nothing."),
    "keys_too_many": later("{most} keys are open here: end one first."),
    "role_unknown": later("Choose what they are from the list."),
    "licence_not_held": later(
        "An apprentice and the front desk hold no licence: leave it off, or make them a colourist."
    ),
    "last_owner": later("Somebody must own the studio: make another an owner first."),
    "invitation_unknown": later("This link lets nobody in. Ask for a new one."),
    "invitation_over": later("This link was used, withdrawn, or is too old. Ask for a new one."),
    "sign_in_taken": later("Somebody signs in by this name already: take another."),
    "studio_taken": later("A studio has this name already: take another."),
    "way_unknown": later("That button is not of this page. Look again, and press once more."),
    "not_for_desk": later("This is for those who work at a chair."),
    "not_for_apprentice": later("An owner or a colourist hands out what is kept about a client, or forgets it."),
    "hand_unknown": later("Choose who signs."),
    "word_wrong": later("That is not the PIN or password of who is signed in here."),
    "pin_wrong": later("That is not their PIN."),
    "pin_shut": later("The PIN is shut after too many wrong ones. The password opens, at the sign-in."),
    "pin_form": later("A PIN has {least} to {most} digits."),
    "pin_easy": later("That PIN is tried first: not all digits alike, nor one after another."),
    "sign_in_over": later("That sign-in has ended already."),
    "language_unknown": later("That language is not spoken here: choose one of the list."),
    "not_your_password": later("That is not your password."),
    "works_elsewhere": later("They work in another studio, too: how they sign in is theirs alone. Mail helps them."),
    "invitation_for_another": later("This link makes a new password for somebody else."),
    "is_here": later("You work in this studio already."),
    "not_of_first": later(
        "Your password, mail and second factor are seen to at {first}, where you came first. Choose it under You."
    ),
    "nothing_to_bring_back": later("It is there already, or was never deleted."),
    "consent_withdrawn": later(
        "The client has withdrawn the consent to {what}: nothing of that is kept, and the gates don't know of it. "
        "Mind it yourself today, or ask, and note on the card that she agrees."
    ),
    "consent_unasked": later("This house asks first: note on the card that the client agrees to {what}."),
    "consent_of_what": later("Choose what is agreed to."),
    "hand_gone": later("Choose a colleague who works at a chair here."),
    "hand_wrong": later("That is not the password of who signs."),
    "house_not_licensed": later("Only a licensed colourist sets the house's rules."),
    "vol_without_developer": later("A line that takes developer needs its strength; one that takes none has none."),
    "strand_outcome": later("Say whether the strand passed or failed."),
    "strand_gave": later("A strand that gave has not passed. Note it as failed; this mix stays away from this hair."),
    "sheet_noted": later("That photo is noted already: its strands are among those that were read."),
    "sheet_no_rows": later("Say what lies on the paper: the level and the share of each strand, in its order."),
    "sheet_no_paper": later(
        "No sheet of white paper is found in the photo. Lay the strands on one that fills the photo."
    ),
    "sheet_two_papers": later(
        "Two white papers are in the photo: which one lies under the strands? Take it with one alone."
    ),
    "sheet_few_strands": later(
        "{what} strands are found on the paper, and {wanted} were planned. Lay them apart, inside the paper's edge, "
        "or take the rows out that were not made."
    ),
    "sheet_many_strands": later(
        "{what} things lie on the paper, and {wanted} strands were planned. Take the others away, or add their rows."
    ),
    "sheet_strand_in_shadow": later(
        "Strand {what} lies in shadow. Turn the paper to the window, and take the photo again."
    ),
    "sheet_strand_unclear": later(
        "Strand {what} says nothing certain: it is burnt out, or lost in the dark. Take the photo again."
    ),
    "swatch_unknown": later("That is none of the locks. Tap one of them."),
    "spectrum_which": later("Which of its samples is it? Type its name: {names}."),
    "spectrum_of_other": later("The file says otherwise what it holds. Choose what it is, and send it again."),
    "told_unfit": later("That can't be this tube: {message}. Nothing was changed."),
    "supply_taken": later("{said} is on the shelf already. Add something that tells them apart."),
    "supply_vol": later("A developer needs its strength in vol; nothing else has one."),
    "supply_more_than_left": later("{left} are left by the record. Count it first, if there is more."),
    "lesson_gone": later("That record is no longer here as it was. Nothing was changed; look at it anew."),
    "photo_no_paper": later("Tap the white paper first: without it a reading would guess at the light."),
    "reader_not_there": later("The colour reader does not answer. Plug it in, or read by eye."),
    "reader_lost": later("The colour reader stopped half way. Nothing was kept; try again."),
    "readings_garbage": later(
        "What the colour reader sent is no colour. Nothing was kept; start it anew, or read by eye."
    ),
    "readings_unsteady": later("The readings are too far apart. Hold the reader still on one place, and try again."),
    "readings_too_few": later("Too few readings stood together. Try again."),
    "no_target": later("There is no aim yet: the route follows from it."),
    "route_unknown": later("Choose one of the routes that are shown."),
    "weighed_in": (
        later(
            "Something was weighed into this bowl since, and it can't become a bowl of another line. Begin a fresh "
            "bowl."
        )
    ),
    "nothing_poured": later("Nothing was poured of it: type what went in, or take it from the scale."),
    "not_in_recipe": later("That is not in this recipe. Add it on the Bench, which forecasts what it does."),
    "batch_mixed": later("This batch is mixed. Begin the next one to pour again."),
    "batch_not_mixed": later("The batch in hand is not mixed yet."),
    "lines_left": later("Nothing of {names} is in yet: pour it, or take it out of the recipe on the Bench."),
    "fault_unknown": later("The simulated scale knows no such fault."),
    "clock_kind_unknown": later("Choose what goes on the hair."),
    "clock_running": later("{zone} has {what} on it. Rinse that first."),
    "nothing_to_start": later("Nothing of that kind is due: it is on already, or was rinsed."),
    "too_many_spots": later("{most} spots are marked already: take one away first."),
    "way_gone": later("That way is no longer offered: the hair is another by now. You now see those that are."),
    "strand_no_look": (
        later(
            "The reader that ships with the app reads strands of a bowl, and nothing is mixed for this one. Untick "
            "it, and say the colour in words."
        )
    ),
    "no_line_name": later("The line needs a name here."),
    "join_gone": later("What it was to go on beside is no longer on this head. Nothing was changed; choose again."),
    "join_apart": (
        later(
            "What joins is rinsed with what it joins: {zone} can't be in foil, in sections or rinsed by itself as "
            "well. Nothing was changed."
        )
    ),
    "join_twice": later("That coat joins another itself, or is joined: only what stands by itself can be joined."),
    "before_begin": later("Not before: that is earlier than the visit begins ({begins}). Nothing was changed."),
    "turns_unknown": later(
        "Those turns name a zone that is not on this head. You now see the plan as it stands; try again."
    ),
    "sections_all_on": later("Every section of this zone is on already."),
    "section_last": later("That is the last section that is on. Once it is off, say Rinsed."),
    "clock_stopped": later("That clock has stopped: it was rinsed."),
    "still_on": later(
        "On {zones} something is still on: its clock runs. Rinse it on the Clock, or keep the card as it is."
    ),
    "clock_not_rinsed": later("That is on the hair still: it was not rinsed yet."),
    "check_unknown": later("Say whether it is under, on or over what is wanted."),
    "moment_unknown": later("Choose what to set right: when it was put on, or when it was rinsed."),
    "moment_ahead": later("That moment is still to come, or more than a day ago."),
    "moment_crossed": later("Nothing is rinsed before it was put on. Set the other moment right first."),
    "ladder_place": later("Tap one of the locks that are shown."),
    "next_before_visit": later("The next visit is after this one, and within two years."),
    "not_a_day": later("That is no day: choose one in the calendar."),
    "no_direct_dye": later("No direct dye is on the shelf. What needs developer never goes home."),
    "not_a_time": later("That is no time of day: type it like 14:30."),
    "colour_in_part": later("A colour to look for needs its depth, strength and hue, all three."),
    "file_missing": later("Choose a file first."),
    "file_too_large": later("The file is too large: up to {most} MB are taken. Bring it in pieces."),
    "file_line": later("That file can't be read as readings: {message}. Nothing was kept."),
    "file_not_text": later("That file is no text in UTF-8. Save it as CSV or JSON in UTF-8, and send it again."),
    "name_taken": later("There is a client of that name already. Add something that tells them apart."),
}


def refusal_words(refusal: Refusal) -> str:
    """One refusal in words."""
    facts = {"label": LABELS.get(refusal.field, refusal.field), **refusal.facts}
    return say(REFUSALS[refusal.code], **facts)


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
