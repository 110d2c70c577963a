"""What a house's schools of work change: on what hair, how far, how deep, with what, and how it is washed.

Shown on heads that every colourist knows; see `engine.service.schools`.
"""

from collections.abc import Mapping
from dataclasses import replace
from typing import Final

from engine.bowl.fill import fill
from engine.bowl.filler import FillWith
from engine.bowl.goal import ZoneAim
from engine.bowl.match import match_zones
from engine.bowl.mix import Bowl, Process
from engine.bowl.past import OverTone
from engine.bowl.predict import predict
from engine.bowl.strategies import PreTone, Strategy, by_school, compare
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.dye.guess import CARRIERS
from engine.dye.kind import Kind
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.dye.uptake import DAMP_LOSS
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.language import listed, say
from engine.service.aftercare import Habits, keeping
from engine.service.house import (
    BeginAt,
    Carrier,
    CleanUp,
    Condition,
    DepositOn,
    Effect,
    Heat,
    HowLight,
    TonerLevel,
    Water,
)
from engine.service.known import Known
from engine.service.root import TAP_CM, RootLook, shadow_lab
from engine.service.route import routes
from engine.service.safety import check
from engine.service.steps import Manner, finish_of
from engine.service.timing import ClockKind
from engine.service.toner import toner_levels
from engine.service.work import Place, Work, WorkKind

ENDS: Final = Canvas(level=9.0, porosity=1.6)  # porous, where damp hair and dry part
TONED: Final = Canvas(level=9.0)
STARTS: Final = Canvas(level=6.0, family=Family.NATURAL)
TONER_STRENGTH: Final = 0.2  # of a direct dye's; chosen by the founders
PALE: Final = 3.0  # grams of colour in a bowl that is a pastel
BOWL_G: Final = 60.0
WASHES_A_WEEK: Final = 3.0
SHOWN_WEEKS: Final = 2
FILLED_FROM_TO: Final = (9.5, 7.0)
BROWN_G: Final = {"orange": 9.0, "red": 4.0, "black": 5.0}
CLEAR_G: Final = 42.0
KIND_WORDS: Final = (ClockKind.DIRECT, ClockKind.DEMI, ClockKind.PERMANENT)


def effects_of_work() -> Mapping[str, tuple[Effect, ...]]:
    """Of each rule by its name, what each of its choices does."""
    return {
        "deposit_on": tuple(_deposited(on) for on in DepositOn),
        "how_light": tuple(_lifted(how) for how in HowLight),
        "toner_level": tuple(_toned(school) for school in TonerLevel),
        "pre_tone": tuple(_pre_toned(school) for school in PreTone),
        "carrier": tuple(_thinned(carrier) for carrier in Carrier),
        "heat": tuple(_heated(heat) for heat in Heat),
        "clean_up": tuple(_washed(how) for how in CleanUp),
        "begin_at": tuple(_begun(at) for at in BeginAt),
        "fill_with": tuple(_filled(school) for school in FillWith),
        "condition": tuple(_readied(how) for how in Condition),
        "root_look": tuple(_rooted(look) for look in RootLook),
        "over_tone": tuple(_aimed(school) for school in OverTone),
        "water": tuple(_kept(water) for water in Water),
    }


def _dyed(name: str, grams: float, *, kind: Kind = Kind.DIRECT) -> Bowl:
    shade = replace(demo_shelf()[name], kind=kind)
    return Bowl(grams={shade: grams, Shade(name=CLEAR): BOWL_G - grams})


def _deposited(on: DepositOn) -> Effect:
    hair = {True: say("damp"), False: say("dry")}
    where = [f"{say(kind.value)} {hair[on.is_damp(kind)]}" for kind in KIND_WORDS]
    damp = on.is_damp(ClockKind.DIRECT)
    seen = predict(ENDS, _dyed("red", 6.0), process=Process(damp=damp))
    told = say("; direct dye on damp hair takes {loss:.0%} less", loss=DAMP_LOSS) if damp else ""
    return Effect(choice=on.value, words=f"{listed(where)}{told}", lab=seen.lab)


def _lifted(how: HowLight) -> Effect:
    shelf = tuple(demo_shelf().values())
    target = predict(Canvas(level=8.0), _dyed("copper", 12.0)).lab
    found = routes(STARTS, target, shelf, how_light=how)
    plan = next(each.lift for each in (found.proposed, *found.others) if each.lift)
    words = say("natural level 6 for copper: lifted to level {level:g} today", level=plan.stop_level)
    return Effect(choice=how.value, words=words, lab=canvas_lab(plan.after))


def _toned(school: TonerLevel) -> Effect:
    violet = demo_shelf()["violet"]
    thin = replace(violet, kind=Kind.DEMI, strength=violet.strength * TONER_STRENGTH)
    deepest = toner_levels(TONED, thin, school.steps)[-1]
    words = say("on level {hair:g}: toners down to level {level:g}", hair=TONED.level, level=deepest.level)
    return Effect(choice=school.value, words=words, lab=deepest.lab)


def _pre_toned(school: PreTone) -> Effect:
    shelf = tuple(demo_shelf().values())
    target = predict(Canvas(level=9.8), _dyed("red", PALE)).lab
    found = compare(TONED, shelf, target, scale=Scale(total_g=BOWL_G, step_g=0.1))
    first = by_school(found, school)[0]
    way = say("toned first") if first.strategy is Strategy.PRE_TONE else say("by the bowl alone")
    words = say("a pink pastel on level 9: {way}, within {off:.1f}", way=way, off=first.delta_e00)
    return Effect(choice=school.value, words=words, lab=first.forecast.lab)


def _thinned(carrier: Carrier) -> Effect:
    thins = 1.0 if carrier is Carrier.CLEAR else CARRIERS["conditioner"]
    shade = demo_shelf()["red"]
    bowl = Bowl(grams={shade: PALE, Shade(name=CLEAR, thins=thins): BOWL_G - PALE})
    words = say(
        "{dye:weight} of red in {rest:weight} of it, of which a part thins like {thins:g} of clear",
        dye=PALE,
        rest=BOWL_G - PALE,
        thins=thins,
    )
    return Effect(choice=carrier.value, words=words, lab=predict(TONED, bowl).lab)


def _heated(heat: Heat) -> Effect:
    kinds = [say(kind.value) for kind in WorkKind if heat.is_on(kind)]
    if not kinds:
        return Effect(choice=heat.value, words=say("none, unless a pack says so and the clock is told"))
    words = say("{kinds}, unless a pack says otherwise", kinds=listed(kinds))
    if heat.is_on(WorkKind.LIGHTENER):
        work = Work(kind=WorkKind.LIGHTENER, place=Place(part="top"), vol=20.0, heat=True)
        stops = [gate.sentence for gate in check(work, Known(is_fragile=True)) if gate.code == "heat_on_fragile"]
        words = say("{words}; stops on fragile hair: {sentence}", words=words, sentence=listed(stops))
    return Effect(choice=heat.value, words=words)


def _washed(how: CleanUp) -> Effect:
    least, most = how.minutes
    words = say("{least:g} to {most:g} min between lightener and the next coat", least=least, most=most)
    return Effect(choice=how.value, words=words)


def _begun(at: BeginAt) -> Effect:
    words = {
        BeginAt.NAPE: say("the nape has it on longest, the hairline shortest"),
        BeginAt.HAIRLINE: say("the face shows first and has it on longest: rinse it first"),
        BeginAt.SIDE: say("one side has it on longer: the plan changes the side from visit to visit"),
    }
    return Effect(choice=at.value, words=words[at])


def _kept(water: Water) -> Effect:
    habits = Habits(washes_a_week=WASHES_A_WEEK, hot_water=water is Water.AS_LIKED)
    keeps = keeping(TONED, _dyed("red", 6.0), habits)
    off = float(keeps.delta_e00[SHOWN_WEEKS])
    how = say("cool") if water is Water.COOL else say("hot, as some like it")
    words = say(
        "a red washed three times a week, {how}: {off:.1f} off after {weeks} weeks", how=how, off=off, weeks=SHOWN_WEEKS
    )
    return Effect(choice=water.value, words=words, lab=keeps.lab[SHOWN_WEEKS])


def _filled(school: FillWith) -> Effect:
    hair = Canvas(level=FILLED_FROM_TO[0])
    shelf = {name: replace(shade, name=say(name)) for name, shade in demo_shelf().items()}  # its bowls are told
    brown = Bowl(grams={shelf[name]: grams for name, grams in BROWN_G.items()} | {Shade(name=CLEAR): CLEAR_G})
    found = fill(
        hair,
        FILLED_FROM_TO[1],
        tuple(shelf.values()),
        scale=Scale(total_g=BOWL_G, step_g=0.1),
        final=brown,
        fill_with=school,
        answers=1,
    )
    cast = next((each.cast for each in found.fillers if each.filler is school.kind), "")
    step = found.steps[-1]
    words = say(
        "from level {start:g} to {down_to:g}: {words}; a brown over it: {cast}",
        start=hair.level,
        down_to=step.level,
        words=step.bowl.recipes[0].bowl.words,
        cast=cast or say("clean"),
    )
    return Effect(choice=school.value, words=words, lab=step.target_lab)


def _readied(how: Condition) -> Effect:
    finish = finish_of(
        canvas_lab(ENDS), tuple(demo_shelf().values()), max_shades=1, taught=None, manner=Manner(condition=how)
    )
    hair, steps = finish.readied(ENDS)
    words = say("porous ends take dye up as they are")
    if steps:
        least, most = steps[0].minutes
        words = say("{least:g} to {most:g} min more, and porous ends take up less", least=least, most=most)
    return Effect(choice=how.value, words=words, lab=predict(hair, _dyed("red", 6.0)).lab)


def _rooted(look: RootLook) -> Effect:
    lengths = predict(TONED, _dyed("red", 6.0)).lab
    words = {
        RootLook.SHADOW: say("{levels:g} levels deeper than the lengths, of their hue", levels=look.levels_deeper),
        RootLook.NATURAL: say("it gets nothing, and grows out unseen"),
        RootLook.SOLID: say("one bowl and one aim from root to end"),
        RootLook.TAP: say(
            "{levels:g} level deeper, within {cm:g} cm of the scalp", levels=look.levels_deeper, cm=TAP_CM
        ),
    }
    lab = canvas_lab(STARTS) if look is RootLook.NATURAL else shadow_lab(lengths, look.levels_deeper)
    return Effect(choice=look.value, words=words[look], lab=lab)


def _aimed(school: OverTone) -> Effect:
    shelf = tuple(demo_shelf().values())
    target = predict(TONED, _dyed("red", 6.0)).lab
    zone = ZoneAim(canvas=TONED, target_lab=target, steer_lab=school.steer_lab(TONED, target))
    best = match_zones([zone], shelf, scale=Scale(total_g=BOWL_G, step_g=0.1), max_shades=2, answers=1).recipes[0]
    keeps = keeping(TONED, best.bowl, Habits(washes_a_week=WASHES_A_WEEK))
    off = float(delta_e00(target, keeps.lab[1]))
    words = say("a red: {off:.1f} off at once, {later:.1f} off after a week", off=best.delta_e00, later=off)
    return Effect(choice=school.value, words=words, lab=keeps.lab[1])
