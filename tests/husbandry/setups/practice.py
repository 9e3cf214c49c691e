"""Setups of common practice, known to work (common practice, no source), as a table."""

import copy
from dataclasses import dataclass
from typing import Any

from husbandry.enclosure.catalogue import panels_of
from husbandry.species.approaches import QUESTIONS

WALL_M = {"wood": 0.015, "glass": 0.005, "mesh": 0.0025}
DAY = {"on": "08:00", "off": "20:00"}
Place = tuple[float, float, float]
Item = dict[str, Any]
SMALL = {"how-big": "minimum"}


@dataclass(frozen=True)
class PracticeSetup:
    """An animal in an enclosure as keepers build it; one of its approaches must find it fit."""

    name: str
    species: str
    mass_g: float
    months: float
    trade_cm: Place
    """As it is sold: length, depth, height."""
    items: tuple[Item, ...]
    walls: str = "wood"
    mesh_share: float = 0.0
    substrate: tuple[str, float] = ("soil", 0.05)
    wetting: str = "dry"
    mistings: tuple[tuple[str, float], ...] = ()
    room: tuple[float, float, float, float] = (21.0, 19.0, 26.0, 50.0)
    vents_cm2: float = 100.0
    animals: int = 1
    sexes: tuple[str, ...] = ("female",)
    approaches: tuple[dict[str, str], ...] = ({}, SMALL)

    @property
    def inside_m(self) -> Place:
        """Inside its walls [m]."""
        wall = WALL_M[self.walls]
        long, deep, high = (round(side / 100 - 2 * wall, 3) for side in self.trade_cm)
        return long, deep, high

    def request(self, approaches: dict[str, str]) -> Item:
        """As a request."""
        sides = dict(zip(("length", "depth", "height"), self.inside_m, strict=True))
        room = dict(zip(("day_c", "night_c", "summer_max_c", "rh_pct"), self.room, strict=True))
        mesh = {"mesh": "fly_screen", "mesh_share": self.mesh_share} if self.mesh_share else {}
        caged = self.walls == "mesh"
        panels = panels_of("mesh" if caged else "glass", self.walls)
        year, month = divmod(2026 * 12 + 4 - round(self.months), 12)
        of = {
            whose: {q: a for q, a in approaches.items() if QUESTIONS[q].of == whose}
            for whose in ("animal", "enclosure")
        }
        animal = {
            "species": self.species,
            "mass_g": self.mass_g,
            "born_on": f"{year}-{month + 1:02d}-15",
            "approaches": of["animal"],
        }
        return {
            "format": "ridgeback-request/2",
            "now": "2026-05-20T12:00:00+02:00",
            "place": {"lat": 48.0, "lon": 10.0, "tz": "Europe/Berlin"},
            "room": room,
            "animals": [
                {**animal, "name": f"animal {n + 1}", "sex": self.sexes[n % len(self.sexes)]}
                for n in range(self.animals)
            ],
            "enclosure": {
                "inside_m": sides,
                "panels": panels,
                "lid": {"material": "pvc_board" if caged else self.walls, **mesh},
                "substrate": {"material": self.substrate[0], "depth_m": self.substrate[1]},
                "vents": {"low_cm2": self.vents_cm2, "high_cm2": self.vents_cm2},
                "covered": ["back", "left", "right"] if self.walls == "glass" else [],
                "wetting": {
                    "substrate": self.wetting,
                    "mistings": [{"at": at, "ml": ml} for at, ml in self.mistings],
                },
                "approaches": of["enclosure"],
            },
            "items": copy.deepcopy(list(self.items)),  # for tests that bend them
        }


def _lamp(slug: str, kind: str, watts: float, at: Place, **more: Any) -> Item:
    return {"id": slug, "kind": kind, "power_w": watts, "at_m": list(at), **DAY, **more}


def _held(
    slug: str,
    kind: str,
    watts: float,
    at: Place,
    set_c: float,
    probe: str,
    night_c: float | None = None,
) -> Item:
    """A heater on its thermostat, by day and by night."""
    held = {"set_c": set_c, "probe": probe} | ({"night_set_c": night_c} if night_c else {})
    return {"id": slug, "kind": kind, "power_w": watts, "at_m": list(at), "thermostat": held}


def _mat(watts: float, at: Place, size: tuple[float, float], set_c: float) -> Item:
    held = {"set_c": set_c, "probe": "surface"}
    where = {"at_m": list(at), "size_m": [*size, 0.001]}
    return {"id": "mat-1", "kind": "heat_mat", "power_w": watts, **where, "thermostat": held}


def _thing(slug: str, kind: str, at: Place, size: Place, **more: Any) -> Item:
    return {"id": slug, "kind": kind, "at_m": list(at), "size_m": list(size), **more}


def _hides(
    long: float, deep: float, z: float, size: Place, *, moist: bool = False, warm: float = 0.4
) -> tuple[Item, ...]:
    """Along the back: a warm one, a cool one, a moist one between."""
    y = deep - size[1] / 2 - 0.01
    found = [
        _thing("hide-1", "hide", (warm * long, y, z), size),
        _thing("hide-2", "hide", (long - size[0] / 2 - 0.01, y, z), size),
    ]
    if moist:
        found.append(_thing("hide-3", "hide", (0.65 * long, y, z), size, moist=True))
    return tuple(found)


def _stone(at: Place, size: Place, material: str = "stone") -> Item:
    return _thing("stone-1", "slab", at, size, material=material, supported=True)


def _dish(at: Place, size: Place = (0.12, 0.12, 0.03)) -> Item:
    return _thing("dish-1", "dish", at, size)


def _tube(kind: str, watts: float, length: float, at: Place, **more: Any) -> Item:
    burned = {"length_m": length, "hours_run": 200}
    return _lamp("tube-1", kind, watts, at, **burned, **more)


UNDER_FLOOR = {"heat-source": "under-floor"}
DUSK_NONE = {"uvb-dusk": "none"}

SETUPS: tuple[PracticeSetup, ...] = (
    PracticeSetup(
        "desert-edge agama, 100 W dimmed, T5 12 % in a reflector",
        "Pogona vitticeps",
        420,
        30,
        (120, 60, 60),
        (
            _stone((0.26, 0.285, 0.08), (0.3, 0.25, 0.04)),
            *_hides(1.17, 0.57, 0.08, (0.32, 0.2, 0.1)),
            _dish((0.85, 0.1, 0.08), (0.14, 0.14, 0.03)),
            _lamp(
                "lamp-1",
                "incandescent_reflector",
                100,
                (0.26, 0.285, 0.45),
                thermostat={"set_c": 41, "probe": "surface"},
            ),
            _tube("t5_12", 39, 0.85, (0.45, 0.33, 0.45), reflector=True),
        ),
        substrate=("sand", 0.08),
        wetting="dry",
        approaches=(SMALL,),
    ),
    PracticeSetup(
        "ground gecko over a regulated mat",
        "Eublepharis macularius",
        62,
        30,
        (90, 45, 45),
        (
            *_hides(0.87, 0.42, 0.04, (0.18, 0.14, 0.07), moist=True, warm=0.2),
            _dish((0.6, 0.08, 0.04), (0.1, 0.1, 0.015)),
            _mat(14, (0.18, 0.28, 0.0), (0.28, 0.28), 32),
        ),
        substrate=("soil", 0.04),
        room=(23.0, 20.0, 26.0, 45.0),
        approaches=({**SMALL, **UNDER_FLOOR, **DUSK_NONE},),
    ),
    PracticeSetup(
        "ground gecko under 50 W",
        "Eublepharis macularius",
        62,
        30,
        (90, 45, 45),
        (
            _stone((0.18, 0.2, 0.05), (0.22, 0.18, 0.02), "slate"),
            *_hides(0.87, 0.42, 0.05, (0.18, 0.14, 0.07), moist=True, warm=0.42),
            _dish((0.6, 0.08, 0.05), (0.1, 0.1, 0.015)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                50,
                (0.18, 0.2, 0.39),
                thermostat={"set_c": 33.5, "probe": "surface"},
            ),
            _tube("t5_6", 24, 0.55, (0.32, 0.25, 0.4)),
        ),
        room=(21.0, 19.0, 26.0, 45.0),
        approaches=(SMALL, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "grown crested gecko without a heater at 22 °C",
        "Correlophus ciliatus",
        42,
        30,
        (45, 45, 60),
        (
            _thing("branch-1", "branch", (0.22, 0.22, 0.36), (0.36, 0.03, 0.03)),
            _thing("plant-1", "plant", (0.34, 0.33, 0.05), (0.16, 0.16, 0.3), plant="artificial"),
            *_hides(0.44, 0.44, 0.05, (0.12, 0.1, 0.08), warm=0.2),
            _dish((0.3, 0.08, 0.05), (0.08, 0.08, 0.02)),
        ),
        walls="glass",
        mesh_share=0.3,
        wetting="damp",
        mistings=(("21:00", 50.0),),
        room=(23.0, 21.0, 26.0, 50.0),
        vents_cm2=12.0,
        approaches=({**SMALL, **DUSK_NONE}, DUSK_NONE),
    ),
    PracticeSetup(
        "python under a panel",
        "Python regius",
        1500,
        48,
        (120, 60, 60),
        (
            *_hides(1.17, 0.57, 0.06, (0.36, 0.26, 0.14), warm=0.18),
            _dish((0.62, 0.16, 0.06), (0.3, 0.25, 0.08)),
            _held("panel-1", "infrared_panel", 80, (0.28, 0.285, 0.54), 29.0, "warm_air"),
        ),
        wetting="damp",
        room=(22.0, 20.0, 26.0, 50.0),
        vents_cm2=30.0,
        approaches=({**SMALL, **DUSK_NONE},),
    ),
    PracticeSetup(
        "pair of tree frogs, 25 W and a tube of 5 %",
        "Dryophytes cinereus",
        12,
        24,
        (45, 45, 60),
        (
            _thing("branch-1", "branch", (0.22, 0.22, 0.36), (0.36, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.34, 0.33, 0.05), (0.16, 0.16, 0.3), plant="artificial"),
            *_hides(0.44, 0.44, 0.05, (0.1, 0.08, 0.07), moist=True, warm=0.2),
            _dish((0.34, 0.09, 0.05), (0.1, 0.1, 0.015)),
            _thing("dish-2", "dish", (0.12, 0.09, 0.05), (0.1, 0.1, 0.015)),
            _lamp("lamp-1", "incandescent_reflector", 25, (0.12, 0.22, 0.62), above_lid=True),
            _tube("t5_6", 8, 0.29, (0.2, 0.3, 0.66), above_lid=True),
        ),
        walls="glass",
        mesh_share=0.4,
        wetting="damp",
        mistings=(("20:00", 60.0),),
        room=(22.0, 20.0, 26.0, 50.0),
        vents_cm2=12.0,
        animals=2,
        approaches=(SMALL, {}),
    ),
    PracticeSetup(
        "rock monitor close under 75 W",
        "Varanus acanthurus",
        130,
        36,
        (120, 60, 60),
        (
            _stone((0.22, 0.285, 0.22), (0.36, 0.26, 0.04)),
            *_hides(1.17, 0.57, 0.2, (0.3, 0.2, 0.07), moist=True, warm=0.45),
            _dish((0.72, 0.14, 0.2), (0.22, 0.2, 0.02)),
            _lamp(
                "lamp-1",
                "halogen_spot",
                75,
                (0.22, 0.285, 0.5),
                thermostat={"set_c": 55, "probe": "surface"},
            ),
            _tube("t5_12", 39, 0.85, (0.45, 0.33, 0.545), reflector=True),
        ),
        substrate=("soil", 0.2),
        wetting="dry top",
        room=(22.0, 20.0, 26.0, 50.0),
        approaches=(SMALL,),
    ),
    PracticeSetup(
        "Hermann's tortoise on a table of 150 × 75",
        "Testudo hermanni",
        280,
        48,
        (150, 75, 45),
        (
            _stone((0.3, 0.36, 0.1), (0.35, 0.3, 0.03), "slate"),
            *_hides(1.47, 0.72, 0.1, (0.22, 0.16, 0.11), moist=True),
            _dish((0.95, 0.12, 0.1), (0.18, 0.18, 0.02)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                75,
                (0.3, 0.36, 0.4),
                thermostat={"set_c": 36.5, "probe": "surface"},
            ),
            _tube("t5_12", 39, 0.85, (0.5, 0.42, 0.4)),
        ),
        mesh_share=1.0,
        substrate=("soil", 0.1),
        wetting="dry top",
        approaches=({}, SMALL, {"figure": "practice"}),
    ),
    PracticeSetup(
        "corn snake under a lamp on a thermostat",
        "Pantherophis guttatus",
        550,
        48,
        (120, 60, 60),
        (
            _stone((0.24, 0.285, 0.06), (0.36, 0.28, 0.03), "slate"),
            *_hides(1.17, 0.57, 0.06, (0.3, 0.2, 0.09), moist=True, warm=0.45),
            _dish((0.78, 0.16, 0.06), (0.3, 0.24, 0.08)),
            _thing("branch-1", "branch", (0.6, 0.3, 0.3), (0.6, 0.04, 0.04)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                60,
                (0.24, 0.285, 0.5),
                thermostat={"set_c": 31.5, "probe": "surface"},
            ),
        ),
        wetting="dry top",
        room=(21.0, 18.0, 26.0, 50.0),
        approaches=(DUSK_NONE, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "corn snake over a mat in a small enclosure",
        "Pantherophis guttatus",
        60,
        10,
        (60, 45, 30),
        (
            *_hides(0.57, 0.42, 0.03, (0.16, 0.14, 0.06), moist=True, warm=0.22),
            _dish((0.42, 0.1, 0.03), (0.14, 0.12, 0.04)),
            _mat(14, (0.15, 0.28, 0.0), (0.28, 0.28), 29),
        ),
        substrate=("paper", 0.003),
        wetting="dry",
        room=(22.0, 20.0, 26.0, 50.0),
        vents_cm2=20.0,
        approaches=({**SMALL, **UNDER_FLOOR, **DUSK_NONE, "substrate": "hard"},),
    ),
    PracticeSetup(
        "king snake under a lamp",
        "Lampropeltis californiae",
        500,
        48,
        (120, 60, 45),
        (
            _stone((0.24, 0.285, 0.06), (0.34, 0.26, 0.03), "slate"),
            *_hides(1.17, 0.57, 0.06, (0.3, 0.2, 0.08), moist=True, warm=0.45),
            _dish((0.78, 0.14, 0.06), (0.26, 0.22, 0.07)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                50,
                (0.24, 0.285, 0.39),
                thermostat={"set_c": 33, "probe": "surface"},
            ),
        ),
        wetting="dry",
        room=(21.5, 19.0, 26.0, 50.0),
        approaches=(DUSK_NONE, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "sand boa over a mat",
        "Eryx colubrinus",
        250,
        48,
        (90, 45, 40),
        (
            *_hides(0.87, 0.42, 0.05, (0.22, 0.16, 0.06), moist=True, warm=0.2),
            _dish((0.58, 0.09, 0.05), (0.14, 0.12, 0.03)),
            _mat(20, (0.22, 0.28, 0.0), (0.42, 0.28), 33),
        ),
        substrate=("sand", 0.05),
        room=(23.0, 20.0, 26.0, 45.0),
        vents_cm2=40.0,
        approaches=({**SMALL, **UNDER_FLOOR, **DUSK_NONE},),
    ),
    PracticeSetup(
        "boa under a panel",
        "Boa imperator",
        3500,
        72,
        (180, 75, 75),
        (
            *_hides(1.77, 0.72, 0.07, (0.5, 0.36, 0.18), warm=0.2),
            _dish((1.0, 0.22, 0.07), (0.45, 0.35, 0.12)),
            _held(
                "panel-1",
                "infrared_panel",
                120,
                (0.36, 0.36, 0.69),
                29.0,
                "warm_air",
                night_c=26.0,
            ),
        ),
        wetting="damp",
        room=(23.0, 21.0, 26.0, 45.0),
        vents_cm2=40.0,
        approaches=({**SMALL, **DUSK_NONE}, DUSK_NONE),
    ),
    PracticeSetup(
        "house of an African fat-tailed gecko",
        "Hemitheconyx caudicinctus",
        65,
        30,
        (90, 45, 45),
        (
            *_hides(0.87, 0.42, 0.05, (0.18, 0.14, 0.07), moist=True, warm=0.2),
            _dish((0.6, 0.08, 0.05), (0.1, 0.1, 0.015)),
            _mat(14, (0.18, 0.28, 0.0), (0.28, 0.28), 32),
        ),
        wetting="dry top",
        room=(24.0, 21.0, 26.0, 50.0),
        vents_cm2=20.0,
        approaches=({**SMALL, **UNDER_FLOOR, **DUSK_NONE},),
    ),
    PracticeSetup(
        "young crested gecko in a small glass enclosure",
        "Correlophus ciliatus",
        8,
        5,
        (30, 30, 45),
        (
            _thing("branch-1", "branch", (0.15, 0.15, 0.27), (0.24, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.22, 0.22, 0.04), (0.12, 0.12, 0.24), plant="artificial"),
            *_hides(0.29, 0.29, 0.04, (0.08, 0.07, 0.05), warm=0.2),
            _dish((0.22, 0.05, 0.04), (0.06, 0.06, 0.012)),
        ),
        walls="glass",
        mesh_share=0.35,
        substrate=("soil", 0.04),
        wetting="damp",
        mistings=(("21:00", 25.0),),
        room=(23.0, 21.0, 26.0, 50.0),
        vents_cm2=12.0,
        approaches=({**SMALL, **DUSK_NONE},),
    ),
    PracticeSetup(
        "day gecko in tall glass",
        "Phelsuma grandis",
        45,
        24,
        (45, 45, 60),
        (
            _thing("branch-1", "branch", (0.22, 0.22, 0.4), (0.36, 0.03, 0.03)),
            _thing("plant-1", "plant", (0.34, 0.33, 0.05), (0.16, 0.16, 0.3), plant="artificial"),
            *_hides(0.44, 0.44, 0.05, (0.12, 0.1, 0.08), warm=0.2),
            _dish((0.34, 0.09, 0.05), (0.08, 0.08, 0.015)),
            _lamp("lamp-1", "incandescent_reflector", 75, (0.12, 0.22, 0.63), above_lid=True),
            _tube("t5_12", 14, 0.43, (0.22, 0.26, 0.67), above_lid=True, reflector=True),
        ),
        walls="glass",
        mesh_share=0.4,
        wetting="damp",
        mistings=(("08:00", 40.0), ("14:00", 30.0), ("20:00", 70.0)),
        room=(24.0, 21.0, 26.0, 50.0),
        vents_cm2=12.0,
        approaches=({}, SMALL),
    ),
    PracticeSetup(
        "blue-tongued skink under 75 W",
        "Tiliqua scincoides",
        480,
        36,
        (120, 60, 60),
        (
            _stone((0.26, 0.285, 0.08), (0.36, 0.28, 0.03), "slate"),
            *_hides(1.17, 0.57, 0.08, (0.34, 0.22, 0.1), warm=0.48),
            _dish((0.85, 0.12, 0.08), (0.18, 0.18, 0.04)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                75,
                (0.26, 0.285, 0.5),
                thermostat={"set_c": 38, "probe": "surface"},
            ),
            _tube("t5_12", 39, 0.85, (0.45, 0.33, 0.5), reflector=True),
        ),
        substrate=("soil", 0.08),
        wetting="dry",
        room=(21.5, 19.0, 26.0, 50.0),
        approaches=({}, SMALL),
    ),
    PracticeSetup(
        "dart frogs in a planted glass enclosure, room kept warm",
        "Dendrobates tinctorius",
        4.5,
        30,
        (60, 45, 45),
        (
            _thing("plant-1", "plant", (0.45, 0.3, 0.06), (0.16, 0.16, 0.25), plant="artificial"),
            *_hides(0.59, 0.44, 0.06, (0.1, 0.08, 0.06), moist=True, warm=0.25),
            _thing("hide-4", "hide", (0.2, 0.1, 0.06), (0.1, 0.08, 0.06)),
            _dish((0.38, 0.1, 0.06), (0.07, 0.07, 0.01)),
            _thing("dish-2", "dish", (0.5, 0.08, 0.06), (0.07, 0.07, 0.01)),
        ),
        walls="glass",
        mesh_share=0.08,
        substrate=("soil", 0.06),
        wetting="damp",
        mistings=(("08:00", 15.0), ("18:00", 15.0)),
        room=(24.5, 21.0, 26.0, 50.0),
        vents_cm2=8.0,
        animals=2,
        sexes=("male", "female"),
        approaches=({**SMALL, **DUSK_NONE}, DUSK_NONE),
    ),
    PracticeSetup(
        "red-footed tortoise in a closed enclosure",
        "Chelonoidis carbonarius",
        500,
        30,
        (150, 75, 60),
        (
            _stone((0.3, 0.36, 0.1), (0.34, 0.28, 0.03), "slate"),
            *_hides(1.47, 0.72, 0.1, (0.26, 0.2, 0.13), moist=True),
            _dish((0.95, 0.14, 0.1), (0.22, 0.22, 0.03)),
            _lamp(
                "lamp-1",
                "incandescent_reflector",
                60,
                (0.3, 0.36, 0.44),
                thermostat={"set_c": 33.5, "probe": "surface"},
            ),
            _held(
                "emitter-1",
                "ceramic_emitter",
                40,
                (0.6, 0.4, 0.48),
                27.5,
                "warm_air",
                night_c=24.0,
            ),
            _tube("t5_6", 39, 0.85, (0.46, 0.4, 0.5), reflector=True),
        ),
        substrate=("soil", 0.1),
        wetting="damp",
        mistings=(("09:00", 100.0),),
        room=(22.0, 20.0, 26.0, 50.0),
        vents_cm2=20.0,
        approaches=(SMALL, {}),
    ),
    PracticeSetup(
        "spiny-tailed lizard under two lamps",
        "Uromastyx ornata",
        250,
        48,
        (120, 60, 60),
        (
            _stone((0.26, 0.285, 0.1), (0.4, 0.3, 0.04)),
            *_hides(1.17, 0.57, 0.1, (0.3, 0.18, 0.06), warm=0.52),
            _dish((0.9, 0.1, 0.1), (0.08, 0.08, 0.015)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                75,
                (0.17, 0.285, 0.46),
                thermostat={"set_c": 50, "probe": "surface"},
            ),
            _lamp(
                "lamp-2",
                "halogen_flood",
                75,
                (0.35, 0.285, 0.46),
                thermostat={"set_c": 50, "probe": "surface"},
            ),
            _tube("t5_12", 54, 1.15, (0.585, 0.33, 0.42), reflector=True),
        ),
        substrate=("sand", 0.1),
        wetting="dry",
        room=(22.0, 19.0, 26.0, 40.0),
        vents_cm2=180.0,
        approaches=(SMALL, {}),
    ),
    PracticeSetup(
        "fire-bellied toads in a half-filled tank",
        "Bombina orientalis",
        6,
        24,
        (60, 30, 36),
        (
            _thing("pool-1", "pool", (0.4, 0.145, 0.0), (0.38, 0.28, 0.12)),
            _stone((0.11, 0.145, 0.1), (0.2, 0.24, 0.03), "slate"),
            _thing("hide-1", "hide", (0.07, 0.24, 0.1), (0.1, 0.08, 0.05)),
            _thing("hide-2", "hide", (0.16, 0.24, 0.1), (0.08, 0.08, 0.05)),
            _thing("hide-3", "hide", (0.07, 0.05, 0.1), (0.1, 0.08, 0.05)),
            _thing("root-1", "branch", (0.24, 0.145, 0.1), (0.12, 0.05, 0.03)),
            _tube("t5_6", 14, 0.45, (0.3, 0.15, 0.365), above_lid=True, reflector=True),
        ),
        walls="glass",
        mesh_share=0.5,
        substrate=("soil", 0.1),
        wetting="wet",
        room=(21.0, 18.0, 24.0, 55.0),
        vents_cm2=12.0,
        animals=2,
        approaches=({**SMALL, **DUSK_NONE}, DUSK_NONE),
    ),
    PracticeSetup(
        "axolotl in an unheated aquarium in a cool room",
        "Ambystoma mexicanum",
        120,
        30,
        (100, 40, 50),
        (
            _thing("pool-1", "pool", (0.495, 0.195, 0.0), (0.98, 0.38, 0.38)),
            _thing("hide-1", "hide", (0.2, 0.28, 0.0), (0.18, 0.14, 0.1)),
            _thing("hide-2", "hide", (0.75, 0.28, 0.0), (0.18, 0.14, 0.1)),
        ),
        walls="glass",
        mesh_share=1.0,
        substrate=("tile", 0.01),
        room=(17.0, 16.0, 20.0, 55.0),
        approaches=({}, SMALL),
    ),
    PracticeSetup(
        "fire salamander in a cellar",
        "Salamandra salamandra",
        25,
        60,
        (90, 45, 45),
        (
            *_hides(0.88, 0.44, 0.1, (0.16, 0.12, 0.05), moist=True),
            _dish((0.6, 0.08, 0.1), (0.14, 0.12, 0.015)),
        ),
        walls="glass",
        mesh_share=0.2,
        substrate=("soil", 0.1),
        wetting="damp",
        mistings=(("21:00", 60.0),),
        room=(15.0, 13.0, 19.0, 65.0),
        vents_cm2=12.0,
        approaches=(DUSK_NONE, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "egg-eating snake over a mat",
        "Dasypeltis scabra",
        90,
        48,
        (75, 45, 45),
        (
            *_hides(0.72, 0.42, 0.03, (0.18, 0.14, 0.06), moist=True, warm=0.22),
            _dish((0.5, 0.09, 0.03), (0.16, 0.14, 0.04)),
            _thing("branch-1", "branch", (0.36, 0.2, 0.2), (0.5, 0.02, 0.02)),
            _mat(14, (0.16, 0.28, 0.0), (0.28, 0.28), 30),
        ),
        substrate=("soil", 0.03),
        wetting="dry",
        room=(22.5, 20.0, 26.0, 50.0),
        vents_cm2=30.0,
        approaches=({**UNDER_FLOOR, **DUSK_NONE}, {**SMALL, **UNDER_FLOOR, **DUSK_NONE}),
    ),
    PracticeSetup(
        "rainbow boa under a panel",
        "Epicrates cenchria",
        1800,
        60,
        (120, 60, 60),
        (
            *_hides(1.17, 0.57, 0.08, (0.36, 0.26, 0.12), moist=True, warm=0.2),
            _dish((0.78, 0.16, 0.08), (0.34, 0.26, 0.1)),
            _held("panel-1", "infrared_panel", 40, (0.28, 0.285, 0.54), 27.0, "warm_air", 24.0),
        ),
        substrate=("soil", 0.08),
        wetting="wet",
        room=(22.0, 20.0, 26.0, 55.0),
        vents_cm2=15.0,
        approaches=({**SMALL, **DUSK_NONE}, DUSK_NONE),
    ),
    PracticeSetup(
        "sand gecko under a small lamp",
        "Stenodactylus sthenodactylus",
        5,
        20,
        (60, 45, 45),
        (
            _stone((0.13, 0.2, 0.08), (0.16, 0.14, 0.02), "slate"),
            *_hides(0.57, 0.42, 0.08, (0.1, 0.08, 0.04), moist=True, warm=0.42),
            _dish((0.44, 0.06, 0.08), (0.06, 0.06, 0.01)),
            _lamp(
                "lamp-1",
                "incandescent_reflector",
                35,
                (0.13, 0.2, 0.37),
                thermostat={"set_c": 31, "probe": "surface"},
            ),
        ),
        substrate=("sand", 0.08),
        room=(22.0, 18.0, 26.0, 45.0),
        vents_cm2=80.0,
        approaches=(DUSK_NONE, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "White's tree frog alone in tall glass",
        "Ranoidea caerulea",
        45,
        30,
        (60, 45, 90),
        (
            _thing("branch-1", "branch", (0.3, 0.22, 0.5), (0.44, 0.04, 0.04)),
            _thing("plant-1", "plant", (0.46, 0.34, 0.06), (0.16, 0.16, 0.4), plant="artificial"),
            *_hides(0.59, 0.44, 0.06, (0.14, 0.11, 0.09), moist=True, warm=0.25),
            _dish((0.44, 0.1, 0.06), (0.18, 0.15, 0.03)),
            _lamp("lamp-1", "incandescent_reflector", 75, (0.16, 0.22, 0.92), above_lid=True),
            _tube("t5_6", 14, 0.45, (0.28, 0.3, 0.95), above_lid=True),
        ),
        walls="glass",
        mesh_share=0.4,
        substrate=("soil", 0.06),
        wetting="damp",
        mistings=(("20:00", 60.0),),
        room=(23.0, 21.0, 26.0, 50.0),
        vents_cm2=12.0,
        approaches=({}, SMALL, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "veiled chameleon in tall glass",
        "Chamaeleo calyptratus",
        110,
        18,
        (60, 60, 90),
        (
            _thing("branch-1", "branch", (0.3, 0.3, 0.64), (0.5, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.46, 0.46, 0.05), (0.18, 0.18, 0.5), plant="artificial"),
            _lamp("lamp-1", "incandescent_reflector", 75, (0.16, 0.3, 0.93), above_lid=True),
            _tube("t5_12", 24, 0.55, (0.3, 0.36, 0.92), above_lid=True, reflector=True),
        ),
        walls="glass",
        mesh_share=0.5,
        wetting="dry",
        mistings=(("07:30", 30.0), ("20:00", 80.0)),
        room=(23.0, 19.0, 26.0, 50.0),
        vents_cm2=12.0,
        approaches=({}, SMALL),
    ),
    PracticeSetup(
        "female chameleon in a mesh cage of 45 × 45 × 90",
        "Chamaeleo calyptratus",
        90,
        14,
        (45, 45, 90),
        (
            _thing("branch-1", "branch", (0.22, 0.22, 0.68), (0.36, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.34, 0.34, 0.0), (0.16, 0.16, 0.55), plant="artificial"),
            _lamp("lamp-1", "incandescent_reflector", 75, (0.14, 0.22, 0.95), above_lid=True),
            _tube("t5_12", 14, 0.43, (0.22, 0.28, 0.98), above_lid=True, reflector=True),
            {
                "id": "fogger-1",
                "kind": "fogger",
                "at_m": [0.4, 0.05, 0.0],
                "l_per_h": 0.3,
                "on": "22:00",
                "off": "07:00",
            },
        ),
        walls="mesh",
        mesh_share=1.0,
        substrate=("paper", 0.002),
        mistings=(("07:30", 60.0), ("20:00", 100.0)),
        room=(23.5, 19.0, 26.0, 55.0),
        approaches=(SMALL,),
    ),
    PracticeSetup(
        "western hognose over a regulated mat",
        "Heterodon nasicus",
        220,
        40,
        (90, 45, 45),
        (
            *_hides(0.87, 0.42, 0.06, (0.18, 0.14, 0.07), moist=True, warm=0.2),
            _dish((0.6, 0.08, 0.06), (0.12, 0.12, 0.04)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                50,
                (0.16, 0.2, 0.4),
                thermostat={"set_c": 32, "probe": "surface"},
            ),
            _tube("t5_6", 24, 0.55, (0.32, 0.25, 0.36), reflector=True),
        ),
        substrate=("soil", 0.06),
        room=(22.0, 20.0, 26.0, 45.0),
    ),
    PracticeSetup(
        "male panther chameleon in a mesh cage of 60 × 60 × 120",
        "Furcifer pardalis",
        160,
        18,
        (60, 60, 120),
        (
            _thing("branch-1", "branch", (0.3, 0.3, 0.98), (0.5, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.45, 0.45, 0.0), (0.2, 0.2, 0.8), plant="artificial"),
            _lamp("lamp-1", "incandescent_reflector", 75, (0.16, 0.3, 1.25), above_lid=True),
            _tube("t5_12", 24, 0.55, (0.3, 0.36, 1.3), above_lid=True, reflector=True),
            {
                "id": "fogger-1",
                "kind": "fogger",
                "at_m": [0.5, 0.06, 0.0],
                "l_per_h": 0.3,
                "on": "22:00",
                "off": "07:00",
            },
        ),
        walls="mesh",
        mesh_share=1.0,
        substrate=("paper", 0.002),
        mistings=(("07:30", 100.0), ("20:00", 150.0)),
        room=(24.0, 20.0, 26.0, 60.0),
        sexes=("male",),
    ),
    PracticeSetup(
        "Russian tortoise on a table of 180 × 90",
        "Testudo horsfieldii",
        900,
        160,
        (180, 90, 45),
        (
            _stone((0.35, 0.45, 0.12), (0.3, 0.3, 0.03), "slate"),
            *_hides(1.77, 0.87, 0.12, (0.32, 0.3, 0.16), moist=True, warm=0.4),
            _dish((1.0, 0.2, 0.12), (0.3, 0.3, 0.03)),
            _lamp("lamp-1", "halogen_flood", 100, (0.35, 0.45, 0.5), above_lid=True),
            _tube("t5_12", 54, 1.15, (0.6, 0.5, 0.46), above_lid=True, reflector=True),
        ),
        substrate=("soil", 0.12),
        mesh_share=1.0,
        room=(20.0, 17.0, 26.0, 50.0),
    ),
    PracticeSetup(
        "three red-eyed tree frogs, 25 W and a tube of 6 %",
        "Agalychnis callidryas",
        9,
        20,
        (45, 45, 60),
        (
            _thing("branch-1", "branch", (0.22, 0.22, 0.36), (0.36, 0.02, 0.02)),
            _thing("plant-1", "plant", (0.34, 0.33, 0.05), (0.16, 0.16, 0.3), plant="artificial"),
            _thing("plant-2", "plant", (0.12, 0.33, 0.05), (0.14, 0.14, 0.3), plant="artificial"),
            *_hides(0.44, 0.44, 0.05, (0.1, 0.08, 0.07), moist=True, warm=0.2),
            _dish((0.34, 0.09, 0.05), (0.12, 0.12, 0.02)),
            _lamp("lamp-1", "incandescent_reflector", 25, (0.12, 0.22, 0.62), above_lid=True),
            _tube("t5_6", 8, 0.29, (0.2, 0.3, 0.66), above_lid=True),
        ),
        walls="glass",
        mesh_share=0.4,
        wetting="damp",
        mistings=(("07:00", 50.0), ("20:00", 80.0)),
        room=(23.5, 21.0, 26.0, 55.0),
        vents_cm2=12.0,
        animals=3,
        sexes=("male", "male", "female"),
        approaches=({}, SMALL, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "horned frog in a warm room, without a lamp",
        "Ceratophrys ornata",
        180,
        16,
        (60, 45, 45),
        (
            _thing("plant-1", "plant", (0.44, 0.3, 0.1), (0.14, 0.14, 0.15), plant="artificial"),
            *_hides(0.59, 0.44, 0.1, (0.16, 0.14, 0.1), warm=0.2),
            _dish((0.3, 0.12, 0.1), (0.16, 0.16, 0.04)),
        ),
        walls="glass",
        mesh_share=0.2,
        substrate=("soil", 0.1),
        wetting="damp",
        mistings=(("20:00", 40.0),),
        room=(25.0, 22.0, 27.0, 50.0),
        vents_cm2=10.0,
        approaches=(DUSK_NONE, {**SMALL, **DUSK_NONE}),
    ),
    PracticeSetup(
        "Mali spiny-tailed lizard, 100 W close to a stone",
        "Uromastyx dispar",
        320,
        60,
        (120, 60, 60),
        (
            _stone((0.26, 0.285, 0.15), (0.32, 0.26, 0.06)),
            *_hides(1.17, 0.57, 0.15, (0.3, 0.18, 0.1)),
            _dish((0.85, 0.1, 0.15), (0.12, 0.12, 0.03)),
            _lamp("lamp-1", "halogen_flood", 100, (0.26, 0.285, 0.5)),
            _tube("t5_12", 39, 0.85, (0.45, 0.33, 0.46), reflector=True),
        ),
        substrate=("sand", 0.15),
        room=(22.0, 19.0, 26.0, 40.0),
        vents_cm2=180.0,
    ),
    PracticeSetup(
        "red-eared slider in 150 × 60 with a landing",
        "Trachemys scripta",
        700,
        60,
        (150, 60, 60),
        (
            _thing(
                "pool-1", "pool", (0.93, 0.295, 0.0), (1.1, 0.57, 0.35), heater_w=150, held_c=24
            ),
            _stone((0.18, 0.295, 0.33), (0.34, 0.4, 0.03), "slate"),
            _thing("root-1", "branch", (0.42, 0.295, 0.33), (0.16, 0.08, 0.04)),
            _thing("hide-1", "hide", (1.2, 0.45, 0.0), (0.25, 0.2, 0.14)),
            _lamp(
                "lamp-1",
                "halogen_flood",
                50,
                (0.18, 0.295, 0.64),
                above_lid=True,
                thermostat={"set_c": 34, "probe": "surface"},
            ),
            _tube("t5_12", 24, 0.55, (0.32, 0.3, 0.65), above_lid=True, reflector=True),
        ),
        walls="glass",
        mesh_share=1.0,
        substrate=("soil", 0.33),
        room=(23.0, 21.0, 26.0, 50.0),
        approaches=({}, SMALL),
    ),
)
