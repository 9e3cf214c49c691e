"""The bed of an enclosure as a form: layers of up to three materials, bags and prices, and what the
enclosure stands on.
"""

from typing import Any

from django import forms

from husbandry.documents.enclosure import Slope
from husbandry.enclosure.substrate_layers import LOOSE_MATERIALS, SubstrateLayer
from husbandry.quantity import Kind, PlausibleRange, Units, show
from ridgeback.fields import QuantityField

LAYERS, MIXED = 4, 3
SIDES = [
    ("", "nowhere: level"),
    ("left", "on the left"),
    ("right", "on the right"),
    ("back", "at the back"),
]
MATERIALS = [("", "–"), *((name, material.label) for name, material in LOOSE_MATERIALS.items())]
DEPTH, BAG, STAND, TALL = (
    PlausibleRange((0.01, 0.6), (0.002, 1.5)),
    PlausibleRange((2, 120), (0.1, 2000)),
    PlausibleRange((0, 200_000), (0, 2e6)),
    PlausibleRange((0, 2), (0, 5)),
)


def _number_input() -> forms.TextInput:
    return forms.TextInput(
        attrs={"class": "quantity", "inputmode": "decimal", "autocomplete": "off"}
    )


class SubstrateForm(forms.Form):
    """Layers from below.

    `layers` holds them when the form is valid; `bag_l` and `bag_price` what a bag holds and costs.
    """

    def __init__(
        self,
        *args: Any,
        units: Units,
        layers: tuple[SubstrateLayer, ...],
        known_bags: dict[str, Any],
        stand_kg: float,
        stand_m: float,
        currency: str,
        slope: Slope | None = None,
        crew: bool = False,
        **kwargs: Any,
    ) -> None:
        super().__init__(*args, **kwargs)
        self.units = units
        self.layers: tuple[SubstrateLayer, ...] = ()
        self.depths: list[str] = []
        """The field of each layer's depth."""
        self.used: list[str] = []
        self.slope: Slope | None = None
        for n in range(LAYERS):
            self._add_layer(n, layers[n] if n < len(layers) else None)
        for name in self.used:
            self._add_bag(name, known_bags.get(name, {}), currency)
        self._add_quantity("stand", Kind.MASS, "Stand weight", STAND, 1000 * stand_kg or None)
        self._add_quantity("tall", Kind.LENGTH, "Stand height", TALL, stand_m or None)
        self.fields["deep_at"] = forms.ChoiceField(
            label="Deeper at",
            choices=SIDES,
            initial=slope.deep_at if slope else "",
            required=False,
        )
        deepest = sum(layer.depth_m for layer in layers) + slope.rise_m if slope else None
        self._add_quantity("deepest", Kind.LENGTH, "Depth there", DEPTH, deepest, what="depth")
        self.fields["crew"] = forms.BooleanField(
            label="A clean-up crew lives in it", initial=crew, required=False
        )
        if self.is_bound:
            self._fill_in_bags()

    def _add_quantity(
        self,
        name: str,
        kind: Kind,
        label: str,
        plausible: str | PlausibleRange,
        value: float | None,
        *,
        what: str = "stand",
    ) -> None:
        """A quantity that may be left out."""
        self.fields[name] = QuantityField(
            kind,
            self.units,
            label=label,
            what=what,
            value=value,
            plausible=plausible,
            required=False,
        )

    def _add_layer(self, n: int, layer: SubstrateLayer | None) -> None:
        """Depth and parts of a layer; what is in it is remembered as used."""
        depth_m = layer.depth_m if layer else None
        self._add_quantity(f"depth{n}", Kind.LENGTH, "Depth", DEPTH, depth_m, what="")
        parts = list(layer.parts.items()) if layer else []
        for k in range(MIXED):
            name, part = parts[k] if k < len(parts) else ("", None)
            self.fields[f"what{n}-{k}"] = forms.ChoiceField(
                label="of", choices=MATERIALS, initial=name, required=False
            )
            self.fields[f"part{n}-{k}"] = forms.FloatField(
                label="parts", initial=part, required=False, max_value=100, widget=_number_input()
            )
            asked = self.data.get(f"what{n}-{k}", "") if self.is_bound else name
            if asked in LOOSE_MATERIALS and asked not in self.used:
                self.used.append(asked)

    def _add_bag(self, name: str, known: dict[str, Any], currency: str) -> None:
        """What a bag of a material holds and costs."""
        holds_l = float(known.get("l", LOOSE_MATERIALS[name].bag_l))
        self._add_quantity(f"bag-{name}", Kind.VOLUME, "a bag holds", BAG, holds_l, what="bag")
        self.fields[f"price-{name}"] = forms.FloatField(
            label=f"and costs, {currency}",
            initial=known.get("price"),
            required=False,
            min_value=0,
            max_value=1e6,
            widget=_number_input(),
        )

    def _fill_in_bags(self) -> None:
        """What was not on the page when it was sent, such as the bag of a material that was only
        now chosen, is as usual.
        """
        names = [f"{part}-{name}" for name in self.used for part in ("bag", "price")]
        usual = {name: self.fields[name].initial for name in names if name not in self.data}
        missing = {name: "" if value is None else str(value) for name, value in usual.items()}
        self.data = {**{name: self.data[name] for name in self.data}, **missing}

    def clean(self) -> dict[str, Any]:
        """Whole layers: a depth with at least one part of something."""
        data = super().clean() or {}
        found = []
        for n in range(LAYERS):
            depth = data.get(f"depth{n}")
            parts: dict[str, float] = {}
            for k in range(MIXED):
                name = data.get(f"what{n}-{k}")
                part = data.get(f"part{n}-{k}")
                if part is not None and part < 0:
                    self.add_error(f"part{n}-{k}", "Parts are counted from nothing up.")
                elif name:
                    parts[name] = parts.get(name, 0.0) + (1.0 if part is None else part)
                elif part:
                    self.add_error(f"what{n}-{k}", "Say of what.")
            if parts and not any(parts.values()):
                self.add_error(f"part{n}-0", "A mix needs at least one part of something.")
            elif parts and depth is None and f"depth{n}" not in self.errors:
                self.add_error(f"depth{n}", "Write how deep this layer is.")
            elif (
                depth
                and not parts
                and not any(name.startswith((f"what{n}-", f"part{n}-")) for name in self.errors)
            ):
                self.add_error(f"what{n}-0", "Say what this layer is of.")
            elif depth and parts:
                self.depths.append(f"depth{n}")
                found.append(
                    SubstrateLayer(depth, {name: part for name, part in parts.items() if part})
                )
        self.layers = tuple(found)
        self._clean_slope(data)
        return data

    def _clean_slope(self, data: dict[str, Any]) -> None:
        """The deep side is deeper than the mean, and the other side is no hole."""
        side = data.get("deep_at")
        deepest = data.get("deepest")
        mean = sum(layer.depth_m for layer in self.layers)
        if not side or "deepest" in self.errors or not mean:
            return
        shown = show(mean, Kind.LENGTH, self.units)
        if deepest is None:
            self.add_error("deepest", "Write how deep it is on that side.")
        elif deepest <= mean:
            self.add_error("deepest", f"The deep side is deeper than its mean of {shown}.")
        elif deepest > 2 * mean:
            self.add_error(
                "deepest",
                f"At most twice its mean of {shown}: the other side would lie below the floor.",
            )
        else:
            self.slope = Slope(deep_at=side, rise_m=round(deepest - mean, 4))

    def bags(self) -> tuple[dict[str, float], dict[str, float]]:
        """Litres and price of a bag by material, as said or as shown."""
        data = self.cleaned_data if self.is_bound and self.is_valid() else {}
        sizes = {}
        prices = {}
        for name in self.used:
            size = data.get(f"bag-{name}") if data else self.fields[f"bag-{name}"].stored  # type: ignore[attr-defined]
            price = data.get(f"price-{name}") if data else self.fields[f"price-{name}"].initial
            sizes[name] = float(size or LOOSE_MATERIALS[name].bag_l)
            prices[name] = float(price or 0.0)
        return sizes, prices

    def stand(self) -> tuple[float, float]:
        """Mass and height of what it stands on [kg, m]."""
        data = self.cleaned_data if self.is_bound and self.is_valid() else {}
        mass = data.get("stand") if data else self.fields["stand"].stored  # type: ignore[attr-defined]
        tall = data.get("tall") if data else self.fields["tall"].stored  # type: ignore[attr-defined]
        return (mass or 0.0) / 1000, tall or 0.0

    def rows(self) -> list[tuple[str, Any, list[tuple[Any, Any]]]]:
        """Layers as the page lists them, the uppermost first: those that are used, and one more."""
        names = ["Lowest layer", "Second layer", "Third layer", "Fourth layer"]
        last = max(
            [n for n in range(LAYERS) if self[f"depth{n}"].value() or self[f"what{n}-0"].value()]
            or [-1]
        )
        made = [
            (
                names[n],
                self[f"depth{n}"],
                [(self[f"what{n}-{k}"], self[f"part{n}-{k}"]) for k in range(MIXED)],
            )
            for n in range(min(last + 2, LAYERS))
        ]
        return made[::-1]

    def unlisted(self, listed: set[str]) -> list[tuple[str, Any, Any]]:
        """Bags of materials that were named but make no layer yet: what was typed of them stays."""
        return [
            (LOOSE_MATERIALS[name].label, *self.bag_fields(name))
            for name in self.used
            if name not in listed
        ]

    def bag_fields(self, name: str) -> tuple[Any, Any]:
        """Of a material: what a bag holds and costs."""
        return self[f"bag-{name}"], self[f"price-{name}"]
