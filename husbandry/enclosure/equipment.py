"""Generic equipment and materials, as rows of data files with their sources."""

from dataclasses import dataclass
from types import MappingProxyType

from husbandry.derivation import OriginKind, Source
from husbandry.tables import number, rows


@dataclass(frozen=True)
class Heater:
    """A class of lamp or emitter: where its watts go. The three shares sum to 1."""

    kind: str
    name: str
    beam_share: float
    diffuse_share: float
    convective_share: float
    beam_deg: float | None
    radius_m: float
    is_light: bool
    """Its beam is light and near infrared (absorbed by colour), not thermal infrared (absorbed by
    nearly everything).
    """
    emits_light: bool
    """Visible: it may not burn at night."""
    dimmable: bool
    watts: tuple[float, ...]
    """Powers it is commonly sold in [W]."""
    lm_per_w: float
    """Luminous flux for each electrical watt; wide, from memory [lm/W]."""
    beam_sd: float
    """Standard deviation of ln(irradiance on the target) when only the class is known [1]."""
    source: Source


@dataclass(frozen=True)
class UvLampClass:
    """A class of UVB lamp: its range of strength at a reference distance, and how long it lasts."""

    kind: str
    name: str
    is_tube: bool
    uvi_low: float
    uvi_mid: float
    uvi_high: float
    ref_distance_m: float
    ref_length_m: float
    apex_m: float
    half_angle_deg: float
    t70_h: float
    """Hours to 70 % of the strength at 100 h, middle of the class [h]."""
    lengths: tuple[tuple[float, float], ...]
    """Nominal (power [W], length [m]) of the tubes of this class."""
    source: Source

    def nearest(self, length_m: float) -> tuple[float, float]:
        """Power [W] and nominal length [m] of the tube of this class that is closest in length."""
        return min(self.lengths, key=lambda pair: abs(pair[1] - length_m))


@dataclass(frozen=True)
class Material:
    """A panel, slab or substrate material."""

    name: str
    label: str
    use: str
    conductivity_w_mk: float
    density_kg_m3: float
    heat_capacity_j_kgk: float
    thickness_m: float
    absorptivity_light: float
    passes_light: bool
    source: Source
    open_share: float = 0.0
    """Of a panel that is mesh [1]."""


@dataclass(frozen=True)
class MeshType:
    """A mesh by wire and pitch."""

    name: str
    label: str
    wire_mm: float
    pitch_mm: float

    @property
    def wire_share(self) -> float:
        """Wire diameter over pitch [1]."""
        return self.wire_mm / self.pitch_mm


EMISSIVITY = 0.93
"""Of stone, soil, timber and glass alike in thermal infrared: textbook tables 0.90 to 0.95 (from
memory).
"""
SKY_FREE_EMISSIVITY = 0.9
"""Of the inner faces of an enclosure: panels of glass, board and timber (from memory, textbook
tables).
"""


def _origin(text: str) -> OriginKind:
    return "from memory" if text == "from memory" else "common practice"


def _heaters() -> dict[str, Heater]:
    table = {}
    for row in rows("husbandry.enclosure", "equipment.csv"):
        table[row["kind"]] = Heater(
            kind=row["kind"],
            name=row["name"],
            beam_share=float(row["beam_share"]),
            diffuse_share=float(row["diffuse_share"]),
            convective_share=float(row["convective_share"]),
            beam_deg=number(row["beam_deg"]),
            radius_m=float(row["radius_m"]),
            is_light=row["spectrum"] == "light",
            emits_light=row["emits_light"] == "yes",
            dimmable=row["dimmable"] == "yes",
            watts=tuple(float(w) for w in row["watts"].split()),
            lm_per_w=float(row["lm_per_w"]),
            beam_sd=float(row["beam_sd"]),
            source=Source(kind=_origin(row["origin"]), text=row["source"]),
        )
    return table


def _uv_lamps() -> dict[str, UvLampClass]:
    table = {}
    for row in rows("husbandry.enclosure", "uv_lamps.csv"):
        lengths = tuple(
            (float(w), float(m))
            for w, _, m in (pair.partition(":") for pair in row["watts_per_length"].split())
        )
        table[row["kind"]] = UvLampClass(
            kind=row["kind"],
            name=row["name"],
            is_tube=row["shape"] == "tube",
            uvi_low=float(row["uvi_low"]),
            uvi_mid=float(row["uvi_mid"]),
            uvi_high=float(row["uvi_high"]),
            ref_distance_m=float(row["ref_distance_m"]),
            ref_length_m=number(row["ref_length_m"]) or 0.0,
            apex_m=number(row["apex_m"]) or 0.0,
            half_angle_deg=number(row["half_angle_deg"]) or 0.0,
            t70_h=(float(row["t70_h_low"]) + float(row["t70_h_high"])) / 2,
            lengths=lengths,
            source=Source(kind=_origin(row["origin"]), text=row["source"]),
        )
    return table


def _materials() -> dict[str, Material]:
    return {
        row["name"]: Material(
            name=row["name"],
            label=row["label"],
            use=row["use"],
            conductivity_w_mk=float(row["conductivity_w_mk"]),
            density_kg_m3=float(row["density_kg_m3"]),
            heat_capacity_j_kgk=float(row["heat_capacity_j_kgk"]),
            thickness_m=float(row["thickness_m"]),
            absorptivity_light=number(row["absorptivity_light"]) or 0.0,
            passes_light=row["passes_light"] == "yes",
            source=Source(kind="from memory", text=row["source"]),
            open_share=float(row["open_share"]),
        )
        for row in rows("husbandry.enclosure", "materials.csv")
    }


def _meshes() -> dict[str, MeshType]:
    return {
        row["name"]: MeshType(
            row["name"], row["label"], float(row["wire_mm"]), float(row["pitch_mm"])
        )
        for row in rows("husbandry.enclosure", "mesh.csv")
    }


HEATERS = MappingProxyType(_heaters())
UV_LAMPS = MappingProxyType(_uv_lamps())
MATERIALS = MappingProxyType(_materials())
MESHES = MappingProxyType(_meshes())
TUBE_DARK_ENDS_M = 0.05
"""How much shorter the lit part of a tube is than its nominal length (design choice) [m]."""
