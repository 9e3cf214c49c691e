"""Sentences with numbers, in the reader's units.

The core gives values; words for people are made here and nowhere else.
"""

import datetime as dt
from collections.abc import Mapping, Sequence

from husbandry.documents.result import Change, Effect, NeedState, Note, Verdict
from husbandry.enclosure.equipment import HEATERS
from husbandry.errors import ImpossibleStateError
from husbandry.findings.zones import Zones
from husbandry.quantity import Kind, Units, show, to_reader
from husbandry.species.needs import NEEDS, NeedKey, in_sentence

IN_WORDS = {"right": "in range", "below": "too low", "above": "too high"}
MARKS = {"right": "right", "below": "below", "above": "above", "unknown": "unknown"}


def value_of(key: NeedKey, value: float, units: Units, *, unit: bool = True) -> str:
    """A need's value."""
    return show(value, NEEDS[key].kind, units, unit=unit)


def gap(key: NeedKey, value: float, units: Units) -> str:
    """How far outside the target range, without its unit: the gauge beside it says that."""
    kind = NEEDS[key].kind
    if kind is Kind.TEMPERATURE:
        number, _ = to_reader(value, Kind.TEMPERATURE_DIFFERENCE, units)
        return (
            f"{number:.0f}"
            if units.temperature == "f" or number >= 9.95
            else f"{number:.1f}".removesuffix(".0")
        )

    return show(value, kind, units, unit=False).removesuffix(".0")


def verdict(need: NeedState, units: Units) -> str:
    """The verdict in words: “1.9 too low”, “predicted in range, likely”, “not measured”."""
    v: Verdict = need.verdict
    if need.conflict:
        return "no common target range"
    if v.speaks == "nothing":
        return "not measured lately" if need.measured else "not measured"
    by = gap(need.key, v.by, units)
    words = IN_WORDS[v.direction]
    if v.direction == "right" and v.by > 0:
        words = "at the edge of its range"
    if v.direction != "right":
        words = f"{'just' if by in {'0', '0.0'} else by} {words}"
    if v.limit == "breached":
        words += (
            ", but too near the limit" if v.direction == "right" else ", outside the safe limit"
        )
    if v.speaks == "predicted":
        return f"predicted {words}{'' if v.sure else ', likely'}"

    return f"{words}{'' if v.sure else ', likely'}"


def age(measured_at: dt.datetime, now: dt.datetime) -> str:
    """How long ago."""
    hours = (now - measured_at).total_seconds() / 3600
    if hours < 1.5:
        return f"{max(0, round(hours * 60))} min ago"
    if hours < 36:
        return f"{round(hours)} h ago"
    days = round(hours / 24)
    return f"{days} days ago" if days < 21 else f"{round(days / 7)} weeks ago"


def reading_place(key: NeedKey, at_m: tuple[float, float, float] | None, units: Units) -> str:
    """What was read and where, in words."""
    kind = NEEDS[key]
    if at_m is None:
        return f"{kind.name}, {kind.place}"
    what = {Kind.UVI: "UV index"}.get(
        kind.kind, "Surface" if key is NeedKey.SURFACE_DAY else "Air"
    )

    return (
        f"{what}, {show(at_m[0], Kind.LENGTH, units)} from the left,"
        f" {show(at_m[2], Kind.LENGTH, units)} up"
    )


def early(need: NeedState, units: Units) -> str:
    """A reading that was taken before the enclosure had settled: what it showed, and what is added."""
    found = need.measured
    if found is None or found.after_h is None:
        return ""
    read = show(found.value - found.to_come_k, Kind.TEMPERATURE, units)
    more, unit = to_reader(found.to_come_k, Kind.TEMPERATURE_DIFFERENCE, units)

    return (
        f"Read {found.after_h:g} h after switch-on: {read} then, about {more:.1f} {unit} still to"
        " come."
    )


def half(low: float, high: float, key: NeedKey, units: Units) -> str:
    """Half of an interval, or for UVI both its ends."""
    kind = NEEDS[key].kind
    if kind is Kind.UVI:
        return f"{low:.1f}–{high:.1f}"
    number, _ = to_reader(
        (high - low) / 2, Kind.TEMPERATURE_DIFFERENCE if kind is Kind.TEMPERATURE else kind, units
    )
    return f"±{number:.0f}" if number >= 1.95 else f"±{number:.1f}"


def interval(need: NeedState, units: Units) -> str:
    """Of the prediction."""
    p = need.predicted
    return (
        ""
        if p is None or p.low is None or p.high is None
        else half(p.low, p.high, need.key, units)
    )


def _m(value: float | str, units: Units) -> str:
    return show(float(value), Kind.LENGTH, units)


def change_title(change: Change, units: Units) -> str:
    """What to do, in a few words with its number."""
    for words in (
        _lamp_change,
        _uv_change,
        _water_change,
        _damp_change,
        _box_change,
        _furniture_change,
    ):
        said = words(change, units)
        if said:
            return said
    if change.kind == "larger_enclosure":
        sides = " × ".join(
            show(float(change.values[side]), Kind.LENGTH, units, unit=side == "height_m")
            for side in ("length_m", "depth_m", "height_m")
        )
        return f"Move to an enclosure of {sides} inside"
    raise ImpossibleStateError(f"a change of the kind {change.kind!r} has no words")


def _lamp_change(change: Change, units: Units) -> str:
    """Of lamps, heaters, their thermostats and what lies under them; empty for another change."""
    v = change.values
    name = change.item_name
    match change.kind:
        case "height" | "uv_height":
            move = float(v["to_m"]) - float(v["from_m"])
            return f"{'Raise' if move > 0 else 'Lower'} the {_item(name)} {_m(abs(move), units)}"
        case "power":
            powers = f"Fit {float(v['to_w']):g} W instead of {float(v['from_w']):g} W"
            return f"{powers}{_among(change, 'in')}"
        case "power_and_height":
            power = f"Fit {float(v['to_w']):g} W{_among(change, 'in')}"
            return f"{power} and hang it {_m(v['distance_m'], units)} above the surface"
        case "set_point":
            to = show(float(v["set_c"]), Kind.TEMPERATURE, units)
            return f"Set the thermostat{_among(change, 'of')} to {to}"
        case "add_thermostat":
            at = show(float(v["set_c"]), Kind.TEMPERATURE, units)
            return f"Fit a dimming thermostat{_among(change, 'to')} at {at}"
        case "heat_add":
            above = f"{_m(v['distance_m'], units)} above the surface" if "distance_m" in v else ""
            return _heater_added(name, v, units, above)
        case "night_heat":
            return _heater_added(name, v, units, "at night")
        case "air_heat":
            return _heater_added(name, v, units, "by day, guarded")
        case "platform":
            up = float(v["to_m"]) > float(v["from_m"])
            held = ", on supports" if v["what"] == "stone" and up else ""
            moved = f"{'Raise' if up else 'Lower'} the {_item(name)} to {_m(v['to_m'], units)}"
            return f"{moved} over the substrate{held}"

    return ""


def _uv_change(change: Change, units: Units) -> str:
    """Of ultraviolet lamps; empty for another change."""
    v = change.values
    tube = _item(change.item_name) if change.one_of_several else "tube"
    match change.kind:
        case "uv_class":
            new = f"Fit a {_item(str(v['to_name']))}, {_m(v['to_length_m'], units)}"
            above = f", {_m(v['distance_m'], units)} above its back" if "distance_m" in v else ""
            return f"{new}{_among(change, 'instead of')}{above}"
        case "uv_below_mesh":
            return f"Hang the {tube} below the mesh, {_m(v['distance_m'], units)} above its back"
        case "uv_new":
            return f"Replace the {tube} with a new one of the same class"
        case "uv_add":
            new = f"Add a {_item(str(v['to_name']))}, {_m(v['to_length_m'], units)}, {v['place']}"
            return f"{new}, {_m(v['distance_m'], units)} above its back"

    return ""


def _water_change(change: Change, units: Units) -> str:
    """Of the water of a pool; empty for another change."""
    if change.kind not in {"water_set", "water_heater"}:
        return ""
    at = show(float(change.values["set_c"]), Kind.TEMPERATURE, units)
    if change.kind == "water_set":
        return f"Set the water’s thermostat to {at}"
    power = float(change.values["to_w"])
    count = float(change.values.get("count", 1))
    if count > 1:
        return f"Put {count:g} heaters of {power / count:g} W into the water, each held at {at}"

    return f"Put a {power:g} W heater into the water, its thermostat at {at}"


def _damp_change(change: Change, units: Units) -> str:
    """Of mistings, substrate and air; empty for another change."""
    v = change.values
    match change.kind:
        case "mist":
            if not v["times"]:
                return "Stop misting: the substrate and the water are enough"
            pump = ", by a pump with a timer" if v.get("by") == "pump" else ""
            each = show(float(v["each_ml"]) / 1000, Kind.VOLUME, units, small=True)
            return f"Mist {each} at {v['times']}{pump}"
        case "substrate_wetness":
            return f"Keep the substrate “{v['to_substrate']}” instead of “{v['from_substrate']}”"
        case "more_air":
            return "Open vents of twice the area, low and high"
        case "cover_mesh":
            return f"Cover half of the open mesh: {float(v['to_share']):.0%} left open"

    return ""


def _box_change(change: Change, units: Units) -> str:
    """Of drippers, dig boxes, dividers, screens, sunk stones and swapped plants; empty for another change."""
    v = change.values

    def at(name: str) -> str:
        return _m(v[name], units)

    match change.kind:
        case "dripper_add":
            amount = show(float(v["l_per_h"]), Kind.VOLUME, units)
            return f"Hang a dripper over leaves, {amount} an hour, on from 09:00 to 11:00"
        case "dig_box_add":
            sides = f"{at('length_m')} long, {at('depth_m')} deep, {at('height_m')} high"
            return f"Add a dig box of damp substrate, {sides}, {at('x_m')} from the left"
        case "divider_board":
            sides = f"{at('depth_m')} wide, {at('height_m')} high"
            return f"Fit a board, {sides}, in place of the {_item(change.item_name)}"
        case "stone_sink":
            stones = "the stone" if float(v["count"]) == 1 else "each stone"
            return f"Sink {stones} into the substrate until its edge is {at('to_m')} high"
        case "plant_out":
            return f"Take out the {_item(change.item_name)}"
        case "plant_swap":
            return f"Replace the {_item(change.item_name)} with a live one: {v['plant']}"
        case "screen_add":
            sides = f"{at('length_m')} long, {at('depth_m')} deep"
            return f"Fix a guard screen of welded wire over the top, {sides}"
        case "moist_box":
            return f"Dampen the substrate of the {_item(change.item_name)}"

    return ""


def _furniture_change(change: Change, units: Units) -> str:
    """Of furniture, substrate and sides, else of switches and light; empty for another change."""
    v = change.values

    def at(name: str) -> str:
        return _m(v[name], units)

    match change.kind:
        case "hide_add":
            wet = " filled with damp moss" if v.get("moist") else ""
            sides = f"{at('length_m')} long, {at('depth_m')} deep"
            if float(v.get("count", 1)) > 1:
                one_wet = ", one of them filled with damp moss" if v.get("moist") else ""
                return f"Add {float(v['count']):.0f} hides, each {sides}{one_wet}"
            return f"Add a hide{wet}, {sides}, {at('x_m')} from the left"
        case "hide_moist":
            return f"Fill the {_item(change.item_name)} with damp moss"
        case "hide_larger":
            sides = f"{at('length_m')} long and {at('depth_m')} deep"
            return f"Replace the {_item(change.item_name)} with one {sides}"
        case "dish_add":
            sides = f"{at('length_m')} long, {at('height_m')} high"
            return f"Add a water dish, {sides}, {at('x_m')} from the left"
        case "branch_add":
            thick = at("thick_m")
            leaves = ", with an artificial plant beside it" if "leaves" in v else ""
            return f"Add a branch {thick} thick, {at('z_m')} above the floor{leaves}"
        case "plant_add":
            high = at("height_m")
            if float(v.get("count", 1)) > 1:
                return f"Add {float(v['count']):.0f} artificial plants, each {high} high"
            return f"Add an artificial plant, {high} high, {at('x_m')} from the left"
        case "supports":
            count = float(v["count"])
            stones = "the stone" if count == 1 else f"{count:.0f} stones"
            return f"Set {stones} on supports from the floor"
        case "substrate_depth":
            lifted = ", and hang the lamps as much higher" if "lifted_m" in v else ""
            return f"Add {at('more_m')} of substrate{lifted}"
        case "cover_sides":
            return f"Cover from outside: {v['sides']}"
        case "move_item":
            return (
                f"Move the {_item(change.item_name)}: {at('to_x_m')} from the left, {at('to_y_m')} from"
                " the front"
            )

    return _switch_change(change, units)


def _switch_change(change: Change, units: Units) -> str:
    """Of cut-outs, timers and light; empty for another change."""
    v = change.values

    match change.kind:
        case "cut_out":
            held = show(float(v["set_c"]), Kind.TEMPERATURE, units)
            if float(v["count"]) > 1:
                return f"Fit an independent cut-out to each thermostat, the lowest at {held}"
            return f"Fit an independent cut-out at {held}"
        case "timer":
            return f"Set the timers of all lights: on at {v['on']}, off at {v['off']}"
        case "uv_times":
            return f"Set the ultraviolet’s timer: on from {v['spans']}"
        case "light_add":
            return f"Add a {float(v['to_w']):g} W bar of white light over the basking place"
        case "sun_lamp":
            return (
                f"Replace the {_item(change.item_name)} with a {float(v['to_w']):g} W halogen lamp"
            )

    return ""


def _among(change: Change, word: str) -> str:
    """Which lamp is meant, where there are several."""
    return f" {word} the {_item(change.item_name)}" if change.one_of_several else ""


def _item(name: str) -> str:
    """A name inside a sentence: T5 and T8 keep their capital."""
    return name if name[:2] in {"T5", "T8"} else name[0].lower() + name[1:]


def effect(item: Effect, units: Units) -> str:
    """“surface 36.1 → 40.2 °C”."""
    kind = NEEDS[item.need]
    name = in_sentence(kind.name)
    after = show(item.after, kind.kind, units)
    return (
        f"{name} {after}"
        if item.before is None
        else f"{name} {show(item.before, kind.kind, units, unit=False)} → {after}"
    )


def safety(change: Change, units: Units) -> str:
    """What a stuck thermostat would then do, and whether that is safe; empty of what warms nothing."""
    s = change.safety
    if change.clears and not change.effects:
        return ""
    reach = (
        "If its thermostat failed on, it would reach"
        f" {show(s.surface_c, Kind.TEMPERATURE, units, digits=0)} under the lamp"
    )
    if s.safe:
        return f"{reach}: still under the limit."
    cool = show(s.cool_air_c, Kind.TEMPERATURE, units, digits=0)

    return (
        f"{reach} and {cool} at the cool end on the hottest day: outside the safe limit, fit a"
        " cut-out."
    )


EFFORT = {"move": "move what is there", "own": "with what you may have", "buy": "to buy"}


AT_MOST = frozenset(
    f"furniture {slug}"
    for slug in (
        "hide roomy",
        "dish deep",
        "pool deep",
        "fall",
        "no way out",
        "no way in",
        "open stretch",
    )
)
"""Where what is there is more than the body can do with."""


def _heater_added(name: str, values: Mapping[str, float | str], units: Units, how: str) -> str:
    """What is bought and where it goes; a mat has one place, and is held by its thermostat alone."""
    if name == HEATERS["heat_mat"].name:
        how = "under the substrate, over part of the floor only"
    held = ""
    if "set_c" in values:
        held = f", thermostat at {show(float(values['set_c']), Kind.TEMPERATURE, units)}"
    return f"Add a {float(values['to_w']):g} W {name} {how}{held}"


def note(item: Note, units: Units) -> str:
    """A note with its values."""
    if item.slug == "thermostat failed on":
        surface, cool = (
            show(item.values[key], Kind.TEMPERATURE, units, digits=0)
            for key in ("surface_c", "cool_air_c")
        )
        return f"{item.text} It would reach {surface} under the lamp and {cool} at the cool end."
    if item.slug == "water stuck":
        return (
            f"{item.text} It would reach"
            f" {show(item.values['water_c'], Kind.TEMPERATURE, units, digits=0)}."
        )
    if item.slug == "mat hot":
        face = show(item.values["mat_c"], Kind.TEMPERATURE, units, digits=0)
        return f"{item.text} Predicted {face} at the mat."
    if item.slug == "reach surface":
        there, limit = (
            show(item.values[key], Kind.TEMPERATURE, units, digits=0)
            for key in ("surface_c", "limit_c")
        )
        return f"{item.text} Predicted {there}; its limit is {limit}."
    if item.slug == "hot day":
        room, safe, cool = (
            show(item.values[key], Kind.TEMPERATURE, units, digits=0)
            for key in ("room_c", "safe_room_c", "cool_air_c")
        )
        return (
            f"{item.text} In a room of {room} its cool end reaches {cool}; it is safe up to a room"
            f" of {safe}."
        )
    if item.slug == "reach ultraviolet":
        there, limit = (f"{item.values[key]:.1f}" for key in ("uvi", "limit_uvi"))
        return f"{item.text} Predicted {there}; its limit is {limit}."
    if item.slug.startswith("hazard "):
        gap, least = (show(item.values[key], Kind.LENGTH, units) for key in ("gap_m", "least_m"))
        return f"{item.text} Now {gap}; at least {least}."
    if item.slug == "patch":
        patch, body = (show(item.values[key], Kind.LENGTH, units) for key in ("patch_m", "body_m"))
        lamps = (
            f"{item.values['lamps']:.0f} lamps in a row, each at such a distance and spread over"
            " its length, warm all of it"
        )
        return (
            f"{item.text} The patch is {patch} long, the body without its tail {body}: {lamps}; or"
            " hang a stronger one higher."
        )
    if item.slug == "room walk":
        return (
            f"{item.text} {item.values['there'] / item.values['needed'] * 50:.0f} % of it is left;"
            " half should be."
        )
    if item.slug.startswith("furniture substrate") and item.values:
        there, needed = (show(item.values[key], Kind.LENGTH, units) for key in ("there", "needed"))
        return f"{item.text} There is {there}; it needs {needed}."
    if item.slug == "laying":
        there, needed = (show(item.values[key], Kind.LENGTH, units) for key in ("there", "needed"))
        has = f" There is {there}." if item.values["there"] else ""
        return f"{item.text} Her species digs from {needed} deep.{has}"
    if item.slug.startswith(("room ", "furniture ")) and item.values:
        fine = 1 if item.slug.startswith("furniture") else None
        there, needed = (
            show(item.values[key], Kind.LENGTH, units, digits=fine) for key in ("there", "needed")
        )
        if item.slug.startswith("furniture"):
            whose = "its roots" if item.slug == "furniture plant roots" else "the animal"
            return (
                f"{item.text} ({there}; {'at most ' if item.slug in AT_MOST else ''}{needed} for"
                f" {whose}.)"
            )
        return f"{item.text} There is {there}; it needs {needed}."

    return item.text


def first_sentence(item: Note, units: Units) -> str:
    """What a note says first: what is wrong, without its reasons."""
    return note(item, units).partition(". ")[0].rstrip(".")


def answers(change: Change, notes: Sequence[Note], units: Units) -> str:
    """The finding that a change is for; empty where it is for a need."""
    finding = next((one for one in notes if one.slug in change.clears[:1]), None)
    return note(finding, units) if finding is not None else ""


def _meeting(found: Zones, units: Units) -> tuple[str, str]:
    """Whether warmth and ultraviolet meet along the floor: a direction and a sentence."""
    sunny, body = (show(metres, Kind.LENGTH, units) for metres in (found.sunny_m, found.body_m))
    if found.sun_covers_body:
        return (
            "right",
            (
                f"Warmth and UV overlap over {sunny}: enough for the whole body ({body} without the"
                " tail)."
            ),
        )
    if found.sunny_m > 0:
        return (
            "below",
            f"Warmth and UV overlap over {sunny} only; the body is {body} without the tail.",
        )
    if found.warm_light == "too strong":
        return (
            "above",
            "Where it is warm the UV is too strong: hang the tube higher, or fit a weaker one.",
        )
    if found.warm_light == "weak":
        return (
            "below",
            "Where it is warm the UV is too weak: bring the tube closer, or fit a stronger one.",
        )

    return "below", "Warmth and UV do not overlap: hang lamp and tube closer together."


def _warm_hide(found: Zones) -> tuple[str, str]:
    """Whether a hide is warm: a direction and a sentence.

    Where hides lie is said of the furniture.
    """
    if found.warm_hide:
        return "right", "A hide is warm."
    if found.hide_in_warm_half:
        return "below", "The hide in the warm half is not warm yet: warm that end first."
    return "below", "No hide is warm: move one to the warm end."


def zones(found: Zones, units: Units) -> list[tuple[str, str]]:
    """What the zones together offer: a direction and a sentence each."""
    told: list[tuple[str, str]] = []
    if found.light:
        told.append(_meeting(found, units))
        told.append(
            ("right", "There is shade in the warmth.")
            if found.warm_shade
            else ("below", "No shade in the warmth: put a hide there.")
        )
        told.append(
            ("right", "There is light in the cool.")
            if found.cool_light
            else ("unknown", "The cool end has no UV: shade is all it offers.")
        )
        told.append(
            ("right", "There is shade in the cool.")
            if found.cool_shade
            else ("below", "No cool shade: a hide at the cool end.")
        )
    if found.hides:
        told.append(_warm_hide(found))
    shares = [f"{share:.0%} {kind}" for kind, share in found.shares.items() if share >= 0.005]
    told.append(("right", f"Of the floor’s length {', '.join(shares)}."))

    return told


HOW_KNOWN = {
    "mass": {
        "measured": "",
        "converted": "",
        "estimated": " (estimated from its length)",
        "typical": " (typical of its stage)",
    },
    "length": {
        "measured": "",
        "converted": " (converted)",
        "estimated": " (estimated from its mass)",
        "typical": " (typical of its stage)",
    },
}
"""How a mass or a length is known, where nobody measured it."""


SUPPLEMENTS = {
    "multivitamin": "vitamins",
    "calcium + D3": "calcium D3",
    "vitamin A": "vitamin A",
    "calcium": "calcium",
}
"""Short names of supplements, for a calendar's cells."""
