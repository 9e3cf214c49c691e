"""From a description to a request: what was said as it was said, the rest as it usually is, each
assumption named.
"""

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from husbandry.advise.furniture import WARM_END, furniture
from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.enclosure.catalogue import CATALOGUE, CatalogueEnclosure, panels_of
from husbandry.enclosure.equipment import HEATERS, MATERIALS, UV_LAMPS
from husbandry.enclosure.sizing import floor_for, sides_for
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.review.description import Description, FactName, SaidHeat, SaidUv
from husbandry.setups.enclosure_choice import VENTS_CM2
from husbandry.setups.starter import PLACEHOLDER
from husbandry.species.approaches import QUESTIONS
from husbandry.species.library import library
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

Data = dict[str, Any]
USUAL: dict[str, tuple[float, float, float]] = {
    "room": (18.0, 21.0, 24.0),
    "lamp": (40.0, 75.0, 100.0),
    "mat": (7.0, 14.0, 28.0),
    "emitter": (60.0, 100.0, 150.0),
    "distance": (0.15, 0.25, 0.45),
}
"""What is taken where nothing was said, and what may as well be: a room by day [°C], the power of a
lamp, a mat and another heater [W], from a lamp to what is basked on [m] (common practice).
"""
NIGHT_COOLER_C, SUMMER_WARMER_C, ROOM_RH_PCT = 2.0, 7.0, 45.0
"""Of a usual room (common practice) [°C, °C, %]."""
PLACE = {"lat": 45.0, "lon": 0.0, "tz": "UTC"}
"""Where nobody said (design choice)."""
LIT_FROM_H, LIT_H = 8, 12.0
"""When lamps go on, and for how long, where nothing was said (common practice) [h]."""
OVER_MESH_M, UNDER_LID_M = 0.02, 0.08
"""Of a lamp's face over a mesh lid, and under a solid one (common practice) [m]."""
DEFAULT_HEIGHT_M, DEPTH_SHARE = 0.45, 0.5
"""Of an enclosure of which only the length was said (common practice) [m, 1]."""
MAT_SIZE_M = {7.0: (0.28, 0.15), 14.0: (0.28, 0.28), 28.0: (0.53, 0.28)}
"""Of heat mats by their power (common practice) [m]."""
LITRES_M3 = 1000.0
"""(definition)"""
KIND_ROWS = {
    "glass": "glass-90",
    "timber": "wood-120",
    "board": "board-120",
    "mesh": "mesh-60",
    "tub": "tub-70",
    "open table": "table-150",
    "tank of water": "aquarium-100",
}
"""Which common enclosure tells the material of a kind (design choice)."""
SUBSTRATES: dict[str, str] = {
    "sand": "sand",
    "calcium sand": "sand",
    "coloured sand": "sand",
    "clay": "sand",
    "gravel": "sand",
    "walnut": "sand",
    "paper": "paper",
    "carpet": "paper",
    "tile": "tile",
    "bare": "tile",
}
"""The model's material for what was said; soil for everything else that is poured (design choice).
"""
WETNESS = {"even and damp": "damp", "wave": "damp", "water": "damp"}
"""As such species are usually kept where it was not said (common practice)."""


class Assumption(Document):
    """Something that was not said and had to be taken."""

    fact: FactName
    text: str


@dataclass(frozen=True)
class Assumed:
    """A request made from a description."""

    request: Request
    needs: AnimalNeeds
    assumptions: tuple[Assumption, ...]
    open_values: tuple[str, ...]
    """Keys of `USUAL` that were taken, and may as well be otherwise."""

    @property
    def profile(self) -> Profile:
        """Of the animal that the enclosure is judged by."""
        return self.needs.profile


class _Builder:
    """Puts a request together, piece by piece, and notes what was not said."""

    def __init__(self, said: Description, now: dt.datetime, values: Mapping[str, float]) -> None:
        self.said = said
        self.now = now
        self.values = {key: values.get(key, usual) for key, (_, usual, _) in USUAL.items()}
        self.assumptions: list[Assumption] = []
        self.open_values: list[str] = []
        self.profile = library()[said.animal.species or ""]

    def assume(self, fact: FactName, text: str, value: str = "") -> None:
        self.assumptions.append(Assumption(fact=fact, text=text))
        if value and value not in self.open_values:
            self.open_values.append(value)

    # animals and room

    def animals(self) -> list[Data]:
        said = self.said.animal
        stage = said.stage if said.stage in {one.slug for one in self.profile.stages} else None

        if (
            stage is None
            and said.age_months is None
            and said.mass_g is None
            and not said.length_mm
        ):
            self.assume("animal", "Its age and weight were not said: judged as grown.")
        one = self._animal(self.profile, stage)
        sexes = ["male"] * (said.males or 0) + ["female"] * (said.females or 0)
        count = max(said.count or 1, len(sexes) if (said.count or 1) > 1 else 1)
        found = [
            {**one, "sex": sexes[n] if n < len(sexes) else "unknown", "name": ""}
            for n in range(count)
        ]

        for species in said.others:
            found.append(self._animal(library()[species], None))

        return found

    def _animal(self, profile: Profile, stage: str | None) -> Data:
        said = self.said.animal
        data: Data = {"species": profile.species}

        if profile is not self.profile:
            return data
        months = said.age_months

        if stage is not None and said.mass_g is None and said.length_mm is None:
            spec = profile.stage(stage)
            low, high = spec.mass_g.ends
            data["mass_g"] = round((low * high) ** 0.5, 2)
            if months is None:
                months = sum(spec.age_months.ends) / 2 if spec is not profile.grown else None

        if months is not None:
            born = self.now.date() - dt.timedelta(days=round(min(months, 600) * DAYS_PER_MONTH))
            data["born_on"] = born.isoformat()

        if said.mass_g is not None:
            data["mass_g"] = said.mass_g

        if said.length_mm is not None:
            data["length_mm"] = {profile.body.length_kind: said.length_mm}

        return data

    def room(self) -> Data:
        day = self.said.temperature("room")
        night = self.said.temperature("room night")

        if day is None:
            text = "The room's temperature was not said: taken as usual in a home."
            self.assume("temperatures", text, "room")
        day_c = day.middle if day is not None else self.values["room"]
        night_c = night.middle if night is not None else day_c - NIGHT_COOLER_C

        return {
            "day_c": day_c,
            "night_c": night_c,
            "summer_max_c": max(day_c + SUMMER_WARMER_C, 28.0),
            "rh_pct": ROOM_RH_PCT,
        }

    # the enclosure

    def enclosure(self, needs: AnimalNeeds, approaches: dict[str, str]) -> Data:
        kind = self.said.enclosure or self._kind()
        row = CATALOGUE[KIND_ROWS[kind]]
        panels = panels_of(row.front, row.walls)

        if kind == "tub":
            row = self._tub(row)
        outside = self._sides(needs, approaches, row if kind == "tub" else None)
        thick = [
            MATERIALS[name].thickness_m if name in MATERIALS else 0.0
            for name in (row.walls, row.front)
        ]
        inside = (
            max(outside[0] - 2 * thick[0], 0.1),
            max(outside[1] - thick[0] - thick[1], 0.1),
            max(outside[2] - thick[0], 0.1),
        )
        vents = VENTS_CM2[self.profile.enclosure.ventilation]
        glass_tank = kind in {"glass", "tank of water"}
        spec: Data = {
            "inside_m": dict(
                zip(("length", "depth", "height"), (round(s, 3) for s in inside), strict=True)
            ),
            "panels": panels,
            "lid": self._lid(row),
            "substrate": self._substrate(inside[2]),
            "vents": dict.fromkeys(("low_cm2", "high_cm2"), 12.0 if glass_tank else vents),
        }
        wetting: Data = {"substrate": self._wetness()}
        times = round(self.said.mistings_per_day or 0)

        if times:
            hours = (8, 20, 14, 17, 11, 23)[: min(times, 6)]
            floor = inside[0] * inside[1]
            wetting["mistings"] = [
                {"at": f"{h:02}:00", "ml": round(max(250 * floor, 10))} for h in hours
            ]
        spec["wetting"] = wetting

        return spec

    def _kind(self) -> str:
        if self.profile.habit == "aquatic":
            return "tank of water"
        lamp_on_lid = self.said.lid == "mesh" or self.said.volume_l is not None
        kind = "glass" if lamp_on_lid else self.profile.enclosure.kinds[0]
        kind = kind if kind in KIND_ROWS else "timber"
        self.assume("enclosure", f"What the enclosure is made of was not said: taken as {kind}.")

        return kind

    def _tub(self, row: CatalogueEnclosure) -> CatalogueEnclosure:
        litres = self.said.volume_l

        if litres is None:
            return row
        tubs = [one for one in CATALOGUE.values() if one.kind == "tub"]

        return min(
            tubs,
            key=lambda one: abs(LITRES_M3 * one.length_m * one.depth_m * one.height_m - litres),
        )

    def _sides(
        self, needs: AnimalNeeds, approaches: dict[str, str], tub: CatalogueEnclosure | None
    ) -> tuple[float, float, float]:
        said = self.said.sides_m

        if said is None and tub is not None and self.said.volume_l is not None:
            scale = (
                self.said.volume_l / (LITRES_M3 * tub.length_m * tub.depth_m * tub.height_m)
            ) ** (1 / 3)
            return tub.length_m * scale, tub.depth_m * scale, tub.height_m * scale

        if said is None and self.said.volume_l is not None:
            side = (self.said.volume_l / LITRES_M3 / 2.0) ** (1 / 3)
            self.assume(
                "enclosure", "Its sides were not said: taken as twice as long as deep and high."
            )
            return 2 * side, side, side

        if said is None:
            lead = needs.occupants[needs.lead]
            big = QUESTIONS["how-big"].chosen(approaches).slug
            floor = floor_for(self.profile, 1)
            self.assume("enclosure", "Its size was not said: taken as large as it should be.")
            return sides_for(self.profile, lead.stage.slug, big, lead.length_m, floor)
        long, deep, high = said

        if deep is None or high is None:
            self.assume(
                "enclosure", "Not all of its sides were said: taken as usual for its length."
            )

        return long, deep or DEPTH_SHARE * long, high or max(DEFAULT_HEIGHT_M, DEPTH_SHARE * long)

    def _lid(self, row: CatalogueEnclosure) -> Data:
        lid: Data = {
            "material": row.lid,
            "mesh": row.mesh or None,
            "mesh_share": row.mesh_share if row.mesh else 0.0,
        }

        if self.said.lid == "mesh":
            lid |= {"mesh": row.mesh or "fly_screen", "mesh_share": max(row.mesh_share, 0.9)}
        elif self.said.lid == "solid":
            lid |= {"mesh": None, "mesh_share": 0.0}
        elif self.said.lid == "open":
            lid |= {"mesh": "half_inch", "mesh_share": 1.0}
        elif row.mesh and row.kind in {"glass enclosure", "tank of water"}:
            self.assume("lid", "Its lid was not said: taken as fine mesh, as such tanks are sold.")
            lid |= {"mesh_share": 1.0}
        return lid

    def _substrate(self, height_m: float) -> Data:
        said = self.said.substrate
        depth = self.said.substrate_m

        if said is None:
            self.assume("substrate", "The substrate was not said: nothing is judged of it.")
        names = [SUBSTRATES.get(name, "soil") for name in said or ()]
        material = "soil" if not names or len(set(names)) > 1 else names[0]

        if said == ():
            material = "tile"
        laid = material in {"paper", "tile"}
        depth_m = depth.middle if depth is not None else (0.005 if laid else 0.05)

        return {"material": material, "depth_m": round(min(depth_m, 0.4 * height_m), 3)}

    def _wetness(self) -> str:
        if self.said.substrate and set(self.said.substrate) <= {
            "sand",
            "calcium sand",
            "aspen",
            "paper",
        }:
            return "dry"
        return WETNESS.get(self.profile.moisture.rhythm, "dry top")

    # what stands and hangs in it

    def items(self, spec: Data, needs: AnimalNeeds) -> list[Data]:
        inside = spec["inside_m"]
        lead = needs.occupants[needs.lead]
        substrate = spec["substrate"]["depth_m"]
        usual = furniture(self.profile, lead.length_m, inside, substrate)
        found = [one for one in usual if self._stands(one)]
        found = self._with_hides(found, inside)
        spot = self._spot(found, inside, substrate)

        for n, heater in enumerate(self.said.heat or (), start=1):
            found += self._heater(heater, n, spec, spot)

        for n, lamp in enumerate(self.said.uv or (), start=1):
            found += self._uv(lamp, n, spec, spot)

        return found

    def _stands(self, one: Data) -> bool:
        """Whether a piece of the usual furniture is there as far as anyone said."""
        if one["kind"] == "branch" and one["id"] == "branch-1":
            return self.said.climbing is not False

        if one["kind"] == "plant":
            return self.said.plants != "none"

        if one["kind"] in {"dish", "pool"}:
            return self.said.water != "none"

        return True

    def _with_hides(self, found: list[Data], inside: Data) -> list[Data]:
        """As many hides as were said; the ends have theirs before the middle."""
        count = self.said.hides

        if count is None:
            self.assume("hides", "Hides were not said: nothing is judged of them.")
            return found
        hides = [one for one in found if one["kind"] == "hide"]
        moist = [one for one in hides if one.get("moist")]
        plain = [one for one in hides if not one.get("moist")]
        kept = (moist if self.said.moist_hide else []) + plain
        kept = kept[:count]

        for n, hide in enumerate(kept):
            if len(plain) == 1 and count >= 2 and n:
                hide["at_m"][0] = round(inside["length"] - hide["size_m"][0] / 2, 3)

        return [one for one in found if one["kind"] != "hide" or one in kept]

    def _spot(
        self, found: list[Data], inside: Data, substrate: float
    ) -> tuple[float, float, float]:
        """What it basks on: the branch of a climber, else the stone, else the ground."""
        branch = next((one for one in found if one["id"] == "branch-1"), None)

        if branch is not None and self.profile.body.perch_share:
            x = max(
                WARM_END * inside["length"], branch["at_m"][0] - branch["size_m"][0] / 2 + 0.05
            )
            return x, branch["at_m"][1], branch["at_m"][2] + branch["size_m"][2]
        stone = next((one for one in found if one["kind"] == "slab"), None)

        if stone is not None:
            return stone["at_m"][0], stone["at_m"][1], stone["at_m"][2] + stone["size_m"][2]

        return WARM_END * inside["length"], 0.5 * inside["depth"], substrate

    def _hung(self, spec: Data, spot: tuple[float, float, float], distance: float | None) -> Data:
        """Where a lamp hangs: at the distance that was said, else over the mesh or under the lid."""
        height = spec["inside_m"]["height"]
        over = bool(spec["lid"].get("mesh")) and spec["lid"]["mesh_share"] > 0.3
        climbs = self.profile.body.perch_share > 0

        if distance is None and (climbs or not over):
            self.assume(
                "heat", "How far the lamp is from its basking place was not said.", "distance"
            )
            distance = self.values["distance"]
        z = height + OVER_MESH_M if distance is None else spot[2] + distance

        if not over or z < height:
            over = False
            z = min(z, height - 0.02)
        z = max(z, spot[2] + 0.05, spec["substrate"]["depth_m"] + 0.05)
        place = [round(spot[0], 3), round(spot[1], 3), round(z, 3)]

        return {"at_m": place, "above_lid": bool(over and z >= height)}

    def _times(self, heater: SaidHeat | None) -> Data:
        hours = self.said.light_hours or LIT_H

        if hours >= 24:
            return {}

        if heater is not None and heater.at_night:
            return {"on": "20:00", "off": "08:00"}
        off = (LIT_FROM_H + hours) % 24

        return {"on": f"{LIT_FROM_H:02}:00", "off": f"{int(off):02}:{round(off % 1 * 60):02}"}

    def _heater(
        self, heater: SaidHeat, n: int, spec: Data, spot: tuple[float, float, float]
    ) -> list[Data]:
        kind = {"lamp": "halogen_flood", "coloured_lamp": "incandescent_reflector"}.get(
            heater.kind, heater.kind
        )

        if kind in {"hot_rock", "water_heater"}:
            return []
        key = "mat" if kind == "heat_mat" else "lamp" if HEATERS[kind].emits_light else "emitter"
        power = heater.power_w

        if power is None:
            self.assume("heat", f"The power of the {HEATERS[kind].name} was not said.", key)
            power = self.values[key]
        base: Data = {"kind": kind, "power_w": power}

        if self.said.thermostat:
            base["thermostat"] = self._thermostat(kind)

        if kind == "heat_mat":
            return [self._mat(base, n, spec)]

        if HEATERS[kind].emits_light or heater.at_night:
            base |= self._times(heater)
        hung = self._hung(spec, spot, heater.distance_m)

        if kind == "tube_heater":
            base["length_m"] = round(min(0.6, 0.8 * spec["inside_m"]["length"]), 3)
            hung["at_m"][0] = round(spec["inside_m"]["length"] / 2, 3)
        found = []

        for k in range(heater.count):
            x = min(hung["at_m"][0] + 0.18 * k, spec["inside_m"]["length"])
            found.append(
                {
                    **base,
                    **hung,
                    "at_m": [round(x, 3), *hung["at_m"][1:]],
                    "id": f"lamp-{n}-{k + 1}",
                }
            )

        return found

    def _thermostat(self, kind: str) -> Data:
        target = self.needs.targets
        probe = "surface" if kind == "heat_mat" else "warm_air"
        key = "surface_day" if kind == "heat_mat" else "warm_air_day"

        if self.said.set_c is not None:
            return {"set_c": self.said.set_c, "probe": probe}
        known = {str(name): value for name, value in target.items()}
        aim = known[key].aim() if key in known else 28.0

        return {"set_c": round(aim, 1), "probe": probe}

    def _mat(self, base: Data, n: int, spec: Data) -> Data:
        inside = spec["inside_m"]
        nearest = min(MAT_SIZE_M, key=lambda watts: abs(watts - base["power_w"]))
        long, deep = MAT_SIZE_M[nearest]
        size = [min(long, inside["length"]), min(deep, inside["depth"]), 0.002]
        at = [
            round(max(WARM_END * inside["length"], size[0] / 2), 3),
            round(inside["depth"] / 2, 3),
            0.0,
        ]

        return {**base, "id": f"mat-{n}", "size_m": size, "at_m": at}

    def _uv(
        self, lamp: SaidUv, n: int, spec: Data, spot: tuple[float, float, float]
    ) -> list[Data]:
        kind = uv_kind(lamp)

        if kind is None:
            self.assume(
                "uv", "What kind of UVB lamp it is was not said: nothing is predicted of it."
            )
            return []
        row = UV_LAMPS[kind]
        hung = self._hung(spec, spot, lamp.distance_m)
        data: Data = {"id": f"uv-{n}", "kind": kind, **hung, **self._times(None)}

        if lamp.age_months is not None:
            data["hours_run"] = round(lamp.age_months * DAYS_PER_MONTH * LIT_H)

        if not row.is_tube:
            sold = HEATERS[kind].watts
            data["power_w"] = min(sold, key=lambda watts: abs(watts - (lamp.power_w or sold[0])))
            return [data]
        inside = spec["inside_m"]["length"]
        fitting = [pair for pair in row.lengths if pair[1] <= inside] or [min(row.lengths)]

        if lamp.length_m is None:
            self.assume("uv", "The length of the UVB tube was not said.")
        wanted = lamp.length_m or 0.55 * inside
        watts, length = min(fitting, key=lambda pair: abs(pair[1] - wanted))
        length = min(length, inside)
        half = length / 2
        data["at_m"][0] = round(min(max(spot[0], half), inside - half), 3)

        return [{**data, "length_m": length, "power_w": watts}]

    def build(self) -> Assumed:
        base = {
            "now": self.now.isoformat(),
            "place": PLACE,
            "room": self.room(),
            "animals": self.animals(),
        }
        self.needs = look(from_data({**base, "enclosure": PLACEHOLDER, "items": []}))
        request = from_data({**base, "enclosure": PLACEHOLDER, "items": []})
        approaches = request.approaches_of(self.needs.lead)
        spec = self.enclosure(self.needs, approaches)
        data = {**base, "enclosure": spec, "items": self.items(spec, self.needs)}
        request = from_data(data)

        return Assumed(request, self.needs, tuple(self.assumptions), tuple(self.open_values))


def uv_kind(lamp: SaidUv) -> str | None:
    """The class of lamp that was said; None where that does not tell one."""
    if lamp.kind == "uv_flood":
        return "uv_flood"

    if lamp.kind == "uv":
        return None
    family = lamp.kind
    strengths = {
        int(kind.rpartition("_")[2]): kind for kind in UV_LAMPS if kind.startswith(f"{family}_")
    }

    if lamp.percent is None:
        return strengths[min(strengths)] if family == "compact" else strengths[12]

    return strengths[min(strengths, key=lambda strength: abs(strength - (lamp.percent or 0)))]


def assumed(
    said: Description, now: dt.datetime, values: Mapping[str, float] | None = None
) -> Assumed:
    """A request from a description of a species of the guide.

    Parameters
    ----------
    values : mapping, optional
        Other values than the usual for what was not said, by the keys of `USUAL`.

    Raises
    ------
    KeyError
        For a species that the guide does not know.
    DocumentError
        Where what was said cannot be built.
    """
    return _Builder(said, now, values or {}).build()
